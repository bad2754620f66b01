"""Dryers side by side over HTTP."""

from typing import Any

from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import ErrorSerializer, given_query, shown
from darre.common.fields import TypedNumber
from darre.equipment.api.serializers import DRYER_KINDS
from darre.equipment.models import Dryer
from darre.places.selectors import room_now
from darre.planning.dryers_compared import Compared, Row, compared
from drying.dryers import RADIATED, DryerKind, HomeBuilt, walls, warmth_of
from drying.dryers.home_built import AWAY_CM, SIZE_MM
from drying.planning import METHODS, InDryer
from drying.planning.forecast import BAND_SIGMAS

WALL_CHOICES, HEATER_CHOICES = tuple(walls()), tuple(RADIATED)
NO_RECORD = 0  # the number of a dryer that is thought of


class AnotherDryerSerializer(serializers.Serializer):
    """A dryer that is thought of: nothing of it is kept. Without `max_c` none is."""

    max_c = TypedNumber(unit="°C", low=30, high=200, required=False)
    kind = serializers.ChoiceField(choices=DRYER_KINDS, default=DryerKind.HEATED_BOX.value)
    vent_m3_h = TypedNumber(unit="m³/h", low=0, high=10000, required=False)
    slots = serializers.IntegerField(min_value=1, max_value=500, required=False)
    timer_max_h = TypedNumber(unit="h", low=0.05, high=1000, required=False)
    heater_w = TypedNumber(unit="W", low=0, high=100000, required=False)
    price = TypedNumber(unit="", low=0, high=1e7, required=False)


class InDryerSerializer(serializers.Serializer):
    """What a dryer would do for a row; `method` null: no temperature of it is safe."""

    fits = serializers.BooleanField()
    method = serializers.ChoiceField(choices=METHODS, allow_null=True)
    temp_c = serializers.FloatField(allow_null=True)
    duration_h = serializers.FloatField(allow_null=True)
    reaches = serializers.BooleanField()
    is_bound = serializers.BooleanField()
    energy_kwh = serializers.FloatField(allow_null=True)
    restarts = serializers.IntegerField()
    at_night = serializers.IntegerField()


class ComparedRowSerializer(serializers.Serializer):
    """A spool that is to be dried (`spool`), or the others of a material (`spools` of them)."""

    spool = serializers.IntegerField(allow_null=True)
    name = serializers.CharField()
    material_name = serializers.CharField()
    spools = serializers.IntegerField()
    from_pct = serializers.FloatField()
    aim_pct = serializers.FloatField()
    runs_a_year = serializers.FloatField()
    cells = InDryerSerializer(many=True)
    another = InDryerSerializer(allow_null=True)


class GainSerializer(serializers.Serializer):
    """What another dryer saves in a year; `gained`: the rows, by their place, that only it brings to their aim."""

    gained = serializers.ListField(child=serializers.IntegerField())
    hours = serializers.FloatField()
    energy_kwh = serializers.FloatField()
    runs = serializers.FloatField()
    cost = serializers.FloatField(allow_null=True)
    years = serializers.FloatField(allow_null=True)


class ComparedDryerSerializer(serializers.ModelSerializer[Dryer]):
    """A dryer of the table."""

    class Meta:
        model = Dryer
        fields = ["id", "name", "max_c", "slots"]


class DryersComparedSerializer(serializers.Serializer):
    """Every dryer for every spool. `assumed`: how often spools are dried is taken for granted."""

    dryers = ComparedDryerSerializer(many=True)
    rows = ComparedRowSerializer(many=True)
    currency = serializers.CharField()
    assumed = serializers.BooleanField()
    gain = GainSerializer(allow_null=True)


def _cell(cell: InDryer) -> dict[str, Any]:
    method, choice = cell.run or (None, None)
    return {
        "fits": cell.fits,
        "method": method,
        "temp_c": choice.temp_c if choice else None,
        "duration_h": choice.duration_h if choice else None,
        "reaches": cell.reaches,
        "is_bound": cell.is_bound,
        "energy_kwh": cell.energy_kwh.value if cell.energy_kwh else None,
        "restarts": cell.restarts,
        "at_night": cell.at_night,
    }


