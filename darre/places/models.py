"""The room and its air, places, stays, and desiccant. The constraints here make wrong records impossible."""

from django.db import models
from django.db.models import F, Q
from django.utils import timezone

from darre.inventory.models import Spool
from drying.storage import DesiccantKind, Indicator, PlaceKind, Pouch


class Room(models.Model):
    """The room whose air the spools and dryers breathe."""

    name = models.CharField(max_length=60)

    def __str__(self) -> str:
        return self.name


class RoomReading(models.Model):
    """Air of a room at a moment. `import_key`: the import that it came with."""

    room = models.ForeignKey(Room, on_delete=models.PROTECT, related_name="readings")
    at = models.DateTimeField()
    temp_c = models.FloatField()
    rh_pct = models.FloatField()
    import_key = models.BigIntegerField(null=True, blank=True, db_index=True)

    class Meta:
        ordering = ["at"]
        indexes = [models.Index(fields=["at"], name="readings_by_moment")]
        constraints = [
            models.UniqueConstraint(fields=["room", "at"], name="one_reading_at_a_time"),
            models.CheckConstraint(condition=Q(rh_pct__gte=0, rh_pct__lte=100), name="humidity_0_to_100"),
            models.CheckConstraint(condition=Q(temp_c__gte=-40, temp_c__lte=80), name="room_temp_-40_to_80"),
        ]

    def __str__(self) -> str:
        return f"{self.at:%Y-%m-%d %H:%M} {self.temp_c} °C {self.rh_pct} %"


class Place(models.Model):
    """Where spools stand. What is empty is not known; the usual of its kind is taken then.

    `ingress_m3_day`: what gets in, as an exchange of room air; `warm_c`: kept so much over the room.
    """

    name = models.CharField(max_length=60, unique=True)
    kind = models.CharField(max_length=12, choices=[(k.value, k.value) for k in PlaceKind])
    since = models.DateTimeField(default=timezone.now)
    ingress_m3_day = models.FloatField(null=True, blank=True)
    air_l = models.FloatField(null=True, blank=True)
    warm_c = models.FloatField(default=0)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(condition=Q(warm_c__gte=0, warm_c__lte=80), name="warmth_0_to_80"),
            models.CheckConstraint(
                condition=(Q(ingress_m3_day__isnull=True) | Q(ingress_m3_day__gte=0))
                & (Q(air_l__isnull=True) | Q(air_l__gte=0)),
                name="place_not_negative",
            ),
        ]

    def __str__(self) -> str:
        return self.name


class DesiccantFill(models.Model):
    """Desiccant that was put into a container, or none from then on (`kind` empty). `load_pct`: the water it then held,
    % of its dry mass.
    """

    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="fills")
    at = models.DateTimeField()
    kind = models.CharField(max_length=12, blank=True, choices=[(k.value, k.value) for k in DesiccantKind])
    dry_g = models.FloatField(default=0)
    load_pct = models.FloatField(default=0)
    indicator = models.CharField(max_length=8, default=Indicator.NONE, choices=[(k.value, k.value) for k in Indicator])
    pouch = models.CharField(max_length=14, default=Pouch.BARE, choices=[(k.value, k.value) for k in Pouch])

    class Meta:
        ordering = ["at", "id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(kind="") | Q(dry_g__gt=0, load_pct__gte=0, load_pct__lte=100), name="fill_makes_sense"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.dry_g:g} g {self.kind} in {self.place_id}"


class DesiccantWeighing(models.Model):
    """A container's desiccant on a scale: what it gained tells what gets into the container."""

    fill = models.ForeignKey(DesiccantFill, on_delete=models.PROTECT, related_name="weighings")
    at = models.DateTimeField()
    mass_g = models.FloatField()
    sd_g = models.FloatField()

    class Meta:
        ordering = ["at", "id"]
        constraints = [models.CheckConstraint(condition=Q(mass_g__gt=0, sd_g__gt=0), name="pack_has_mass")]

    def __str__(self) -> str:
        return f"{self.mass_g:g} g at {self.at:%Y-%m-%d %H:%M}"


class RoomMonth(models.Model):
    """The room's usual air in a month, for hours in which nothing was measured."""

    month = models.PositiveSmallIntegerField(primary_key=True)
    temp_c = models.FloatField()
    rh_pct = models.FloatField()

    class Meta:
        ordering = ["month"]
        constraints = [
            models.CheckConstraint(condition=Q(month__gte=1, month__lte=12), name="month_1_to_12"),
            models.CheckConstraint(condition=Q(rh_pct__gte=0, rh_pct__lte=100), name="month_humidity_0_to_100"),
        ]

    def __str__(self) -> str:
        return f"month {self.month}: {self.temp_c:g} °C, {self.rh_pct:g} %"


class Stay(models.Model):
    """A spool's time in one place; `until` is empty while it is still there."""

    spool = models.ForeignKey(Spool, on_delete=models.PROTECT, related_name="stays")
    place = models.ForeignKey(Place, on_delete=models.PROTECT)
    since = models.DateTimeField()
    until = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["since"]
        constraints = [
            models.CheckConstraint(condition=Q(until__isnull=True) | Q(until__gt=F("since")), name="stay_ends_later"),
            models.UniqueConstraint(fields=["spool"], condition=Q(until__isnull=True), name="in_one_place_at_a_time"),
        ]

    def __str__(self) -> str:
        return f"{self.spool_id} in {self.place_id} since {self.since:%Y-%m-%d %H:%M}"
