"""Shapes of plans and of the drying map over HTTP."""

from typing import Any

import numpy as np
from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from darre.common.api import SentencePartSerializer, shown
from darre.common.fields import Moment, TypedNumber
from darre.common.shapes import QuantitySerializer
from darre.equipment.api.serializers import DryerSerializer
from darre.equipment.models import Dryer
from darre.inventory.models import Spool
from darre.moisture.api.lane_serializers import LaneSerializer
from darre.places.api.serializers import DESICCANT_KINDS
from darre.planning.actions.start_run import LEAST_REASON
from darre.planning.plans import Chart
from darre.runs.api.serializers import ForecastSerializer, ReadingSerializer, RunningNow
from darre.runs.models import Run
from drying.dryers import LimitKind
from drying.planning import METHODS, PROGRAMME_METHODS, AlternativeKind, CautionKind, Outcome, Risk

MOST_CO_DRIED = 12


class LimitSerializer(serializers.Serializer):
    """A limit to the air temperature; `spool` is the place of the one it protects among those that go in."""

    kind = serializers.ChoiceField(choices=[k.value for k in LimitKind])
    temp_c = serializers.FloatField()
    spool = serializers.IntegerField(allow_null=True)
    hot_side_c = serializers.FloatField()
    overridable = serializers.BooleanField()


class CautionSerializer(serializers.Serializer):
    """A caution for this very run."""

    kind = serializers.ChoiceField(choices=[k.value for k in CautionKind])
    serious = serializers.BooleanField()
    limit = LimitSerializer(allow_null=True)
    spool = serializers.IntegerField(allow_null=True)
    numbers = serializers.DictField(child=serializers.FloatField())


class SettingSerializer(serializers.Serializer):
    """What to set, in °C or as a level, and the air that comes of it."""

    set_c = serializers.FloatField(allow_null=True)
    level = serializers.CharField()
    air = QuantitySerializer()


class TurnSerializer(serializers.Serializer):
    """A turn of the timer: when to set it, h after the start, what to set, and how long it is to run."""

    at_h = serializers.FloatField()
    set_h = serializers.FloatField()
    runs_h = serializers.FloatField()


class TurnsSerializer(serializers.Serializer):
    """What the grams that are printed next hold at the end, and as many at the hub, % of dry mass."""

    mass_g = serializers.FloatField()
    next_pct = serializers.FloatField()
    hub_pct = serializers.FloatField()


class MemberSerializer(serializers.Serializer):
    """What the run brings one of its spools."""

    aim_pct = serializers.FloatField()
    end_pct = serializers.FloatField()
    end_low_pct = serializers.FloatField()
    end_high_pct = serializers.FloatField()
    floor_pct = serializers.FloatField()
    ready_h = serializers.FloatField(allow_null=True)
    ready_early_h = serializers.FloatField(allow_null=True)
    ready_late_h = serializers.FloatField(allow_null=True)
    chance_at_end = serializers.FloatField()
    chance_ever = serializers.FloatField()
    turns = TurnsSerializer(allow_null=True)
    water_out_g = serializers.FloatField(allow_null=True)


class OffSerializer(serializers.Serializer):
    """A stretch without heat, h after the start."""

    from_h = serializers.FloatField()
    to_h = serializers.FloatField()

    def to_representation(self, instance: tuple[float, float]) -> dict[str, float]:
        return {"from_h": instance[0], "to_h": instance[1]}


class DesiccantUseSerializer(serializers.Serializer):
    """What the run asks of the desiccant in its dryer; `needed_g` is null where none of its kind can do it."""

    kind = serializers.ChoiceField(choices=DESICCANT_KINDS)
    dry_g = serializers.FloatField()
    before_pct = serializers.FloatField()
    after_pct = serializers.FloatField()
    takes_g = serializers.FloatField()
    gives_off_g = serializers.FloatField()
    spent_h = serializers.FloatField(allow_null=True)
    needed_g = serializers.FloatField(allow_null=True)


class TicketSerializer(serializers.Serializer):
    """The run ticket. `duration_h`: hours of heat; the other times are by the clock, h after the start."""

    air_c = serializers.FloatField()
    setting = SettingSerializer()
    duration_h = serializers.FloatField()
    end_h = serializers.FloatField()
    turns = TurnSerializer(many=True)
    off = OffSerializer(many=True)
    turn_over_h = serializers.FloatField()
    turn_over_attended = serializers.BooleanField()
    weigh_at_h = serializers.ListField(child=serializers.FloatField())
    members = MemberSerializer(many=True)
    last = serializers.IntegerField(allow_null=True)
    energy_kwh = QuantitySerializer()
    forecasts = ForecastSerializer(many=True)
    cautions = CautionSerializer(many=True)
    desiccant = DesiccantUseSerializer(allow_null=True)


