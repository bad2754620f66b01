"""Lanes, plans, runs and weighings over HTTP. Reads go to selectors, writes to actions."""

from typing import Any

from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import ErrorSerializer
from darre.runs.actions.runs import NewRun, end_run, start_run
from darre.runs.actions.weighings import Reading, keep_weighing
from darre.runs.api.serializers import (
    DryerSerializer,
    EndRunSerializer,
    KeepWeighingSerializer,
    KeptSerializer,
    LaneSerializer,
    PlanQuerySerializer,
    PlanSerializer,
    RunListSerializer,
    RunSheetSerializer,
    ScaleSerializer,
    StartedSerializer,
    StartRunSerializer,
)
from darre.runs.models import Dryer, Scale
from darre.runs.selectors import Wanted, get_run, judge_run, lane_of, lanes, plan_run, run_sheet, runs_with_weighings

REFUSALS = {400: ErrorSerializer, 404: ErrorSerializer, 409: ErrorSerializer}
LIST_LENGTH = 100


def _reading(data: dict[str, Any] | None) -> Reading | None:
    if data is None:
        return None
    return Reading(data["scale"], data["gross_g"], data["client_key"], data["note"])


class LaneListView(APIView):
    """Every spool's lane, wettest against its own marks first."""

    @extend_schema(responses=LaneSerializer(many=True), operation_id="lanes_list")
    def get(self, request: Request) -> Response:
        return Response(LaneSerializer(lanes(timezone.now()), many=True).data)


class DryerListView(APIView):
    """Every dryer."""

    @extend_schema(responses=DryerSerializer(many=True), operation_id="dryers_list")
    def get(self, request: Request) -> Response:
        return Response(DryerSerializer(Dryer.objects.all(), many=True).data)


class ScaleListView(APIView):
    """Every scale, finest first."""

    @extend_schema(responses=ScaleSerializer(many=True), operation_id="scales_list")
    def get(self, request: Request) -> Response:
        return Response(ScaleSerializer(Scale.objects.all(), many=True).data)


class PlanView(APIView):
    """A run for a spool in a dryer: ticket, forecast, limits."""

    @extend_schema(
        parameters=[
            OpenApiParameter("spool", int, required=True),
            OpenApiParameter("dryer", int, required=True),
            OpenApiParameter("school", str, enum=["gentle", "usual", "brisk"]),
            OpenApiParameter("form", str, enum=["wound", "loose"], description="as the spool is, where not said"),
            OpenApiParameter("temp_c", str, description="°C at the spool; a comma decimal is fine"),
            OpenApiParameter("duration_h", str, description="h; a comma decimal is fine"),
        ],
        responses={200: PlanSerializer, **REFUSALS},
        operation_id="plan",
    )
    def get(self, request: Request) -> Response:
        query = PlanQuerySerializer(data=request.query_params)
        query.is_valid(raise_exception=True)
        asked, now = query.validated_data, timezone.now()
        lane = lane_of(asked["spool"].id, now)
        wanted = Wanted(asked["school"], asked.get("temp_c"), asked.get("duration_h"), asked["form"])
        plan = plan_run(lane, asked["dryer"], wanted, now)
        return Response(PlanSerializer(plan).data)


class WeighingView(APIView):
    """Keep a weigh-in. The same `client_key` again gives the one that is stored."""

    @extend_schema(
        request=KeepWeighingSerializer,
        responses={200: KeptSerializer, 201: KeptSerializer, **REFUSALS},
        operation_id="keep_weighing",
    )
    def post(self, request: Request) -> Response:
        given = KeepWeighingSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        data = given.validated_data
        reading = _reading(data)
        assert reading is not None
        kept = keep_weighing(data["spool"], reading, data.get("at"))
        return Response(KeptSerializer(kept).data, status=201 if kept.line_id else 200)


class RunListView(APIView):
    """The last runs, newest first; start one."""

    @extend_schema(responses=RunListSerializer(many=True), operation_id="runs_list")
    def get(self, request: Request) -> Response:
        now = timezone.now()
        rows = [{"run": run, "verdict": judge_run(run, now)} for run in runs_with_weighings()[:LIST_LENGTH]]
        return Response(RunListSerializer(rows, many=True).data)

    @extend_schema(
        request=StartRunSerializer,
        responses={200: StartedSerializer, 201: StartedSerializer, **REFUSALS},
        operation_id="start_run",
    )
    def post(self, request: Request) -> Response:
        given = StartRunSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        data = given.validated_data
        started = start_run(
            NewRun(
                spool=data["spool"],
                dryer=data["dryer"],
                school=data["school"],
                form=data["form"],
                temp_c=data["temp_c"],
                duration_h=data["duration_h"],
                override_reason=data["override_reason"],
                weigh_in=_reading(data["weigh_in"]),
                at=data.get("at"),
                client_key=data["client_key"],
            )
        )
        return Response(StartedSerializer(started).data, status=201 if started.line_id else 200)


class RunView(APIView):
    """One run with its verdict, forecast and weighings."""

    @extend_schema(responses={200: RunSheetSerializer, 404: ErrorSerializer}, operation_id="run")
    def get(self, request: Request, run_id: int) -> Response:
        return Response(RunSheetSerializer(run_sheet(get_run(run_id), timezone.now())).data)


class EndRunView(APIView):
    """End a run, with a weigh-out or without."""

    @extend_schema(request=EndRunSerializer, responses={200: StartedSerializer, **REFUSALS}, operation_id="end_run")
    def post(self, request: Request, run_id: int) -> Response:
        given = EndRunSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        ended = end_run(get_run(run_id), _reading(given.validated_data["weigh_out"]), given.validated_data.get("at"))
        return Response(StartedSerializer(ended).data)
