"""Shapes of trials over HTTP."""

from typing import Any

from rest_framework import serializers

from darre.common.fields import Moment, TypedNumber, optional_text
from darre.equipment.models import Dryer, Scale
from darre.inventory.models import Spool
from darre.trials.api.air_serializers import SampleAirSerializer
from darre.trials.models import Trial
from drying.trials import Slip

KINDS = Trial.Kind.values
MOST_LENGTHS = 50  # readings of one length
LOTS = [kind for kind in KINDS if kind != Trial.Kind.LADDER]


def lengths_mm() -> serializers.ListField:
    """Readings of one length of a piece, mm."""
    one = TypedNumber(unit="mm", low=0, high=100000, above_low=True)
    return serializers.ListField(child=one, max_length=MOST_LENGTHS, required=False, allow_null=True, default=None)


class PointsSerializer(serializers.Serializer):
    """An estimate: 5, 50 and 95 % points."""

    p05 = serializers.FloatField()
    p50 = serializers.FloatField()
    p95 = serializers.FloatField()


class SampleReadingSerializer(serializers.Serializer):
    """A weighing of a sample: h after the start, g, and what it then held, % of dry mass. Of a piece how long it was,
    how much longer than before, and how much water it had taken up, % of its mass before.
    """

    id = serializers.IntegerField()
    hours = serializers.FloatField()
    gross_g = serializers.FloatField()
    holds_pct = serializers.FloatField(allow_null=True)
    doubtful = serializers.BooleanField()
    after_mm = serializers.ListField(child=serializers.FloatField())
    strain_pct = serializers.FloatField(allow_null=True)
    water_pct = serializers.FloatField(allow_null=True)


