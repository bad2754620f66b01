"""Plans and the drying map over HTTP."""

from datetime import datetime
from typing import Any

from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer, given, given_query, shown
from darre.common.shapes import UndoSerializer
from darre.planning.actions.change_run import change_run
from darre.planning.actions.start_run import NewBatch, start_run
from darre.planning.api.serializers import (
    AlternativeSerializer,
    ChangeRunSerializer,
    MapSerializer,
    PlanQuerySerializer,
    PlanSerializer,
    StartRunSerializer,
    map_shape,
)
from darre.planning.plans import Planned, Wanted, chart, plan_run, planned, what_could
from darre.runs.api.serializers import SavedRunsSerializer
from darre.runs.api.views import reading_of
from darre.runs.selectors import get_run
from drying.planning import METHODS

ASKED = [
    OpenApiParameter("spool", int, required=True),
    OpenApiParameter("co_dried", str, description="numbers of spools that go in with it, separated by commas"),
    OpenApiParameter("dryer", int, description="the best of all where not said"),
    OpenApiParameter("form", str, enum=["wound", "loose"], description="as the spool is, where not said"),
    OpenApiParameter(
        "aim_pct", str, description="where drying is to end, % of dry mass; the clean threshold where not said"
    ),
    OpenApiParameter("temp_c", str, description="°C at the spool; a comma decimal is fine"),
    OpenApiParameter("duration_h", str, description="h; a comma decimal is fine"),
]
ANSWERS = {400: ErrorSerializer, 404: ErrorSerializer}


def _asked(request: Request, now: datetime) -> tuple[Planned, Wanted, dict[str, Any]]:
    asked = given_query(PlanQuerySerializer, request)
    wanted = Wanted(
        method=asked["method"],
        temp_c=asked.get("temp_c"),
        duration_h=asked.get("duration_h"),
        form=asked["form"],
        aim_pct=asked.get("aim_pct"),
        ready_in_h=asked["ready_in_h"],
    )
    return planned([asked["spool"].id, *asked["co_dried"]], asked["dryer"], wanted, now), wanted, asked


class PlanView(APIView):
    """A run for one or several spools in a dryer: ticket, forecast, limits, cost."""

    @extend_schema(
        parameters=[
            *ASKED,
            OpenApiParameter("method", str, enum=list(METHODS)),
            OpenApiParameter("ready_in_h", str, description="h from now; counts for the way ready_by"),
            OpenApiParameter("start", str, description="moment with its zone offset; tells the hours of the tariff"),
        ],
        responses={200: PlanSerializer, **ANSWERS},
        operation_id="plan",
    )
    def get(self, request: Request) -> Response:
        now = timezone.now()
        batch, wanted, asked = _asked(request, now)
        return Response(shown(PlanSerializer, plan_run(batch, wanted, asked.get("start") or timezone.localtime(now))))


class MapView(APIView):
    """The drying map: what is left over temperature × hours, and where not to go."""

    @extend_schema(parameters=ASKED, responses={200: MapSerializer, **ANSWERS}, operation_id="plan_map")
    def get(self, request: Request) -> Response:
        batch, wanted, _ = _asked(request, timezone.now())
        return Response(map_shape(chart(batch, wanted)))


class AlternativesView(APIView):
    """What else could do it where this dryer cannot: asked for after the plan, which is there sooner without it."""

    @extend_schema(
        parameters=ASKED, responses={200: AlternativeSerializer(many=True), **ANSWERS}, operation_id="plan_alternatives"
    )
    def get(self, request: Request) -> Response:
        batch, _, _ = _asked(request, timezone.now())
        return Response(shown(AlternativeSerializer, what_could(batch), many=True))


class ChangeRunView(APIView):
    """Change what is running: longer, shorter, hotter, cooler."""

    @extend_schema(request=ChangeRunSerializer, responses={201: UndoSerializer, **REFUSALS}, operation_id="change_run")
    def post(self, request: Request, run_id: int) -> Response:
        data = given(ChangeRunSerializer, request)
        reason = data["override_reason"]
        changed = change_run(get_run(run_id), data["temp_c"], data["duration_h"], data.get("at"), reason)
        return Response({"undo": changed.undo}, status=201)


class StartRunView(APIView):
    """Start the run that was planned."""

    @extend_schema(
        request=StartRunSerializer,
        responses={200: SavedRunsSerializer, 201: SavedRunsSerializer, **REFUSALS},
        operation_id="start_run",
    )
    def post(self, request: Request) -> Response:
        data = given(StartRunSerializer, request)
        spools = list(dict.fromkeys([data.pop("spool"), *data.pop("co_dried")]))
        given_readings = {row["spool"].pk: reading_of(row) for row in data.pop("readings")}
        readings = {pk: reading for pk, reading in given_readings.items() if reading is not None}
        started = start_run(NewBatch(**data, spools=spools, readings=readings))
        return Response(shown(SavedRunsSerializer, started), status=201 if started.undo else 200)
