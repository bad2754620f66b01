"""Shapes of runs, weighings, plans and lanes over HTTP."""

from rest_framework import serializers

from darre.common.fields import Moment, TypedNumber
from darre.runs.models import Dryer, DryerKind, Run, Scale, Weighing
from darre.workshop.api.serializers import PlaceSerializer, SchoolRunSerializer
from darre.workshop.models import Spool
from drying.endpoint import RunState
from drying.materials import SCHOOLS, material
from drying.plan import CautionKind, LimitKind
from drying.waterline import Standing
from drying.weighing import TareMethod


class QuantitySerializer(serializers.Serializer):
    """A value with its standard uncertainty, and with what stands after the ±."""

    value = serializers.FloatField()
    uncertainty = serializers.FloatField()
    plus_minus = serializers.FloatField()


class EstimateSerializer(serializers.Serializer):
    """What is believed of a moisture, % of dry mass."""

    mean = serializers.FloatField()
    sd = serializers.FloatField()
    p05 = serializers.FloatField()
    p50 = serializers.FloatField()
    p95 = serializers.FloatField()


class ScaleSerializer(serializers.ModelSerializer[Scale]):
    """A scale."""

    class Meta:
        model = Scale
        fields = ["id", "name", "max_g", "resolution_g", "repeatability_g", "drift_g"]


class DryerSerializer(serializers.ModelSerializer[Dryer]):
    """A dryer, and which of its slots are taken."""

    kind = serializers.ChoiceField(choices=DryerKind.choices)

    class Meta:
        model = Dryer
        fields = [
            "id", "name", "kind", "note", "min_c", "max_c", "display_offset_c", "hot_side_excess_c", "timer_max_h",
            "slots", "vent_m3_h", "swing_c", "warm_up_h",
        ]  # fmt: skip


class SpoolSerializer(serializers.ModelSerializer[Spool]):
    """A spool's own facts."""

    body_kind = serializers.CharField(source="body.kind")
    material_short = serializers.SerializerMethodField()
    tare_method = serializers.ChoiceField(choices=[m.value for m in TareMethod])

    class Meta:
        model = Spool
        fields = [
            "id", "name", "material", "material_short", "colour", "maker", "purpose", "form", "strand_diameter_mm",
            "tare_g", "tare_sd_g", "tare_method", "body_kind",
        ]  # fmt: skip

    def get_material_short(self, spool: Spool) -> str:
        return material(spool.material).short


class LaneRunSerializer(serializers.ModelSerializer[Run]):
    """The run a spool is in."""

    dryer_name = serializers.CharField(source="dryer.name")

    class Meta:
        model = Run
        fields = ["id", "dryer_name", "temp_c", "duration_h", "started_at"]


class LaneSerializer(serializers.Serializer):
    """A spool's lane on the rack."""

    spool = SpoolSerializer()
    moisture = QuantitySerializer()
    clean_pct = serializers.FloatField(source="material.clean.value", default=None, allow_null=True)
    trouble_pct = serializers.FloatField(source="material.trouble.value", default=None, allow_null=True)
    standing = serializers.ChoiceField(choices=[s.value for s in Standing])
    place = PlaceSerializer(source="stay.place", default=None, allow_null=True)
    since = serializers.DateTimeField(source="stay.since", default=None, allow_null=True)
    run = LaneRunSerializer(allow_null=True)
    net_g = serializers.FloatField(allow_null=True)
    usual = SchoolRunSerializer(source="material.schools.usual", default=None, allow_null=True)


class LimitSerializer(serializers.Serializer):
    """A limit to the air temperature."""

    kind = serializers.ChoiceField(choices=[k.value for k in LimitKind])
    temp_c = serializers.FloatField()
    overridable = serializers.BooleanField()


