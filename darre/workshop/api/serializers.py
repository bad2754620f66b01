"""Shapes of the workshop over HTTP."""

from rest_framework import serializers

from darre.workshop.models import PlaceKind
from darre.workshop.selectors import RoomNow


class PropertySerializer(serializers.Serializer):
    """A value of a material with where it comes from and how sure it is."""

    value = serializers.FloatField()
    unit = serializers.CharField()
    spread = serializers.FloatField()
    spread_kind = serializers.CharField()
    source = serializers.CharField()  # type: ignore[assignment]  # the answer's own key
    conditions = serializers.CharField()


class SchoolRunSerializer(serializers.Serializer):
    """What one school sets."""

    temp_c = serializers.FloatField()
    duration_h = serializers.FloatField()


class MaterialSerializer(serializers.Serializer):
    """A material with every value's source, conditions and spread."""

    id = serializers.CharField()
    name = serializers.CharField()
    short = serializers.CharField()
    density = PropertySerializer()
    k1 = PropertySerializer()
    k3 = PropertySerializer()
    d23 = PropertySerializer()
    ea = PropertySerializer()
    tg = PropertySerializer()
    soft = PropertySerializer()
    fuse = PropertySerializer()
    clean = PropertySerializer(allow_null=True)
    trouble = PropertySerializer(allow_null=True)
    schools = serializers.DictField(child=SchoolRunSerializer())
    notes = serializers.ListField(child=serializers.CharField())


class RoomSerializer(serializers.Serializer):
    """The room's air now."""

    name = serializers.CharField()
    temp_c = serializers.FloatField(source="air.temp_c")
    rh_pct = serializers.FloatField(source="air.rh_pct")
    dew_point_c = serializers.FloatField()
    measured_at = serializers.DateTimeField(allow_null=True)
    stale = serializers.BooleanField()
    rh_at_60c_pct = serializers.SerializerMethodField()

    def get_rh_at_60c_pct(self, room: RoomNow) -> float:
        return 100.0 * room.air.activity_at(60.0)


class PlaceSerializer(serializers.Serializer):
    """A place for spools."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=PlaceKind.choices)
