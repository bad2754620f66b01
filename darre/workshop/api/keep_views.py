"""Spools, stays, places, desiccant and room air over HTTP: writes, and the lists that forms choose from."""

from datetime import datetime
from typing import Any

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given
from darre.workshop.actions import places, spools, stays
from darre.workshop.actions.room import add_body, note_room_air, set_months
from darre.workshop.api.keep_serializers import (
    BodySerializer,
    CorrectStaySerializer,
    FullPlaceSerializer,
    KeptPlaceSerializer,
    KeptSpoolSerializer,
    MoistureSerializer,
    MonthSerializer,
    MonthsSerializer,
    MoveSerializer,
    NewSpoolSerializer,
    UseSerializer,
    WriteBodySerializer,
    WriteFillSerializer,
    WritePackSerializer,
    WritePlaceSerializer,
    WriteRoomAirSerializer,
    WriteSpoolSerializer,
)
from darre.workshop.api.serializers import DoneSerializer
from darre.workshop.models import DesiccantFill, Place, RoomMonth, Spool, SpoolBody, Stay
from drying.air.psychrometrics import RoomAir
from drying.quantity import COVERAGE, Quantity
from drying.weighing.tare import Tare, TareMethod, tare_spread_g


def _tare(data: dict[str, Any]) -> Tare:
    method = TareMethod(data["tare_method"])
    return Tare(data["tare_g"], tare_spread_g(method), method)


class BodyListView(APIView):
    """Spool bodies that a workshop has; add one."""

    @extend_schema(responses=BodySerializer(many=True), operation_id="bodies_list")
    def get(self, request: Request) -> Response:
        return Response(BodySerializer(SpoolBody.objects.order_by("name"), many=True).data)

    @extend_schema(request=WriteBodySerializer, responses={201: BodySerializer, **REFUSALS}, operation_id="add_body")
    def post(self, request: Request) -> Response:
        body = add_body(SpoolBody(**given(WriteBodySerializer, request)))
        return Response(BodySerializer(body).data, status=201)


class SpoolListView(APIView):
    """Add a spool."""

    @extend_schema(
        request=NewSpoolSerializer, responses={201: KeptSpoolSerializer, **REFUSALS}, operation_id="add_spool"
    )
    def post(self, request: Request) -> Response:
        data = given(NewSpoolSerializer, request)
        moisture, at = data.pop("moisture_pct"), data.pop("at", None)
        known = None if moisture is None else Quantity(moisture, spools.TYPED_SHARE * moisture)
        tare = _tare(data)
        del data["tare_g"], data["tare_method"]
        spool, undo = spools.add_spool(spools.NewSpool(tare=tare, moisture=known, **data), at)
        return Response(KeptSpoolSerializer({"id": spool.pk, "undo": undo}).data, status=201)


class SpoolView(APIView):
    """Change a spool's own facts."""

    @extend_schema(
        request=WriteSpoolSerializer, responses={200: KeptSpoolSerializer, **REFUSALS}, operation_id="change_spool"
    )
    def put(self, request: Request, spool_id: int) -> Response:
        spool = get_object_or_404(Spool, pk=spool_id)
        data = given(WriteSpoolSerializer, request)
        undo = spools.change_spool(spool, **data, tare_sd_g=_tare(data).uncertainty_g)
        return Response(KeptSpoolSerializer({"id": spool.pk, "undo": undo}).data)


class MoistureView(APIView):
    """Say how wet a spool is."""

    @extend_schema(
        request=MoistureSerializer, responses={201: DoneSerializer, **REFUSALS}, operation_id="note_moisture"
    )
    def post(self, request: Request, spool_id: int) -> Response:
        spool = get_object_or_404(Spool, pk=spool_id)
        data = given(MoistureSerializer, request)
        known = Quantity(data["moisture_pct"], data["plus_minus_pct"] / COVERAGE)
        return Response({"undo": spools.note_moisture(spool, known, data.get("at"))}, status=201)


class UseView(APIView):
    """Note strand that was printed."""

    @extend_schema(request=UseSerializer, responses={201: DoneSerializer, **REFUSALS}, operation_id="use_strand")
    def post(self, request: Request, spool_id: int) -> Response:
        spool = get_object_or_404(Spool, pk=spool_id)
        data = given(UseSerializer, request)
        spread = data["plus_minus_g"]
        sd = spools.PRINTED_SHARE * data["mass_g"] if spread is None else spread / COVERAGE
        undo = spools.use_strand(spool, Quantity(data["mass_g"], sd), data.get("at"), data["note"])
        return Response({"undo": undo}, status=201)