class CautionSerializer(serializers.Serializer):
    """A caution for this very run."""

    kind = serializers.ChoiceField(choices=[k.value for k in CautionKind])
    serious = serializers.BooleanField()
    limit = LimitSerializer(allow_null=True)
    numbers = serializers.DictField(child=serializers.FloatField())


class TicketSerializer(serializers.Serializer):
    """The run ticket."""

    air_c = serializers.FloatField()
    dial_c = serializers.FloatField()
    duration_h = serializers.FloatField()
    turns_h = serializers.ListField(child=serializers.FloatField())
    turn_over_h = serializers.FloatField()
    weigh_at_h = serializers.ListField(child=serializers.FloatField())
    aim_pct = serializers.FloatField()
    end_pct = serializers.FloatField()
    end_low_pct = serializers.FloatField()
    end_high_pct = serializers.FloatField()
    floor_pct = serializers.FloatField()
    water_out_g = serializers.FloatField(allow_null=True)
    cautions = CautionSerializer(many=True)


class ForecastSerializer(serializers.Serializer):
    """Moisture over time with its 90 % band; arrays of one length."""

    time_h = serializers.ListField(child=serializers.FloatField())
    moisture_pct = serializers.ListField(child=serializers.FloatField())
    low_pct = serializers.ListField(child=serializers.FloatField())
    high_pct = serializers.ListField(child=serializers.FloatField())
    floor_pct = serializers.FloatField()
    basis = serializers.CharField()


class PlanQuerySerializer(serializers.Serializer):
    """What a plan is asked for."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all())
    dryer = serializers.PrimaryKeyRelatedField(queryset=Dryer.objects.all())
    school = serializers.ChoiceField(choices=SCHOOLS, default="usual")
    temp_c = TypedNumber(unit="°C", low=0, high=200, required=False)
    duration_h = TypedNumber(unit="h", low=0, high=400, above_low=True, required=False)
    form = serializers.ChoiceField(choices=Spool.Form.choices, required=False, default="")


class BusySerializer(serializers.ModelSerializer[Run]):
    """A run that is in the dryer now."""

    spool_name = serializers.CharField(source="spool.name")

    class Meta:
        model = Run
        fields = ["id", "spool_name", "temp_c", "duration_h", "started_at"]


class PlanSerializer(serializers.Serializer):
    """What Plan shows."""

    lane = LaneSerializer()
    dryer = DryerSerializer()
    temp_c = serializers.FloatField(source="choice.temp_c")
    duration_h = serializers.FloatField(source="choice.duration_h")
    ticket = TicketSerializer()
    forecast = ForecastSerializer(source="curve")
    form = serializers.ChoiceField(choices=Spool.Form.choices)
    broken = LimitSerializer(many=True)
    busy_with = BusySerializer(many=True)


class ReadingSerializer(serializers.Serializer):
    """What was read off a scale."""

    scale = serializers.PrimaryKeyRelatedField(queryset=Scale.objects.all())
    gross_g = TypedNumber(unit="g", low=0, high=20000, above_low=True)
    client_key = serializers.UUIDField()
    note = serializers.CharField(max_length=200, required=False, default="", allow_blank=True)


class KeepWeighingSerializer(ReadingSerializer):
    """A weigh-in to keep."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all())
    at = Moment(required=False)


class WeighingSerializer(serializers.ModelSerializer[Weighing]):
    """A weighing that is stored."""

    class Meta:
        model = Weighing
        fields = ["id", "spool", "run", "scale", "at", "gross_g", "tare_g", "tare_sd_g", "tare_method", "note"]


class KeptSerializer(serializers.Serializer):
    """A weighing that is stored; `undo` is the line of history to take back."""

    weighing = WeighingSerializer()
    undo = serializers.IntegerField(source="line_id", allow_null=True)


