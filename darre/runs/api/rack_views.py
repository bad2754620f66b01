"""The rack over time, a spool's page and label, keeping, and the first run, over HTTP."""

import io
from urllib.parse import urljoin

import segno
from django.http import Http404
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer
from darre.runs.actions.first_run import FirstWorkshop, begin
from darre.runs.api.rack_serializers import (
    BegunSerializer,
    FirstRunSerializer,
    HoldingSerializer,
    LabelSerializer,
    RackSerializer,
    SpoolPageSerializer,
)
from darre.runs.keep import keep
from darre.runs.rack import rack
from darre.runs.spool_page import spool_page
from darre.workshop.models import Spool

SPANS_H = {"day": 24, "week": 168, "weeks": 504, "season": 2160}


class RackView(APIView):
    """Every spool's lane over a span of time, wettest against its own marks first."""

    @extend_schema(
        responses=RackSerializer,
        operation_id="rack",
        parameters=[
            OpenApiParameter("span", str, enum=list(SPANS_H), description="How far back; weeks: three."),
            OpenApiParameter("spool", int, description="Only this spool's lane."),
        ],
    )
    def get(self, request: Request) -> Response:
        back_h = SPANS_H.get(request.query_params.get("span", ""), SPANS_H["weeks"])
        asked = request.query_params.get("spool", "")
        only = [int(asked)] if asked.isdecimal() else None
        return Response(RackSerializer(rack(timezone.now(), back_h, only)).data)


class SpoolPageView(APIView):
    """A spool's whole story, and what may come of it."""

    @extend_schema(responses={200: SpoolPageSerializer, 404: ErrorSerializer}, operation_id="spool_page")
    def get(self, request: Request, spool_id: int) -> Response:
        return Response(SpoolPageSerializer(spool_page(spool_id, timezone.now())).data)


class LabelView(APIView):
    """The code for a spool's label: it leads to the spool's page on this very address."""

    @extend_schema(responses={200: LabelSerializer, 404: ErrorSerializer}, operation_id="label")
    def get(self, request: Request, spool_id: int) -> Response:
        if not Spool.objects.filter(pk=spool_id).exists():
            raise Http404
        address = urljoin(request.build_absolute_uri("/"), f"spools/{spool_id}")
        out = io.BytesIO()
        segno.make(address, error="m", micro=False).save(out, kind="svg", border=0, xmldecl=False, svgns=True)
        return Response({"spool": spool_id, "svg": out.getvalue().decode()})


class KeepView(APIView):
    """Every container, with two weeks back and two ahead."""

    @extend_schema(responses=HoldingSerializer(many=True), operation_id="keep")
    def get(self, request: Request) -> Response:
        return Response(HoldingSerializer(keep(timezone.now()), many=True).data)


class FirstRunView(APIView):
    """Begin an empty workshop: room, spool, dryer and scale at once."""

    @extend_schema(request=FirstRunSerializer, responses={201: BegunSerializer, **REFUSALS}, operation_id="first_run")
    def post(self, request: Request) -> Response:
        given = FirstRunSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        spool, dryer = begin(FirstWorkshop(**given.validated_data))
        return Response({"spool": spool.pk, "dryer": dryer.pk}, status=201)
