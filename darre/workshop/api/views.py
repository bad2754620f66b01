"""The workshop over HTTP."""

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.workshop.api.serializers import MaterialSerializer, RoomSerializer
from darre.workshop.selectors import room_now
from drying.materials import all_materials


class MaterialListView(APIView):
    """Every material, with the source and spread of each value."""

    @extend_schema(responses=MaterialSerializer(many=True), operation_id="materials_list")
    def get(self, request: Request) -> Response:
        return Response(MaterialSerializer(list(all_materials().values()), many=True).data)


class RoomView(APIView):
    """The room's air now."""

    @extend_schema(responses=RoomSerializer, operation_id="room")
    def get(self, request: Request) -> Response:
        return Response(RoomSerializer(room_now(timezone.now())).data)
