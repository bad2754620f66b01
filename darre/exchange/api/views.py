"""The data package over HTTP: take it along, bring it in."""

import tempfile
from pathlib import Path

from django.http import FileResponse, Http404, StreamingHttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer, given_query, shown
from darre.common.upload import BINARY, pieces, plain_name
from darre.exchange.actions.bring_in import bring_in, refuse_unless_empty
from darre.exchange.tables import tables
from darre.exchange.write import table_lines, write_package

MOST_SENT = 500_000_000


class NamedSerializer(serializers.Serializer):
    """The file's own name."""

    name = serializers.CharField(max_length=200)


class BroughtInSerializer(serializers.Serializer):
    """How much came in, and the entry that takes it back."""

    records = serializers.IntegerField()
    photos = serializers.IntegerField()
    undo = serializers.IntegerField()


class RecordTableSerializer(serializers.Serializer):
    """A table: what is in it, and the address that gives it as CSV."""

    name = serializers.CharField()
    about = serializers.CharField()
    address = serializers.CharField()


class TablesView(APIView):
    """The tables that all records are in."""

    @extend_schema(responses=RecordTableSerializer(many=True), operation_id="tables_list")
    def get(self, request: Request) -> Response:
        rows = [
            {
                "name": table.file,
                "about": table.about,
                "address": f"/api/tables/{table.file}",
            }
            for table in tables()
        ]
        return Response(shown(RecordTableSerializer, rows, many=True))


class TableView(APIView):
    """One table as CSV, as it stands now: what a spreadsheet or a script reads by its address."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.STR, 404: ErrorSerializer}, operation_id="table")
    def get(self, request: Request, name: str) -> StreamingHttpResponse:
        found = next((table for table in tables() if table.file == name), None)
        if found is None:
            raise Http404
        return StreamingHttpResponse(table_lines(found), content_type="text/csv; charset=utf-8")


class DataPackageView(APIView):
    """All records as open tables in one archive."""

    @extend_schema(responses={(200, "application/zip"): OpenApiTypes.BINARY}, operation_id="data_package")
    def get(self, request: Request) -> FileResponse:
        now = timezone.now()
        out = tempfile.TemporaryFile()  # noqa: SIM115  the answer closes it
        write_package(out, now)
        out.seek(0)
        return FileResponse(
            out, as_attachment=True, filename=f"darre-{now:%Y-%m-%d}.zip", content_type="application/zip"
        )

    @extend_schema(
        request=BINARY, parameters=[OpenApiParameter("name", str, required=True)],
        responses={201: BroughtInSerializer, 413: ErrorSerializer, **REFUSALS}, operation_id="bring_in",
    )  # fmt: skip
    def put(self, request: Request) -> Response:
        name = plain_name(given_query(NamedSerializer, request)["name"], "a data package")
        refuse_unless_empty()  # before all of it is sent
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "sent.zip"
            with file.open("wb") as out:
                for piece in pieces(request._request, MOST_SENT):
                    out.write(piece)
            saved = bring_in(file, name)
        told = {"records": saved.record.records, "photos": saved.record.photos, "undo": saved.undo}
        return Response(shown(BroughtInSerializer, told), status=201)
