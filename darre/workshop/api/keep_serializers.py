"""Shapes of spools, stays, places, desiccant and room air as they are written over HTTP."""

from rest_framework import serializers

from darre.common.fields import Moment, TypedNumber
from darre.workshop.api.serializers import PLACE_KINDS
from darre.workshop.models import Place, Spool, SpoolBody
from drying.materials.spool_bodies import all_body_kinds
from drying.storage.desiccant import DesiccantKind, Indicator, Pouch
from drying.weighing.tare import TareMethod

DESICCANT_KINDS = tuple(k.value for k in DesiccantKind)
INDICATORS, POUCHES = tuple(k.value for k in Indicator), tuple(k.value for k in Pouch)
BODY_KINDS = tuple(all_body_kinds())
TARE_METHODS = tuple(m.value for m in TareMethod)


class BodySerializer(serializers.ModelSerializer[SpoolBody]):
    """An empty spool of some make."""

    kind = serializers.ChoiceField(choices=BODY_KINDS)

    class Meta:
        model = SpoolBody
        fields = ["id", "name", "kind", "outer_diameter_mm", "width_mm", "hub_diameter_mm"]


class WriteBodySerializer(serializers.Serializer):
    """An empty spool as it is measured."""

    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(choices=BODY_KINDS)
    outer_diameter_mm = TypedNumber(unit="mm", low=30, high=600, required=False, default=200.0)
    width_mm = TypedNumber(unit="mm", low=5, high=400, required=False, default=60.0)
    hub_diameter_mm = TypedNumber(unit="mm", low=5, high=400, required=False, default=90.0)


class MoistureSerializer(serializers.Serializer):
    """How wet a spool is said to be, % of dry mass, and how sure that is (two standard uncertainties)."""

    moisture_pct = TypedNumber(unit="%", low=0, high=50)
    plus_minus_pct = TypedNumber(unit="%", low=0, high=50)
    at = Moment(required=False)


class UseSerializer(serializers.Serializer):
    """Strand that was printed."""

    mass_g = TypedNumber(unit="g", low=0, high=20000, above_low=True)
    plus_minus_g = TypedNumber(unit="g", low=0, high=20000, required=False, allow_null=True, default=None)
    at = Moment(required=False)
    note = serializers.CharField(max_length=120, required=False, allow_blank=True, default="")


class WriteSpoolSerializer(serializers.Serializer):
    """A spool to add or change."""

    name = serializers.CharField(max_length=60)
    material = serializers.CharField(max_length=40)
    colour = serializers.CharField(max_length=40, required=False, allow_blank=True, default="")
    maker = serializers.CharField(max_length=60, required=False, allow_blank=True, default="")
    purpose = serializers.CharField(max_length=120, required=False, allow_blank=True, default="")
    body = serializers.PrimaryKeyRelatedField(queryset=SpoolBody.objects.all())
    form = serializers.ChoiceField(choices=Spool.Form.choices, required=False, default=Spool.Form.WOUND)
    strand_diameter_mm = TypedNumber(unit="mm", low=0.5, high=5, required=False, default=1.75)
    tare_g = TypedNumber(unit="g", low=0, high=20000)
    tare_method = serializers.ChoiceField(choices=TARE_METHODS)


class NewSpoolSerializer(WriteSpoolSerializer):
    """A spool to add, with where it stands; without a moisture it is taken as fresh from the factory."""

    place = serializers.PrimaryKeyRelatedField(queryset=Place.objects.all())
    moisture_pct = TypedNumber(unit="%", low=0, high=50, required=False, allow_null=True, default=None)
    at = Moment(required=False)


class KeptSpoolSerializer(serializers.Serializer):
    """A spool that is stored; `undo` is the line of history to take back."""

    id = serializers.IntegerField()
    undo = serializers.IntegerField(allow_null=True)


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
    warm_c = TypedNumber(unit="°C", low=0, high=40, required=False, default=0.0)


class KeptPlaceSerializer(serializers.Serializer):
    """A place that is stored; `undo` is the line of history to take back."""

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


class WritePackSerializer(serializers.Serializer):
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
