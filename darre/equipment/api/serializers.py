"""Shapes of dryers, their probe pairs, and scales over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from darre.common.errors import field_error
from darre.common.fields import TypedNumber
from darre.equipment.models import Dryer, ProbePair, Scale
from darre.equipment.records import core_dryer
from darre.places.api.serializers import DESICCANT_KINDS
from drying.dryers import HABITS, BedCalibration, DryerKind, LevelCalibration, LineCalibration, kinds_of_dryer
from drying.errors import Amount
from drying.weighing import USUAL_REPEATABILITY_STEPS

DRYER_KINDS = tuple(k.value for k in DryerKind)
CALIBRATION_KINDS = ("line", "levels", "bed")


class ScaleSerializer(serializers.ModelSerializer[Scale]):
    """A scale."""

    class Meta:
        model = Scale
        fields = ["id", "name", "max_g", "resolution_g", "repeatability_g", "drift_g"]


class WriteScaleSerializer(serializers.Serializer):
    """A scale to add. Without a repeatability it is taken as half a step, which is usual."""

    name = serializers.CharField(max_length=60)
    max_g = TypedNumber(unit="g", low=0, high=200000, above_low=True)
    resolution_g = TypedNumber(unit="g", low=0, high=100, above_low=True)
    repeatability_g = TypedNumber(unit="g", low=0, high=100, required=False, allow_null=True, default=None)

    def validate(self, given: dict[str, Any]) -> dict[str, Any]:
        if given["repeatability_g"] is None:
            given["repeatability_g"] = USUAL_REPEATABILITY_STEPS * given["resolution_g"]
        return given


class SavedScaleSerializer(serializers.Serializer):
    """A scale that is stored; `undo` is the history entry that undoes it."""

    scale = ScaleSerializer()
    undo = serializers.IntegerField(allow_null=True)


class ProbePairSerializer(serializers.ModelSerializer[ProbePair]):
    """What a dryer was set to and what the air then was, °C."""

    class Meta:
        model = ProbePair
        fields = ["id", "at", "set_c", "air_c", "room_c"]


class LevelSerializer(serializers.Serializer):
    """A level in place of degrees, and the air it gives."""

    name = serializers.CharField(max_length=20)
    air_c = TypedNumber(unit="°C", low=20, high=200)


class DialPointSerializer(serializers.Serializer):
    """The air that a setting gives, with two standard uncertainties."""

    set_c = serializers.FloatField()
    air_c = serializers.FloatField()
    plus_minus_c = serializers.FloatField()


class CalibrationSerializer(serializers.Serializer):
    """How setting and air hang together: by a line, by levels, or by a bed's factor; points to draw a line by."""

    kind = serializers.ChoiceField(choices=CALIBRATION_KINDS)
    pairs = serializers.IntegerField()
    slope = serializers.FloatField(allow_null=True)
    offset_c = serializers.FloatField(allow_null=True)
    factor = serializers.FloatField(allow_null=True)
    factor_plus_minus = serializers.FloatField(allow_null=True)
    points = DialPointSerializer(many=True)


DIAL_POINTS = 9


def calibration_shape(dryer: Dryer) -> dict[str, Any]:
    """A dryer's calibration as the screen shows it."""
    core = core_dryer(dryer)
    calibration, unknown = core.calibration, dict.fromkeys(("slope", "offset_c", "factor", "factor_plus_minus"))
    shape: dict[str, Any] = {"kind": "levels", "pairs": 0, "points": [], **unknown}
    if isinstance(calibration, LevelCalibration):
        return shape
    if isinstance(calibration, BedCalibration):
        bed = {"kind": "bed", "pairs": calibration.pairs, "factor": calibration.factor.value}
        return {**shape, **bed, "factor_plus_minus": calibration.factor.plus_minus}
    assert isinstance(calibration, LineCalibration)
    middle = (core.min_c + core.max_c) / 2.0
    low, high = ((air - calibration.intercept_c) / calibration.slope for air in (core.min_c, core.max_c))
    settings = [low + (high - low) * k / (DIAL_POINTS - 1) for k in range(DIAL_POINTS)]
    points = [
        {"set_c": s, "air_c": air.value, "plus_minus_c": air.plus_minus}
        for s, air in ((s, calibration.air_of(s)) for s in settings)
    ]
    offset = (middle - calibration.intercept_c) / calibration.slope - middle
    return {
        **shape,
        "kind": "line",
        "pairs": calibration.pairs,
        "slope": calibration.slope,
        "offset_c": offset,
        "points": points,
    }


