"""Shapes of lanes, weighings and runs over HTTP."""

from typing import Any

from django.utils import timezone
from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from darre.common.api import shown
from darre.common.fields import Moment, TypedNumber
from darre.common.shapes import QuantitySerializer
from darre.equipment.api.serializers import DryerSerializer
from darre.equipment.models import Scale
from darre.inventory.api.spool_serializers import SpoolSerializer
from darre.inventory.models import Coil, Spool
from darre.places.api.serializers import DESICCANT_KINDS
from darre.runs.models import Run, RunEvent, Weighing
from darre.runs.records import hours_between, planned, planned_h, temp_now_c, timer_now, turn_over_at_h
from drying.dryers import ONE_SIDED
from drying.runs import RunState


class EstimateSerializer(serializers.Serializer):
    """What is expected of a moisture, % of dry mass."""

    mean = serializers.FloatField()
    sd = serializers.FloatField()
    p05 = serializers.FloatField()
    p50 = serializers.FloatField()
    p95 = serializers.FloatField()


class ForecastSerializer(serializers.Serializer):
    """Moisture over time with its 90 % band; arrays of one length."""

    time_h = serializers.ListField(child=serializers.FloatField())
    moisture_pct = serializers.ListField(child=serializers.FloatField())
    low_pct = serializers.ListField(child=serializers.FloatField())
    high_pct = serializers.ListField(child=serializers.FloatField())
    floor_pct = serializers.FloatField()
    basis = serializers.CharField()


class ReadingSerializer(serializers.Serializer):
    """What was read off a scale."""

    scale = serializers.PrimaryKeyRelatedField(queryset=Scale.objects.all())
    gross_g = TypedNumber(unit="g", low=0, high=20000, above_low=True)
    client_key = serializers.UUIDField()
    weighed_object = serializers.ChoiceField(
        choices=Weighing.Object.choices, required=False, default=Weighing.Object.SPOOL
    )
    length_m = TypedNumber(unit="m", low=0, high=5000, above_low=True, required=False, allow_null=True, default=None)
    coil = serializers.PrimaryKeyRelatedField(
        queryset=Coil.objects.select_related("spool"), required=False, allow_null=True, default=None,
        help_text="Which coil was weighed; without one a new coil is cut.",
    )  # fmt: skip
    warm = serializers.BooleanField(required=False, default=False)
    surface_wet = serializers.BooleanField(required=False, default=False)
    doubtful = serializers.BooleanField(
        required=False, default=False, help_text="Save it although water cannot explain it; it counts for nothing."
    )
    printed_g = TypedNumber(unit="g", low=0, high=20000, above_low=True, required=False, allow_null=True, default=None)
    note = serializers.CharField(max_length=200, required=False, default="", allow_blank=True)


