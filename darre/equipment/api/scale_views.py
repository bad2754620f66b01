"""Scales over HTTP."""

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given, shown
from darre.common.shapes import UndoSerializer
from darre.equipment.actions.scales import add_scale, remove_scale
from darre.equipment.api.serializers import (
    SavedScaleSerializer,
    ScaleSerializer,
    WriteScaleSerializer,
)
from darre.equipment.models import Scale


class ScaleListView(APIView):
    """Every scale, finest first; add one."""

    @extend_schema(responses=ScaleSerializer(many=True), operation_id="scales_list")
    def get(self, request: Request) -> Response:
        return Response(shown(ScaleSerializer, Scale.objects.all(), many=True))

    @extend_schema(
        request=WriteScaleSerializer, responses={201: SavedScaleSerializer, **REFUSALS}, operation_id="add_scale"
    )
    def post(self, request: Request) -> Response:
        saved = add_scale(Scale(**given(WriteScaleSerializer, request)))
        scale, undo = saved.record, saved.undo
        return Response(shown(SavedScaleSerializer, {"scale": scale, "undo": undo}), status=201)


class ScaleView(APIView):
    """Remove a scale that nothing was weighed on."""

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_scale")
    def delete(self, request: Request, scale_id: int) -> Response:
        return Response({"undo": remove_scale(get_object_or_404(Scale, pk=scale_id)).undo})
