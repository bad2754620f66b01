"""The rack over time, a spool's page and label, keeping, and the first run, over HTTP."""

from collections.abc import Callable
from datetime import datetime

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from darre.common.api import ErrorSerializer, number_asked, shown
from darre.moisture.api.lane_serializers import LaneSerializer, written_lane
from darre.moisture.api.serializers import HoldingSerializer, RackSerializer, SpoolPageSerializer
from darre.moisture.lanes import lanes
from darre.moisture.rack import rack
from darre.moisture.spool_page import spool_page
from darre.moisture.state import shared_answer
from darre.moisture.storage import storage

SPANS_H = {"day": 24, "week": 168, "weeks": 504, "season": 2160}


class RackView(APIView):
    """Every spool's lane over a span of time, wettest against its own thresholds first."""

    @extend_schema(
        responses={200: RackSerializer, 400: ErrorSerializer},
        operation_id="rack",
        parameters=[
            OpenApiParameter("span", str, enum=list(SPANS_H), description="How far back; weeks: three."),
            OpenApiParameter("spool", int, description="Only this spool's lane."),
        ],
    )
    def get(self, request: Request) -> HttpResponse:
        back_h = SPANS_H.get(request.query_params.get("span", ""), SPANS_H["weeks"])
        spool, now = number_asked(request, "spool"), timezone.now()
        only = None if spool is None else [spool]
        return _shared(("rack", back_h, spool), now, lambda: shown(RackSerializer, rack(now, back_h, only)))


class SpoolPageView(APIView):
    """A spool's moisture history, and what may come of it."""

    @extend_schema(responses={200: SpoolPageSerializer, 404: ErrorSerializer}, operation_id="spool_page")
    def get(self, request: Request, spool_id: int) -> HttpResponse:
        now = timezone.now()
        return _shared(("spool page", spool_id), now, lambda: shown(SpoolPageSerializer, spool_page(spool_id, now)))


class StorageView(APIView):
    """Every container, with two weeks back and two ahead."""

    @extend_schema(responses=HoldingSerializer(many=True), operation_id="storage")
    def get(self, request: Request) -> HttpResponse:
        now = timezone.now()
        return _shared(("storage",), now, lambda: shown(HoldingSerializer, storage(now), many=True))


class LaneListView(APIView):
    """Every spool's lane, wettest against its own thresholds first."""

    @extend_schema(responses=LaneSerializer(many=True), operation_id="lanes_list")
    def get(self, request: Request) -> HttpResponse:
        now = timezone.now()
        return _shared(("lanes",), now, lambda: [written_lane(lane) for lane in lanes(now)])


def _shared(name: tuple[object, ...], now: datetime, shape: Callable[[], object]) -> HttpResponse:
    """An answer that was worked out once for all who ask it now."""
    return HttpResponse(shared_answer(name, now, shape), content_type="application/json")
