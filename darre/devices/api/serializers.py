"""Shapes of devices, deliveries and box air over HTTP."""

from rest_framework import serializers

from darre.devices.models import Device, DeviceKind
from darre.runs.api.serializers import QuantitySerializer
from darre.runs.models import Dryer, Scale
from drying.box_air import AirState


class DeviceSerializer(serializers.ModelSerializer[Device]):
    """A device; its token is told once, when it is made."""

    clock_off_s = serializers.SerializerMethodField()

    class Meta:
        model = Device
        fields = ["id", "name", "kind", "dryer", "scale", "last_seen", "clock_off_s"]

    def get_clock_off_s(self, device: Device) -> float:
        return device.skew_ms / 1000.0


class WriteDeviceSerializer(serializers.Serializer):
    """A device to add."""

    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(choices=DeviceKind.choices)
    dryer = serializers.PrimaryKeyRelatedField(queryset=Dryer.objects.all(), required=False, allow_null=True)
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


class HeardAirSerializer(serializers.Serializer):
    """A run's box air; null where no logger was heard in its dryer."""

    heard = RunAirSerializer(allow_null=True)


class LiveMassSerializer(serializers.Serializer):
    """What a scale shows now."""

    mass_g = serializers.FloatField()
    steady = serializers.BooleanField()


class HeardMassSerializer(serializers.Serializer):
    """What a scale shows; null where it has not been heard for a while."""

    heard = LiveMassSerializer(allow_null=True)
