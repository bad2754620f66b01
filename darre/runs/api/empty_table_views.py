"""Lists of what empty spools weigh over HTTP: looked at first, then taken over."""

from typing import Any

from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, SentencePartSerializer, given, shown
from darre.common.errors import parts_of
from darre.common.pasted_api import LookedTableSerializer
from darre.common.pasted_table import MOST_TEXT
from darre.runs.actions.empty_table import take_over
from darre.runs.empty_table import MEANINGS, EmptyRow, EmptyTable, read_empty_spools


class EmptyRowSerializer(serializers.Serializer):
    """A row as it was read; `known`: its make is there, `listed_before_g`: what a list said of it."""

    line = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.CharField()
    listed_g = serializers.FloatField(allow_null=True)
    known = serializers.SerializerMethodField()
    listed_before_g = serializers.SerializerMethodField()
    problem = serializers.SerializerMethodField()

    def get_known(self, row: EmptyRow) -> bool:
        return row.known is not None

    def get_listed_before_g(self, row: EmptyRow) -> float | None:
        return row.known.listed_g if row.known else None

    @extend_schema_field(SentencePartSerializer(many=True))
    def get_problem(self, row: EmptyRow) -> list[dict[str, Any]]:
        return parts_of(row.problem) if row.problem else []


class EmptyTableSerializer(LookedTableSerializer):
    """A list as it was read: `columns` are what the heads are taken for."""

    columns = serializers.ListField(child=serializers.ChoiceField(choices=MEANINGS), source="meanings")
    rows = EmptyRowSerializer(many=True)


class PastedEmptySpoolsSerializer(serializers.Serializer):
    """A list as text, with what its columns are where the guess was put right."""

    text = serializers.CharField(max_length=MOST_TEXT, trim_whitespace=False)
    columns = serializers.ListField(
        child=serializers.ChoiceField(choices=MEANINGS), required=False, default=list, max_length=60
    )


class TakenOverSerializer(serializers.Serializer):
    """How many makes were taken over, and how many spools are counted from their mass from now on."""

    makes = serializers.IntegerField()
    spools = serializers.IntegerField()
    undo = serializers.IntegerField(allow_null=True)


def _read(request: Request) -> EmptyTable:
    data = given(PastedEmptySpoolsSerializer, request)
    return read_empty_spools(data["text"], data["columns"])


class LookAtEmptySpoolsView(APIView):
    """Read a list of empty spools without taking it over."""

    @extend_schema(
        request=PastedEmptySpoolsSerializer,
        responses={200: EmptyTableSerializer, **REFUSALS},
        operation_id="look_at_empty_spools",
    )
    def post(self, request: Request) -> Response:
        return Response(shown(EmptyTableSerializer, _read(request)))


class TakeOverEmptySpoolsView(APIView):
    """Take a list of empty spools over."""

    @extend_schema(
        request=PastedEmptySpoolsSerializer,
        responses={201: TakenOverSerializer, **REFUSALS},
        operation_id="take_over_empty_spools",
    )
    def post(self, request: Request) -> Response:
        saved = take_over(_read(request))
        return Response({"makes": saved.record.makes, "spools": saved.record.spools, "undo": saved.undo}, status=201)
