"""The history over HTTP: read it, take a line back."""

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import ErrorSerializer
from darre.history.models import HistoryEntry
from darre.history.recorder import undo


class HistoryEntrySerializer(serializers.ModelSerializer[HistoryEntry]):
    """A history entry without the records' contents."""

    class Meta:
        model = HistoryEntry
        fields = ["id", "at", "kind", "summary", "undone_at"]
        read_only_fields = fields


class HistoryListView(APIView):
    """The last hundred acts, newest first."""

    @extend_schema(responses=HistoryEntrySerializer(many=True), operation_id="history_list")
    def get(self, request: Request) -> Response:
        return Response(HistoryEntrySerializer(HistoryEntry.objects.defer("changes")[:100], many=True).data)


class UndoView(APIView):
    """Take one act back."""

    @extend_schema(
        request=None,
        responses={200: HistoryEntrySerializer, 404: ErrorSerializer, 409: ErrorSerializer},
        operation_id="undo",
    )
    def post(self, request: Request, entry_id: int) -> Response:
        return Response(HistoryEntrySerializer(undo(entry_id)).data)
