"""Shapes of what is read of the air beside a trial's samples."""

from rest_framework import serializers

from darre.common.fields import TypedNumber
from darre.trials.models import Sample


class AirNoteSerializer(serializers.Serializer):
    """A reading of the air beside samples, h after the start."""

    id = serializers.IntegerField()
    hours = serializers.FloatField()
    temp_c = serializers.FloatField()
    rh_pct = serializers.FloatField()


class MeanAirSerializer(serializers.Serializer):
    """The air on average."""

    temp_c = serializers.FloatField()
    rh_pct = serializers.FloatField()


class AirCourseSerializer(serializers.Serializer):
    """The air over time against the room's, water in g/m³; `heat_alone_pct`: what its humidity would be had only the
    temperature moved.
    """

    time_h = serializers.ListField(child=serializers.FloatField())
    temp_c = serializers.ListField(child=serializers.FloatField())
    rh_pct = serializers.ListField(child=serializers.FloatField())
    heat_alone_pct = serializers.ListField(child=serializers.FloatField())
    inside_g_m3 = serializers.ListField(child=serializers.FloatField())
    room_g_m3 = serializers.ListField(child=serializers.FloatField())
    gaps = serializers.ListField(child=serializers.ListField(child=serializers.FloatField()))


class SampleAirSerializer(serializers.Serializer):
    """What was read of the air beside coils (`sample` null), or beside one sponge; its course from two readings on."""

    sample = serializers.IntegerField(allow_null=True)
    name = serializers.CharField(allow_blank=True)
    mean = MeanAirSerializer()
    notes = AirNoteSerializer(many=True)
    course = AirCourseSerializer(allow_null=True)


class NewAirNoteSerializer(serializers.Serializer):
    """What a meter beside the samples shows now, or showed so many hours after the start; `sample`: of sponges, which
    one it hangs beside.
    """

    temp_c = TypedNumber(unit="°C", low=-40, high=200)
    rh_pct = TypedNumber(unit="%", low=0, high=100)
    sample = serializers.PrimaryKeyRelatedField(
        queryset=Sample.objects.all(), required=False, allow_null=True, default=None
    )
    hours = TypedNumber(unit="h", low=0, high=20000, required=False, allow_null=True, default=None)
    client_key = serializers.UUIDField()