def _row(row: Row) -> dict[str, Any]:
    return {
        "spool": row.lane.spool.pk if row.now else None,
        "name": row.lane.spool.name,
        "material_name": row.lane.material.name,
        "spools": row.spools,
        "from_pct": row.moisture.value,
        "aim_pct": row.lane.material.aim_pct,
        "runs_a_year": row.runs,
        "cells": [_cell(cell) for cell in row.cells],
        "another": _cell(row.another) if row.another else None,
    }


def _shape(found: Compared) -> dict[str, Any]:
    return {
        "dryers": found.dryers,
        "rows": [_row(row) for row in found.rows],
        "currency": found.currency,
        "assumed": found.assumed,
        "gain": found.gain,
    }


class DryersComparedView(APIView):
    """What each dryer does for each spool, and what another would save in a year."""

    @extend_schema(
        parameters=[
            OpenApiParameter("max_c", str, description="of a dryer that is thought of: its hottest air, °C"),
            OpenApiParameter("kind", str, enum=DRYER_KINDS, description="of it; a heated box where not said"),
            OpenApiParameter("vent_m3_h", str, description="of it; as usual for its kind where not said"),
            OpenApiParameter("slots", str, description="of it: how many spools it takes"),
            OpenApiParameter("timer_max_h", str, description="of it: its longest turn, h; none where not said"),
            OpenApiParameter("heater_w", str, description="of it: mean power at its hottest, W"),
            OpenApiParameter("price", str, description="of it, in your currency"),
        ],
        responses={200: DryersComparedSerializer, 400: ErrorSerializer},
        operation_id="compare_dryers",
    )
    def get(self, request: Request) -> Response:
        asked = given_query(AnotherDryerSerializer, request)
        price = asked.pop("price", None)
        another = Dryer(pk=NO_RECORD, name="another", min_c=30.0, **asked) if "max_c" in asked else None
        return Response(shown(DryersComparedSerializer, _shape(compared(timezone.now(), another, price))))


class HomeBuiltSerializer(serializers.Serializer):
    """A box that somebody means to build; nothing of it is kept."""

    heater_w = TypedNumber(unit="W", low=1, high=3000)
    length_mm = TypedNumber(unit="mm", low=SIZE_MM[0], high=SIZE_MM[1])
    width_mm = TypedNumber(unit="mm", low=SIZE_MM[0], high=SIZE_MM[1])
    height_mm = TypedNumber(unit="mm", low=SIZE_MM[0], high=SIZE_MM[1])
    wall = serializers.ChoiceField(choices=WALL_CHOICES)
    heater = serializers.ChoiceField(choices=HEATER_CHOICES)
    fan = serializers.BooleanField(default=False)
    away_cm = TypedNumber(unit="cm", low=AWAY_CM[0], high=AWAY_CM[1])


class WarmthSerializer(serializers.Serializer):
    """How warm a box gets with its heater always on, °C, 9 times in 10 between `low_c` and `high_c`; `harms_wall`: that
    may be more than its wall stands, `stands_c`.
    """

    air_c = serializers.FloatField()
    low_c = serializers.FloatField()
    high_c = serializers.FloatField()
    room_c = serializers.FloatField()
    hot_side_excess_c = serializers.FloatField()
    loss_w_k = serializers.FloatField()
    harms_wall = serializers.BooleanField()
    stands_c = serializers.FloatField(allow_null=True)


class HomeBuiltView(APIView):
    """How warm a box that somebody means to build would get."""

    @extend_schema(
        parameters=[HomeBuiltSerializer],
        responses={200: WarmthSerializer, 400: ErrorSerializer},
        operation_id="home_built_box",
    )
    def get(self, request: Request) -> Response:
        typed = given_query(HomeBuiltSerializer, request)
        sizes = (typed.pop("length_mm"), typed.pop("width_mm"), typed.pop("height_mm"))
        room_c = room_now(timezone.now()).air.temp_c
        box = HomeBuilt(sizes_mm=sizes, **typed)
        found = warmth_of(box, room_c)
        reach = BAND_SIGMAS * found.air_c.uncertainty
        told = {
            "air_c": found.air_c.value, "low_c": found.air_c.value - reach, "high_c": found.air_c.value + reach,
            "room_c": room_c, "hot_side_excess_c": found.hot_side_excess_c, "loss_w_k": found.loss_w_k,
            "harms_wall": found.harms_wall, "stands_c": walls()[box.wall].stands_c,
        }  # fmt: skip
        return Response(shown(WarmthSerializer, told))
