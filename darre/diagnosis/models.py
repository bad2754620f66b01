"""Records of prints and cases. What they amount to is computed; a verdict alone keeps the evidence as it stood."""

from django.db import models
from django.db.models import F, Q
from django.utils import timezone

from darre.inventory.models import FilamentUse, Spool
from drying.diagnosis import VerdictKind


class PrintFile(models.Model):
    """A print file as it was read: what its commands amount to, and two digests. Its text is not kept."""

    name = models.CharField(max_length=120)
    size = models.PositiveBigIntegerField()
    sha256 = models.CharField(max_length=64, unique=True)
    commands_sha256 = models.CharField(max_length=64)
    summary = models.JSONField()
    read_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-read_at", "-id"]

    def __str__(self) -> str:
        return self.name


class Print(models.Model):
    """What was printed from which spool, when, with which file. `use`: the strand that it took. `compensated`: what was
    done against the fault in place of drying, as that changes what a comparison means.
    """

    spool = models.ForeignKey(Spool, on_delete=models.PROTECT, related_name="prints")
    at = models.DateTimeField()
    name = models.CharField(max_length=120)
    file = models.ForeignKey(PrintFile, on_delete=models.PROTECT, related_name="prints", null=True, blank=True)
    use = models.OneToOneField(FilamentUse, on_delete=models.PROTECT, related_name="print", null=True, blank=True)
    compensated = models.CharField(max_length=200, blank=True)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["-at", "-id"]

    def __str__(self) -> str:
        return f"{self.name} at {self.at:%Y-%m-%d %H:%M}"


class Case(models.Model):
    """A bad print in question: which spool, when it was printed, and the prints before and after drying."""

    spool = models.ForeignKey(Spool, on_delete=models.PROTECT, related_name="cases")
    title = models.CharField(max_length=120)
    opened_at = models.DateTimeField(default=timezone.now)
    printed_at = models.DateTimeField()
    before = models.ForeignKey(Print, on_delete=models.PROTECT, related_name="+", null=True, blank=True)
    after = models.ForeignKey(Print, on_delete=models.PROTECT, related_name="+", null=True, blank=True)
    is_open = models.BooleanField(default=True)
    note = models.CharField(max_length=400, blank=True)

    class Meta:
        ordering = ["-is_open", "-opened_at", "-id"]

    def __str__(self) -> str:
        return self.title


class Observation(models.Model):
    """A sign that was looked for: seen or not."""

    case = models.ForeignKey(Case, on_delete=models.PROTECT, related_name="observations")
    sign = models.CharField(max_length=40)
    seen = models.BooleanField()
    note = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["case", "sign"], name="a_sign_once_in_a_case")]

    def __str__(self) -> str:
        return f"{self.sign}: {'seen' if self.seen else 'not seen'}"


class OwnObservation(models.Model):
    """Something else that the person saw, and how many times likelier it is when it is the water."""

    case = models.ForeignKey(Case, on_delete=models.PROTECT, related_name="own_observations")
    text = models.CharField(max_length=120)
    times = models.FloatField()
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]
        constraints = [models.CheckConstraint(condition=Q(times__gt=0), name="own_odds_over_zero")]

    def __str__(self) -> str:
        return self.text


class CaliperReadings(models.Model):
    """Diameters along a purged strand, mm: of the suspect, and of a dry one where there is one."""

    case = models.OneToOneField(Case, on_delete=models.PROTECT, related_name="caliper")
    suspect_mm = models.JSONField()
    dry_mm = models.JSONField(default=list, blank=True)
    at = models.DateTimeField(default=timezone.now)

    def __str__(self) -> str:
        return f"{len(self.suspect_mm)} readings"


class Side(models.TextChoices):
    """Which of the two prints."""

    BEFORE = "before"
    AFTER = "after"


class Photo(models.Model):
    """A photo of one of the two prints. `file` is the name that the store gave it, from its content."""

    case = models.ForeignKey(Case, on_delete=models.PROTECT, related_name="photos")
    side = models.CharField(max_length=6, choices=Side)
    name = models.CharField(max_length=120)
    file = models.CharField(max_length=64)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.side}: {self.name}"


class Feature(models.TextChoices):
    """What of a print is rated."""

    STRINGS = "strings"
    BLOBS = "blobs"
    WALLS = "walls"
    OVERHANGS = "overhangs"
    BRIDGES = "bridges"
    TOP = "top"
    CORNERS = "corners"
    FIRST_LAYER = "first_layer"
    SOUND = "sound"
    STRENGTH = "strength"