class DryerSerializer(serializers.ModelSerializer[Dryer]):
    """A dryer; what is null is not known, and `assumed` says what is taken for it."""

    kind = serializers.ChoiceField(choices=DRYER_KINDS)
    levels = serializers.SerializerMethodField()
    timer_choices_h = serializers.ListField(child=serializers.FloatField())
    probes = ProbePairSerializer(many=True)
    calibration = serializers.SerializerMethodField()
    assumed = serializers.SerializerMethodField()

    class Meta:
        model = Dryer
        fields = [
            "id", "name", "kind", "note", "min_c", "max_c", "display_offset_c", "levels", "hot_side_excess_c",
            "timer_max_h", "timer_choices_h", "slots", "max_diameter_mm", "max_width_mm", "vent_m3_h", "fan",
            "on_plate", "swing_c", "warm_up_h", "heater_w", "metered_kwh", "metered_h", "metered_air_c",
            "desiccant_kind", "desiccant_g", "desiccant_load_pct", "in_service", "probes", "calibration", "assumed",
        ]  # fmt: skip

    @extend_schema_field(LevelSerializer(many=True))
    def get_levels(self, dryer: Dryer) -> list[dict[str, object]]:
        return [{"name": name, "air_c": air_c} for name, air_c in dryer.levels]

    @extend_schema_field(CalibrationSerializer)
    def get_calibration(self, dryer: Dryer) -> dict[str, Any]:
        return calibration_shape(dryer)

    @extend_schema_field({"type": "object", "additionalProperties": {"type": "number"}})
    def get_assumed(self, dryer: Dryer) -> dict[str, float]:
        return core_dryer(dryer).assumed


def _maybe(unit: str, low: float, high: float, *, difference: bool = False) -> TypedNumber:
    return TypedNumber(unit=unit, low=low, high=high, required=False, allow_null=True, difference=difference)


class WriteDryerSerializer(serializers.Serializer):
    """A dryer as it is typed; null or left out is not known."""

    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(choices=DRYER_KINDS)
    note = serializers.CharField(max_length=120, required=False, allow_blank=True)
    min_c = TypedNumber(unit="°C", low=0, high=200)
    max_c = TypedNumber(unit="°C", low=0, high=200)
    display_offset_c = _maybe("°C", -60, 100, difference=True)
    levels = LevelSerializer(many=True, required=False)
    hot_side_excess_c = _maybe("°C", 0, 100, difference=True)
    timer_max_h = _maybe("h", 0.05, 1000)
    timer_choices_h = serializers.ListField(
        child=TypedNumber(unit="h", low=0.05, high=1000), required=False, max_length=20
    )
    slots = serializers.IntegerField(min_value=1, max_value=500, required=False)
    max_diameter_mm = _maybe("mm", 10, 2000)
    max_width_mm = _maybe("mm", 10, 2000)
    vent_m3_h = _maybe("m³/h", 0, 10000)
    fan = serializers.BooleanField(required=False, allow_null=True)
    on_plate = serializers.BooleanField(required=False, allow_null=True)
    swing_c = _maybe("°C", 0, 40, difference=True)
    warm_up_h = _maybe("h", 0, 24)
    heater_w = _maybe("W", 0, 100000)
    metered_kwh = _maybe("kWh", 0, 1000)
    metered_h = _maybe("h", 0.05, 1000)
    metered_air_c = _maybe("°C", 22, 200)
    desiccant_kind = serializers.ChoiceField(choices=DESICCANT_KINDS, required=False, allow_blank=True)
    desiccant_g = _maybe("g", 0.1, 100000)
    desiccant_load_pct = _maybe("%", 0, 100)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        low, high = attrs.get("min_c"), attrs.get("max_c")
        if low is not None and high is not None and high < low:
            coolest = Amount(low, "°C")
            says = ("The hottest cannot be under the coolest, ", coolest, ". Change one of the two.")
            raise serializers.ValidationError({"max_c": field_error("out_of_order", *says).detail})
        metered = [attrs.get(name) for name in ("metered_kwh", "metered_h", "metered_air_c")]
        if any(v is not None for v in metered) and any(v is None for v in metered):
            raise serializers.ValidationError(
                {"metered_kwh": "A metered run has its kWh, its hours and its air: give all three, or none."}
            )
        if "levels" in attrs:
            attrs["levels"] = sorted(([x["name"], x["air_c"]] for x in attrs["levels"]), key=lambda x: x[1])
        return attrs


class InServiceSerializer(serializers.Serializer):
    """Whether a dryer can be used."""

    in_service = serializers.BooleanField()


class WriteProbeSerializer(serializers.Serializer):
    """A probe pair as it is typed."""

    set_c = TypedNumber(unit="°C", low=0, high=300)
    air_c = TypedNumber(unit="°C", low=0, high=200)
    room_c = _maybe("°C", -40, 60)


class SavedDryerSerializer(serializers.Serializer):
    """A dryer as it stands now; `undo` is the history entry that undoes it."""

    dryer = DryerSerializer()
    undo = serializers.IntegerField(allow_null=True)


class DryerKindSerializer(serializers.Serializer):
    """A kind of dryer and what is taken for granted of it; `plate_excess_c`: the hot side over the air, °C, where the
    spool stands on the heater's plate.
    """

    kind = serializers.ChoiceField(choices=DRYER_KINDS)
    name = serializers.CharField()
    vent_m3_h = serializers.FloatField()
    swing_c = serializers.FloatField()
    hot_side_excess_c = serializers.FloatField()
    plate_excess_c = serializers.FloatField()
    warm_up_h = serializers.FloatField()
    heater_w = serializers.FloatField()


def kind_shapes() -> list[dict[str, Any]]:
    """Every kind as the screen shows it."""
    return [
        {
            "kind": kind.value,
            "name": usual.name,
            "plate_excess_c": usual.on_plate_excess_c,
            **{habit: getattr(usual, habit) for habit in HABITS},
        }
        for kind, usual in kinds_of_dryer().items()
    ]