class BillSerializer(serializers.Serializer):
    """What it costs if it starts now, and what if it waits for so many hours."""

    currency = serializers.CharField()
    amount = serializers.FloatField()
    wait_h = serializers.FloatField()
    wait_amount = serializers.FloatField()


class TellingCoilSerializer(serializers.Serializer):
    """A coil that would tell."""

    length_m = serializers.FloatField()
    scale = serializers.IntegerField()


class ScaleCheckSerializer(serializers.Serializer):
    """Whether the scale will tell: what will leave against the least that it shows; and where it will not, what would:
    a coil, or so many hours of heat.
    """

    scale = serializers.IntegerField()
    water_out_g = serializers.FloatField()
    detectable_g = serializers.FloatField()
    tells = serializers.BooleanField()
    coil = TellingCoilSerializer(allow_null=True)
    longer_h = serializers.FloatField(allow_null=True)


class TwinOfferSerializer(serializers.Serializer):
    """A coil to bake dry before the run, how hot, and between which hours from the start the spool is then ready, 9 in
    10, and without it.
    """

    length_m = serializers.FloatField()
    scale = serializers.IntegerField()
    bake_c = serializers.FloatField()
    early_h = serializers.FloatField()
    late_h = serializers.FloatField()
    without_early_h = serializers.FloatField()
    without_late_h = serializers.FloatField()


class AlternativeSerializer(serializers.Serializer):
    """A way that would do it."""

    kind = serializers.ChoiceField(choices=[k.value for k in AlternativeKind])
    air_c = serializers.FloatField()
    duration_h = serializers.FloatField()
    dryer = serializers.IntegerField(allow_null=True)
    dew_point_c = serializers.FloatField(allow_null=True)
    desiccant = serializers.ChoiceField(choices=DESICCANT_KINDS, allow_null=True)
    desiccant_g = serializers.FloatField(allow_null=True)


class MisfitSerializer(serializers.Serializer):
    """A measure by which a spool does not go in."""

    spool = serializers.IntegerField(allow_null=True)
    measure = serializers.ChoiceField(choices=["max_diameter_mm", "max_width_mm", "slots"], source="misfit.measure")
    has = serializers.FloatField(source="misfit.has")
    takes = serializers.FloatField(source="misfit.takes")


class BusySerializer(RunningNow, serializers.ModelSerializer[Run]):
    """A run that is in the dryer now."""

    spool_name = serializers.CharField(source="spool.name")

    class Meta:
        model = Run
        fields = ["id", "spool_name", "temp_c", "duration_h", "started_at", "end_h", "timer"]


class PlanSerializer(serializers.Serializer):
    """What Plan shows. `ticket` is null where every temperature of this dryer would do harm, or it does not heat."""

    lanes = LaneSerializer(many=True)
    dryer = DryerSerializer()
    form = serializers.ChoiceField(choices=Spool.Form.choices)
    method = serializers.ChoiceField(choices=METHODS)
    outcome = serializers.ChoiceField(choices=[o.value for o in Outcome])
    why_not = SentencePartSerializer(many=True)
    reaches_in_time = serializers.BooleanField(source="choice.in_time", default=True)
    ticket = TicketSerializer(allow_null=True)
    risk = serializers.ChoiceField(choices=[r.value for r in Risk])
    bill = BillSerializer(allow_null=True)
    scale_check = ScaleCheckSerializer(allow_null=True)
    twin = TwinOfferSerializer(allow_null=True)
    broken = LimitSerializer(many=True)
    misfits = MisfitSerializer(many=True)
    busy_with = BusySerializer(many=True)
    # how long a reason for passing a limit has to be, in characters
    least_reason = serializers.IntegerField(default=LEAST_REASON)


@extend_schema_field({"type": "string"})
class Ids(serializers.Field):
    """Numbers separated by commas."""

    def to_internal_value(self, data: Any) -> list[int]:
        parts = [part for part in str(data).split(",") if part.strip()]
        if len(parts) > MOST_CO_DRIED or not all(part.strip().isdecimal() and len(part) < 12 for part in parts):
            raise serializers.ValidationError(
                f"Give the numbers of at most {MOST_CO_DRIED} spools, separated by commas.", code="not_ids"
            )
        return [int(part) for part in parts]


