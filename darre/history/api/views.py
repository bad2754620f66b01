"""The history over HTTP: read it, take an entry back."""

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, ErrorSerializer, given_query, shown
from darre.history.models import HistoryEntry
from darre.history.recorder import undo
from darre.history.selectors import changes_of, entries_before


class HistoryEntrySerializer(serializers.ModelSerializer[HistoryEntry]):
    """A history entry without the records' contents; `by`: who, empty where nobody gave a name."""

    class Meta:
        model = HistoryEntry
        fields = ["id", "at", "kind", "summary", "by", "undone_at"]
        read_only_fields = fields


class HistoryQuerySerializer(serializers.Serializer):
    """Which part of the history: entries older than one, with these words in their summary or name."""

    before = serializers.IntegerField(min_value=1, max_value=2**53, required=False, default=None)
    find = serializers.CharField(max_length=100, required=False, default="", allow_blank=True)


class FieldChangeSerializer(serializers.Serializer):
    """A field before and after; null where there was nothing."""

    field = serializers.CharField()
    before = serializers.JSONField(allow_null=True)
    after = serializers.JSONField(allow_null=True)


class RecordChangeSerializer(serializers.Serializer):
    """What an entry did to a record; `rows`: how many came with an import."""

    record = serializers.CharField()
    created = serializers.BooleanField()
    removed = serializers.BooleanField()
    rows = serializers.IntegerField(allow_null=True)
    fields_changed = FieldChangeSerializer(source="fields", many=True)


class HistoryListView(APIView):
    """A page of acts, newest first."""

    @extend_schema(
        parameters=[HistoryQuerySerializer],
        responses={200: HistoryEntrySerializer(many=True), **REFUSALS},
        operation_id="history_list",
    )
    def get(self, request: Request) -> Response:
        asked = given_query(HistoryQuerySerializer, request)
        return Response(shown(HistoryEntrySerializer, entries_before(asked["before"], asked["find"]), many=True))


class HistoryEntryView(APIView):
    """What one act changed."""

    @extend_schema(
        responses={200: RecordChangeSerializer(many=True), 404: ErrorSerializer}, operation_id="history_changes"
    )
    def get(self, request: Request, entry_id: int) -> Response:
        return Response(shown(RecordChangeSerializer, changes_of(entry_id), many=True))


class UndoView(APIView):
    """Take one act back."""

    @extend_schema(
        request=None,
        responses={200: HistoryEntrySerializer, 404: ErrorSerializer, 409: ErrorSerializer},
        operation_id="undo",
    )
    def post(self, request: Request, entry_id: int) -> Response:
        return Response(shown(HistoryEntrySerializer, undo(entry_id)))
