"""Shapes of the rack over time, of a spool's page, and of keeping."""

from typing import Any

from rest_framework import serializers

from darre.inventory.models import FilamentUse, MoistureReading
from darre.moisture.api.lane_serializers import LaneField
from darre.moisture.rack import Traced
from darre.places.api.serializers import DESICCANT_KINDS, INDICATORS, POUCHES, FullPlaceSerializer, StaySerializer
from darre.places.models import DesiccantFill, DesiccantWeighing
from darre.runs.api.serializers import RunningNow, SeenSerializer
from darre.runs.models import Run
from drying.moisture import Action
from drying.planning import METHODS


class NextActionSerializer(serializers.Serializer):
    """What to do with a spool next."""

    act = serializers.ChoiceField(choices=[a.value for a in Action])
    within_h = serializers.FloatField(allow_null=True)
    over_trouble = serializers.BooleanField()


class HeatSerializer(serializers.Serializer):
    """The run that would be planned for a spool now, in the dryer that does it best."""

    dryer = serializers.IntegerField()
    dryer_name = serializers.CharField()
    method = serializers.ChoiceField(choices=METHODS)
    temp_c = serializers.FloatField()
    duration_h = serializers.FloatField()
    reaches = serializers.BooleanField()
    end_pct = serializers.FloatField()


class RunSpanSerializer(RunningNow, serializers.ModelSerializer[Run]):
    """A run as a stretch of a lane."""

    dryer_name = serializers.CharField(source="dryer.name")

    class Meta:
        model = Run
        fields = ["id", "dryer_name", "temp_c", "started_at", "ended_at", "duration_h", "end_h", "timer"]


class LaneWeighedSerializer(serializers.Serializer):
    """A weigh-in on a lane."""

    at = serializers.DateTimeField()
    moisture_pct = serializers.FloatField()


class TracedSerializer(serializers.Serializer):
    """A lane over a window: moisture and its standard uncertainty at each point, null where nothing is known. Written
    once for as long as it is the same.
    """

    lane = LaneField()
    pct = serializers.ListField(child=serializers.FloatField(allow_null=True))
    sd = serializers.ListField(child=serializers.FloatField(allow_null=True))
    stays = StaySerializer(many=True)
    runs = RunSpanSerializer(many=True)
    weighed = LaneWeighedSerializer(many=True)
    next = NextActionSerializer()
    heat = HeatSerializer(allow_null=True)

    def to_representation(self, instance: Traced) -> Any:
        return instance.written.once(instance.heat, lambda: self._parts(instance))

    def _parts(self, instance: Traced) -> dict[str, object]:
        found: dict[str, object] = {}
        for name in map(str, self.fields):
            if name in ("pct", "sd"):  # long, and plain already
                found[name] = getattr(instance, name)
            else:
                field = self.fields[name]
                value = field.get_attribute(instance)
                found[name] = None if value is None else field.to_representation(value)
        return found


class RackSerializer(serializers.Serializer):
    """Every lane over a window that begins at `start`, a point every `step_h`; the room's dew point below."""

    now = serializers.DateTimeField()
    start = serializers.DateTimeField()
    step_h = serializers.IntegerField()
    points = serializers.IntegerField()
    lanes = TracedSerializer(many=True)
    dew_point_c = serializers.ListField(child=serializers.FloatField())
    measured = serializers.ListField(child=serializers.BooleanField())


class MoistureReadingSerializer(serializers.ModelSerializer[MoistureReading]):
    """A moment at which the moisture was known."""

    basis = serializers.ChoiceField(choices=MoistureReading.Basis.choices)

    class Meta:
        model = MoistureReading
        fields = ["id", "at", "moisture_pct", "sd_pct", "basis"]


class UsedSerializer(serializers.ModelSerializer[FilamentUse]):
    """Strand that was printed."""

    class Meta:
        model = FilamentUse
        fields = ["id", "at", "mass_g", "sd_g", "note"]


class LearnedSerializer(serializers.Serializer):
    """How fast it dries in a dryer against what is computed: median and sigma of a log-normal."""

    dryer_name = serializers.CharField()
    median = serializers.FloatField(source="rate.median")
    sigma = serializers.FloatField(source="rate.sigma")
    runs = serializers.IntegerField()


class OutcomeLineSerializer(serializers.Serializer):
    """What would become of it by one choice."""

    name = serializers.ChoiceField(choices=["stay", "out", "bag", "bin", "dry"])
    pct = serializers.ListField(child=serializers.FloatField())
    sd = serializers.ListField(child=serializers.FloatField())


