"""What is wanted, who is there, and the answer that was worked out last. Rules live in the core."""

from uuid import uuid4

from django.db import models
from django.db.models import Q
from django.utils import timezone

from darre.equipment.models import Dryer
from darre.inventory.models import Spool


class Wish(models.Model):
    """A spool that is wanted dry: by when (empty: whenever there is room), and how many grams for what. Where it is
    pinned it goes into that dryer then, whatever else moves.

    `every_days`: it is wanted again and again, at the same time of day; `keep_clean`: always, so that it is dried
    before it stops printing clean.
    """

    spool = models.OneToOneField(Spool, on_delete=models.PROTECT, related_name="wish")
    ready_by = models.DateTimeField(null=True, blank=True)
    grams = models.FloatField(null=True, blank=True)
    note = models.CharField(max_length=120, blank=True)
    every_days = models.PositiveSmallIntegerField(null=True, blank=True)
    keep_clean = models.BooleanField(default=False)
    pinned_dryer = models.ForeignKey(Dryer, on_delete=models.PROTECT, null=True, blank=True, related_name="pinned")
    pinned_at = models.DateTimeField(null=True, blank=True)
    created_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(condition=Q(grams__isnull=True) | Q(grams__gt=0), name="wish_has_grams"),
            models.CheckConstraint(
                condition=Q(every_days__isnull=True) | Q(every_days__gt=0, ready_by__isnull=False), name="wish_repeats"
            ),
            models.CheckConstraint(
                condition=Q(keep_clean=False) | Q(ready_by__isnull=True, every_days__isnull=True),
                name="kept_clean_always",
            ),
            models.CheckConstraint(
                condition=Q(pinned_dryer__isnull=True, pinned_at__isnull=True)
                | Q(pinned_dryer__isnull=False, pinned_at__isnull=False),
                name="pin_is_whole",
            ),
        ]

    def __str__(self) -> str:
        return f"wish {self.pk}"


class Answer(models.Model):
    """The schedule that was worked out last: for which zone, what it was worked out from (a fingerprint), the bound
    that no schedule can beat, what it came to, and what moved against the one `before`. `feed_key` is in the
    calendar's private address.
    """

    solved_at = models.DateTimeField()
    zone = models.CharField(max_length=60)
    worked_out_from = models.CharField(max_length=64)
    optimal = models.BooleanField()
    bound_jobs_late = models.PositiveIntegerField()
    bound_hours_late = models.FloatField()
    moved = models.JSONField(default=list, blank=True)
    came_to = models.JSONField(null=True, blank=True)
    before = models.JSONField(null=True, blank=True)
    feed_key = models.UUIDField(default=uuid4)

    class Meta:
        constraints = [models.CheckConstraint(condition=Q(pk=1), name="one_answer")]

    def __str__(self) -> str:
        return f"schedule of {self.solved_at:%Y-%m-%d %H:%M}"


class PlannedStart(models.Model):
    """A start of the answer: which wish goes into which dryer when, at what air temperature at the spool, how long."""

    wish = models.OneToOneField(Wish, on_delete=models.PROTECT, related_name="start")
    dryer = models.ForeignKey(Dryer, on_delete=models.PROTECT, related_name="planned_starts")
    temp_c = models.FloatField()
    hours = models.FloatField()
    starts_at = models.DateTimeField()

    class Meta:
        ordering = ["starts_at", "id"]
        constraints = [models.CheckConstraint(condition=Q(hours__gt=0), name="start_has_hours")]

    def __str__(self) -> str:
        return f"start of wish {self.wish_id}"
