"""Dryers, their probe pairs, and scales over HTTP."""

from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given, shown
from darre.common.saved import Saved
from darre.common.shapes import UndoSerializer
from darre.equipment.actions.dryers import (
    add_dryer,
    add_probe,
    remove_dryer,
    remove_probe,
    set_in_service,
    update_dryer,
)
from darre.equipment.api.serializers import (
    DryerKindSerializer,
    DryerSerializer,
    InServiceSerializer,
    SavedDryerSerializer,
    WriteDryerSerializer,
    WriteProbeSerializer,
    kind_shapes,
)
from darre.equipment.models import Dryer, ProbePair
from darre.equipment.records import dryers
from drying.dryers import calibration


def _kept(dryer_id: int, saved: Saved[Any], status: int = 200) -> Response:
    return Response(
        shown(SavedDryerSerializer, {"dryer": dryers().get(pk=dryer_id), "undo": saved.undo}), status=status
    )


class DryerListView(APIView):
    """Every dryer; add one."""

    @extend_schema(responses=DryerSerializer(many=True), operation_id="dryers_list")
    def get(self, request: Request) -> Response:
        return Response(shown(DryerSerializer, dryers(), many=True))

    @extend_schema(
        request=WriteDryerSerializer, responses={201: SavedDryerSerializer, **REFUSALS}, operation_id="add_dryer"
    )
    def post(self, request: Request) -> Response:
        saved = add_dryer(Dryer(**given(WriteDryerSerializer, request)))
        return _kept(saved.record.pk, saved, 201)


class DryerView(APIView):
    """Change or remove a dryer."""

    @extend_schema(
        request=WriteDryerSerializer, responses={200: SavedDryerSerializer, **REFUSALS}, operation_id="change_dryer"
    )
    def put(self, request: Request, dryer_id: int) -> Response:
        dryer = get_object_or_404(dryers(), pk=dryer_id)
        return _kept(dryer_id, update_dryer(dryer, **given(WriteDryerSerializer, request)))

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_dryer")
    def delete(self, request: Request, dryer_id: int) -> Response:
        return Response({"undo": remove_dryer(get_object_or_404(Dryer, pk=dryer_id)).undo})


class InServiceView(APIView):
    """Take a dryer out of service, or put it back."""

    @extend_schema(
        request=InServiceSerializer, responses={200: SavedDryerSerializer, **REFUSALS}, operation_id="set_in_service"
    )
    def put(self, request: Request, dryer_id: int) -> Response:
        dryer = get_object_or_404(dryers(), pk=dryer_id)
        return _kept(dryer_id, set_in_service(dryer, **given(InServiceSerializer, request)))


class ProbeListView(APIView):
    """Note a probe pair of a dryer."""

    @extend_schema(
        request=WriteProbeSerializer, responses={201: SavedDryerSerializer, **REFUSALS}, operation_id="add_probe"
    )
    def post(self, request: Request, dryer_id: int) -> Response:
        dryer = get_object_or_404(Dryer, pk=dryer_id)
        data = given(WriteProbeSerializer, request)
        pair = calibration.ProbePair(data["set_c"], data["air_c"], data.get("room_c"))
        return _kept(dryer_id, add_probe(dryer, pair), 201)


class ProbeView(APIView):
    """Forget a probe pair."""

    @extend_schema(responses={200: SavedDryerSerializer, **REFUSALS}, operation_id="remove_probe")
    def delete(self, request: Request, probe_id: int) -> Response:
        probe = get_object_or_404(ProbePair.objects.select_related("dryer"), pk=probe_id)
        return _kept(probe.dryer_id, remove_probe(probe))


class DryerKindListView(APIView):
    """Every kind of dryer, with what is usual for it."""

    @extend_schema(responses=DryerKindSerializer(many=True), operation_id="dryer_kinds_list")
    def get(self, request: Request) -> Response:
        return Response(shown(DryerKindSerializer, kind_shapes(), many=True))
