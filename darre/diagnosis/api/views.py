"""Cases and their evidence over HTTP."""

from dataclasses import asdict
from typing import Any

from django.http import FileResponse, Http404, HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer, given, shown
from darre.common.errors import Refusal
from darre.common.shapes import UndoSerializer
from darre.common.upload import BINARY, MOST_TABLE_BYTES, pieces, plain_name
from darre.diagnosis.actions import cases as acts
from darre.diagnosis.actions.table import set_chance
from darre.diagnosis.actions.verdicts import close_case, reopen_case
from darre.diagnosis.api.serializers import (
    CasePageSerializer,
    CaseRowSerializer,
    ChangeCaseSerializer,
    NoteSignsSerializer,
    OpenCaseSerializer,
    SavedCaseSerializer,
    SavedPhotoSerializer,
    WriteCaliperSerializer,
    WriteOwnSerializer,
    WriteRatingsSerializer,
    WriteStrengthSerializer,
    WriteVerdictSerializer,
)
from darre.diagnosis.api.table_serializers import TableSerializer, WriteChanceSerializer
from darre.diagnosis.models import Case, OwnObservation, Photo, Side
from darre.diagnosis.photo_store import photo_path
from darre.diagnosis.selectors import CasePage, case_page, cases, judged_cases, table_for
from darre.diagnosis.upload import MOST_GCODE_BYTES, MOST_PHOTO_BYTES
from darre.inventory.material_book import material_book
from drying.diagnosis import EvidenceTable, VerdictKind

DONE = {200: UndoSerializer, **REFUSALS}
NAME = OpenApiParameter("name", str, description="The file's name, to show.")


def _case(case_id: int) -> Case:
    return get_object_or_404(Case.objects.select_related("spool"), pk=case_id)


class CaseListView(APIView):
    """All cases, open ones first; open one."""

    @extend_schema(responses=CaseRowSerializer(many=True), operation_id="cases_list")
    def get(self, request: Request) -> Response:
        return Response(shown(CaseRowSerializer, judged_cases(list(cases()), timezone.now()), many=True))

    @extend_schema(
        request=OpenCaseSerializer, responses={201: SavedCaseSerializer, **REFUSALS}, operation_id="open_case"
    )
    def post(self, request: Request) -> Response:
        data = given(OpenCaseSerializer, request)
        saved = acts.open_case(data["spool"], data["title"], data.get("printed_at"), data["before"])
        case, undo = saved.record, saved.undo
        return Response(shown(SavedCaseSerializer, {"case": case, "undo": undo}), status=201)


def _page(page: CasePage) -> dict[str, Any]:
    thresholds = page.thresholds
    return {
        "all_checks": page.all_checks,
        **{name: getattr(page, name) for name in ("judged", "next", "caliper", "strengths", "files", "dried")},
        "evidence": page.judged.evidence,
        "thresholds": thresholds
        and {
            "now": thresholds.now,
            "typed": thresholds.typed,
            "if_closed": [{"kind": kind.value, "thresholds": after} for kind, after in thresholds.if_closed.items()],
        },
    }


class CaseView(APIView):
    """One case with all its evidence."""

    @extend_schema(responses={200: CasePageSerializer, 404: ErrorSerializer}, operation_id="case")
    def get(self, request: Request, case_id: int) -> Response:
        return Response(shown(CasePageSerializer, _page(case_page(case_id, timezone.now()))))

    @extend_schema(request=ChangeCaseSerializer, responses=DONE, operation_id="change_case")
    def patch(self, request: Request, case_id: int) -> Response:
        return Response({"undo": acts.change_case(_case(case_id), **given(ChangeCaseSerializer, request)).undo})

    @extend_schema(responses=DONE, operation_id="remove_case")
    def delete(self, request: Request, case_id: int) -> Response:
        return Response({"undo": acts.remove_case(_case(case_id)).undo})


class SignsView(APIView):
    """Note what was looked for."""

    @extend_schema(request=NoteSignsSerializer, responses=DONE, operation_id="note_signs")
    def post(self, request: Request, case_id: int) -> Response:
        data = given(NoteSignsSerializer, request)
        signs = {observation["sign"]: observation["seen"] for observation in data["signs"]}
        return Response({"undo": acts.note_signs(_case(case_id), signs, data["note"]).undo})


class OwnListView(APIView):
    """Add an observation of one's own."""

    @extend_schema(request=WriteOwnSerializer, responses={201: UndoSerializer, **REFUSALS}, operation_id="add_own")
    def post(self, request: Request, case_id: int) -> Response:
        return Response({"undo": acts.add_own(_case(case_id), **given(WriteOwnSerializer, request)).undo}, status=201)


class OwnView(APIView):
    """An observation of one's own."""

    @extend_schema(responses=DONE, operation_id="remove_own")
    def delete(self, request: Request, own_id: int) -> Response:
        own = get_object_or_404(OwnObservation.objects.select_related("case__spool"), pk=own_id)
        return Response({"undo": acts.remove_own(own).undo})


class CaliperView(APIView):
    """Caliper readings along the strand."""

    @extend_schema(request=WriteCaliperSerializer, responses=DONE, operation_id="caliper")
    def put(self, request: Request, case_id: int) -> Response:
        data = given(WriteCaliperSerializer, request)
        return Response({"undo": acts.caliper(_case(case_id), data["suspect_mm"], data["dry_mm"]).undo})


