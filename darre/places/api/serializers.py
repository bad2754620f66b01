"""Shapes of spools, stays, places, desiccant and room air as they are written over HTTP."""

from rest_framework import serializers

from darre.common.fields import Moment, TypedNumber
from darre.common.shapes import UndoSerializer
from darre.inventory.api.spool_serializers import WriteSpoolSerializer
from darre.inventory.models import Spool
from darre.places.models import Place
from darre.places.selectors import RoomNow
from drying.storage import WARMEST_C, DesiccantKind, Indicator, PlaceKind, Pouch

PLACE_KINDS = tuple(k.value for k in PlaceKind)
DESICCANT_KINDS = tuple(k.value for k in DesiccantKind)
INDICATORS, POUCHES = tuple(k.value for k in Indicator), tuple(k.value for k in Pouch)


class NewSpoolSerializer(WriteSpoolSerializer):
    """A spool to add, with where it stands; without a moisture it is taken as fresh from the factory."""

    place = serializers.PrimaryKeyRelatedField(queryset=Place.objects.all())
    moisture_pct = TypedNumber(unit="%", low=0, high=50, required=False, allow_null=True, default=None)
    at = Moment(required=False)


class ArchivedSpoolSerializer(serializers.ModelSerializer[Spool]):
    """A spool that was taken off the rack."""

    class Meta:
        model = Spool
        fields = ["id", "name", "archived_at"]


class StaySerializer(serializers.Serializer):
    """A spool's time in one place."""

    id = serializers.IntegerField()
    place = serializers.IntegerField(source="place.id")
    place_name = serializers.CharField(source="place.name")
    place_kind = serializers.ChoiceField(source="place.kind", choices=PLACE_KINDS)
    since = serializers.DateTimeField()
    until = serializers.DateTimeField(allow_null=True)


class MoveSerializer(serializers.Serializer):
    """Spools that were put somewhere, now or from an earlier time on."""

    spools = serializers.PrimaryKeyRelatedField(queryset=Spool.objects.all(), many=True, allow_empty=False)
    place = serializers.PrimaryKeyRelatedField(queryset=Place.objects.all())
    at = Moment(required=False)


class MovedSpoolsSerializer(UndoSerializer):
    """Moved. `moved_on`: spools that were moved again later than that, and stand elsewhere now."""

    moved_on = serializers.ListField(child=serializers.CharField())


class CorrectStaySerializer(serializers.Serializer):
    """A stay as it really was; without an end it goes on."""

    place = serializers.PrimaryKeyRelatedField(queryset=Place.objects.all())
    since = Moment()
    until = Moment(required=False, allow_null=True, default=None)


class FullPlaceSerializer(serializers.ModelSerializer[Place]):
    """A place with what is known of it."""

    kind = serializers.ChoiceField(choices=PLACE_KINDS)

    class Meta:
        model = Place
        fields = ["id", "name", "kind", "since", "ingress_m3_day", "air_l", "warm_c"]


class WritePlaceSerializer(serializers.Serializer):
    """A place to add or change; what is empty is taken as usual for its kind."""

    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(choices=PLACE_KINDS)
    ingress_m3_day = TypedNumber(unit="m³/day", low=0, high=100, required=False, allow_null=True, default=None)
    air_l = TypedNumber(unit="l", low=0, high=5000, required=False, allow_null=True, default=None)
    warm_c = TypedNumber(unit="°C", low=0, high=WARMEST_C, difference=True, required=False, default=0.0)


class SavedPlaceSerializer(serializers.Serializer):
    """A place that is stored; `undo` is the history entry that undoes it."""

    place = FullPlaceSerializer()
    undo = serializers.IntegerField(allow_null=True)


class WriteFillSerializer(serializers.Serializer):
    """Desiccant that was put in; an empty kind: taken out. Without a load it is freshly regenerated."""

    kind = serializers.ChoiceField(choices=DESICCANT_KINDS, allow_blank=True)
    dry_g = TypedNumber(unit="g", low=0, high=100000, required=False, default=0.0)
    load_pct = TypedNumber(unit="%", low=0, high=100, required=False, allow_null=True, default=None)
    indicator = serializers.ChoiceField(choices=INDICATORS, required=False, default=Indicator.NONE.value)
    pouch = serializers.ChoiceField(choices=POUCHES, required=False, default=Pouch.BARE.value)
    at = Moment(required=False)


class WriteDesiccantWeighingSerializer(serializers.Serializer):
    """What the desiccant weighs, pouch and all; without a ± a tenth of a gram."""

    mass_g = TypedNumber(unit="g", low=0, high=100000, above_low=True)
    plus_minus_g = TypedNumber(unit="g", low=0, high=1000, above_low=True, required=False, default=0.2)
    at = Moment(required=False)


class WriteRoomAirSerializer(serializers.Serializer):
    """The room's air as it was read off."""

    temp_c = TypedNumber(unit="°C", low=-40, high=80)
    rh_pct = TypedNumber(unit="%", low=0, high=100)
    at = Moment(required=False)


class MonthSerializer(serializers.Serializer):
    """The room's usual air in a month."""

    month = serializers.IntegerField(min_value=1, max_value=12)
    temp_c = TypedNumber(unit="°C", low=-40, high=80)
    rh_pct = TypedNumber(unit="%", low=0, high=100)


class MonthsSerializer(serializers.Serializer):
    """The room's usual air through the year; months left out stay unknown."""

    months = MonthSerializer(many=True)


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
    kind = serializers.ChoiceField(choices=PLACE_KINDS)