class SampleSerializer(serializers.Serializer):
    """A tagged coil, a sponge or a piece, with what it weighed; `before_mm`: how long a piece was."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    start_g = serializers.FloatField()
    baked = serializers.BooleanField()
    planned_h = serializers.FloatField(allow_null=True)
    dryer = serializers.IntegerField(allow_null=True)
    dry_g = serializers.FloatField(allow_null=True)
    desiccant = serializers.BooleanField()
    before_mm = serializers.ListField(child=serializers.FloatField())
    readings = SampleReadingSerializer(many=True)


class SpongeSerializer(serializers.Serializer):
    """What a sponge told of its dryer; `told` false where it was nearly dry, or desiccant took part."""

    name = serializers.CharField()
    told = serializers.BooleanField()
    g_per_h = PointsSerializer(allow_null=True)
    vent_m3_h = PointsSerializer(allow_null=True)


class PairSerializer(serializers.Serializer):
    """How many times as much one dryer takes out as another."""

    one = serializers.CharField()
    other = serializers.CharField()
    ratio = PointsSerializer(allow_null=True)


class WaterSumSerializer(serializers.Serializer):
    """The percent sum of a soak, on both bases."""

    gained_pct = serializers.FloatField()
    before_pct = serializers.FloatField()
    total_pct = serializers.FloatField()
    wet_basis_pct = serializers.FloatField()
    twin_known = serializers.BooleanField()


class CurveSerializer(serializers.Serializer):
    """What coils hold over time, % of dry mass: by the fit, and with its slowest and fastest diffusivity."""

    time_h = serializers.ListField(child=serializers.FloatField())
    middle_pct = serializers.ListField(child=serializers.FloatField())
    slow_pct = serializers.ListField(child=serializers.FloatField())
    fast_pct = serializers.ListField(child=serializers.FloatField())


class FitSerializer(serializers.Serializer):
    """What a lot tells. `half_h`: until half of what moves has moved; `end_pct`: where it ends; `fits`: its samples
    agree; `doubtful`: the name of the sample whose reading does not go with the others.
    """

    diffusivity_m2_s = PointsSerializer()
    start_pct = PointsSerializer()
    end_pct = PointsSerializer()
    film_g_per_m = PointsSerializer(allow_null=True)
    half_h = PointsSerializer()
    fits = serializers.BooleanField()
    doubtful = serializers.CharField(allow_null=True)
    built_in_diffusivity_m2_s = serializers.FloatField()
    built_in_spread = serializers.FloatField()


class RungPrintSerializer(serializers.Serializer):
    """A rated print."""

    id = serializers.IntegerField()
    showed = serializers.BooleanField()


class RungSerializer(serializers.Serializer):
    """A rung of a ladder. Its moisture is kept back while prints are rated: null until the trial is ended."""

    id = serializers.IntegerField()
    letter = serializers.CharField()
    moisture_pct = serializers.FloatField(allow_null=True)
    plus_minus_pct = serializers.FloatField(allow_null=True)
    prints = RungPrintSerializer(many=True)


class MarkSerializer(serializers.Serializer):
    """At which moisture the water begins to show, % of dry mass; `factor`: within which it is known, 9 times in 10."""

    mark_pct = PointsSerializer()
    clean_pct = PointsSerializer()
    fits = serializers.BooleanField()
    factor = serializers.FloatField()
    told = serializers.BooleanField()


class SwellingSerializer(serializers.Serializer):
    """How much longer pieces get for each percent of water, %, and by how much a part of `part_mm` that was printed dry
    grows in the room's air, mm; `fits`: the pieces agree.
    """

    strain_per_pct = PointsSerializer(allow_null=True)
    fits = serializers.BooleanField()
    part_mm = serializers.FloatField()
    part_grows_mm = PointsSerializer(allow_null=True)


class TrialRowSerializer(serializers.Serializer):
    """A trial in the list, with what it told. `temp_c` and `rh_pct` are those of the air about the coils: as they were
    read, else as they were planned.
    """

    id = serializers.IntegerField()
    kind = serializers.ChoiceField(choices=KINDS)
    spool_name = serializers.CharField(allow_null=True)
    temp_c = serializers.FloatField(allow_null=True)
    rh_pct = serializers.FloatField(allow_null=True)
    began_at = serializers.DateTimeField()
    closed_at = serializers.DateTimeField(allow_null=True)
    samples = serializers.IntegerField()
    readings = serializers.IntegerField()
    half_h = PointsSerializer(allow_null=True)
    holds_pct = PointsSerializer(allow_null=True)
    pairs = PairSerializer(many=True)
    mark = MarkSerializer(allow_null=True)
    swelling = SwellingSerializer(allow_null=True)


class TrialSerializer(serializers.Serializer):
    """A trial with its samples and all that it tells so far; `temp_c` and `rh_pct` as in the list."""

    id = serializers.IntegerField()
    kind = serializers.ChoiceField(choices=KINDS)
    spool = serializers.IntegerField(allow_null=True)
    spool_name = serializers.CharField(allow_null=True)
    material_name = serializers.CharField(allow_null=True)
    scale = serializers.IntegerField(allow_null=True)
    scale_name = serializers.CharField(allow_null=True)
    resolution_g = serializers.FloatField(allow_null=True)
    temp_c = serializers.FloatField(allow_null=True)
    rh_pct = serializers.FloatField(allow_null=True)
    planned_temp_c = serializers.FloatField(allow_null=True)
    soaked = serializers.BooleanField()
    room_temp_c = serializers.FloatField()
    room_rh_pct = serializers.FloatField()
    note = serializers.CharField()
    began_at = serializers.DateTimeField()
    closed_at = serializers.DateTimeField(allow_null=True)
    samples = SampleSerializer(many=True)
    next = serializers.IntegerField(allow_null=True)
    fit = FitSerializer(allow_null=True)
    curve = CurveSerializer(allow_null=True)
    sum = WaterSumSerializer(allow_null=True)
    start_pct = PointsSerializer(allow_null=True)
    floor_pct = PointsSerializer(allow_null=True)
    sponges = SpongeSerializer(many=True)
    pairs = PairSerializer(many=True)
    rungs = RungSerializer(many=True)
    next_rung = serializers.IntegerField(allow_null=True)
    mark = MarkSerializer(allow_null=True)
    swelling = SwellingSerializer(allow_null=True)
    airs = SampleAirSerializer(many=True)


class NewRungSerializer(serializers.Serializer):
    """A moisture to print at."""

    moisture_pct = TypedNumber(unit="%", low=0, high=50, above_low=True)
    plus_minus_pct = TypedNumber(unit="%", low=0, high=50, required=False, default=0.0)


class NewLadderSerializer(serializers.Serializer):
    """A ladder to begin."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all())
    rungs = NewRungSerializer(many=True)
    note = optional_text(200)


class RatedSerializer(serializers.Serializer):
    """Whether the water showed in a print."""

    showed = serializers.BooleanField()
    client_key = serializers.UUIDField()


class LadderQuerySerializer(serializers.Serializer):
    """A ladder that somebody thinks of: as many rungs and prints as they give, else the fewest that tell."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all())
    rungs = serializers.IntegerField(min_value=2, max_value=9, required=False, default=None)
    prints = serializers.IntegerField(min_value=1, max_value=20, required=False, default=None)


class LadderDesignSerializer(serializers.Serializer):
    """Moistures to print at, prints at each, and within which factor the threshold will be known; the built-in one."""

    moistures_pct = serializers.ListField(child=serializers.FloatField())
    prints = serializers.IntegerField()
    factor = serializers.FloatField()
    tells = serializers.BooleanField()
    before_pct = serializers.FloatField()
    before_factor = serializers.FloatField()


class SwellingQuerySerializer(serializers.Serializer):
    """Pieces that somebody thinks of measuring."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all())
    pieces = serializers.IntegerField(min_value=1, max_value=100, required=False, default=3)
    readings = serializers.IntegerField(min_value=1, max_value=MOST_LENGTHS, required=False, default=5)
    length_mm = TypedNumber(unit="mm", low=1, high=100000, required=False, default=100.0)


class SwellingDesignSerializer(serializers.Serializer):
    """The least swelling that they will show, % for each percent of water (null: they take up none), and what they will
    hold in the room's air, % of dry mass.
    """

    least_pct = serializers.FloatField(allow_null=True)
    holds_pct = serializers.FloatField()


