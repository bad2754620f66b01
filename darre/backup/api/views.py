"""Backups over HTTP: which there are, make one, take one along."""

from pathlib import Path
from tempfile import TemporaryDirectory

from django.http import FileResponse, Http404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.backup.keeping import Backup, back_up, backups, database_file
from darre.backup.staged import stage
from darre.common.api import REFUSALS, ErrorSerializer, shown
from darre.common.database_file import UnusableError
from darre.common.errors import Refusal
from darre.common.shapes import StartsAgainSerializer
from darre.common.upload import BINARY, pieces
from darre.network.server import start_again

MOST_SENT = 2_000_000_000


class BackupSerializer(serializers.Serializer):
    """A backup that is there."""

    name = serializers.CharField(source="file.name")
    made_at = serializers.DateTimeField()
    size_bytes = serializers.IntegerField()


class BackupsView(APIView):
    """The backups of this workshop, newest first, and making one now."""

    @extend_schema(responses=BackupSerializer(many=True), operation_id="backups_list")
    def get(self, request: Request) -> Response:
        return Response(shown(BackupSerializer, backups(database_file()), many=True))

    @extend_schema(request=None, responses={201: BackupSerializer, **REFUSALS}, operation_id="make_backup")
    def post(self, request: Request) -> Response:
        database = database_file()
        if not database.exists():
            raise Refusal("no_file", "These records are in no file, so there is nothing to back up.", status=409)
        try:
            made: Backup = back_up(database, timezone.now())
        except UnusableError as error:
            raise Refusal("damaged", str(error), status=409) from None
        return Response(shown(BackupSerializer, made), status=201)


def _restoring(source: Path) -> Response:
    try:
        stage(source, database_file())
    except UnusableError as error:
        raise Refusal("unusable", str(error), "file", 409) from None
    return Response({"starts_again": start_again()})


class RestoreView(APIView):
    """Put a backup back whose bytes are the body."""

    @extend_schema(
        request=BINARY, parameters=[OpenApiParameter("name", str)],
        responses={200: StartsAgainSerializer, 413: ErrorSerializer, **REFUSALS}, operation_id="restore_file",
    )  # fmt: skip
    def put(self, request: Request) -> Response:
        with TemporaryDirectory(dir=database_file().parent) as folder:
            file = Path(folder) / "sent.zip"
            with file.open("wb") as out:
                for piece in pieces(request._request, MOST_SENT):
                    out.write(piece)
            return _restoring(file)


class RestoreKeptView(APIView):
    """Put one of the backups back that are there."""

    @extend_schema(request=None, responses={200: StartsAgainSerializer, **REFUSALS}, operation_id="restore_kept")
    def post(self, request: Request, name: str) -> Response:
        found = next((backup for backup in backups(database_file()) if backup.file.name == name), None)
        if found is None:
            raise Http404
        return _restoring(found.file)


class BackupFileView(APIView):
    """One backup as a file."""

    @extend_schema(
        responses={(200, "application/zip"): OpenApiTypes.BINARY, 404: ErrorSerializer}, operation_id="backup_file"
    )
    def get(self, request: Request, name: str) -> FileResponse:
        found = next((backup for backup in backups(database_file()) if backup.file.name == name), None)
        if found is None:
            raise Http404
        return FileResponse(found.file.open("rb"), as_attachment=True, filename=name, content_type="application/zip")
