"""Runs and weighings over HTTP. Reads go to selectors, writes to actions."""

from typing import Any

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer, given, shown
from darre.common.shapes import UndoSerializer
from darre.inventory.material_book import material_book
from darre.runs.actions.left_in import LeftIn
from darre.runs.actions.runs import end_run
from darre.runs.actions.weighings import Reading, correct_weighing, remove_weighing, save_weighing
from darre.runs.api.serializers import (
    CorrectWeighingSerializer,
    EndRunSerializer,
    RunListSerializer,
    RunSheetSerializer,
    SavedRunSerializer,
    SavedWeighingSerializer,
    SaveWeighingSerializer,
)
from darre.runs.models import Weighing
from darre.runs.records import runs_with_weighings
from darre.runs.selectors import get_run, judge_run, run_sheet

LIST_LENGTH = 100


def reading_of(data: dict[str, Any] | None) -> Reading | None:
    """A scale reading out of its validated data."""
    if data is None:
        return None
    names = ("scale", "gross_g", "client_key", "note", "weighed_object", "length_m", "coil", "warm", "surface_wet",
             "doubtful", "printed_g")  # fmt: skip
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
        return Response(shown(SavedWeighingSerializer, kept), status=201 if kept.undo else 200)


class OneWeighingView(APIView):
    """A weighing that is stored: put it right, or remove it."""

    @extend_schema(
        request=CorrectWeighingSerializer,
        responses={200: SavedWeighingSerializer, **REFUSALS},
        operation_id="correct_weighing",
    )
    def put(self, request: Request, weighing_id: int) -> Response:
        weighing = get_object_or_404(Weighing.objects.select_related("spool__empty_spool", "run"), pk=weighing_id)
        data = given(CorrectWeighingSerializer, request)
        reading = reading_of(data)
        assert reading is not None
        return Response(shown(SavedWeighingSerializer, correct_weighing(weighing, reading, data["at"])))

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_weighing")
    def delete(self, request: Request, weighing_id: int) -> Response:
        weighing = get_object_or_404(Weighing.objects.select_related("spool"), pk=weighing_id)
        return Response({"undo": remove_weighing(weighing).undo})


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
        rows = [
            {"run": run, "material_short": book[run.spool.material].short, "verdict": judge_run(run, book, now)}
            for run in wanted[:LIST_LENGTH]
        ]
        return Response(shown(RunListSerializer, rows, many=True))


_SHEET = RunSheetSerializer()  # made once: an open page polls, and making it takes a tenth of an answer


class RunView(APIView):
    """One run with its verdict, forecast and weighings."""

    @extend_schema(responses={200: RunSheetSerializer, 404: ErrorSerializer}, operation_id="run")
    def get(self, request: Request, run_id: int) -> Response:
        return Response(_SHEET.to_representation(run_sheet(get_run(run_id), timezone.now())))


class EndRunView(APIView):
    """End a run, with a last weighing or without."""

    @extend_schema(request=EndRunSerializer, responses={200: SavedRunSerializer, **REFUSALS}, operation_id="end_run")
    def post(self, request: Request, run_id: int) -> Response:
        data = given(EndRunSerializer, request)
        left = LeftIn(data["hold_c"]) if data["left_in"] else None
        ended = end_run(get_run(run_id), reading_of(data["weigh_out"]), data.get("at"), left)
        return Response(shown(SavedRunSerializer, ended))
