"""The room's air over HTTP."""

from datetime import datetime

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given, shown
from darre.common.shapes import UndoSerializer
from darre.places.actions.room import note_room_air, set_months
from darre.places.api.serializers import MonthSerializer, MonthsSerializer, RoomSerializer, WriteRoomAirSerializer
from darre.places.models import RoomMonth
from darre.places.selectors import room_now
from drying.air import RoomAir


class RoomView(APIView):
    """The room's air now."""

    @extend_schema(responses=RoomSerializer, operation_id="room")
    def get(self, request: Request) -> Response:
        return Response(shown(RoomSerializer, room_now(timezone.now())))


class RoomReadingView(APIView):
    """Type the room's air."""

    @extend_schema(request=WriteRoomAirSerializer, responses={201: UndoSerializer, **REFUSALS}, operation_id="note_air")
    def post(self, request: Request) -> Response:
        data = given(WriteRoomAirSerializer, request)
        at: datetime = data.get("at") or timezone.now()
        return Response({"undo": note_room_air(at, RoomAir(data["temp_c"], data["rh_pct"])).undo}, status=201)


class MonthsView(APIView):
    """The room's usual air through the year."""

    @extend_schema(responses=MonthSerializer(many=True), operation_id="months_list")
    def get(self, request: Request) -> Response:
        return Response(shown(MonthSerializer, RoomMonth.objects.all(), many=True))

    @extend_schema(request=MonthsSerializer, responses={200: UndoSerializer, **REFUSALS}, operation_id="set_months")
    def put(self, request: Request) -> Response:
        rows = given(MonthsSerializer, request)["months"]
        return Response({"undo": set_months({m["month"]: RoomAir(m["temp_c"], m["rh_pct"]) for m in rows}).undo})
