"""Shapes of devices, deliveries and box air over HTTP."""

from datetime import UTC, datetime

from rest_framework import serializers

from darre.common.fields import Moment, TypedNumber
from darre.common.parser import bounded_json
from darre.common.shapes import QuantitySerializer
from darre.common.written_times import TIME_FORMATS
from darre.devices.logger_file import MEANINGS, Column, Layout
from darre.devices.models import Device, DeviceKind, Sample
from darre.equipment.models import Dryer, Scale
from darre.places.models import Place
from drying.air import AirState


class DeviceSerializer(serializers.ModelSerializer[Device]):
    """A device; its token is told once, when it is made."""

    clock_off_s = serializers.SerializerMethodField()

    class Meta:
        model = Device
        fields = [
            "id",
            "name",
            "kind",
            "dryer",
            "place",
            "scale",
            "last_seen",
            "by_hand",
            "rh_offset_pct",
            "clock_off_s",
        ]

    def get_clock_off_s(self, device: Device) -> float:
        return device.skew_ms / 1000.0


class WriteDeviceSerializer(serializers.Serializer):
    """A device to add."""

    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(choices=DeviceKind.choices)
    dryer = serializers.PrimaryKeyRelatedField(queryset=Dryer.objects.all(), required=False, allow_null=True)
    place = serializers.PrimaryKeyRelatedField(queryset=Place.objects.all(), required=False, allow_null=True)
    scale = serializers.PrimaryKeyRelatedField(queryset=Scale.objects.all(), required=False, allow_null=True)


class AddedDeviceSerializer(serializers.Serializer):
    """A device with its token: copy it now, it is not told again."""

    device = DeviceSerializer()
    token = serializers.CharField()


class RunAirSerializer(serializers.Serializer):
    """A run's box air against the room, water in g/m³."""

    device_name = serializers.CharField(source="device.name")
    last_seen = serializers.DateTimeField(source="device.last_seen", allow_null=True)
    count = serializers.IntegerField()
    temp_now_c = serializers.FloatField()
    time_h = serializers.ListField(child=serializers.FloatField(), source="air.time_h")
    temp_c = serializers.ListField(child=serializers.FloatField(), source="air.temp_c")
    rh_pct = serializers.ListField(child=serializers.FloatField(), source="air.rh_pct")
    heat_alone_pct = serializers.ListField(child=serializers.FloatField(), source="air.heat_alone_pct")
    inside_g_m3 = serializers.ListField(child=serializers.FloatField(), source="air.inside_g_m3")
    room_g_m3 = serializers.ListField(child=serializers.FloatField(), source="air.room_g_m3")
    carried = QuantitySerializer(source="air.carried", allow_null=True)
    gaps = serializers.ListField(
        child=serializers.ListField(child=serializers.FloatField()), source="air.gaps"
    )  # fmt: skip
    air_state = serializers.ChoiceField(choices=[s.value for s in AirState], source="air.state")
    rh_first_pct = serializers.FloatField(source="air.rh_first_pct")
    rh_now_pct = serializers.FloatField(source="air.rh_now_pct")
    rh_unchanged_pct = serializers.FloatField(source="air.rh_unchanged_pct")
    display_c = serializers.FloatField(allow_null=True)
    desiccant = serializers.BooleanField()


class TypedAirSerializer(serializers.ModelSerializer[Sample]):
    """A reading that somebody typed, off a meter in the dryer."""

    at = serializers.SerializerMethodField()
    temp_c = serializers.FloatField()
    rh_pct = serializers.FloatField()

    class Meta:
        model = Sample
        fields = ["id", "at", "temp_c", "rh_pct"]

    def get_at(self, sample: Sample) -> datetime:
        return datetime.fromtimestamp(sample.at_ms / 1000.0, UTC)


class HeardAirSerializer(serializers.Serializer):
    """A run's box air, null where nothing was heard or typed of its dryer; and what was typed."""

    heard = RunAirSerializer(allow_null=True)
    typed = TypedAirSerializer(many=True)


class NoteAirSerializer(serializers.Serializer):
    """What a meter in the dryer shows now, or showed at a moment."""

    temp_c = TypedNumber(unit="°C", low=-40, high=200)
    rh_pct = TypedNumber(unit="%", low=0, high=100)
    at = Moment(required=False, allow_null=True, default=None)


class ToldHabitsSerializer(serializers.Serializer):
    """What a logger beside the spool tells of its dryer: the air held, °C, against what was set; warm-up and period in
    h, swing to either side and how much hotter the hot side is in °C; each null where it is not known.
    """

    device_name = serializers.CharField(source="device.name")
    hours = serializers.FloatField()
    set_c = serializers.FloatField(allow_null=True)
    air_c = serializers.FloatField(source="habits.air_c.value")
    warm_up_h = serializers.FloatField(source="habits.warm_up_h", allow_null=True)
    swing_c = serializers.FloatField(source="habits.swing_c", allow_null=True)
    period_h = serializers.FloatField(source="habits.period_h", allow_null=True)
    hot_side_excess_c = serializers.FloatField(allow_null=True)


