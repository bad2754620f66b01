"""Ladders of prints over HTTP."""

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given, given_query, shown
from darre.common.shapes import UndoSerializer
from darre.trials.actions import ladders as acts
from darre.trials.api import serializers as shapes
from darre.trials.models import Rung, RungPrint
from darre.trials.selectors import prior_of
from drying.quantity import COVERAGE, Quantity
from drying.trials import design_ladder, least_ladder

USUAL_RUNGS, USUAL_PRINTS = 5, 4


class LaddersView(APIView):
    """Beginning a ladder."""

    @extend_schema(
        request=shapes.NewLadderSerializer,
        responses={201: shapes.SavedTrialSerializer, **REFUSALS},
        operation_id="begin_ladder",
    )
    def post(self, request: Request) -> Response:
        data = given(shapes.NewLadderSerializer, request)
        rungs = [Quantity(r["moisture_pct"], r["plus_minus_pct"] / COVERAGE) for r in data["rungs"]]
        saved = acts.begin_ladder(data["spool"], rungs, data["note"])
        return Response(shown(shapes.SavedTrialSerializer, saved), status=201)


class LadderDesignView(APIView):
    """What a ladder that somebody thinks of would tell."""

    @extend_schema(
        parameters=[
            OpenApiParameter("spool", int, required=True),
            OpenApiParameter("rungs", int, description="the fewest prints that tell, where neither is said"),
            OpenApiParameter("prints", int),
        ],
        responses={200: shapes.LadderDesignSerializer, **REFUSALS},
        operation_id="ladder_design",
    )
    def get(self, request: Request) -> Response:
        asked = given_query(shapes.LadderQuerySerializer, request)
        before = prior_of(asked["spool"])
        if asked["rungs"] is None and asked["prints"] is None:
            found = least_ladder(before)
        else:
            found = design_ladder(before, asked["rungs"] or USUAL_RUNGS, asked["prints"] or USUAL_PRINTS)
        told = {**vars(found), "tells": found.tells, "before_pct": before.mark_pct, "before_factor": before.factor}
        return Response(shown(shapes.LadderDesignSerializer, told))


class RungPrintsView(APIView):
    """Rating a print."""

    @extend_schema(
        request=shapes.RatedSerializer,
        responses={200: UndoSerializer, 201: UndoSerializer, **REFUSALS},
        operation_id="rate_print",
    )
    def post(self, request: Request, rung_id: int) -> Response:
        rung = get_object_or_404(Rung.objects.select_related("trial"), pk=rung_id)
        saved = acts.rate_print(rung, **given(shapes.RatedSerializer, request))
        return Response({"undo": saved.undo}, status=200 if saved.undo is None else 201)


class RungPrintView(APIView):
    """A rated print."""

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_rung_print")
    def delete(self, request: Request, print_id: int) -> Response:
        found = get_object_or_404(RungPrint.objects.select_related("rung"), pk=print_id)
        return Response({"undo": acts.remove_print(found).undo})