class SaveWeighingSerializer(ReadingSerializer):
    """A weigh-in to keep."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all())
    at = Moment(required=False)


class CorrectWeighingSerializer(ReadingSerializer):
    """A weighing put right."""

    at = Moment()


class WeighingSerializer(serializers.ModelSerializer[Weighing]):
    """A weighing that is stored."""

    class Meta:
        model = Weighing
        fields = ["id", "spool", "run", "scale", "at", "gross_g", "tare_g", "tare_sd_g", "tare_method", "note",
                  "weighed_object", "length_m", "warm", "surface_wet", "doubtful"]  # fmt: skip


class SavedWeighingSerializer(serializers.Serializer):
    """A weighing that is stored; `undo` is the history entry that undoes it."""

    weighing = WeighingSerializer(source="record")
    undo = serializers.IntegerField(allow_null=True)


class EndRunSerializer(serializers.Serializer):
    """How a run ends. `left_in`: the spool stays in the dryer, which is switched off, or kept warm at `hold_c`."""

    weigh_out = ReadingSerializer(required=False, allow_null=True, default=None)
    at = Moment(required=False)
    left_in = serializers.BooleanField(required=False, default=False)
    hold_c = TypedNumber(unit="°C", low=0, high=120, required=False, allow_null=True, default=None)


class SettingsNow(serializers.Serializer[Run]):
    """The air that is set for a run and the hours of heat that are planned of it, as they stand now."""

    temp_c = serializers.SerializerMethodField()
    duration_h = serializers.SerializerMethodField()

    def get_temp_c(self, run: Run) -> float:
        return temp_now_c(run.batch)

    def get_duration_h(self, run: Run) -> float:
        return planned_h(run)


class TimerSerializer(serializers.Serializer):
    """What is to be done about the timer, h after the run's start: since when it has run out, when to set it again and
    for how long.
    """

    out_since_h = serializers.FloatField(allow_null=True)
    set_at_h = serializers.FloatField()
    set_h = serializers.FloatField()


class RunningNow(SettingsNow):
    """When a run is to end by the clock, or did end, h after its start, and what its timer asks for."""

    end_h = serializers.SerializerMethodField()
    timer = serializers.SerializerMethodField()

    def get_end_h(self, run: Run) -> float:
        if run.ended_at is not None:
            return hours_between(run.started_at, run.ended_at)
        return planned(run, timezone.now()).end_h

    @extend_schema_field(TimerSerializer(allow_null=True))
    def get_timer(self, run: Run) -> dict[str, Any] | None:
        found = timer_now(run, timezone.now())
        return None if found is None else shown(TimerSerializer, found)


class RunSerializer(RunningNow, serializers.ModelSerializer[Run]):
    """A spool's part in a batch: what was planned of it, and from when to when it was in. `temp_c`: the air that is
    set now; `duration_h`: the hours of heat that are planned now.
    """

    spool = SpoolSerializer()
    dryer = DryerSerializer()
    coil = serializers.CharField(source="coil.name", default=None, allow_null=True)
    batch = serializers.IntegerField(source="batch_id")
    method = serializers.CharField(source="batch.method")
    override_reason = serializers.CharField(source="batch.override_reason")
    room_temp_c = serializers.FloatField(source="batch.room_temp_c")
    room_rh_pct = serializers.FloatField(source="batch.room_rh_pct")
    energy_start_kwh = serializers.FloatField(source="batch.energy_start_kwh", allow_null=True)
    energy_end_kwh = serializers.FloatField(source="batch.energy_end_kwh", allow_null=True)
    turn_over_h = serializers.SerializerMethodField()
    must_turn = serializers.SerializerMethodField()

    class Meta:
        model = Run
        fields = [
            "id", "batch", "spool", "coil", "dryer", "method", "form", "temp_c", "duration_h", "override_reason",
            "started_at", "ended_at", "room_temp_c", "room_rh_pct", "aim_pct", "energy_start_kwh", "energy_end_kwh",
            "turn_over_h", "must_turn", "end_h", "timer",
        ]  # fmt: skip

    def get_turn_over_h(self, run: Run) -> float:
        return turn_over_at_h(run)

    def get_must_turn(self, run: Run) -> bool:
        """Whether the heat comes from one side."""
        return run.dryer.kind in ONE_SIDED


class SavedRunSerializer(serializers.Serializer):
    """A run that is stored; `undo` is the history entry that undoes it."""

    run = RunSerializer(source="record")
    undo = serializers.IntegerField(allow_null=True)


class SavedRunsSerializer(serializers.Serializer):
    """Runs that were started as one act, the spool asked about first; `undo` is the history entry that undoes it."""

    runs = RunSerializer(source="record", many=True)
    undo = serializers.IntegerField(allow_null=True)


class BesideSerializer(serializers.ModelSerializer[Run]):
    """Another run of the same batch."""

    spool_name = serializers.CharField(source="spool.name")
    coil = serializers.CharField(source="coil.name", default=None, allow_null=True)

    class Meta:
        model = Run
        fields = ["id", "spool", "spool_name", "coil", "started_at", "ended_at"]


class LossSerializer(serializers.Serializer):
    """Mass lost between two weighings."""

    mass_g = QuantitySerializer()
    filament_g = QuantitySerializer()
    dry_basis_pct = QuantitySerializer()
    wet_basis_pct = QuantitySerializer()
    finding = serializers.BooleanField()
    detectable_g = serializers.FloatField()


class HoursLeftSerializer(serializers.Serializer):
    """Hours from now until the aim, 5, 50 and 95 %; null: never."""

    p05 = serializers.FloatField(allow_null=True)
    p50 = serializers.FloatField(allow_null=True)
    p95 = serializers.FloatField(allow_null=True)


class ConstantMassSerializer(serializers.Serializer):
    """The plain constant-mass rule: the last change, over how many hours, and whether the scale could tell it."""

    change_g = QuantitySerializer()
    hours = serializers.FloatField()
    steady = serializers.BooleanField()


class EventSerializer(serializers.ModelSerializer[RunEvent]):
    """What happened in a run."""

    class Meta:
        model = RunEvent
        fields = ["id", "kind", "at", "minutes", "out_at", "temp_c", "duration_h", "note"]


class SpentSerializer(serializers.Serializer):
    """What a run drew so far, and its price where a tariff is known."""

    energy_kwh = QuantitySerializer()
    metered = serializers.BooleanField()
    amount = serializers.FloatField(allow_null=True)
    currency = serializers.CharField()


class VerdictSerializer(serializers.Serializer):
    """What can honestly be said of a run."""

    state = serializers.ChoiceField(choices=[s.value for s in RunState])
    told = serializers.BooleanField()
    lost_less = serializers.BooleanField()
    loss = LossSerializer(allow_null=True)
    start = EstimateSerializer()
    moisture = EstimateSerializer()
    floor_pct = serializers.FloatField()
    p_dry = serializers.FloatField()
    p_never = serializers.FloatField()
    to_aim = HoursLeftSerializer()
    rate_factor = serializers.FloatField()
    spool_water_g = QuantitySerializer()
    finer_by = serializers.FloatField()
    wet_loss_g = serializers.FloatField()
    constant_mass = ConstantMassSerializer(allow_null=True)
    next_weigh_h = serializers.FloatField(allow_null=True)


class WeighingPointSerializer(serializers.Serializer):
    """A weighing as a point of the run's chart."""

    time_h = serializers.FloatField()
    moisture_pct = serializers.FloatField()
    uncertainty_pct = serializers.FloatField()


