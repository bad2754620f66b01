"""Spools and empty spools over HTTP."""

from typing import Any
from urllib.parse import urljoin

from django.http import Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer, given, shown
from darre.common.codes import code_svg
from darre.common.errors import Refusal
from darre.common.shapes import UndoSerializer
from darre.inventory.actions import spools
from darre.inventory.actions.empty_spools import add_empty_spool
from darre.inventory.api.spool_serializers import (
    EmptySpoolSerializer,
    KnownEmptySerializer,
    LabelSerializer,
    MoistureSerializer,
    SavedSpoolSerializer,
    UseSerializer,
    WriteEmptySpoolSerializer,
    WriteSpoolSerializer,
)
from darre.inventory.models import EmptySpool, FilamentUse, MoistureReading, Spool
from darre.inventory.records import tare_columns
from darre.inventory.selectors import emptied_twins_g, empty_spools
from darre.network.server import base_address
from drying.quantity import COVERAGE, Quantity
from drying.weighing import Tare, TareMethod, tare_spread_g, twin_tare, usual_tare


def typed_tare(data: dict[str, Any]) -> Tare:
    """The tare as it was sent: typed, or as its make was weighed, or as empty spools usually weigh.

    Takes its fields out of `data`.

    Raises OutOfRangeError, Refusal where it is to be typed and is not.
    """
    method, typed, nominal = TareMethod(data.pop("tare_method")), data.pop("tare_g"), data.pop("nominal_g")
    if method is TareMethod.UNKNOWN:
        weighed_g = emptied_twins_g(data["empty_spool"])
        return twin_tare(weighed_g) if weighed_g else usual_tare(nominal)
    if typed is None:
        raise Refusal("no_tare", "Needed: what the spool weighs without filament, for example 190 g.", "tare_g", 400)
    return Tare(typed, tare_spread_g(method), method)


class EmptySpoolListView(APIView):
    """Empty spools that a workshop has; add one."""

    @extend_schema(responses=KnownEmptySerializer(many=True), operation_id="bodies_list")
    def get(self, request: Request) -> Response:
        return Response(shown(KnownEmptySerializer, empty_spools(), many=True))

    @extend_schema(
        request=WriteEmptySpoolSerializer,
        responses={201: EmptySpoolSerializer, **REFUSALS},
        operation_id="add_empty_spool",
    )
    def post(self, request: Request) -> Response:
        empty_spool = add_empty_spool(EmptySpool(**given(WriteEmptySpoolSerializer, request))).record
        return Response(shown(EmptySpoolSerializer, empty_spool), status=201)


class SpoolView(APIView):
    """Change a spool's own details."""

    @extend_schema(
        request=WriteSpoolSerializer, responses={200: SavedSpoolSerializer, **REFUSALS}, operation_id="change_spool"
    )
    def put(self, request: Request, spool_id: int) -> Response:
        spool = get_object_or_404(Spool, pk=spool_id)
        data = given(WriteSpoolSerializer, request)
        tare = typed_tare(data)
        undo = spools.change_spool(spool, **data, **tare_columns(tare)).undo
        return Response(shown(SavedSpoolSerializer, {"id": spool.pk, "undo": undo}))


class MoistureView(APIView):
    """Say how wet a spool is."""

    @extend_schema(
        request=MoistureSerializer, responses={201: UndoSerializer, **REFUSALS}, operation_id="note_moisture"
    )
    def post(self, request: Request, spool_id: int) -> Response:
        spool = get_object_or_404(Spool, pk=spool_id)
        data = given(MoistureSerializer, request)
        known = Quantity(data["moisture_pct"], data["plus_minus_pct"] / COVERAGE)
        return Response({"undo": spools.note_moisture(spool, known, data.get("at")).undo}, status=201)


class UseView(APIView):
    """Note strand that was printed."""

    @extend_schema(request=UseSerializer, responses={201: UndoSerializer, **REFUSALS}, operation_id="use_filament")
    def post(self, request: Request, spool_id: int) -> Response:
        spool = get_object_or_404(Spool, pk=spool_id)
        data = given(UseSerializer, request)
        undo = spools.use_filament(spool, _used(data), data.get("at"), data["note"]).undo
        return Response({"undo": undo}, status=201)


class MoistureReadingView(APIView):
    """One of the moistures that were noted of a spool."""

    @extend_schema(
        request=MoistureSerializer, responses={200: UndoSerializer, **REFUSALS}, operation_id="correct_moisture"
    )
    def put(self, request: Request, reading_id: int) -> Response:
        reading = get_object_or_404(MoistureReading.objects.select_related("spool"), pk=reading_id)
        data = given(MoistureSerializer, request)
        known = Quantity(data["moisture_pct"], data["plus_minus_pct"] / COVERAGE)
        return Response({"undo": spools.correct_moisture(reading, known, data.get("at") or reading.at).undo})

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_moisture")
    def delete(self, request: Request, reading_id: int) -> Response:
        reading = get_object_or_404(MoistureReading.objects.select_related("spool"), pk=reading_id)
        return Response({"undo": spools.remove_moisture(reading).undo})


def _used(data: dict[str, Any]) -> Quantity:
    spread = data["plus_minus_g"]
    return Quantity(data["mass_g"], spools.PRINTED_SHARE * data["mass_g"] if spread is None else spread / COVERAGE)


class UseRecordView(APIView):
    """One of the notes of what was printed off a spool."""

    @extend_schema(request=UseSerializer, responses={200: UndoSerializer, **REFUSALS}, operation_id="correct_use")
    def put(self, request: Request, use_id: int) -> Response:
        use = get_object_or_404(FilamentUse.objects.select_related("spool", "print"), pk=use_id)
        data = given(UseSerializer, request)
        return Response({"undo": spools.correct_use(use, _used(data), data.get("at") or use.at, data["note"]).undo})

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_use")
    def delete(self, request: Request, use_id: int) -> Response:
        use = get_object_or_404(FilamentUse.objects.select_related("spool", "print"), pk=use_id)
        return Response({"undo": spools.remove_use(use).undo})


class LabelView(APIView):
    """The code for a spool's label: it leads to the spool's page, on the address that phones reach, where they are
    let in, else on the one that asks.
    """

    @extend_schema(responses={200: LabelSerializer, 404: ErrorSerializer}, operation_id="label")
    def get(self, request: Request, spool_id: int) -> Response:
        if not Spool.objects.filter(pk=spool_id).exists():
            raise Http404
        base = base_address(request.build_absolute_uri("/"))
        return Response({"spool": spool_id, "svg": code_svg(urljoin(base, f"spools/{spool_id}"))})
