"""The air of trials over HTTP."""

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given
from darre.common.shapes import UndoSerializer
from darre.trials.actions import air as acts
from darre.trials.api.air_serializers import NewAirNoteSerializer
from darre.trials.models import AirNote
from darre.trials.selectors import get_trial


class TrialAirView(APIView):
    """Note what a meter beside the samples shows."""

    @extend_schema(
        request=NewAirNoteSerializer,
        responses={200: UndoSerializer, 201: UndoSerializer, **REFUSALS},
        operation_id="note_trial_air",
    )
    def post(self, request: Request, trial_id: int) -> Response:
        saved = acts.note_air(get_trial(trial_id), **given(NewAirNoteSerializer, request))
        return Response({"undo": saved.undo}, status=200 if saved.undo is None else 201)


class AirNoteView(APIView):
    """One such reading."""

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_trial_air")
    def delete(self, request: Request, note_id: int) -> Response:
        note = get_object_or_404(AirNote.objects.select_related("trial"), pk=note_id)
        return Response({"undo": acts.remove_air(note).undo})