class DampNightSerializer(serializers.Serializer):
    """What a night in the open adds, % of dry mass; after how many hours there the best scale for it shows what was
    added, and a print does; null: not within two weeks, or no scale.
    """

    adds_pct = serializers.FloatField()
    scale = serializers.IntegerField(allow_null=True)
    scale_h = serializers.FloatField(allow_null=True)
    prints_h = serializers.FloatField(allow_null=True)


class SpoolPageSerializer(serializers.Serializer):
    """All that is known of a spool, and what may come of it."""

    traced = TracedSerializer()
    start = serializers.DateTimeField()
    step_h = serializers.IntegerField()
    moisture_readings = MoistureReadingSerializer(many=True)
    stays = StaySerializer(many=True)
    uses = UsedSerializer(many=True)
    weighings = SeenSerializer(many=True)
    learned = LearnedSerializer(many=True)
    outcomes = OutcomeLineSerializer(many=True)
    outcome_at = serializers.ListField(child=serializers.DateTimeField())
    dries_h = serializers.FloatField(allow_null=True)
    damp_night = DampNightSerializer(allow_null=True)
    empty_spool = serializers.IntegerField(source="traced.lane.spool.empty_spool_id")


class CrossingSerializer(serializers.Serializer):
    """When a threshold is passed, hours from now: the middle and the two ends; null: not within two weeks."""

    hours = serializers.FloatField(allow_null=True)
    early_h = serializers.FloatField(allow_null=True)
    late_h = serializers.FloatField(allow_null=True)


class ContainedSerializer(serializers.Serializer):
    """A spool in a container."""

    lane = LaneField()
    clean = CrossingSerializer()
    trouble = CrossingSerializer()
    dries_h = serializers.FloatField(allow_null=True)


class IngressSerializer(serializers.Serializer):
    """What leaks in, as an exchange of room air, m³/day."""

    value = serializers.FloatField()
    uncertainty = serializers.FloatField()


class RegenerationSerializer(serializers.Serializer):
    """How desiccant is dried again."""

    temp_c = serializers.FloatField()
    hours = serializers.FloatField()
    held_back_by = serializers.CharField(allow_blank=True)
    too_cool = serializers.BooleanField()


class DesiccantWeighingSerializer(serializers.ModelSerializer[DesiccantWeighing]):
    """What the desiccant weighed."""

    class Meta:
        model = DesiccantWeighing
        fields = ["id", "at", "mass_g", "sd_g"]


class FillSerializer(serializers.ModelSerializer[DesiccantFill]):
    """Desiccant that was put in."""

    kind = serializers.ChoiceField(choices=DESICCANT_KINDS, allow_blank=True)
    indicator = serializers.ChoiceField(choices=INDICATORS)
    pouch = serializers.ChoiceField(choices=POUCHES)
    weighings = DesiccantWeighingSerializer(many=True)

    class Meta:
        model = DesiccantFill
        fields = ["id", "at", "kind", "dry_g", "load_pct", "indicator", "pouch", "weighings"]


class DesiccantSerializer(serializers.Serializer):
    """The desiccant in a container as it stands now."""

    fill = FillSerializer()
    name = serializers.CharField()
    load_pct = serializers.FloatField()
    useful_pct = serializers.FloatField()
    spent = serializers.BooleanField()
    regeneration = RegenerationSerializer()


class SharedMoments(serializers.ListField):
    """A list of moments that many rows share: rendered once for all of them."""

    _last: tuple[object, list[object]] = (None, [])

    def to_representation(self, data: list[object]) -> list[object]:
        if data is not self._last[0]:
            self._last = data, super().to_representation(data)
        return self._last[1]


class HoldingSerializer(serializers.Serializer):
    """A container over four weeks, two back and two ahead, a point every six hours."""

    place = FullPlaceSerializer()
    rh_pct = serializers.FloatField(allow_null=True)
    at = SharedMoments(child=serializers.DateTimeField())
    rh_course = serializers.ListField(child=serializers.FloatField(allow_null=True))
    rh_low = serializers.ListField(child=serializers.FloatField(allow_null=True))
    rh_high = serializers.ListField(child=serializers.FloatField(allow_null=True))
    ingress = IngressSerializer()
    usual_ingress = serializers.BooleanField()
    fitted = IngressSerializer(allow_null=True)
    contents = ContainedSerializer(many=True)
    desiccant = DesiccantSerializer(allow_null=True)
    needed_g = serializers.FloatField(allow_null=True)
    needed_kind = serializers.CharField()
    water_g_day = serializers.FloatField(allow_null=True)
