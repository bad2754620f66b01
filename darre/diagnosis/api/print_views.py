"""Prints and their files, and practice, over HTTP."""

from typing import Any

from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer, given, number_asked, shown
from darre.common.upload import BINARY, plain_name
from darre.diagnosis.actions import practice as practice_acts
from darre.diagnosis.actions.prints import add_print, remove_print, save_file
from darre.diagnosis.api.print_serializers import (
    PrintSerializer,
    ReadFileSerializer,
    SavedPrintSerializer,
    TakesSerializer,
    WritePrintSerializer,
)
from darre.diagnosis.api.table_serializers import (
    AnswerPracticeSerializer,
    BeginPracticeSerializer,
    DoCheckSerializer,
    PracticeRoundSerializer,
    PracticeSerializer,
)
from darre.diagnosis.api.views import DONE, NAME
from darre.diagnosis.models import PracticeRound, Print, PrintFile
from darre.diagnosis.practice import BUDGETS_MIN, OpenRound, practice_sum, read_round
from darre.diagnosis.selectors import prints_of, takes_of
from darre.diagnosis.upload import read_gcode
from drying.materials import material


class PrintFileView(APIView):
    """Read a print file: its bytes are the body. What it says of the print is kept, its text is not."""

    @extend_schema(
        request=BINARY,
        parameters=[NAME],
        responses={201: ReadFileSerializer, 413: ErrorSerializer, **REFUSALS},
        operation_id="read_print_file",
    )
    def put(self, request: Request) -> Response:
        read = read_gcode(request._request)
        known = PrintFile.objects.filter(sha256=read.sha256).exists()
        file = save_file(plain_name(request.query_params.get("name", ""), "print.gcode"), read).record
        return Response(shown(ReadFileSerializer, {"file": file, "known": known}), status=201)


class PrintTakesView(APIView):
    """How much of each spool on the rack a print file would take, and whether that much is on it."""

    @extend_schema(responses={200: TakesSerializer(many=True), 404: ErrorSerializer}, operation_id="print_takes")
    def get(self, request: Request, file_id: int) -> Response:
        file = get_object_or_404(PrintFile, pk=file_id)
        return Response(shown(TakesSerializer, takes_of(file, timezone.now()), many=True))


class PrintListView(APIView):
    """Prints, newest first; note one."""

    @extend_schema(
        parameters=[OpenApiParameter("spool", int)],
        responses={200: PrintSerializer(many=True), 400: ErrorSerializer},
        operation_id="prints_list",
    )
    def get(self, request: Request) -> Response:
        return Response(shown(PrintSerializer, prints_of(number_asked(request, "spool")), many=True))

    @extend_schema(
        request=WritePrintSerializer, responses={201: SavedPrintSerializer, **REFUSALS}, operation_id="add_print"
    )
    def post(self, request: Request) -> Response:
        data = given(WritePrintSerializer, request)
        saved = add_print(
            data["spool"],
            data["name"],
            data.get("at"),
            data["file"],
            data["mass_g"],
            compensated=data["compensated"],
            note=data["note"],
        )
        made, undo = saved.record, saved.undo  # fmt: skip
        return Response(shown(SavedPrintSerializer, {"print": made, "undo": undo}), status=201)


class PrintView(APIView):
    """One print."""

    @extend_schema(responses=DONE, operation_id="remove_print")
    def delete(self, request: Request, print_id: int) -> Response:
        return Response(
            {"undo": remove_print(get_object_or_404(Print.objects.select_related("use"), pk=print_id)).undo}
        )


def _round(seen: OpenRound) -> dict[str, Any]:
    practice = seen.round
    trouble = material(seen.case.material).trouble
    truth = {
        "cause": seen.case.cause,
        "was_water": practice.was_water,
        "stated": practice.stated,
        "table_said": practice.table_said,
    }
    return {
        **{name: getattr(seen, name) for name in ("round", "case", "left_min", "checks_left")},
        "trouble_pct": trouble.value if trouble else None,
        "shown": [{"sign": sign, "seen": was} for sign, was in seen.shown.items()],
        "truth": truth if practice.ended_at else None,
    }


class PracticeView(APIView):
    """Practice: the open round and what all ended ones amount to; begin a round."""

    @extend_schema(responses=PracticeSerializer, operation_id="practice")
    def get(self, request: Request) -> Response:
        left_open = PracticeRound.objects.filter(ended_at=None).first()
        begun = _round(read_round(left_open)) if left_open else None
        shape = {"open": begun, "sum": practice_sum(), "budgets_min": BUDGETS_MIN}
        return Response(shown(PracticeSerializer, shape))

    @extend_schema(
        request=BeginPracticeSerializer,
        responses={201: PracticeRoundSerializer, **REFUSALS},
        operation_id="begin_practice",
    )
    def post(self, request: Request) -> Response:
        begun = practice_acts.begin_round(given(BeginPracticeSerializer, request)["budget_min"])
        return Response(shown(PracticeRoundSerializer, _round(read_round(begun))), status=201)


class PracticeCheckView(APIView):
    """Do a check in a round."""

    @extend_schema(
        request=DoCheckSerializer, responses={200: PracticeRoundSerializer, **REFUSALS}, operation_id="practice_check"
    )
    def post(self, request: Request, round_id: int) -> Response:
        practice = get_object_or_404(PracticeRound, pk=round_id)
        practice_acts.do_check(practice, given(DoCheckSerializer, request)["check"])
        return Response(shown(PracticeRoundSerializer, _round(read_round(practice))))


class PracticeAnswerView(APIView):
    """State one's own chance; the truth is in the answer."""

    @extend_schema(
        request=AnswerPracticeSerializer,
        responses={200: PracticeRoundSerializer, **REFUSALS},
        operation_id="practice_answer",
    )
    def post(self, request: Request, round_id: int) -> Response:
        practice = get_object_or_404(PracticeRound, pk=round_id)
        practice_acts.answer(practice, given(AnswerPracticeSerializer, request)["chance_pct"] / 100.0)
        return Response(shown(PracticeRoundSerializer, _round(read_round(practice))))