class StartRunSerializer(serializers.Serializer):
    """A run to start."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.select_related("body"))
    dryer = serializers.PrimaryKeyRelatedField(queryset=Dryer.objects.all())
    school = serializers.ChoiceField(choices=SCHOOLS, required=False, default="", allow_blank=True)
    form = serializers.ChoiceField(choices=Spool.Form.choices, required=False, default="")
    temp_c = TypedNumber(unit="°C", low=0, high=200)
    duration_h = TypedNumber(unit="h", low=0, high=400, above_low=True)
    override_reason = serializers.CharField(max_length=200, required=False, default="", allow_blank=True)
    weigh_in = ReadingSerializer(required=False, allow_null=True, default=None)
    at = Moment(required=False)
    client_key = serializers.UUIDField()


class EndRunSerializer(serializers.Serializer):
    """How a run ends."""

    weigh_out = ReadingSerializer(required=False, allow_null=True, default=None)
    at = Moment(required=False)


class RunSerializer(serializers.ModelSerializer[Run]):
    """A run's own facts."""

    spool = SpoolSerializer()
    dryer = DryerSerializer()

    class Meta:
        model = Run
        fields = [
            "id", "spool", "dryer", "school", "form", "temp_c", "duration_h", "override_reason", "started_at",
            "ended_at", "room_temp_c", "room_rh_pct", "aim_pct",
        ]  # fmt: skip


class StartedSerializer(serializers.Serializer):
    """A run that is stored; `undo` is the line of history to take back."""

    run = RunSerializer()
    undo = serializers.IntegerField(source="line_id", allow_null=True)


class LossSerializer(serializers.Serializer):
    """Mass lost between two weighings."""

    mass_g = QuantitySerializer()
    strand_g = QuantitySerializer()
    dry_basis_pct = QuantitySerializer()
    wet_basis_pct = QuantitySerializer()
    finding = serializers.BooleanField()
    detectable_g = serializers.FloatField()


class VerdictSerializer(serializers.Serializer):
    """What can honestly be said of a run."""

    state = serializers.ChoiceField(choices=[s.value for s in RunState])
    loss = LossSerializer(allow_null=True)
    start = EstimateSerializer()
    moisture = EstimateSerializer()
    p_dry = serializers.FloatField()
    rate_factor = serializers.FloatField()
    body_g = QuantitySerializer()


class SeenSerializer(serializers.Serializer):
    """A weighing as a point of the run's chart."""

    id = serializers.IntegerField(source="weighing.id")
    at = serializers.DateTimeField(source="weighing.at")
    gross_g = serializers.FloatField(source="weighing.gross_g")
    scale_name = serializers.CharField(source="weighing.scale.name")
    resolution_g = serializers.FloatField(source="weighing.scale.resolution_g")
    note = serializers.CharField(source="weighing.note")
    time_h = serializers.FloatField(source="point.time_h")
    moisture_pct = serializers.FloatField(source="point.moisture_pct")
    uncertainty_pct = serializers.FloatField(source="point.uncertainty_pct")


class CoursePointSerializer(serializers.Serializer):
    """What is believed of the moisture at a time, with the 90 % interval."""

    time_h = serializers.FloatField()
    mean = serializers.FloatField(source="estimate.mean")
    p05 = serializers.FloatField(source="estimate.p05")
    p95 = serializers.FloatField(source="estimate.p95")


class RunSheetSerializer(serializers.Serializer):
    """What the Run room shows."""

    run = RunSerializer()
    verdict = VerdictSerializer()
    forecast = ForecastSerializer()
    course = CoursePointSerializer(many=True)
    seen = SeenSerializer(many=True)
    now_h = serializers.FloatField()
    floor_pct = serializers.FloatField(source="so_far.floor_pct")
    clean_pct = serializers.FloatField(source="so_far.aim_pct")
    trouble_pct = serializers.FloatField(source="so_far.load.material.trouble.value", default=None, allow_null=True)


class RunListSerializer(serializers.Serializer):
    """A run in the list, with its verdict."""

    run = RunSerializer()
    verdict = VerdictSerializer()
