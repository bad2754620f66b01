"""Shapes of prints, cases and their evidence over HTTP."""

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from darre.common.fields import Moment, TypedNumber, optional_text
from darre.diagnosis.api.print_serializers import PrintSerializer
from darre.diagnosis.models import Feature, Photo, Print, Rating, Side, StrengthTest
from darre.inventory.models import Spool
from drying.diagnosis import OWN_TIMES_MOST, ChanceInWords, Check, SpreadFinding, VerdictKind
from drying.diagnosis.evidence_table import evidence_table

CAUSES = evidence_table().causes
SIGNS = tuple(evidence_table().signs)
CHECKS = tuple(evidence_table().checks)
VERDICTS = tuple(v.value for v in VerdictKind)


class CauseChanceSerializer(serializers.Serializer):
    """A cause with a chance."""

    cause = serializers.ChoiceField(choices=CAUSES)
    p = serializers.FloatField()


class WeightSerializer(serializers.Serializer):
    """One observation as it counts; `text` for one of the person's own, then `sign` is empty."""

    sign = serializers.CharField()
    text = serializers.CharField()
    seen = serializers.BooleanField()
    bits = serializers.FloatField()
    p_after = serializers.FloatField()
    p_without = serializers.FloatField()
    share = serializers.FloatField()
    chances = CauseChanceSerializer(many=True)
    why = serializers.CharField()


class EvidenceSerializer(serializers.Serializer):
    """What the evidence of a case amounts to; of a closed one as it stood then."""

    p_water = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    in_words = serializers.ChoiceField(choices=[v.value for v in ChanceInWords])
    start_bits = serializers.FloatField()
    start_p = serializers.FloatField()
    p_wet = serializers.FloatField()
    moisture_pct = serializers.FloatField()
    plus_minus_pct = serializers.FloatField()
    moisture_assumed = serializers.BooleanField()
    trouble_pct = serializers.FloatField(allow_null=True)
    causes = CauseChanceSerializer(many=True)
    suggested = serializers.ChoiceField(choices=VERDICTS)
    other = serializers.ChoiceField(choices=CAUSES)
    weights = WeightSerializer(many=True)


class NextCheckSerializer(serializers.Serializer):
    """A check not yet done and what it would tell."""

    check = serializers.ChoiceField(choices=CHECKS, source="check.id")
    signs = serializers.ListField(child=serializers.CharField())
    minutes = serializers.FloatField(source="check.minutes")
    wait_h = serializers.FloatField(source="check.wait_h")
    bits = serializers.FloatField()
    p_for = serializers.FloatField()
    after_for = serializers.FloatField()
    after_against = serializers.FloatField()


class ObservationSerializer(serializers.Serializer):
    """A sign that was looked for."""

    sign = serializers.ChoiceField(choices=SIGNS)
    seen = serializers.BooleanField()
    note = serializers.CharField()


class OwnObservationSerializer(serializers.Serializer):
    """An observation of the person's own."""

    id = serializers.IntegerField()
    text = serializers.CharField()
    times = serializers.FloatField()


class SpreadSerializer(serializers.Serializer):
    """Caliper readings and what their spread tells."""

    suspect_mm = serializers.ListField(child=serializers.FloatField())
    dry_mm = serializers.ListField(child=serializers.FloatField())
    sd_mm = serializers.FloatField()
    dry_sd_mm = serializers.FloatField()
    ratio = serializers.FloatField()
    low = serializers.FloatField()
    high = serializers.FloatField()
    p_value = serializers.FloatField()
    finding = serializers.ChoiceField(choices=[v.value for v in SpreadFinding])


class PhotoSerializer(serializers.ModelSerializer[Photo]):
    """A photo of one of the two prints."""

    side = serializers.ChoiceField(choices=Side.choices)

    class Meta:
        model = Photo
        fields = ["id", "side", "name", "width", "height"]


class SavedPhotoSerializer(serializers.Serializer):
    """A photo that is stored; `undo` is the history entry that undoes it."""

    photo = PhotoSerializer()
    undo = serializers.IntegerField(allow_null=True)


class RatingSerializer(serializers.ModelSerializer[Rating]):
    """How clean a feature came out, 1 (spoilt) to 5 (clean)."""

    side = serializers.ChoiceField(choices=Side.choices)
    feature = serializers.ChoiceField(choices=Feature.choices)

    class Meta:
        model = Rating
        fields = ["side", "feature", "score", "blind"]