class PlanQuerySerializer(serializers.Serializer):
    """What a plan is asked for."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all())
    co_dried = Ids(required=False, default=list)
    dryer = serializers.PrimaryKeyRelatedField(
        queryset=Dryer.objects.prefetch_related("probes"), required=False, default=None
    )
    method = serializers.ChoiceField(choices=METHODS, required=False, default="")
    temp_c = TypedNumber(unit="°C", low=0, high=200, required=False)
    duration_h = TypedNumber(unit="h", low=0, high=400, above_low=True, required=False)
    form = serializers.ChoiceField(choices=Spool.Form.choices, required=False, default="")
    aim_pct = TypedNumber(unit="%", low=0, high=60, above_low=True, required=False)
    ready_in_h = TypedNumber(unit="h", low=0, high=400, above_low=True, required=False, default=24.0)
    start = Moment(required=False)


class RingSerializer(serializers.Serializer):
    """A method or programme as a point of the map."""

    name = serializers.ChoiceField(choices=PROGRAMME_METHODS)
    temp_c = serializers.FloatField()
    duration_h = serializers.FloatField()
    end_pct = serializers.FloatField()
    risk = serializers.ChoiceField(choices=[r.value for r in Risk])
    limit = LimitSerializer(allow_null=True)


class CompanyLineSerializer(serializers.Serializer):
    """At each temperature of the map, when another spool comes to its aim; null where it does not."""

    spool = serializers.IntegerField()
    name = serializers.CharField()
    hours = serializers.ListField(child=serializers.FloatField(allow_null=True))


class MapSerializer(serializers.Serializer):
    """The drying map: remaining water of the first spool, one row a temperature, one column an hour."""

    temps_c = serializers.ListField(child=serializers.FloatField())
    hours = serializers.ListField(child=serializers.FloatField())
    moisture_pct = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))
    floor_pct = serializers.ListField(child=serializers.FloatField())
    aim_pct = serializers.FloatField()
    clean_pct = serializers.FloatField(allow_null=True)
    trouble_pct = serializers.FloatField(allow_null=True)
    start_pct = serializers.FloatField()
    limits = LimitSerializer(many=True)
    levels_c = serializers.ListField(child=serializers.FloatField())
    turns_h = serializers.ListField(child=serializers.FloatField())
    rings = RingSerializer(many=True)
    co_dried = CompanyLineSerializer(many=True)


def map_shape(chart: Chart) -> dict[str, Any]:
    """A chart as plain lists: the field rounded to what a screen shows, without a serializer's cost a number."""
    found = chart.map
    few = shown(MapSerializer, {**vars(chart), "temps_c": [], "hours": [], "moisture_pct": [], "floor_pct": []})
    return {
        **few,
        "temps_c": found.temps_c.tolist(),
        "hours": np.round(found.hours, 4).tolist(),
        "moisture_pct": np.round(found.moisture_pct[0], 5).tolist(),
        "floor_pct": np.round(found.floor_pct[0], 5).tolist(),
    }


class FirstWeighingSerializer(ReadingSerializer):
    """The first weighing of one of the spools that go in."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all())


class ChangeRunSerializer(serializers.Serializer):
    """Other degrees or other hours for what is running. `duration_h`: hours of heat in all, from the start."""

    temp_c = TypedNumber(unit="°C", low=0, high=200, required=False, allow_null=True, default=None)
    duration_h = TypedNumber(unit="h", low=0, high=400, above_low=True, required=False, allow_null=True, default=None)
    override_reason = serializers.CharField(max_length=200, required=False, default="", allow_blank=True)
    at = Moment(required=False)


class StartRunSerializer(serializers.Serializer):
    """What was planned, to be started as one act: `spool` that was asked about, and those that go in with it."""

    spool = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.select_related("empty_spool"))
    co_dried = serializers.PrimaryKeyRelatedField(
        queryset=Spool.objects.select_related("empty_spool"), many=True, required=False, default=list
    )
    dryer = serializers.PrimaryKeyRelatedField(queryset=Dryer.objects.prefetch_related("probes"))
    method = serializers.ChoiceField(choices=METHODS, required=False, default="", allow_blank=True)
    form = serializers.ChoiceField(choices=Spool.Form.choices, required=False, default="")
    aim_pct = TypedNumber(unit="%", low=0, high=60, above_low=True, required=False, allow_null=True, default=None)
    temp_c = TypedNumber(unit="°C", low=0, high=200)
    duration_h = TypedNumber(unit="h", low=0, high=400, above_low=True)
    override_reason = serializers.CharField(max_length=200, required=False, default="", allow_blank=True)
    readings = FirstWeighingSerializer(many=True, required=False, default=list)
    at = Moment(required=False)
    client_key = serializers.UUIDField()