class NewSampleSerializer(serializers.Serializer):
    """A sample to begin with."""

    start_g = TypedNumber(unit="g", low=0, high=100000, above_low=True)
    name = optional_text(40)
    baked = serializers.BooleanField(required=False, default=False)
    planned_h = TypedNumber(unit="h", low=0, high=5000, above_low=True, required=False, allow_null=True, default=None)
    dryer = serializers.PrimaryKeyRelatedField(
        queryset=Dryer.objects.all(), required=False, allow_null=True, default=None
    )
    dry_g = TypedNumber(unit="g", low=0, high=100000, above_low=True, required=False, allow_null=True, default=None)
    air_temp_c = TypedNumber(unit="°C", low=-40, high=200, required=False, allow_null=True, default=None)
    air_rh_pct = TypedNumber(unit="%", low=0, high=100, required=False, allow_null=True, default=None)
    desiccant = serializers.BooleanField(required=False, default=False)
    before_mm = lengths_mm()


class NewTrialSerializer(serializers.Serializer):
    """A trial to begin."""

    kind = serializers.ChoiceField(choices=LOTS)
    scale = serializers.PrimaryKeyRelatedField(queryset=Scale.objects.all())
    samples = NewSampleSerializer(many=True)
    spool = serializers.PrimaryKeyRelatedField(
        queryset=Spool.objects.all(), required=False, allow_null=True, default=None
    )
    temp_c = TypedNumber(unit="°C", low=-40, high=200, required=False, allow_null=True, default=None)
    rh_pct = TypedNumber(unit="%", low=0, high=100, above_low=True, required=False, allow_null=True, default=None)
    soaked = serializers.BooleanField(required=False, default=False)
    note = optional_text(200)
    began_at = Moment(required=False, allow_null=True, default=None)

    def validate_samples(self, samples: list[dict[str, Any]]) -> list[dict[str, Any]]:
        if len(samples) > 100:
            raise serializers.ValidationError("Give at most 100 samples.", code="too_many")
        return samples


class NewReadingSerializer(serializers.Serializer):
    """What a sample weighs: now, or so many hours after the start."""

    gross_g = TypedNumber(unit="g", low=0, high=100000, above_low=True)
    hours = TypedNumber(unit="h", low=0, high=20000, required=False, allow_null=True, default=None)
    after_mm = lengths_mm()
    client_key = serializers.UUIDField()


class CorrectReadingSerializer(serializers.Serializer):
    """What it really was; without `after_mm` a piece's length stays."""

    gross_g = TypedNumber(unit="g", low=0, high=100000, above_low=True)
    after_mm = lengths_mm()


class SavedTrialSerializer(serializers.Serializer):
    """A trial that was begun; `undo` is the history entry that undoes it."""

    trial = serializers.IntegerField(source="record.pk")
    undo = serializers.IntegerField(allow_null=True)


class DesignQuerySerializer(serializers.Serializer):
    """A lot that somebody thinks of."""

    kind = serializers.ChoiceField(choices=("drying", "uptake"))
    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all())
    scale = serializers.PrimaryKeyRelatedField(queryset=Scale.objects.all())
    temp_c = TypedNumber(unit="°C", low=-40, high=200)
    rh_pct = TypedNumber(unit="%", low=0, high=100, above_low=True, required=False, allow_null=True, default=None)
    soaked = serializers.BooleanField(required=False, default=False)
    coils = serializers.IntegerField(min_value=2, max_value=60, required=False, default=8)
    coil_m = TypedNumber(unit="m", low=0, high=200, above_low=True, required=False, default=8.0)


class ScaleDesignSerializer(serializers.Serializer):
    """What the same lot would tell by another of the person's scales: ± as a factor of the diffusivity."""

    scale = serializers.IntegerField()
    name = serializers.CharField()
    diffusivity_factor = serializers.FloatField()
    change_pm_pct = serializers.FloatField()
    takes_it = serializers.BooleanField()


class DesignSerializer(serializers.Serializer):
    """When to take the coils out, what a coil weighs, and how sure it will be (9 chances in 10)."""

    times_h = serializers.ListField(child=serializers.FloatField())
    coil_g = serializers.FloatField()
    change_pct = serializers.FloatField()
    diffusivity_factor = serializers.FloatField()
    change_pm_pct = serializers.FloatField()
    more_coils_factor = serializers.FloatField()
    scales = ScaleDesignSerializer(many=True)


class SlipQuerySerializer(serializers.Serializer):
    """A percentage that somebody got out of the same masses."""

    typed_pct = TypedNumber(unit="%", low=-100, high=200)


class SlipSerializer(serializers.Serializer):
    """What it is, and the slip that gives the typed number; null where it is right, and where none explains it."""

    total_pct = serializers.FloatField()
    typed_is_right = serializers.BooleanField()
    slip = serializers.ChoiceField(choices=[s.value for s in Slip], allow_null=True)
