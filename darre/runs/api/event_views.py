"""What happens in a run, over HTTP."""

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given, shown
from darre.common.fields import Moment, TypedNumber
from darre.common.shapes import UndoSerializer
from darre.runs.actions.events import NewEvent, note_energy, note_event, remove_event
from darre.runs.api.serializers import EventSerializer
from darre.runs.models import Batch, EventKind, RunEvent
from darre.runs.records import is_paused
from darre.runs.selectors import get_run


class WriteEventSerializer(serializers.Serializer):
    """What happened, when, and for how many minutes where that counts; `out_at`: when the timer had run out."""

    # A changed plan is written by an act of its own, which asks whether the spools stand it.
    kind = serializers.ChoiceField(choices=[c for c in EventKind.choices if c[0] != EventKind.CHANGED])
    at = Moment(required=False)
    out_at = Moment(required=False, allow_null=True, default=None)
    minutes = TypedNumber(unit="min", low=0, high=10000, required=False, allow_null=True, default=None)
    note = serializers.CharField(max_length=200, required=False, allow_blank=True, default="")


class EventsNowSerializer(UndoSerializer):
    """Done; what has happened in the run so far, and whether it is paused now."""

    paused = serializers.BooleanField()
    events = EventSerializer(many=True)


def _events_now(batch_id: int, undo: int | None, status: int = 200) -> Response:
    batch = Batch.objects.prefetch_related("events").get(pk=batch_id)
    going = batch.runs.filter(ended_at__isnull=True).exists()
    now = {"undo": undo, "paused": going and is_paused(batch), "events": batch.events.all()}
    return Response(shown(EventsNowSerializer, now), status=status)


class EnergySerializer(serializers.Serializer):
    """What the meter showed, kWh."""

    start_kwh = TypedNumber(unit="kWh", low=0, high=1e7, required=False, allow_null=True, default=None)
    end_kwh = TypedNumber(unit="kWh", low=0, high=1e7, required=False, allow_null=True, default=None)


class EventListView(APIView):
    """Note what happened in a run."""

    @extend_schema(
        request=WriteEventSerializer, responses={201: EventsNowSerializer, **REFUSALS}, operation_id="note_event"
    )
    def post(self, request: Request, run_id: int) -> Response:
        data = given(WriteEventSerializer, request)
        data["kind"] = EventKind(data["kind"])
        run = get_run(run_id)
        return _events_now(run.batch_id, note_event(run, NewEvent(**data)).undo, status=201)


class EventView(APIView):
    """One event of a run."""

    @extend_schema(responses={200: EventsNowSerializer, **REFUSALS}, operation_id="remove_event")
    def delete(self, request: Request, event_id: int) -> Response:
        event = get_object_or_404(RunEvent.objects.select_related("batch"), pk=event_id)
        return _events_now(event.batch_id, remove_event(event).undo)


class EnergyView(APIView):
    """The meter's readings of a run."""

    @extend_schema(request=EnergySerializer, responses={200: UndoSerializer, **REFUSALS}, operation_id="note_energy")
    def put(self, request: Request, run_id: int) -> Response:
        data = given(EnergySerializer, request)
        return Response({"undo": note_energy(get_run(run_id), data["start_kwh"], data["end_kwh"]).undo})
