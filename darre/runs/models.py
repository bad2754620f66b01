"""Facts of drying and weighing. The constraints here make wrong records impossible."""

from django.db import models
from django.db.models import F, Q

from darre.equipment.models import Dryer, Scale
from darre.inventory.models import Coil, Spool
from drying.transport import RATE_SIGMA
from drying.weighing import TareMethod


class Batch(models.Model):
    """What was started in a dryer as one act: one spool or several, with all that was planned of it.

    `temp_c`: air at the spools from the start on (events change it); `room_*`: the room's air as it was then.
    `dryer_then`: the dryer as it was known then; `ticket`: what the plan said to do. Both stay as they were.
    The meter's readings are those of the whole box.
    """

    dryer = models.ForeignKey(Dryer, on_delete=models.PROTECT, related_name="batches")
    method = models.CharField(max_length=20, blank=True)
    temp_c = models.FloatField()
    override_reason = models.CharField(max_length=200, blank=True)
    started_at = models.DateTimeField()
    room_temp_c = models.FloatField()
    room_rh_pct = models.FloatField()
    dryer_then = models.JSONField()
    ticket = models.JSONField(default=dict)
    energy_start_kwh = models.FloatField(null=True, blank=True)
    energy_end_kwh = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["-started_at", "-id"]

    def __str__(self) -> str:
        return f"Batch {self.pk} in dryer {self.dryer_id}"


class Run(models.Model):
    """One spool's part in a batch, or that of a coil cut off it: from when to when it was in, and what was known and
    expected of it when it went in. It may join a batch later than the others and leave earlier.

    `net_g`: the filament's mass that the plan went by. `forecast`: the course that was planned, % of dry mass.
    `body_activity`: water activity of the air that a card spool came from, where that was not the room's.
    `warming_log`: the log of how many times as long it takes to warm through as is computed, by a probe in its winding.
    `rate_cells`: what was known of its rate with floor and shape; empty where nothing was. `learned_log_rate`: what its
    weighings by themselves taught about the rate, once it had ended, and `lesson` of rate, floor and shape together.
    """

    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="runs")
    spool = models.ForeignKey(Spool, on_delete=models.PROTECT, related_name="runs")
    coil = models.ForeignKey(Coil, on_delete=models.PROTECT, related_name="runs", null=True, blank=True)
    form = models.CharField(max_length=10, choices=Spool.Form, default=Spool.Form.WOUND)
    duration_h = models.FloatField()
    started_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True, blank=True)
    start_moisture_pct = models.FloatField()
    start_sd_pct = models.FloatField()
    net_g = models.FloatField(null=True, blank=True)
    aim_pct = models.FloatField()
    rate_median = models.FloatField(default=1)
    rate_sigma = models.FloatField(default=RATE_SIGMA)
    rate_cells = models.JSONField(default=dict, blank=True)
    forecast = models.JSONField(default=dict)
    body_activity = models.FloatField(null=True, blank=True)
    warming_log = models.FloatField(null=True, blank=True)
    warming_log_sd = models.FloatField(null=True, blank=True)
    learned_log_rate = models.FloatField(null=True, blank=True)
    learned_log_rate_sd = models.FloatField(null=True, blank=True)
    lesson = models.JSONField(default=dict, blank=True)
    client_key = models.UUIDField()

    class Meta:
        ordering = ["-started_at", "-id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(ended_at__isnull=True) | Q(ended_at__gt=F("started_at")), name="run_ends_after_its_start"
            ),
            models.UniqueConstraint(
                fields=["spool"],
                condition=Q(ended_at__isnull=True, coil__isnull=True),
                name="one_running_run_for_a_spool",
            ),
            models.UniqueConstraint(
                fields=["coil"],
                condition=Q(ended_at__isnull=True, coil__isnull=False),
                name="one_running_run_for_a_coil",
            ),
            models.UniqueConstraint(fields=["client_key", "spool"], name="one_run_of_a_start"),
            models.CheckConstraint(
                condition=Q(duration_h__gt=0, start_moisture_pct__gte=0, start_sd_pct__gte=0, aim_pct__gte=0),
                name="run_makes_sense",
            ),
        ]

    def __str__(self) -> str:
        return f"Run {self.pk} of spool {self.spool_id}"

    @property
    def dryer(self) -> Dryer:
        """The dryer that it is in."""
        return self.batch.dryer


class EventKind(models.TextChoices):
    """What happened in a batch. Paused and power cut stop the heat; the timer that is set again and resumed bring it
    back; changed sets other degrees or hours.
    """

    LID = "lid"
    TURNED = "turned"
    TIMER = "timer"
    DESICCANT = "desiccant"
    SENSOR = "sensor"
    PAUSED = "paused"
    RESUMED = "resumed"
    POWER_CUT = "power_cut"
    CHANGED = "changed"
    OTHER = "other"


class RunEvent(models.Model):
    """What happened in a batch, and for how long where that counts (lid open, power away, timer set for), minutes.

    `out_at`: when the timer that was set again had run out, where that was seen. `temp_c`, `duration_h`: what was
    changed to; hours of heat in all, from the batch's start.
    """

    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="events")
    kind = models.CharField(max_length=12, choices=EventKind)
    at = models.DateTimeField()
    minutes = models.FloatField(null=True, blank=True)
    out_at = models.DateTimeField(null=True, blank=True)
    temp_c = models.FloatField(null=True, blank=True)
    duration_h = models.FloatField(null=True, blank=True)
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
    `doubtful`: water cannot explain it; it stays in the record and out of every estimate.
    """

    class Object(models.TextChoices):
        SPOOL = "spool"
        COIL = "coil"

    spool = models.ForeignKey(Spool, on_delete=models.PROTECT, related_name="weighings")
    run = models.ForeignKey(Run, on_delete=models.PROTECT, related_name="weighings", null=True, blank=True)
    coil = models.ForeignKey(Coil, on_delete=models.PROTECT, related_name="weighings", null=True, blank=True)
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
    doubtful = models.BooleanField(default=False)
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