class MoveView(APIView):
    """Put spools somewhere."""

    @extend_schema(request=MoveSerializer, responses={201: DoneSerializer, **REFUSALS}, operation_id="move_spools")
    def post(self, request: Request) -> Response:
        data = given(MoveSerializer, request)
        _, undo = stays.move_spools(data["spools"], data["place"], data.get("at"))
        return Response({"undo": undo}, status=201)


class StayView(APIView):
    """Correct a stay, or take it out."""

    @extend_schema(
        request=CorrectStaySerializer, responses={200: DoneSerializer, **REFUSALS}, operation_id="correct_stay"
    )
    def put(self, request: Request, stay_id: int) -> Response:
        stay = get_object_or_404(Stay.objects.select_related("spool"), pk=stay_id)
        data = given(CorrectStaySerializer, request)
        return Response({"undo": stays.correct_stay(stay, data["place"], data["since"], data["until"])})

    @extend_schema(responses={200: DoneSerializer, **REFUSALS}, operation_id="remove_stay")
    def delete(self, request: Request, stay_id: int) -> Response:
        stay = get_object_or_404(Stay.objects.select_related("spool"), pk=stay_id)
        return Response({"undo": stays.remove_stay(stay)})


class PlaceListView(APIView):
    """Every place; add one."""

    @extend_schema(responses=FullPlaceSerializer(many=True), operation_id="places_list")
    def get(self, request: Request) -> Response:
        return Response(FullPlaceSerializer(Place.objects.all(), many=True).data)

    @extend_schema(
        request=WritePlaceSerializer, responses={201: KeptPlaceSerializer, **REFUSALS}, operation_id="add_place"
    )
    def post(self, request: Request) -> Response:
        place, undo = places.add_place(**given(WritePlaceSerializer, request))
        return Response(KeptPlaceSerializer({"place": place, "undo": undo}).data, status=201)


class PlaceView(APIView):
    """Change or remove a place."""

    @extend_schema(
        request=WritePlaceSerializer, responses={200: KeptPlaceSerializer, **REFUSALS}, operation_id="change_place"
    )
    def put(self, request: Request, place_id: int) -> Response:
        place = get_object_or_404(Place, pk=place_id)
        undo = places.change_place(place, **given(WritePlaceSerializer, request))
        return Response(KeptPlaceSerializer({"place": place, "undo": undo}).data)

    @extend_schema(responses={200: DoneSerializer, **REFUSALS}, operation_id="remove_place")
    def delete(self, request: Request, place_id: int) -> Response:
        return Response({"undo": places.remove_place(get_object_or_404(Place, pk=place_id))})


class FillView(APIView):
    """Put desiccant into a container, or take it out."""

    @extend_schema(request=WriteFillSerializer, responses={201: DoneSerializer, **REFUSALS}, operation_id="fill_place")
    def post(self, request: Request, place_id: int) -> Response:
        place = get_object_or_404(Place, pk=place_id)
        return Response({"undo": places.fill_place(place, **given(WriteFillSerializer, request))}, status=201)


class PackView(APIView):
    """Weigh a container's desiccant."""

    @extend_schema(request=WritePackSerializer, responses={201: DoneSerializer, **REFUSALS}, operation_id="weigh_pack")
    def post(self, request: Request, fill_id: int) -> Response:
        fill = get_object_or_404(DesiccantFill.objects.select_related("place"), pk=fill_id)
        data = given(WritePackSerializer, request)
        undo = places.weigh_pack(fill, data["mass_g"], data["plus_minus_g"] / COVERAGE, data.get("at"))
        return Response({"undo": undo}, status=201)


class RoomReadingView(APIView):
    """Type the room's air."""

    @extend_schema(request=WriteRoomAirSerializer, responses={201: DoneSerializer, **REFUSALS}, operation_id="note_air")
    def post(self, request: Request) -> Response:
        data = given(WriteRoomAirSerializer, request)
        at: datetime = data.get("at") or timezone.now()
        return Response({"undo": note_room_air(at, RoomAir(data["temp_c"], data["rh_pct"]))}, status=201)


class MonthsView(APIView):
    """The room's usual air through the year."""

    @extend_schema(responses=MonthSerializer(many=True), operation_id="months_list")
    def get(self, request: Request) -> Response:
        return Response(MonthSerializer(RoomMonth.objects.all(), many=True).data)

    @extend_schema(request=MonthsSerializer, responses={200: DoneSerializer, **REFUSALS}, operation_id="set_months")
    def put(self, request: Request) -> Response:
        rows = given(MonthsSerializer, request)["months"]
        return Response({"undo": set_months({m["month"]: RoomAir(m["temp_c"], m["rh_pct"]) for m in rows})})