class LoggerInDryerSerializer(serializers.Serializer):
    """A logger that hangs in a run's dryer."""

    id = serializers.IntegerField()
    name = serializers.CharField()


class HeardHabitsSerializer(serializers.Serializer):
    """Habits by a log; null where no logger hung in the dryer for long enough. `loggers`: those in the dryer now.
    `warms_times`: how many times as long as is usual the winding takes to warm through, by a probe in it, null where
    none tells.
    """

    heard = ToldHabitsSerializer(allow_null=True)
    loggers = LoggerInDryerSerializer(many=True)
    warms_times = serializers.FloatField(allow_null=True)


class WindingProbeSerializer(serializers.Serializer):
    """The logger whose probe is in the winding; null for none."""

    device = serializers.PrimaryKeyRelatedField(queryset=Device.objects.all(), allow_null=True)


class LoggedIngressSerializer(serializers.Serializer):
    """What leaks into a container by the logger in it, m³/day, and over how many hours it was compared."""

    value = serializers.FloatField()
    uncertainty = serializers.FloatField()
    hours = serializers.IntegerField()
    device_name = serializers.CharField()


class HeardIngressSerializer(serializers.Serializer):
    """What a container's logger tells; null where none hangs in it, or it has not told enough."""

    heard = LoggedIngressSerializer(allow_null=True)


class LiveMassSerializer(serializers.Serializer):
    """What a scale shows now."""

    mass_g = serializers.FloatField()
    steady = serializers.BooleanField()


class HeardMassSerializer(serializers.Serializer):
    """What a scale shows; null where it has not been heard for a while."""

    heard = LiveMassSerializer(allow_null=True)


class ColumnSerializer(serializers.Serializer):
    """A column of a logger's file: what it is taken for, and in which unit."""

    head = serializers.CharField(allow_blank=True, max_length=80, required=False, default="")
    meaning = serializers.ChoiceField(choices=MEANINGS)
    unit = serializers.CharField(allow_blank=True, max_length=10, required=False, default="")


class LayoutSerializer(serializers.Serializer):
    """How a logger's file is read."""

    delimiter = serializers.CharField(max_length=1, trim_whitespace=False)
    head_rows = serializers.IntegerField(min_value=0, max_value=200)
    columns = ColumnSerializer(many=True)
    time_format = serializers.ChoiceField(choices=TIME_FORMATS)
    zone = serializers.CharField(max_length=60)


def layout_of(given: dict[str, object] | None) -> Layout | None:
    """A layout as the person set it."""
    if given is None:
        return None
    columns = tuple(Column(**column) for column in given["columns"])  # type: ignore[attr-defined]  # checked by shape
    return Layout(**{**given, "columns": columns})  # type: ignore[arg-type]  # the same


class _LayoutField(serializers.Field):
    """A layout as JSON text, since it stands in the address beside the file's own bytes."""

    def to_internal_value(self, data: object) -> dict[str, object]:
        try:
            told = bounded_json(str(data))
        except ValueError:
            raise serializers.ValidationError("This layout is not JSON.", code="no_layout") from None
        shape = LayoutSerializer(data=told)
        shape.is_valid(raise_exception=True)
        found: dict[str, object] = shape.validated_data
        return found


class LookSerializer(serializers.Serializer):
    """How the file that is sent is to be looked into. Without a layout it is guessed. `zone`: of bare times."""

    zone = serializers.CharField(max_length=60)
    layout = _LayoutField(required=False, default=None)


class ImportSerializer(LookSerializer):
    """How the file that is sent is to be stored: as it was shown."""

    name = serializers.CharField(max_length=120)
    device = serializers.PrimaryKeyRelatedField(queryset=Device.objects.all())
    layout = _LayoutField()


class FileRowSerializer(serializers.Serializer):
    """A row as it would be stored."""

    line = serializers.IntegerField()
    at = serializers.DateTimeField()
    values = serializers.DictField(child=serializers.FloatField())


class BadRowSerializer(serializers.Serializer):
    """A row that is set aside."""

    line = serializers.IntegerField()
    why = serializers.CharField()


class LookedSerializer(serializers.Serializer):
    """What a file would give: the first rows, how many in all, and the first of those set aside."""

    encoding = serializers.CharField()
    layout = LayoutSerializer()
    units = serializers.DictField(child=serializers.ListField(child=serializers.CharField()))
    rows = FileRowSerializer(many=True)
    count = serializers.IntegerField()
    first = serializers.DateTimeField(allow_null=True)
    last = serializers.DateTimeField(allow_null=True)
    bad = BadRowSerializer(many=True)
    bad_count = serializers.IntegerField()


class ImportedSerializer(serializers.Serializer):
    """How many rows were stored, how many were there already; `undo` is the history entry that undoes the import."""

    stored = serializers.IntegerField()
    known = serializers.IntegerField()
    undo = serializers.IntegerField()