class SeenSerializer(serializers.Serializer):
    """A weighing of a run, and its point on the run's chart; a doubtful one has none."""

    id = serializers.IntegerField(source="weighing.id")
    at = serializers.DateTimeField(source="weighing.at")
    gross_g = serializers.FloatField(source="weighing.gross_g")
    scale = serializers.IntegerField(source="weighing.scale_id")
    scale_name = serializers.CharField(source="weighing.scale.name")
    resolution_g = serializers.FloatField(source="weighing.scale.resolution_g")
    note = serializers.CharField(source="weighing.note")
    weighed_object = serializers.ChoiceField(source="weighing.weighed_object", choices=Weighing.Object.choices)
    coil = serializers.CharField(source="weighing.coil.name", default=None, allow_null=True)
    warm = serializers.BooleanField(source="weighing.warm")
    surface_wet = serializers.BooleanField(source="weighing.surface_wet")
    doubtful = serializers.BooleanField(source="weighing.doubtful")
    point = WeighingPointSerializer(allow_null=True)


class CoursePointSerializer(serializers.Serializer):
    """What is expected of the moisture at a time, with the 90 % interval."""

    time_h = serializers.FloatField()
    mean = serializers.FloatField(source="estimate.mean")
    p05 = serializers.FloatField(source="estimate.p05")
    p95 = serializers.FloatField(source="estimate.p95")


class DesiccantInRunSerializer(serializers.Serializer):
    """The desiccant in a run's box; `changed`: fresh was put in meanwhile."""

    kind = serializers.ChoiceField(choices=DESICCANT_KINDS)
    dry_g = serializers.FloatField()
    before_pct = serializers.FloatField()
    now_pct = serializers.FloatField()
    takes_g = serializers.FloatField()
    changed = serializers.BooleanField()


class NextGramsSerializer(serializers.Serializer):
    """What is printed next, straight out of the dryer: the outermost turns."""

    mass_g = serializers.FloatField()
    p05 = serializers.FloatField()
    p50 = serializers.FloatField()
    p95 = serializers.FloatField()


class RunSheetSerializer(serializers.Serializer):
    """What the Run room shows. `is_bound`: its hours are a lower bound, as every turn is counted as lying free."""

    run = RunSerializer()
    verdict = VerdictSerializer()
    forecast = ForecastSerializer()
    course = CoursePointSerializer(many=True)
    seen = SeenSerializer(many=True)
    now_h = serializers.FloatField()
    end_h = serializers.FloatField()
    heated_h = serializers.FloatField()
    beside = BesideSerializer(many=True)
    paused = serializers.BooleanField()
    events = EventSerializer(many=True)
    spent = SpentSerializer()
    next_grams = NextGramsSerializer(allow_null=True)
    desiccant = DesiccantInRunSerializer(allow_null=True)
    is_bound = serializers.BooleanField(source="so_far.load.open_winding")
    floor_pct = serializers.FloatField(source="so_far.floor_pct")
    clean_pct = serializers.FloatField(source="so_far.load.material.clean.value", default=None, allow_null=True)
    trouble_pct = serializers.FloatField(source="so_far.load.material.trouble.value", default=None, allow_null=True)


class RunListSerializer(serializers.Serializer):
    """A run in the list, with its verdict."""

    run = RunSerializer()
    material_short = serializers.CharField()
    verdict = VerdictSerializer()
