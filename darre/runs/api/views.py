"""Runs and weighings over HTTP. Reads go to selectors, writes to actions."""

from typing import Any

from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer, given
from darre.inventory.material_book import material_book
from darre.runs.actions.runs import end_run
from darre.runs.actions.weighings import Reading, save_weighing
from darre.runs.api.serializers import (
    EndRunSerializer,
    RunListSerializer,
    RunSheetSerializer,
    SavedRunSerializer,
    SavedWeighingSerializer,
    SaveWeighingSerializer,
)
from darre.runs.records import runs_with_weighings
from darre.runs.selectors import get_run, judge_run, run_sheet

LIST_LENGTH = 100


def reading_of(data: dict[str, Any] | None) -> Reading | None:
    """A scale reading out of its validated data."""
    if data is None:
        return None
    names = ("scale", "gross_g", "client_key", "note", "weighed_object", "length_m", "warm", "surface_wet")
    return Reading(**{name: data[name] for name in names})


class WeighingView(APIView):
    """Keep a weigh-in. The same `client_key` again gives the one that is stored."""

    @extend_schema(
        request=SaveWeighingSerializer,
        responses={200: SavedWeighingSerializer, 201: SavedWeighingSerializer, **REFUSALS},
        operation_id="save_weighing",
    )
    def post(self, request: Request) -> Response:
        data = given(SaveWeighingSerializer, request)
        reading = reading_of(data)
        assert reading is not None
        kept = save_weighing(data["spool"], reading, data.get("at"))
        return Response(SavedWeighingSerializer(kept).data, status=201 if kept.undo else 200)


class RunListView(APIView):
    """The last runs, newest first."""

    @extend_schema(
        responses=RunListSerializer(many=True),
        operation_id="runs_list",
        parameters=[OpenApiParameter("running", bool, description="Only those that go on.")],
    )
    def get(self, request: Request) -> Response:
        now, book = timezone.now(), material_book()
        wanted = runs_with_weighings()
        if request.query_params.get("running") == "true":
            wanted = wanted.filter(ended_at__isnull=True)
        runs = [(run, book[run.spool.material]) for run in wanted[:LIST_LENGTH]]
        rows = [{"run": run, "material_short": it.short, "verdict": judge_run(run, it, now)} for run, it in runs]
        return Response(RunListSerializer(rows, many=True).data)


class RunView(APIView):
    """One run with its verdict, forecast and weighings."""

    @extend_schema(responses={200: RunSheetSerializer, 404: ErrorSerializer}, operation_id="run")
    def get(self, request: Request, run_id: int) -> Response:
        return Response(RunSheetSerializer(run_sheet(get_run(run_id), timezone.now())).data)


class EndRunView(APIView):
    """End a run, with a last weighing or without."""

    @extend_schema(request=EndRunSerializer, responses={200: SavedRunSerializer, **REFUSALS}, operation_id="end_run")
    def post(self, request: Request, run_id: int) -> Response:
        data = given(EndRunSerializer, request)
        ended = end_run(get_run(run_id), reading_of(data["weigh_out"]), data.get("at"))
        return Response(SavedRunSerializer(ended).data)
