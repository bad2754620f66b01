"""Shapes of spools and empty spools over HTTP."""

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from darre.common.errors import field_error
from darre.common.fields import Moment, TypedNumber
from darre.common.shapes import QuantitySerializer
from darre.inventory.api.serializers import SheetSerializer
from darre.inventory.models import Coil, EmptySpool, Spool
from drying.errors import Amount
from drying.materials import empty_spool_kinds, usual_sizes_mm
from drying.weighing import NOMINAL_SIZES_G, TareMethod

EMPTY_SPOOL_KINDS = tuple(empty_spool_kinds())


TARE_METHODS = tuple(m.value for m in TareMethod)


class EmptySpoolSerializer(serializers.ModelSerializer[EmptySpool]):
    """An empty spool of some make."""

    kind = serializers.ChoiceField(choices=EMPTY_SPOOL_KINDS)

    class Meta:
        model = EmptySpool
        fields = ["id", "name", "kind", "outer_diameter_mm", "width_mm", "hub_diameter_mm"]


class KnownEmptySerializer(serializers.Serializer):
    """An empty spool of some make with its mass, where it is known; `weighed`: how many of them were weighed here."""

    id = serializers.IntegerField(source="empty_spool.pk")
    name = serializers.CharField(source="empty_spool.name")
    kind = serializers.ChoiceField(choices=EMPTY_SPOOL_KINDS, source="empty_spool.kind")
    outer_diameter_mm = serializers.FloatField(source="empty_spool.outer_diameter_mm")
    width_mm = serializers.FloatField(source="empty_spool.width_mm")
    hub_diameter_mm = serializers.FloatField(source="empty_spool.hub_diameter_mm")
    mass_g = QuantitySerializer(source="mass", allow_null=True)
    weighed = serializers.IntegerField()


def _size(low: float, high: float) -> TypedNumber:
    return TypedNumber(unit="mm", low=low, high=high, required=False, allow_null=True, default=None)


class WriteEmptySpoolSerializer(serializers.Serializer):
    """An empty spool: a size that was not measured is the usual one for what it was sold with."""

    name = serializers.CharField(max_length=60)
    kind = serializers.ChoiceField(choices=EMPTY_SPOOL_KINDS)
    nominal_g = TypedNumber(unit="g", low=NOMINAL_SIZES_G[0], high=NOMINAL_SIZES_G[1], required=False, default=1000.0)
    outer_diameter_mm = _size(30, 600)
    width_mm = _size(5, 400)
    hub_diameter_mm = _size(5, 400)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        outer, hub, width = usual_sizes_mm(attrs.pop("nominal_g"))
        usual = {"outer_diameter_mm": outer, "hub_diameter_mm": hub, "width_mm": width}
        found = {name: usual[name] if attrs[name] is None else attrs[name] for name in usual}
        if found["hub_diameter_mm"] >= found["outer_diameter_mm"]:
            across = Amount(round(found["outer_diameter_mm"]), "mm")
            says = ("The hub must be smaller than the flanges, ", across, ". Change one of the two.")
            raise serializers.ValidationError({"hub_diameter_mm": field_error("out_of_order", *says).detail})
        return {**attrs, **found}


class CoilSerializer(serializers.ModelSerializer[Coil]):
    """A coil cut off a spool; `run`: the run that it is in, `last_g`: what it weighed last."""

    run = serializers.IntegerField(read_only=True, allow_null=True)
    last_g = serializers.FloatField(read_only=True, allow_null=True)

    class Meta:
        model = Coil
        fields = ["id", "spool", "name", "cut_at", "length_m", "soaked", "used_up_at", "run", "last_g"]


class WriteCoilSerializer(serializers.Serializer):
    """A coil to cut or to change."""

    name = serializers.CharField(max_length=40, required=False, allow_blank=True, default="")
    length_m = TypedNumber(unit="m", low=0, high=5000, above_low=True, required=False, allow_null=True, default=None)
    soaked = serializers.BooleanField(required=False, default=False)


class ChangeCoilSerializer(WriteCoilSerializer):
    """A coil to change; `used_up`: whether there is nothing left of it."""

    name = serializers.CharField(max_length=40)
    used_up = serializers.BooleanField(required=False, default=False)


class SavedCoilSerializer(serializers.Serializer):
    """A coil that is stored; `undo` is the history entry that undoes it."""

    id = serializers.IntegerField(source="record.id")
    undo = serializers.IntegerField(allow_null=True)


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
    empty_spool = serializers.PrimaryKeyRelatedField(queryset=EmptySpool.objects.all())
    form = serializers.ChoiceField(choices=Spool.Form.choices, required=False, default=Spool.Form.WOUND)
    strand_diameter_mm = TypedNumber(unit="mm", low=0.5, high=5, required=False, default=1.75)
    tare_g = TypedNumber(unit="g", low=0, high=20000, required=False, allow_null=True, default=None)
    tare_method = serializers.ChoiceField(choices=TARE_METHODS)
    nominal_g = TypedNumber(
        unit="g", low=100, high=10000, required=False, default=1000.0,
        help_text="What the label says of the filament when new; asked where the tare is unknown or nominal.",
    )  # fmt: skip


class SavedSpoolSerializer(serializers.Serializer):
    """A spool that is stored; `undo` is the history entry that undoes it."""

    id = serializers.IntegerField()
    undo = serializers.IntegerField(allow_null=True)


class SpoolSerializer(serializers.ModelSerializer[Spool]):
    """A spool's own details."""

    empty_spool_kind = serializers.CharField(source="empty_spool.kind")
    tare_method = serializers.ChoiceField(choices=[m.value for m in TareMethod])
    sheet = serializers.SerializerMethodField()

    class Meta:
        model = Spool
        fields = [
            "id", "name", "material", "colour", "maker", "purpose", "form", "strand_diameter_mm",
            "tare_g", "tare_sd_g", "tare_method", "empty_spool_kind", "sheet", "archived_at",
        ]  # fmt: skip

    @extend_schema_field(SheetSerializer(allow_null=True))
    def get_sheet(self, spool: Spool) -> dict[str, object] | None:
        if spool.sheet_temp_c is None:
            return None
        return {
            "temp_c": spool.sheet_temp_c,
            "duration_h": spool.sheet_hours,
            "only_if_opened": spool.sheet_only_if_opened,
        }


class LabelSerializer(serializers.Serializer):
    """A label: the code that leads to the spool's page, as SVG."""

    spool = serializers.IntegerField()
    svg = serializers.CharField()