class Rating(models.Model):
    """How clean a feature came out in one of the two prints, 1 (spoilt) to 5 (clean). `blind`: rated without knowing
    which print it was.
    """

    case = models.ForeignKey(Case, on_delete=models.PROTECT, related_name="ratings")
    side = models.CharField(max_length=6, choices=Side)
    feature = models.CharField(max_length=12, choices=Feature)
    score = models.PositiveSmallIntegerField()
    blind = models.BooleanField(default=False)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.UniqueConstraint(fields=["case", "side", "feature"], name="a_feature_once_a_side"),
            models.CheckConstraint(condition=Q(score__gte=1, score__lte=5), name="score_1_to_5"),
        ]

    def __str__(self) -> str:
        return f"{self.feature} {self.side}: {self.score}"


class StrengthTest(models.Model):
    """Bars pulled or bent to breaking, printed lying or standing, before and after: every value in one unit."""

    class Method(models.TextChoices):
        PULL = "pull"
        FLEX = "flex"

    class Pose(models.TextChoices):
        LYING = "lying"
        STANDING = "standing"

    case = models.ForeignKey(Case, on_delete=models.PROTECT, related_name="strengths")
    method = models.CharField(max_length=4, choices=Method)
    pose = models.CharField(max_length=8, choices=Pose)
    unit = models.CharField(max_length=12)
    before = models.JSONField()
    after = models.JSONField()

    class Meta:
        ordering = ["id"]
        constraints = [models.UniqueConstraint(fields=["case", "method", "pose"], name="one_strength_a_pose")]

    def __str__(self) -> str:
        return f"{self.method} {self.pose}"


class Verdict(models.Model):
    """How a case was closed, with the evidence as it stood. The latest counts while its case is closed.

    `moisture_pct`, `sd_pct`: at the print, where it was known; `showed`: the chance that the water showed, by the signs
    alone (empty: this case teaches nothing of the thresholds).
    """

    case = models.ForeignKey(Case, on_delete=models.PROTECT, related_name="verdicts")
    at = models.DateTimeField(default=timezone.now)
    kind = models.CharField(max_length=16, choices=[(k.value, k.value) for k in VerdictKind])
    cause = models.CharField(max_length=12, blank=True)
    note = models.CharField(max_length=400, blank=True)
    material = models.CharField(max_length=40)
    moisture_pct = models.FloatField(null=True, blank=True)
    sd_pct = models.FloatField(null=True, blank=True)
    showed = models.FloatField(null=True, blank=True)
    evidence = models.JSONField()
    thresholds_before = models.JSONField(null=True, blank=True)
    thresholds_after = models.JSONField(null=True, blank=True)

    class Meta:
        ordering = ["at", "id"]

    def __str__(self) -> str:
        return f"{self.kind} of case {self.case_id}"


class OwnChance(models.Model):
    """The person's own chance of seeing a sign under a cause; with no sign, a cause's own base rate."""

    sign = models.CharField(max_length=40, blank=True)
    cause = models.CharField(max_length=12)
    p = models.FloatField()

    class Meta:
        ordering = ["sign", "cause"]
        constraints = [
            models.UniqueConstraint(fields=["sign", "cause"], name="one_own_chance_of_a_sign"),
            models.CheckConstraint(condition=Q(p__gt=0, p__lt=1), name="chance_between_0_and_1"),
        ]

    def __str__(self) -> str:
        return f"{self.sign or 'base rate'} {self.cause} {self.p:g}"


class PracticeRound(models.Model):
    """A simulated case to practise on. The truth follows from `seed` and is shown only with the answer."""

    seed = models.BigIntegerField()
    begun_at = models.DateTimeField(default=timezone.now)
    budget_min = models.FloatField()
    done = models.JSONField(default=list)
    stated = models.FloatField(null=True, blank=True)
    table_said = models.FloatField(null=True, blank=True)
    was_water = models.BooleanField(null=True, blank=True)
    ended_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            models.CheckConstraint(
                condition=Q(stated__isnull=True) | Q(stated__gte=0, stated__lte=1), name="stated_0_to_1"
            ),
            models.CheckConstraint(
                condition=Q(ended_at__isnull=True) | Q(ended_at__gte=F("begun_at")),
                name="practice_ends_after_its_start",
            ),
        ]

    def __str__(self) -> str:
        return f"practice {self.pk}"
