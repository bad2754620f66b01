"""Shapes of lanes over HTTP."""

import orjson
from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from darre.common.shapes import QuantitySerializer
from darre.inventory.api.serializers import ProgrammeSerializer
from darre.inventory.api.spool_serializers import SpoolSerializer
from darre.moisture.lanes import Lane
from darre.places.api.serializers import PlaceSerializer
from darre.runs.api.serializers import RunningNow
from darre.runs.models import Run
from drying.materials import MoistureLevel


class LaneRunSerializer(RunningNow, serializers.ModelSerializer[Run]):
    """The run a spool is in."""

    dryer_name = serializers.CharField(source="dryer.name")

    class Meta:
        model = Run
        fields = ["id", "dryer_name", "temp_c", "duration_h", "started_at", "end_h", "timer"]


class ExplainedSerializer(serializers.Serializer):
    """Gross masses that water alone can explain, g; `expected_g` if none moved, and usually within `near_g` of it."""

    low_g = serializers.FloatField()
    expected_g = serializers.FloatField()
    high_g = serializers.FloatField()
    near_g = serializers.FloatField()


class NextNowSerializer(serializers.Serializer):
    """What the grams that are printed next hold now, % of dry mass."""

    mass_g = serializers.FloatField()
    pct = serializers.FloatField()


class LaneSerializer(serializers.Serializer):
    """A spool's lane on the rack; `next`: what the next grams hold, null where that is about the mean; `snaps`: whether
    they are likely to snap when bent cold.
    """

    spool = SpoolSerializer()
    material_short = serializers.CharField(source="material.short")
    moisture = QuantitySerializer()
    next = NextNowSerializer(source="next_apart", allow_null=True)
    clean_pct = serializers.FloatField(source="material.clean.value", default=None, allow_null=True)
    trouble_pct = serializers.FloatField(source="material.trouble.value", default=None, allow_null=True)
    moisture_level = serializers.ChoiceField(choices=[s.value for s in MoistureLevel])
    snaps = serializers.BooleanField()
    place = PlaceSerializer(source="stay.place", default=None, allow_null=True)
    since = serializers.DateTimeField(source="stay.since", default=None, allow_null=True)
    run = LaneRunSerializer(allow_null=True)
    net_g = serializers.FloatField(allow_null=True)
    explained = ExplainedSerializer(allow_null=True)
    filament_g_per_m = serializers.FloatField()
    usual = ProgrammeSerializer(source="material.programmes.usual", default=None, allow_null=True)


_LANE = LaneSerializer()


def written_lane(lane: Lane) -> orjson.Fragment:
    """A lane in JSON, written once for all answers that it stands in."""
    return lane.written.once(None, lambda: _LANE.to_representation(lane))


@extend_schema_field(LaneSerializer)
class LaneField(serializers.Field):
    """A lane within a shared answer."""

    def to_representation(self, value: Lane) -> orjson.Fragment:
        return written_lane(value)
