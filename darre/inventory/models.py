"""Records of the workshop. Formulas live in the core; the constraints here make wrong records impossible."""

from uuid import uuid4

from django.db import models
from django.db.models import F, Q
from django.utils import timezone

from drying.weighing import TareMethod


class EmptySpool(models.Model):
    """The empty spool of a make: what it is made of, its sizes, and what it weighs by somebody's list (`listed_g`).
    What was weighed here stands with the spools.
    """

    name = models.CharField(max_length=60)
    kind = models.CharField(max_length=20)
    outer_diameter_mm = models.FloatField(default=200)
    width_mm = models.FloatField(default=60)
    hub_diameter_mm = models.FloatField(default=90)
    listed_g = models.FloatField(null=True, blank=True)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=Q(outer_diameter_mm__gt=F("hub_diameter_mm")) & Q(hub_diameter_mm__gt=0) & Q(width_mm__gt=0),
                name="body_sizes_make_sense",
            ),
        ]

    def __str__(self) -> str:
        return self.name


class Spool(models.Model):
    """A spool (or loose coil) of strand, with the tare that its weighings are counted from, and what its maker's data
    sheet asks for: air in °C and hours, perhaps only once it was opened.
    """

    class Form(models.TextChoices):
        WOUND = "wound"
        LOOSE = "loose"

    name = models.CharField(max_length=60)
    material = models.CharField(max_length=40)
    colour = models.CharField(max_length=40, blank=True)
    maker = models.CharField(max_length=60, blank=True)
    purpose = models.CharField(max_length=120, blank=True)
    empty_spool = models.ForeignKey(EmptySpool, on_delete=models.PROTECT)
    form = models.CharField(max_length=10, choices=Form, default=Form.WOUND)
    strand_diameter_mm = models.FloatField(default=1.75)
    tare_g = models.FloatField()
    tare_sd_g = models.FloatField()
    tare_method = models.CharField(max_length=10, choices=[(m.value, m.value) for m in TareMethod])
    sheet_temp_c = models.FloatField(null=True, blank=True)
    sheet_hours = models.FloatField(null=True, blank=True)
    sheet_only_if_opened = models.BooleanField(default=False)
    created_at = models.DateTimeField(default=timezone.now)
    archived_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["name"]
        constraints = [
            models.CheckConstraint(condition=Q(tare_g__gte=0, tare_sd_g__gte=0), name="tare_not_negative"),
            models.CheckConstraint(
                condition=Q(strand_diameter_mm__gte=0.5, strand_diameter_mm__lte=5), name="strand_diameter_0.5_to_5"
            ),
            models.UniqueConstraint(fields=["name"], name="one_spool_of_a_name"),
            models.CheckConstraint(
                condition=Q(sheet_temp_c__isnull=True, sheet_hours__isnull=True)
                | Q(sheet_temp_c__isnull=False, sheet_hours__isnull=False),
                name="sheet_has_both_values",
            ),
        ]

    def __str__(self) -> str:
        return self.name


class MoistureReading(models.Model):
    """A moment at which a spool's moisture was known, and from what, % of dry mass; `next_pct`: what the grams that are
    printed next hold, where that was known to be another moisture.
    """

    class Basis(models.TextChoices):
        NEW = "new"
        TYPED = "typed"
        RUN = "run"

    spool = models.ForeignKey(Spool, on_delete=models.PROTECT, related_name="moisture_readings")
    at = models.DateTimeField()
    moisture_pct = models.FloatField()
    sd_pct = models.FloatField()
    next_pct = models.FloatField(null=True, blank=True)
    basis = models.CharField(max_length=10, choices=Basis)

    class Meta:
        ordering = ["at", "id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(moisture_pct__gte=0, moisture_pct__lte=100, sd_pct__gte=0), name="moisture_0_to_100"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.moisture_pct:.2f} ± {self.sd_pct:.2f} %"


class Coil(models.Model):
    """A coil cut off a spool, with a name on its tag: it is dried and weighed by itself. `soaked`: it lay in water."""

    spool = models.ForeignKey(Spool, on_delete=models.PROTECT, related_name="coils")
    name = models.CharField(max_length=40)
    cut_at = models.DateTimeField()
    length_m = models.FloatField(null=True, blank=True)
    soaked = models.BooleanField(default=False)
    used_up_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["spool", "name"], name="one_coil_of_a_name"),
            models.CheckConstraint(condition=Q(length_m__isnull=True) | Q(length_m__gt=0), name="coil_has_length"),
        ]

    def __str__(self) -> str:
        return f"{self.name} of spool {self.spool_id}"


class FilamentUse(models.Model):
    """Strand that was printed off a spool, g with standard uncertainty."""

    spool = models.ForeignKey(Spool, on_delete=models.PROTECT, related_name="uses")
    at = models.DateTimeField()
    mass_g = models.FloatField()
    sd_g = models.FloatField()
    note = models.CharField(max_length=120, blank=True)

    class Meta:
        ordering = ["at", "id"]
        constraints = [models.CheckConstraint(condition=Q(mass_g__gt=0, sd_g__gte=0), name="use_has_mass")]

    def __str__(self) -> str:
        return f"{self.mass_g:g} g off spool {self.spool_id}"


