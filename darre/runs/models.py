"""Facts of drying and weighing. The constraints here make wrong records impossible."""

from django.db import models
from django.db.models import F, Q

from darre.equipment.models import Dryer, Scale
from darre.inventory.models import Spool
from drying.transport import RATE_SIGMA
from drying.weighing import TareMethod


class Run(models.Model):
    """One spool's drying run, wound or as a coil. Room air, start moisture and rate as they were expected at its start.

    `learned_log_rate`: what its weighings by themselves taught about the rate, once it had ended.
    """

    spool = models.ForeignKey(Spool, on_delete=models.PROTECT, related_name="runs")
    dryer = models.ForeignKey(Dryer, on_delete=models.PROTECT, related_name="runs")
    method = models.CharField(max_length=20, blank=True)
    form = models.CharField(max_length=10, choices=Spool.Form, default=Spool.Form.WOUND)
    temp_c = models.FloatField()
    duration_h = models.FloatField()
    override_reason = models.CharField(max_length=200, blank=True)
    started_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True, blank=True)
    room_temp_c = models.FloatField()
    room_rh_pct = models.FloatField()
    start_moisture_pct = models.FloatField()
    start_sd_pct = models.FloatField()
    aim_pct = models.FloatField()
    rate_median = models.FloatField(default=1)
    rate_sigma = models.FloatField(default=RATE_SIGMA)
    learned_log_rate = models.FloatField(null=True, blank=True)
    learned_log_rate_sd = models.FloatField(null=True, blank=True)
    energy_start_kwh = models.FloatField(null=True, blank=True)
    energy_end_kwh = models.FloatField(null=True, blank=True)
    client_key = models.UUIDField(unique=True)

    class Meta:
        ordering = ["-started_at", "-id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(ended_at__isnull=True) | Q(ended_at__gt=F("started_at")), name="run_ends_after_its_start"
            ),
            models.UniqueConstraint(
                fields=["spool"], condition=Q(ended_at__isnull=True), name="one_running_run_for_a_spool"
            ),
            models.CheckConstraint(
                condition=Q(duration_h__gt=0, start_moisture_pct__gte=0, start_sd_pct__gte=0, aim_pct__gte=0),
                name="run_makes_sense",
            ),
        ]

    def __str__(self) -> str:
        return f"Run {self.pk} of spool {self.spool_id}"


class EventKind(models.TextChoices):
    """What happened in a run. Paused and power cut stop the heat."""

    LID = "lid"
    TURNED = "turned"
    TIMER = "timer"
    DESICCANT = "desiccant"
    SENSOR = "sensor"
    PAUSED = "paused"
    RESUMED = "resumed"
    POWER_CUT = "power_cut"
    OTHER = "other"


class RunEvent(models.Model):
    """What happened in a run, and for how long where that counts (lid open, power away), minutes."""

    run = models.ForeignKey(Run, on_delete=models.PROTECT, related_name="events")
    kind = models.CharField(max_length=12, choices=EventKind)
    at = models.DateTimeField()
    minutes = models.FloatField(null=True, blank=True)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["at", "id"]
        constraints = [
            models.CheckConstraint(condition=Q(minutes__isnull=True) | Q(minutes__gte=0), name="event_not_negative"),
        ]

    def __str__(self) -> str:
        return f"{self.kind} at {self.at:%Y-%m-%d %H:%M}"


class Weighing(models.Model):
    """One weighing: of the spool, or of a coil cut off it (which has no tare). The tare stands here as it was used, so
    that a later tare does not change what was read. `warm`, `surface_wet`: what made the reading less sure.
    """

    class Object(models.TextChoices):
        SPOOL = "spool"
        COIL = "coil"

    spool = models.ForeignKey(Spool, on_delete=models.PROTECT, related_name="weighings")
    run = models.ForeignKey(Run, on_delete=models.PROTECT, related_name="weighings", null=True, blank=True)
    scale = models.ForeignKey(Scale, on_delete=models.PROTECT, related_name="weighings")
    at = models.DateTimeField()
    gross_g = models.FloatField()
    tare_g = models.FloatField()
    tare_sd_g = models.FloatField()
    tare_method = models.CharField(max_length=10, choices=[(m.value, m.value) for m in TareMethod])
    weighed_object = models.CharField(max_length=6, choices=Object, default=Object.SPOOL)
    length_m = models.FloatField(null=True, blank=True)
    warm = models.BooleanField(default=False)
    surface_wet = models.BooleanField(default=False)
    note = models.CharField(max_length=200, blank=True)
    client_key = models.UUIDField(unique=True)

    class Meta:
        ordering = ["at", "id"]
        constraints = [
            models.CheckConstraint(condition=Q(gross_g__gte=F("tare_g")), name="gross_not_below_tare"),
            models.CheckConstraint(
                condition=Q(length_m__isnull=True) | Q(length_m__gt=0, weighed_object="coil"), name="length_of_a_coil"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.gross_g} g at {self.at:%Y-%m-%d %H:%M}"