class ChangeSerializer(serializers.Serializer):
    """Change of the mean in percent; the interval is null where a side has a single value."""

    before = serializers.FloatField()
    after = serializers.FloatField()
    change_pct = serializers.FloatField()
    low_pct = serializers.FloatField(allow_null=True)
    high_pct = serializers.FloatField(allow_null=True)
    finding = serializers.BooleanField()


class StrengthSerializer(serializers.Serializer):
    """A strength before and after."""

    method = serializers.ChoiceField(choices=StrengthTest.Method.choices, source="test.method")
    pose = serializers.ChoiceField(choices=StrengthTest.Pose.choices, source="test.pose")
    unit = serializers.CharField(source="test.unit")
    before = serializers.ListField(child=serializers.FloatField(), source="test.before")
    after = serializers.ListField(child=serializers.FloatField(), source="test.after")
    change = ChangeSerializer()


class DifferenceSerializer(serializers.Serializer):
    """A value in which two files differ."""

    name = serializers.CharField()
    one = serializers.FloatField(allow_null=True)
    other = serializers.FloatField(allow_null=True)


class FilePairSerializer(serializers.Serializer):
    """Whether before and after had the same file: "file", "commands" (comments differ), "" (not), null (not known)."""

    same = serializers.CharField(allow_null=True)
    differs = DifferenceSerializer(many=True)


class ThresholdsSerializer(serializers.Serializer):
    """A material's thresholds, % of dry mass, and the factor by which the trouble threshold may be off."""

    clean_pct = serializers.FloatField()
    trouble_pct = serializers.FloatField()
    spread = serializers.FloatField()


class ThresholdsIfSerializer(serializers.Serializer):
    """What a verdict would make of the thresholds."""

    kind = serializers.ChoiceField(choices=VERDICTS)
    thresholds = ThresholdsSerializer()


class ThresholdsNowSerializer(serializers.Serializer):
    """The thresholds now, whether one was typed (cases leave those alone), and what each verdict would make of them."""

    now = ThresholdsSerializer()
    typed = serializers.BooleanField()
    if_closed = ThresholdsIfSerializer(many=True)


class CaseVerdictSerializer(serializers.Serializer):
    """How a case was closed."""

    at = serializers.DateTimeField()
    kind = serializers.ChoiceField(choices=VERDICTS)
    cause = serializers.CharField()
    note = serializers.CharField()
    p_water = serializers.FloatField(source="evidence.p_water")
    thresholds_before = ThresholdsSerializer(allow_null=True)
    thresholds_after = ThresholdsSerializer(allow_null=True)


class CaseHeadSerializer(serializers.Serializer):
    """A case as lists show it."""

    id = serializers.IntegerField()
    title = serializers.CharField()
    spool = serializers.IntegerField(source="spool_id")
    spool_name = serializers.CharField(source="spool.name")
    material = serializers.CharField(source="spool.material")
    is_open = serializers.BooleanField()
    opened_at = serializers.DateTimeField()
    printed_at = serializers.DateTimeField()
    note = serializers.CharField()


class CaseRowSerializer(serializers.Serializer):
    """A case in the list."""

    case = CaseHeadSerializer()
    material_short = serializers.CharField(source="entry.now.short")
    evidence = EvidenceSerializer()
    verdict = CaseVerdictSerializer(allow_null=True)


class DriedSerializer(serializers.Serializer):
    """The run that dried the spool since."""

    id = serializers.IntegerField()
    ended_at = serializers.DateTimeField()


class CheckSerializer(serializers.Serializer):
    """A check and the signs that it shows."""

    check = serializers.ChoiceField(choices=CHECKS, source="id")
    signs = serializers.SerializerMethodField()

    @extend_schema_field(serializers.ListField(child=serializers.ChoiceField(choices=SIGNS)))
    def get_signs(self, check: Check) -> list[str]:
        return [sign for sign in check.signs if sign in SIGNS]


