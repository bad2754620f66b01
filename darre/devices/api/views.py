"""Devices, the address that takes their readings, and what is made of them, over HTTP."""

import math
from dataclasses import asdict

from django.http import HttpRequest, JsonResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer, given, given_query, shown
from darre.common.errors import Refusal, refusal_body
from darre.common.shapes import UndoSerializer
from darre.common.tokens import bearer_token
from darre.common.upload import BINARY, MOST_TABLE_BYTES, pieces, plain_name
from darre.devices.actions.devices import add_device, remove_device, renew_token
from darre.devices.actions.imports import import_rows, look_into
from darre.devices.actions.ingest import MOST_BYTES, device_of, take_in
from darre.devices.actions.typed import note_air, remove_air
from darre.devices.actions.winding_probe import probe_in_winding
from darre.devices.api.serializers import (
    AddedDeviceSerializer,
    DeviceSerializer,
    HeardAirSerializer,
    HeardHabitsSerializer,
    HeardIngressSerializer,
    HeardMassSerializer,
    ImportedSerializer,
    ImportSerializer,
    LookedSerializer,
    LookSerializer,
    NoteAirSerializer,
    WindingProbeSerializer,
    WriteDeviceSerializer,
    layout_of,
)
from darre.devices.habits import loggers_in, told_habits, use_habits
from darre.devices.logger_file import UNITS
from darre.devices.models import Device, DeviceKind, Sample
from darre.devices.selectors import devices, live_mass, logged_ingress, run_air, typed_air
from darre.equipment.models import Scale
from darre.places.models import Place
from darre.runs.selectors import get_run

SHOWN_ROWS, SHOWN_BAD = 12, 30


class DeviceListView(APIView):
    """All devices; add one."""

    @extend_schema(responses=DeviceSerializer(many=True), operation_id="devices_list")
    def get(self, request: Request) -> Response:
        return Response(shown(DeviceSerializer, devices(), many=True))

    @extend_schema(
        request=WriteDeviceSerializer, responses={201: AddedDeviceSerializer, **REFUSALS}, operation_id="add_device"
    )
    def post(self, request: Request) -> Response:
        data = given(WriteDeviceSerializer, request)
        device, token = add_device(
            data["name"], DeviceKind(data["kind"]), data.get("dryer"), data.get("scale"), data.get("place")
        )
        return Response(shown(AddedDeviceSerializer, {"device": device, "token": token}), status=201)


class DeviceView(APIView):
    """One device."""

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_device")
    def delete(self, request: Request, device_id: int) -> Response:
        return Response({"undo": remove_device(get_object_or_404(Device, pk=device_id)).undo})


class TokenView(APIView):
    """A new token for a device; the old one counts no more."""

    @extend_schema(request=None, responses={200: AddedDeviceSerializer, **REFUSALS}, operation_id="renew_token")
    def post(self, request: Request, device_id: int) -> Response:
        device = get_object_or_404(Device, pk=device_id)
        token = renew_token(device)
        return Response(shown(AddedDeviceSerializer, {"device": device, "token": token}))


class RunAirView(APIView):
    """What the box air of a run tells, and typing a reading of it."""

    @extend_schema(responses={200: HeardAirSerializer, 404: ErrorSerializer}, operation_id="run_air")
    def get(self, request: Request, run_id: int) -> Response:
        run, now = get_run(run_id), timezone.now()
        return Response(shown(HeardAirSerializer, {"heard": run_air(run, now), "typed": typed_air(run, now)}))

    @extend_schema(request=NoteAirSerializer, responses={201: UndoSerializer, **REFUSALS}, operation_id="note_box_air")
    def post(self, request: Request, run_id: int) -> Response:
        saved = note_air(get_run(run_id), **given(NoteAirSerializer, request))
        return Response({"undo": saved.undo}, status=200 if saved.undo is None else 201)


class TypedAirView(APIView):
    """A reading that somebody typed."""

    @extend_schema(responses={200: UndoSerializer, **REFUSALS}, operation_id="remove_box_air")
    def delete(self, request: Request, reading_id: int) -> Response:
        sample = get_object_or_404(Sample.objects.select_related("device"), pk=reading_id)
        return Response({"undo": remove_air(sample).undo})


class RunHabitsView(APIView):
    """What the loggers in a run's dryer tell of the dryer."""

    @extend_schema(responses={200: HeardHabitsSerializer, 404: ErrorSerializer}, operation_id="run_habits")
    def get(self, request: Request, run_id: int) -> Response:
        run = get_run(run_id)
        times = None if run.warming_log is None else math.exp(run.warming_log)
        heard = {"heard": told_habits(run, timezone.now()), "loggers": loggers_in(run), "warms_times": times}
        return Response(shown(HeardHabitsSerializer, heard))

    @extend_schema(request=None, responses={200: UndoSerializer, **REFUSALS}, operation_id="use_run_habits")
    def post(self, request: Request, run_id: int) -> Response:
        return Response({"undo": use_habits(get_run(run_id)).undo})


