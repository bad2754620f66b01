"""Backups over HTTP: which there are, make one, take one along."""

from django.http import FileResponse, Http404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.backup.keeping import Backup, back_up, backups, database_file
from darre.common.api import REFUSALS, ErrorSerializer
from darre.common.database_file import UnusableError
from darre.common.errors import Refusal


class BackupSerializer(serializers.Serializer):
    """A backup that is there."""

    name = serializers.CharField(source="file.name")
    made_at = serializers.DateTimeField()
    size_bytes = serializers.IntegerField()


class BackupsView(APIView):
    """The backups of this workshop, newest first, and making one now."""

    @extend_schema(responses=BackupSerializer(many=True), operation_id="backups_list")
    def get(self, request: Request) -> Response:
        return Response(BackupSerializer(backups(database_file()), many=True).data)

    @extend_schema(request=None, responses={201: BackupSerializer, **REFUSALS}, operation_id="make_backup")
    def post(self, request: Request) -> Response:
        database = database_file()
        if not database.exists():
            raise Refusal("no_file", "These records are in no file, so there is nothing to back up.", status=409)
        try:
            made: Backup = back_up(database, timezone.now())
        except UnusableError as error:
            raise Refusal("damaged", str(error), status=409) from None
        return Response(BackupSerializer(made).data, status=201)


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