class OwnMaterial(models.Model):
    """A material of the person's own, begun from a built-in one. `slug` is what spools name it by."""

    slug = models.CharField(max_length=40, unique=True)
    name = models.CharField(max_length=60, unique=True)
    short = models.CharField(max_length=30)
    base = models.CharField(max_length=40)

    class Meta:
        ordering = ["name"]

    def __str__(self) -> str:
        return self.name


class OwnValue(models.Model):
    """The person's own value of a material's property, over the built-in one: typed, or learned from closed cases."""

    class Origin(models.TextChoices):
        TYPED = "typed"
        CASES = "cases"

    material = models.CharField(max_length=40)
    name = models.CharField(max_length=20)
    value = models.FloatField()
    spread = models.FloatField(null=True, blank=True)
    note = models.CharField(max_length=120, blank=True)
    origin = models.CharField(max_length=8, choices=Origin, default=Origin.TYPED)

    class Meta:
        ordering = ["material", "name"]
        constraints = [models.UniqueConstraint(fields=["material", "name"], name="one_own_value_of_a_property")]

    def __str__(self) -> str:
        return f"{self.material} {self.name} {self.value:g}"


class OwnProgramme(models.Model):
    """The person's own temperature and hours for a method of drying, or a programme of their own (`own`)."""

    material = models.CharField(max_length=40)
    name = models.CharField(max_length=20)
    temp_c = models.FloatField()
    duration_h = models.FloatField()

    class Meta:
        ordering = ["material", "name"]
        constraints = [models.UniqueConstraint(fields=["material", "name"], name="one_own_run_of_a_school")]

    def __str__(self) -> str:
        return f"{self.material} {self.name} {self.temp_c:g} °C {self.duration_h:g} h"


class Workshop(models.Model):
    """Which workshop this database is: what waits in a browser goes only to its own. A copy of it is the same one."""

    key = models.UUIDField(default=uuid4)

    class Meta:
        constraints = [models.CheckConstraint(condition=Q(pk=1), name="one_workshop")]

    def __str__(self) -> str:
        return str(self.key)


class Preferences(models.Model):
    """How numbers are shown and what power costs. There is one; units are turned at the edge alone.

    The tariff has a rate by day and perhaps one for cheap hours, from minute to minute of the day. `home_weekdays`,
    `home_weekends`: when somebody is at home and awake, pairs of minutes of the day; none for always. `years_back`: a
    time before that is taken for a slip. `thin_after_days`: devices' readings older than that are thinned; 0 for never.
    `watch_first_h`: how long somebody is there when a material is dried in a dryer for the first time.
    """

    class Temp(models.TextChoices):
        CELSIUS = "C"
        FAHRENHEIT = "F"

    class Mass(models.TextChoices):
        GRAM = "g"
        OUNCE = "oz"

    class Length(models.TextChoices):
        METRE = "m"
        FOOT = "ft"

    class Clock(models.TextChoices):
        DAY = "24"
        HALF_DAY = "12"

    temp_unit = models.CharField(max_length=1, choices=Temp, default=Temp.CELSIUS)
    mass_unit = models.CharField(max_length=2, choices=Mass, default=Mass.GRAM)
    length_unit = models.CharField(max_length=2, choices=Length, default=Length.METRE)
    clock = models.CharField(max_length=2, choices=Clock, default=Clock.DAY)
    currency = models.CharField(max_length=8, blank=True)
    day_rate = models.FloatField(null=True, blank=True)
    night_rate = models.FloatField(null=True, blank=True)
    night_from_min = models.PositiveSmallIntegerField(default=0)
    night_to_min = models.PositiveSmallIntegerField(default=0)
    years_back = models.PositiveSmallIntegerField(default=5)
    thin_after_days = models.PositiveSmallIntegerField(default=90)
    home_weekdays = models.JSONField(default=list, blank=True)
    home_weekends = models.JSONField(default=list, blank=True)
    watch_first_h = models.FloatField(default=2)

    class Meta:
        constraints = [
            models.CheckConstraint(condition=Q(watch_first_h__gte=0), name="watched_not_less_than_never"),
            models.CheckConstraint(condition=Q(pk=1), name="one_set_of_preferences"),
            models.CheckConstraint(condition=Q(years_back__gte=1, years_back__lte=60), name="years_back_1_to_60"),
        ]

    def __str__(self) -> str:
        return f"{self.temp_unit} {self.mass_unit} {self.length_unit} {self.clock}"


class Helper(models.Model):
    """Somebody else who loads and takes out: when they are there and awake, pairs of minutes of the day."""

    name = models.CharField(max_length=60, unique=True)
    weekdays = models.JSONField(default=list, blank=True)
    weekends = models.JSONField(default=list, blank=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return self.name


class HomeChange(models.Model):
    """A stretch that is not as usual: somebody is at home who else is not, or nobody is."""

    since = models.DateTimeField()
    until = models.DateTimeField()
    at_home = models.BooleanField()
    note = models.CharField(max_length=120, blank=True)

    class Meta:
        ordering = ["since", "id"]
        constraints = [models.CheckConstraint(condition=Q(until__gt=F("since")), name="change_ends_after_it_begins")]

    def __str__(self) -> str:
        return "at home" if self.at_home else "away"