class RatingsView(APIView):
    """Ratings of features."""

    @extend_schema(request=WriteRatingsSerializer, responses=DONE, operation_id="rate")
    def put(self, request: Request, case_id: int) -> Response:
        data = given(WriteRatingsSerializer, request)
        return Response({"undo": acts.rate(_case(case_id), data["scores"], data["blind"]).undo})


class StrengthView(APIView):
    """Strength before and after."""

    @extend_schema(request=WriteStrengthSerializer, responses=DONE, operation_id="note_strength")
    def put(self, request: Request, case_id: int) -> Response:
        return Response({"undo": acts.note_strength(_case(case_id), **given(WriteStrengthSerializer, request)).undo})


class VerdictView(APIView):
    """Close a case, or open it again."""

    @extend_schema(request=WriteVerdictSerializer, responses=DONE, operation_id="close_case")
    def post(self, request: Request, case_id: int) -> Response:
        data = given(WriteVerdictSerializer, request)
        undo = close_case(_case(case_id), VerdictKind(data["kind"]), data["cause"], data["note"]).undo
        return Response({"undo": undo})

    @extend_schema(responses=DONE, operation_id="reopen_case")
    def delete(self, request: Request, case_id: int) -> Response:
        return Response({"undo": reopen_case(_case(case_id)).undo})


class PhotoListView(APIView):
    """Add a photo: its bytes are the body."""

    @extend_schema(
        request=BINARY,
        parameters=[NAME, OpenApiParameter("side", str, enum=Side.values, required=True)],
        responses={201: SavedPhotoSerializer, 413: ErrorSerializer, **REFUSALS},
        operation_id="add_photo",
    )
    def put(self, request: Request, case_id: int) -> Response:
        case, side = _case(case_id), request.query_params.get("side", "")
        if side not in Side.values:
            raise Refusal("no_side", "Say whether this is the print before or after.", "side", 400)
        content = b"".join(pieces(request._request, MOST_PHOTO_BYTES))
        name = plain_name(request.query_params.get("name", ""), "photo")
        saved = acts.add_photo(case, side, name, content)
        photo, undo = saved.record, saved.undo
        return Response(shown(SavedPhotoSerializer, {"photo": photo, "undo": undo}), status=201)


class PhotoView(APIView):
    """A photo."""

    @extend_schema(responses=DONE, operation_id="remove_photo")
    def delete(self, request: Request, photo_id: int) -> Response:
        return Response(
            {"undo": acts.remove_photo(get_object_or_404(Photo.objects.select_related("case"), pk=photo_id)).undo}
        )


def photo_file(request: HttpRequest, photo_id: int, small: bool = False) -> FileResponse:
    """A photo's picture, whole or small."""
    photo = get_object_or_404(Photo, pk=photo_id)
    path = photo_path(photo.file, small)
    if not path.is_file():
        raise Http404
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return FileResponse(path.open("rb"), content_type="image/jpeg", headers=headers)


def _table(table: EvidenceTable, built_in: EvidenceTable) -> dict[str, Any]:
    def chances(of: Any) -> list[dict[str, Any]]:
        return [{"cause": cause, "p": p} for cause, p in of.items()]

    return {
        "source": table.source,
        "base_rates": chances(table.base_rates),
        "built_in_rates": chances(built_in.base_rates),
        "own_rates": table.own_rates,
        "signs": [
            {**asdict(sign), "p": chances(sign.p), "built_in": chances(built_in.signs[key].p)}
            for key, sign in table.signs.items()
        ],
    }


class TableView(APIView):
    """The evidence table, with the person's own numbers in it."""

    @extend_schema(
        parameters=[OpenApiParameter("material", str)],
        responses={200: TableSerializer, 400: ErrorSerializer},
        operation_id="evidence_table",
    )
    def get(self, request: Request) -> Response:
        wanted = request.query_params.get("material", "")
        book = material_book()
        if wanted:
            book[wanted]  # raises where there is no such material
        family = book.entries[wanted].family if wanted else ""
        return Response(shown(TableSerializer, _table(table_for(family), table_for(family, own=()))))

    @extend_schema(request=WriteChanceSerializer, responses=DONE, operation_id="set_chance")
    def put(self, request: Request) -> Response:
        data = given(WriteChanceSerializer, request)
        p = None if data["p_pct"] is None else data["p_pct"] / 100.0
        return Response({"undo": set_chance(data["sign"], data["cause"], p).undo})


class UploadLimitsSerializer(serializers.Serializer):
    """How large a file may be, bytes."""

    photo_bytes = serializers.IntegerField()
    print_file_bytes = serializers.IntegerField()
    table_bytes = serializers.IntegerField()


class UploadLimitsView(APIView):
    """How large photos, print files and tables may be, so that the page can say so before it sends one."""

    @extend_schema(responses=UploadLimitsSerializer, operation_id="upload_limits")
    def get(self, request: Request) -> Response:
        limits = {
            "photo_bytes": MOST_PHOTO_BYTES,
            "print_file_bytes": MOST_GCODE_BYTES,
            "table_bytes": MOST_TABLE_BYTES,
        }
        return Response({**limits, "table_bytes": MOST_TABLE_BYTES})
