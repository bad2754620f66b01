"""Spools that are used up, over HTTP."""

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given, shown
from darre.common.fields import TypedNumber
from darre.common.shapes import UndoSerializer
from darre.inventory.models import Spool
from darre.places.actions.arrivals import restore_spool
from darre.runs.actions.used_up import use_up


class UseUpSerializer(serializers.Serializer):
    """A spool is used up; `empty_g` is what its empty spool weighs, where it was weighed."""

    empty_g = TypedNumber(unit="g", low=1, high=20000, required=False, allow_null=True, default=None)


class UsedUpSerializer(serializers.Serializer):
    """`corrected`: spools of the same make that count from this empty spool now; `undo` as everywhere."""

    corrected = serializers.ListField(child=serializers.CharField())
    undo = serializers.IntegerField()


class UsedUpView(APIView):
    """Take a spool that is used up off the rack, or put it there again."""

    @extend_schema(request=UseUpSerializer, responses={200: UsedUpSerializer, **REFUSALS}, operation_id="use_up")
    def post(self, request: Request, spool_id: int) -> Response:
        saved = use_up(get_object_or_404(Spool, pk=spool_id), **given(UseUpSerializer, request))
        corrected = [brother.name for brother in saved.record]
        return Response(shown(UsedUpSerializer, {"corrected": corrected, "undo": saved.undo}))

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="restore_spool")
    def delete(self, request: Request, spool_id: int) -> Response:
        return Response({"undo": restore_spool(get_object_or_404(Spool, pk=spool_id)).undo})
