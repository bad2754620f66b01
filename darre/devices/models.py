"""Devices and what they sent. A reading is stored once, under the device's own time."""

from django.db import models
from django.db.models import Q

from darre.equipment.models import Dryer, Scale
from darre.places.models import Place


class DeviceKind(models.TextChoices):
    """What a device measures. A dryer that sends its own reading tells what its display shows."""

    LOGGER = "logger"
    SCALE = "scale"
    METER = "meter"
    DRYER = "dryer"


class Device(models.Model):
    """A device with its token (kept as a hash), and what it is at: a dryer, a container, a scale, or none (the room).

    `skew_ms`: how far its clock is behind ours; added to its times. It changes only when the clock has jumped.
    `by_hand`: stands for what somebody types off a meter in a dryer. `in_winding`: its probe sits in a spool's winding
    there, not beside it. `rh_offset_pct`: by how much it shows too much relative humidity; what it sent is kept as it
    was sent, and put right as it is read.
    """

    name = models.CharField(max_length=60, unique=True)
    kind = models.CharField(max_length=8, choices=DeviceKind)
    token_hash = models.CharField(max_length=64, unique=True)
    dryer = models.ForeignKey(Dryer, on_delete=models.PROTECT, null=True, blank=True, related_name="devices")
    place = models.ForeignKey(Place, on_delete=models.PROTECT, null=True, blank=True, related_name="devices")
    scale = models.ForeignKey(Scale, on_delete=models.PROTECT, null=True, blank=True, related_name="devices")
    skew_ms = models.BigIntegerField(default=0)
    last_seen = models.DateTimeField(null=True, blank=True)
    by_hand = models.BooleanField(default=False)
    in_winding = models.BooleanField(default=False)
    rh_offset_pct = models.FloatField(default=0.0)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["dryer"], condition=Q(by_hand=True), name="one_meter_by_hand_in_a_dryer"),
        ]

    def __str__(self) -> str:
        return self.name

    def true_rh_pct(self, shown_pct: float) -> float:
        """Relative humidity by a reading of this device, %."""
        return min(max(shown_pct - self.rh_offset_pct, 0.0), 100.0)


class Sample(models.Model):
    """One reading. `own_ms`: the device's own time; `at_ms`: ours (both ms since 1970, UTC). `import_key`: the file
    that it came with.
    """

    device = models.ForeignKey(Device, on_delete=models.PROTECT, related_name="samples")
    own_ms = models.BigIntegerField()
    at_ms = models.BigIntegerField()
    temp_c = models.FloatField(null=True)
    rh_pct = models.FloatField(null=True)
    mass_g = models.FloatField(null=True)
    energy_kwh = models.FloatField(null=True)
    import_key = models.BigIntegerField(null=True, db_index=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["device", "own_ms"], name="a_reading_is_stored_once"),
            models.CheckConstraint(
                condition=Q(temp_c__isnull=False)
                | Q(rh_pct__isnull=False)
                | Q(mass_g__isnull=False)
                | Q(energy_kwh__isnull=False),
                name="reading_says_something",
            ),
        ]
        indexes = [models.Index(fields=["device", "at_ms"], name="readings_in_time")]

    def __str__(self) -> str:
        return f"reading {self.own_ms} of device {self.device_id}"
