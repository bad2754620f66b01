"""Coils over HTTP."""

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer, given, shown
from darre.common.shapes import UndoSerializer
from darre.inventory.actions.coils import change_coil, cut_coil, remove_coil
from darre.inventory.api.spool_serializers import (
    ChangeCoilSerializer,
    CoilSerializer,
    SavedCoilSerializer,
    WriteCoilSerializer,
)
from darre.inventory.models import Coil, Spool
from darre.inventory.selectors import coils_of


class CoilListView(APIView):
    """The coils of a spool."""

    @extend_schema(responses={200: CoilSerializer(many=True), 404: ErrorSerializer}, operation_id="coils_list")
    def get(self, request: Request, spool_id: int) -> Response:
        return Response(shown(CoilSerializer, coils_of(get_object_or_404(Spool, pk=spool_id)), many=True))

    @extend_schema(
        request=WriteCoilSerializer, responses={201: SavedCoilSerializer, **REFUSALS}, operation_id="cut_coil"
    )
    def post(self, request: Request, spool_id: int) -> Response:
        spool = get_object_or_404(Spool, pk=spool_id)
        return Response(shown(SavedCoilSerializer, cut_coil(spool, **given(WriteCoilSerializer, request))), status=201)


class CoilView(APIView):
    """One coil."""

    @extend_schema(
        request=ChangeCoilSerializer, responses={200: UndoSerializer, **REFUSALS}, operation_id="change_coil"
    )
    def put(self, request: Request, coil_id: int) -> Response:
        coil = get_object_or_404(Coil.objects.select_related("spool"), pk=coil_id)
        data = given(ChangeCoilSerializer, request)
        used_up = (coil.used_up_at or timezone.now()) if data.pop("used_up") else None
        return Response({"undo": change_coil(coil, **data, used_up_at=used_up).undo})

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_coil")
    def delete(self, request: Request, coil_id: int) -> Response:
        coil = get_object_or_404(Coil.objects.select_related("spool"), pk=coil_id)
        return Response({"undo": remove_coil(coil).undo})