class WindingProbeView(APIView):
    """Which logger has its probe in the winding of a run's spool."""

    @extend_schema(
        request=WindingProbeSerializer, responses={200: UndoSerializer, **REFUSALS}, operation_id="set_winding_probe"
    )
    def put(self, request: Request, run_id: int) -> Response:
        device = given(WindingProbeSerializer, request)["device"]
        return Response({"undo": probe_in_winding(get_run(run_id), device).undo})


class PlaceIngressView(APIView):
    """What leaks into a container, by the humidity that a logger in it saw."""

    @extend_schema(responses={200: HeardIngressSerializer, 404: ErrorSerializer}, operation_id="logged_ingress")
    def get(self, request: Request, place_id: int) -> Response:
        place = get_object_or_404(Place, pk=place_id)
        return Response(shown(HeardIngressSerializer, {"heard": logged_ingress(place, timezone.now())}))


class LiveMassView(APIView):
    """What a scale that sends its own readings shows now."""

    @extend_schema(responses={200: HeardMassSerializer, 404: ErrorSerializer}, operation_id="live_mass")
    def get(self, request: Request, scale_id: int) -> Response:
        scale = get_object_or_404(Scale, pk=scale_id)
        return Response(shown(HeardMassSerializer, {"heard": live_mass(scale, timezone.now())}))


_LAYOUT = OpenApiParameter("layout", str, description="How to read it, as JSON: the layout of the answer.")
_ZONE = OpenApiParameter("zone", str, required=True, description="Of times without an offset, such as Europe/London.")
_REFUSED = {413: ErrorSerializer, **REFUSALS}


def _sent(request: Request) -> bytes:
    return b"".join(pieces(request._request, MOST_TABLE_BYTES))


class LookView(APIView):
    """Look into a logger's file, whose bytes are the body: nothing is stored."""

    @extend_schema(
        request=BINARY, parameters=[_ZONE, _LAYOUT], responses={200: LookedSerializer, **_REFUSED},
        operation_id="look_into_file",
    )  # fmt: skip
    def put(self, request: Request) -> Response:
        data = given_query(LookSerializer, request)
        looked = look_into(_sent(request), data["zone"], layout_of(data["layout"]))
        shape = {
            "encoding": looked.encoding,
            "layout": looked.layout,
            "units": {meaning: list(units) for meaning, units in UNITS.items()},
            "rows": looked.rows[:SHOWN_ROWS],
            "count": len(looked.rows),
            "first": min((r.at for r in looked.rows), default=None),
            "last": max((r.at for r in looked.rows), default=None),
            "bad": looked.bad[:SHOWN_BAD],
            "bad_count": len(looked.bad),
        }
        return Response(shown(LookedSerializer, shape))


class ImportView(APIView):
    """Store a logger's file, whose bytes are the body, as it was shown."""

    @extend_schema(
        request=BINARY,
        parameters=[_ZONE, _LAYOUT, OpenApiParameter("device", int, required=True),
                    OpenApiParameter("name", str, required=True)],
        responses={201: ImportedSerializer, **_REFUSED}, operation_id="import_file",
    )  # fmt: skip
    def put(self, request: Request) -> Response:
        data = given_query(ImportSerializer, request)
        looked = look_into(_sent(request), data["zone"], layout_of(data["layout"]))
        stored = import_rows(data["device"], plain_name(data["name"], "file"), looked)
        return Response(shown(ImportedSerializer, stored), status=201)


def _refused(refusal: Refusal) -> JsonResponse:
    answer = JsonResponse(refusal_body(refusal), status=refusal.status)
    if refusal.status == 429 and refusal.extra:
        answer["Retry-After"] = str(refusal.extra["retry_after_s"])
    return answer


@csrf_exempt
def ingest(request: HttpRequest) -> JsonResponse:
    """Take readings in: POST JSON {"sent_at", "readings": [{"at", "temp_c", "rh_pct", "mass_g", "energy_kwh"}]} with
    the header Authorization: Bearer TOKEN. A plain view: it is asked many times a second.
    """
    try:
        if request.method != "POST":
            raise Refusal("not_allowed", "Readings are sent by POST.", status=405)
        device = device_of(bearer_token(request))
        if int(request.headers.get("Content-Length") or 0) > MOST_BYTES:
            raise Refusal("too_much", f"A delivery holds at most {MOST_BYTES} bytes: send fewer at a time.", status=413)
        taken = take_in(device, request.body)
    except Refusal as refusal:
        return _refused(refusal)
    return JsonResponse(asdict(taken))
