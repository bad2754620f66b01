"""Shapes of the first workshop over HTTP."""

from rest_framework import serializers

from darre.common.fields import TypedNumber
from darre.equipment.api.serializers import DRYER_KINDS
from darre.inventory.api.spool_serializers import TARE_METHODS


class FirstWorkshopSerializer(serializers.Serializer):
    """What a workshop begins with: its room, a spool, a dryer, a scale."""

    room_name = serializers.CharField(max_length=60)
    room_temp_c = TypedNumber(unit="°C", low=-40, high=80, required=False, allow_null=True, default=None)
    room_rh_pct = TypedNumber(unit="%", low=0, high=100, required=False, allow_null=True, default=None)
    spool_name = serializers.CharField(max_length=60)
    material = serializers.CharField(max_length=40)
    empty_spool_kind = serializers.CharField(max_length=20)
    gross_g = TypedNumber(
        unit="g", low=0, high=20000, above_low=True, required=False, allow_null=True, default=None,
        help_text="None where it has not been weighed",
    )  # fmt: skip
    tare_g = TypedNumber(unit="g", low=0, high=20000, required=False, allow_null=True, default=None)
    tare_method = serializers.ChoiceField(choices=TARE_METHODS)
    nominal_g = TypedNumber(
        unit="g", low=100, high=10000, required=False, default=1000.0,
        help_text="What the label says of the filament when new; asked where the tare is unknown or nominal.",
    )  # fmt: skip
    dryer_name = serializers.CharField(max_length=60)
    dryer_kind = serializers.ChoiceField(choices=DRYER_KINDS)
    dryer_min_c = TypedNumber(unit="°C", low=20, high=200)
    dryer_max_c = TypedNumber(unit="°C", low=20, high=300)
    scale_name = serializers.CharField(
        max_length=60, required=False, allow_blank=True, default="", help_text="Empty where there is no scale yet"
    )
    scale_max_g = TypedNumber(
        unit="g", low=0, high=200000, above_low=True, required=False, allow_null=True, default=None
    )  # fmt: skip
    scale_step_g = TypedNumber(unit="g", low=0, high=100, above_low=True, required=False, allow_null=True, default=None)


class SavedFirstWorkshopSerializer(serializers.Serializer):
    """The workshop stands: where the first plan leads."""

    spool = serializers.IntegerField()
    dryer = serializers.IntegerField()