class CasePageSerializer(serializers.Serializer):
    """Everything of one case."""

    case = CaseHeadSerializer(source="judged.case")
    material_short = serializers.CharField(source="judged.entry.now.short")
    evidence = EvidenceSerializer()
    next = NextCheckSerializer(many=True)
    checks = CheckSerializer(many=True, source="all_checks")
    observations = ObservationSerializer(many=True, source="judged.case.observations.all")
    own_observations = OwnObservationSerializer(many=True, source="judged.case.own_observations.all")
    caliper = SpreadSerializer(allow_null=True)
    before = PrintSerializer(allow_null=True, source="judged.case.before")
    after = PrintSerializer(allow_null=True, source="judged.case.after")
    files = FilePairSerializer()
    photos = PhotoSerializer(many=True, source="judged.case.photos.all")
    ratings = RatingSerializer(many=True, source="judged.case.ratings.all")
    strengths = StrengthSerializer(many=True)
    thresholds = ThresholdsNowSerializer(allow_null=True)
    dried = DriedSerializer(allow_null=True)
    verdict = CaseVerdictSerializer(allow_null=True, source="judged.verdict")
    verdicts = CaseVerdictSerializer(many=True, source="judged.case.verdicts.all")


class OpenCaseSerializer(serializers.Serializer):
    """A case to open."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all())
    title = optional_text(120)
    printed_at = Moment(required=False)
    before = serializers.PrimaryKeyRelatedField(
        queryset=Print.objects.all(), required=False, allow_null=True, default=None
    )


class ChangeCaseSerializer(serializers.Serializer):
    """What may be changed of a case; what is left out stays."""

    title = serializers.CharField(max_length=120, required=False)
    note = serializers.CharField(max_length=400, required=False, allow_blank=True)
    printed_at = Moment(required=False)
    before = serializers.PrimaryKeyRelatedField(queryset=Print.objects.all(), required=False, allow_null=True)
    after = serializers.PrimaryKeyRelatedField(queryset=Print.objects.all(), required=False, allow_null=True)


class SavedCaseSerializer(serializers.Serializer):
    """A case that is stored; `undo` is the history entry that undoes it."""

    case = CaseHeadSerializer()
    undo = serializers.IntegerField(allow_null=True)


class NotedSignSerializer(serializers.Serializer):
    """A sign: seen, looked for and not seen, or (null) not looked for after all."""

    sign = serializers.ChoiceField(choices=SIGNS)
    seen = serializers.BooleanField(allow_null=True)


class NoteSignsSerializer(serializers.Serializer):
    """Signs to note."""

    signs = NotedSignSerializer(many=True, allow_empty=False)
    note = optional_text(200)


class WriteOwnSerializer(serializers.Serializer):
    """An observation of one's own; under one: likelier when it is something else."""

    text = serializers.CharField(max_length=120)
    times = TypedNumber(unit="times", low=1 / OWN_TIMES_MOST, high=OWN_TIMES_MOST)


def _numbers(unit: str, low: float, high: float) -> serializers.ListField:
    each = TypedNumber(unit=unit, low=low, high=high, above_low=low == 0.0)
    return serializers.ListField(child=each, max_length=200, required=False, default=list)


class WriteCaliperSerializer(serializers.Serializer):
    """Diameters along the strand, mm; none at all: forget them."""

    suspect_mm = _numbers("mm", 0.1, 10)
    dry_mm = _numbers("mm", 0.1, 10)


class WriteScoreSerializer(serializers.Serializer):
    """A score, or null to take one back."""

    side = serializers.ChoiceField(choices=Side.choices)
    feature = serializers.ChoiceField(choices=Feature.choices)
    score = serializers.IntegerField(min_value=1, max_value=5, allow_null=True)


class WriteRatingsSerializer(serializers.Serializer):
    """Ratings to keep."""

    scores = WriteScoreSerializer(many=True, allow_empty=False)
    blind = serializers.BooleanField(required=False, default=False)


class WriteStrengthSerializer(serializers.Serializer):
    """Bars broken before and after; none at all: forget them."""

    method = serializers.ChoiceField(choices=StrengthTest.Method.choices)
    pose = serializers.ChoiceField(choices=StrengthTest.Pose.choices)
    unit = serializers.CharField(max_length=12)
    before = _numbers("", 0.0, 1e9)
    after = _numbers("", 0.0, 1e9)


class WriteVerdictSerializer(serializers.Serializer):
    """A verdict; one of something else names the cause."""

    kind = serializers.ChoiceField(choices=VERDICTS)
    cause = serializers.ChoiceField(choices=CAUSES, required=False, allow_blank=True, default="")
    note = optional_text(400)
