"""Trials with their samples and readings. Rules live in the core."""

from django.db import models
from django.db.models import Q
from django.utils import timezone

from darre.equipment.models import Dryer, Scale
from darre.inventory.models import Spool


class Trial(models.Model):
    """A question with the samples that are to answer it. `temp_c`: of the air or water that the coils are in; without
    `rh_pct` coils that take up water lie in it. `room_*`: the room's air when it began.
    """

    class Kind(models.TextChoices):
        DRYING = "drying"
        UPTAKE = "uptake"
        TWIN = "twin"
        SPONGE = "sponge"
        LADDER = "ladder"
        SWELLING = "swelling"

    kind = models.CharField(max_length=8, choices=Kind)
    spool = models.ForeignKey(Spool, on_delete=models.PROTECT, null=True, blank=True, related_name="trials")
    scale = models.ForeignKey(Scale, on_delete=models.PROTECT, null=True, blank=True, related_name="trials")
    temp_c = models.FloatField(null=True, blank=True)
    rh_pct = models.FloatField(null=True, blank=True)
    soaked = models.BooleanField(default=False)
    room_temp_c = models.FloatField()
    room_rh_pct = models.FloatField()
    note = models.CharField(max_length=200, blank=True)
    began_at = models.DateTimeField(default=timezone.now)
    closed_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-began_at", "-id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(kind__in=("sponge", "ladder"))
                | Q(spool__isnull=False, temp_c__isnull=False)
                | Q(kind="swelling", spool__isnull=False),
                name="coils_come_off_a_spool",
            ),
            models.CheckConstraint(
                condition=Q(kind="ladder", spool__isnull=False) | Q(scale__isnull=False) & ~Q(kind="ladder"),
                name="all_but_ladders_are_weighed",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.kind} trial {self.pk}"


class Sample(models.Model):
    """A tagged coil, a sponge in a dryer, or a piece whose length is measured. `start_g`: as it went in; `baked`: the
    coil that is dried to constant mass and tells what was in the others before; `planned_h`: when it is to be taken
    out; `before_mm`: readings of a piece's length, mm.
    """

    trial = models.ForeignKey(Trial, on_delete=models.PROTECT, related_name="samples")
    name = models.CharField(max_length=40)
    start_g = models.FloatField()
    baked = models.BooleanField(default=False)
    planned_h = models.FloatField(null=True, blank=True)
    dryer = models.ForeignKey(Dryer, on_delete=models.PROTECT, null=True, blank=True, related_name="sponges")
    dry_g = models.FloatField(null=True, blank=True)
    air_temp_c = models.FloatField(null=True, blank=True)
    air_rh_pct = models.FloatField(null=True, blank=True)
    desiccant = models.BooleanField(default=False)
    before_mm = models.JSONField(default=list, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["trial", "name"], name="one_sample_of_a_name"),
            models.CheckConstraint(condition=Q(start_g__gt=0), name="sample_has_mass"),
        ]

    def __str__(self) -> str:
        return self.name


class Rung(models.Model):
    """A rung of a ladder: filament at a planned moisture, % of dry mass, known to `sd_pct`. Its letter tells nothing of
    it, so that prints are rated blind.
    """

    trial = models.ForeignKey(Trial, on_delete=models.PROTECT, related_name="rungs")
    letter = models.CharField(max_length=2)
    moisture_pct = models.FloatField()
    sd_pct = models.FloatField(default=0.0)

    class Meta:
        ordering = ["letter"]
        constraints = [
            models.UniqueConstraint(fields=["trial", "letter"], name="one_rung_of_a_letter"),
            models.CheckConstraint(condition=Q(moisture_pct__gt=0, sd_pct__gte=0), name="rung_has_moisture"),
        ]

    def __str__(self) -> str:
        return self.letter


class RungPrint(models.Model):
    """A print off a rung: whether the water showed in it."""

    rung = models.ForeignKey(Rung, on_delete=models.PROTECT, related_name="prints")
    at = models.DateTimeField()
    showed = models.BooleanField()
    client_key = models.UUIDField(unique=True)

    class Meta:
        ordering = ["at", "id"]

    def __str__(self) -> str:
        return "showed" if self.showed else "clean"


class SampleReading(models.Model):
    """What a sample weighed, g, and of a piece how long it then was: readings in mm."""

    sample = models.ForeignKey(Sample, on_delete=models.PROTECT, related_name="readings")
    at = models.DateTimeField()
    gross_g = models.FloatField()
    after_mm = models.JSONField(default=list, blank=True)
    client_key = models.UUIDField(unique=True)

    class Meta:
        ordering = ["at", "id"]
        constraints = [models.CheckConstraint(condition=Q(gross_g__gt=0), name="sample_reading_has_mass")]

    def __str__(self) -> str:
        return f"{self.gross_g:g} g"


class AirNote(models.Model):
    """What a meter beside a trial's samples showed, °C and % relative humidity; `sample`: the sponge that it hung
    beside, as each has a dryer of its own. Coils lie together.
    """

    trial = models.ForeignKey(Trial, on_delete=models.PROTECT, related_name="air_notes")
    sample = models.ForeignKey(Sample, on_delete=models.PROTECT, null=True, blank=True, related_name="air_notes")
    at = models.DateTimeField()
    temp_c = models.FloatField()
    rh_pct = models.FloatField()
    client_key = models.UUIDField(unique=True)

    class Meta:
        ordering = ["at", "id"]
        constraints = [
            models.CheckConstraint(condition=Q(rh_pct__gte=0, rh_pct__lte=100), name="air_note_is_air"),
        ]

    def __str__(self) -> str:
        return f"{self.temp_c:g} °C, {self.rh_pct:g} %"
