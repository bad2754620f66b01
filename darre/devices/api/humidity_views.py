"""Checking a logger's humidity over HTTP."""

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given, given_query, shown
from darre.common.fields import TypedNumber
from darre.common.shapes import QuantitySerializer, UndoSerializer
from darre.devices.actions.humidity import set_humidity_offset
from darre.devices.humidity import check_of
from darre.devices.models import Device
from drying.air import Salt

SALTS = [salt.value for salt in Salt]


class HumidityQuerySerializer(serializers.Serializer):
    """Where the logger was in its last day: over a salt, or beside another logger."""

    salt = serializers.ChoiceField(choices=SALTS, required=False, allow_null=True, default=None)
    beside = serializers.PrimaryKeyRelatedField(
        queryset=Device.objects.all(), required=False, allow_null=True, default=None
    )


class HumidityCheckSerializer(serializers.Serializer):
    """What it showed and what was true, % relative humidity, and by how much it shows too much; `settled`: it moved no
    more; `tells`: the offset is more than chance.
    """

    shown_pct = serializers.FloatField()
    true_pct = serializers.FloatField()
    offset_pct = QuantitySerializer()
    settled = serializers.BooleanField()
    tells = serializers.BooleanField()


class HumidityOffsetSerializer(serializers.Serializer):
    """By how much a device shows too much, % relative humidity."""

    offset_pct = TypedNumber(unit="%", low=-40, high=40, difference=True)


class HumidityCheckView(APIView):
    """By how much a logger's humidity is off."""

    @extend_schema(
        parameters=[OpenApiParameter("salt", str, enum=SALTS), OpenApiParameter("beside", int)],
        responses={200: HumidityCheckSerializer, **REFUSALS},
        operation_id="humidity_check",
    )
    def get(self, request: Request, device_id: int) -> Response:
        asked = given_query(HumidityQuerySerializer, request)
        salt = None if asked["salt"] is None else Salt(asked["salt"])
        found = check_of(get_object_or_404(Device, pk=device_id), timezone.now(), salt, asked["beside"])
        return Response(shown(HumidityCheckSerializer, found))

    @extend_schema(
        request=HumidityOffsetSerializer,
        responses={200: UndoSerializer, **REFUSALS},
        operation_id="set_humidity_offset",
    )
    def put(self, request: Request, device_id: int) -> Response:
        offset = given(HumidityOffsetSerializer, request)["offset_pct"]
        return Response({"undo": set_humidity_offset(get_object_or_404(Device, pk=device_id), offset).undo})
