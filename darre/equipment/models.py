"""Dryers and scales. The constraints here make wrong records impossible."""

from django.db import models
from django.db.models import F, Q

from drying.dryers import DryerKind
from drying.storage import DesiccantKind


class Scale(models.Model):
    """A scale with its smallest step and its repeatability (one standard deviation)."""

    name = models.CharField(max_length=60, unique=True)
    max_g = models.FloatField()
    resolution_g = models.FloatField()
    repeatability_g = models.FloatField(default=0)
    drift_g = models.FloatField(default=0)

    class Meta:
        ordering = ["resolution_g"]
        constraints = [
            models.CheckConstraint(
                condition=Q(max_g__gt=0, resolution_g__gt=0, repeatability_g__gte=0, drift_g__gte=0),
                name="scale_makes_sense",
            ),
        ]

    def __str__(self) -> str:
        return self.name


class Dryer(models.Model):
    """A dryer: its range in air temperature at the spool, how it reads, its timer, slots, sizes and habits.

    What is empty is not known; plans then use what is usual for its kind and say so. `levels` are [name, air in °C]
    in place of degrees; `timer_choices_h` the settings of a timer that has but a few. One that is not in service keeps
    its records; nothing is planned for it unless it is asked for. `desiccant_*`: what lies in it between runs, its dry
    mass, and the water in it as it was put in or as the last run left it, % of that.
    """

    name = models.CharField(max_length=60, unique=True)
    kind = models.CharField(max_length=20, choices=[(k.value, k.value) for k in DryerKind])
    note = models.CharField(max_length=120, blank=True)
    min_c = models.FloatField()
    max_c = models.FloatField()
    display_offset_c = models.FloatField(null=True, blank=True)
    levels = models.JSONField(default=list, blank=True)
    hot_side_excess_c = models.FloatField(null=True, blank=True)
    timer_max_h = models.FloatField(null=True, blank=True)
    timer_choices_h = models.JSONField(default=list, blank=True)
    slots = models.PositiveSmallIntegerField(default=1)
    max_diameter_mm = models.FloatField(null=True, blank=True)
    max_width_mm = models.FloatField(null=True, blank=True)
    vent_m3_h = models.FloatField(null=True, blank=True)
    fan = models.BooleanField(null=True, blank=True)
    on_plate = models.BooleanField(null=True, blank=True)
    swing_c = models.FloatField(null=True, blank=True)
    warm_up_h = models.FloatField(null=True, blank=True)
    heater_w = models.FloatField(null=True, blank=True)
    metered_kwh = models.FloatField(null=True, blank=True)
    metered_h = models.FloatField(null=True, blank=True)
    metered_air_c = models.FloatField(null=True, blank=True)
    desiccant_kind = models.CharField(max_length=12, blank=True, choices=[(k.value, k.value) for k in DesiccantKind])
    desiccant_g = models.FloatField(null=True, blank=True)
    desiccant_load_pct = models.FloatField(null=True, blank=True)
    in_service = models.BooleanField(default=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(condition=Q(max_c__gte=F("min_c")) & Q(slots__gte=1), name="dryer_makes_sense"),
            models.CheckConstraint(
                condition=Q(metered_kwh__isnull=True, metered_h__isnull=True, metered_air_c__isnull=True)
                | Q(metered_kwh__isnull=False, metered_h__isnull=False, metered_air_c__isnull=False),
                name="metered_run_is_whole",
            ),
            models.CheckConstraint(
                condition=Q(desiccant_kind="", desiccant_g__isnull=True, desiccant_load_pct__isnull=True)
                | (
                    ~Q(desiccant_kind="") & Q(desiccant_g__gt=0, desiccant_load_pct__gte=0, desiccant_load_pct__lte=100)
                ),
                name="desiccant_is_whole",
            ),
        ]

    def __str__(self) -> str:
        return self.name


class ProbePair(models.Model):
    """What a dryer was set to, and the air that a probe beside the spool then showed, °C; the room's air with it."""

    dryer = models.ForeignKey(Dryer, on_delete=models.PROTECT, related_name="probes")
    at = models.DateTimeField()
    set_c = models.FloatField()
    air_c = models.FloatField()
    room_c = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["set_c", "id"]

    def __str__(self) -> str:
        return f"set {self.set_c:g} °C, air {self.air_c:g} °C"
