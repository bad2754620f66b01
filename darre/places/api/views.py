"""Spools, stays, places, desiccant and room air over HTTP: writes, and the lists that forms choose from."""

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given, shown
from darre.common.shapes import UndoSerializer
from darre.inventory.actions import spools
from darre.inventory.api.spool_serializers import SavedSpoolSerializer
from darre.inventory.api.spool_views import typed_tare
from darre.inventory.models import Spool
from darre.places.actions import places, stays
from darre.places.actions.arrivals import NewSpool, add_spool
from darre.places.api.serializers import (
    ArchivedSpoolSerializer,
    CorrectStaySerializer,
    FullPlaceSerializer,
    MovedSpoolsSerializer,
    MoveSerializer,
    NewSpoolSerializer,
    SavedPlaceSerializer,
    WriteDesiccantWeighingSerializer,
    WriteFillSerializer,
    WritePlaceSerializer,
)
from darre.places.models import DesiccantFill, Place, Stay
from drying.quantity import COVERAGE, Quantity


class SpoolListView(APIView):
    """Add a spool."""

    @extend_schema(
        request=NewSpoolSerializer, responses={201: SavedSpoolSerializer, **REFUSALS}, operation_id="add_spool"
    )
    def post(self, request: Request) -> Response:
        data = given(NewSpoolSerializer, request)
        moisture, at = data.pop("moisture_pct"), data.pop("at", None)
        known = None if moisture is None else Quantity(moisture, spools.TYPED_SHARE * moisture)
        tare = typed_tare(data)
        saved = add_spool(NewSpool(tare=tare, moisture=known, **data), at)
        spool, undo = saved.record, saved.undo
        return Response(shown(SavedSpoolSerializer, {"id": spool.pk, "undo": undo}), status=201)


class ArchivedListView(APIView):
    """The spools that were taken off the rack."""

    @extend_schema(responses=ArchivedSpoolSerializer(many=True), operation_id="archived_list")
    def get(self, request: Request) -> Response:
        found = Spool.objects.filter(archived_at__isnull=False).order_by("-archived_at")
        return Response(shown(ArchivedSpoolSerializer, found, many=True))


class MoveView(APIView):
    """Put spools somewhere."""

    @extend_schema(
        request=MoveSerializer, responses={201: MovedSpoolsSerializer, **REFUSALS}, operation_id="move_spools"
    )
    def post(self, request: Request) -> Response:
        data = given(MoveSerializer, request)
        saved = stays.move_spools(data["spools"], data["place"], data.get("at"))
        moved_on = [stay.spool.name for stay in saved.record if stay.until is not None]
        return Response({"undo": saved.undo, "moved_on": moved_on}, status=201)


class StayView(APIView):
    """Correct a stay, or take it out."""

    @extend_schema(
        request=CorrectStaySerializer, responses={200: UndoSerializer, **REFUSALS}, operation_id="correct_stay"
    )
    def put(self, request: Request, stay_id: int) -> Response:
        stay = get_object_or_404(Stay.objects.select_related("spool"), pk=stay_id)
        data = given(CorrectStaySerializer, request)
        return Response({"undo": stays.correct_stay(stay, data["place"], data["since"], data["until"]).undo})

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_stay")
    def delete(self, request: Request, stay_id: int) -> Response:
        stay = get_object_or_404(Stay.objects.select_related("spool"), pk=stay_id)
        return Response({"undo": stays.remove_stay(stay).undo})


class PlaceListView(APIView):
    """Every place; add one."""

    @extend_schema(responses=FullPlaceSerializer(many=True), operation_id="places_list")
    def get(self, request: Request) -> Response:
        return Response(shown(FullPlaceSerializer, Place.objects.all(), many=True))

    @extend_schema(
        request=WritePlaceSerializer, responses={201: SavedPlaceSerializer, **REFUSALS}, operation_id="add_place"
    )
    def post(self, request: Request) -> Response:
        saved = places.add_place(**given(WritePlaceSerializer, request))
        place, undo = saved.record, saved.undo
        return Response(shown(SavedPlaceSerializer, {"place": place, "undo": undo}), status=201)


class PlaceView(APIView):
    """Change or remove a place."""

    @extend_schema(
        request=WritePlaceSerializer, responses={200: SavedPlaceSerializer, **REFUSALS}, operation_id="change_place"
    )
    def put(self, request: Request, place_id: int) -> Response:
        place = get_object_or_404(Place, pk=place_id)
        undo = places.change_place(place, **given(WritePlaceSerializer, request)).undo
        return Response(shown(SavedPlaceSerializer, {"place": place, "undo": undo}))

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_place")
    def delete(self, request: Request, place_id: int) -> Response:
        return Response({"undo": places.remove_place(get_object_or_404(Place, pk=place_id)).undo})


class FillView(APIView):
    """Put desiccant into a container, or take it out."""

    @extend_schema(request=WriteFillSerializer, responses={201: UndoSerializer, **REFUSALS}, operation_id="fill_place")
    def post(self, request: Request, place_id: int) -> Response:
        place = get_object_or_404(Place, pk=place_id)
        return Response({"undo": places.fill_place(place, **given(WriteFillSerializer, request)).undo}, status=201)


class DesiccantWeighingView(APIView):
    """Weigh a container's desiccant."""

    @extend_schema(
        request=WriteDesiccantWeighingSerializer,
        responses={201: UndoSerializer, **REFUSALS},
        operation_id="weigh_desiccant",
    )
    def post(self, request: Request, fill_id: int) -> Response:
        fill = get_object_or_404(DesiccantFill.objects.select_related("place"), pk=fill_id)
        data = given(WriteDesiccantWeighingSerializer, request)
        undo = places.weigh_desiccant(fill, data["mass_g"], data["plus_minus_g"] / COVERAGE, data.get("at")).undo
        return Response({"undo": undo}, status=201)
