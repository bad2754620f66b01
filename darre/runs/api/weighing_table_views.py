"""Tables of weighings over HTTP: looked at first, then added."""

from typing import Any
from zoneinfo import ZoneInfo

from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, SentencePartSerializer, given
from darre.common.errors import parts_of
from darre.common.pasted_api import DatedTableSerializer, LookedTableSerializer
from darre.common.written_times import DATE_ORDERS
from darre.equipment.models import Scale
from darre.runs.actions.weighing_table import add_weighings, fitting_scale, judge_weighings, spools_of
from darre.runs.weighing_table import MEANINGS, WeighingRow, WeighingTable, read_weighings


class WeighingRowSerializer(serializers.Serializer):
    """A row as it was read, what must have been printed since the one before, and what is wrong with it."""

    line = serializers.IntegerField()
    name = serializers.CharField()
    at = serializers.DateTimeField(allow_null=True)
    gross_g = serializers.FloatField(allow_null=True)
    printed_g = serializers.FloatField()
    note = serializers.CharField()
    problem = serializers.SerializerMethodField()

    @extend_schema_field(SentencePartSerializer(many=True))
    def get_problem(self, row: WeighingRow) -> list[dict[str, Any]]:
        return parts_of(row.problem) if row.problem else []


class WeighingTableSerializer(LookedTableSerializer):
    """A table as it was read: `columns` are what the heads are taken for, `order` how the dates are written."""

    columns = serializers.ListField(child=serializers.ChoiceField(choices=MEANINGS), source="meanings")
    order = serializers.ChoiceField(choices=DATE_ORDERS)
    rows = WeighingRowSerializer(many=True)
    spools = serializers.SerializerMethodField()
    scale = serializers.SerializerMethodField()

    def get_scale(self, table: WeighingTable) -> int:
        return int(self.context["scale"].pk)

    def get_spools(self, table: WeighingTable) -> int:
        return spools_of(table.good)


class PastedWeighingsSerializer(DatedTableSerializer):
    """A table of weighings, and where a guess was put right. Without a scale the one that fits."""

    scale = serializers.PrimaryKeyRelatedField(
        queryset=Scale.objects.all(), required=False, allow_null=True, default=None
    )
    columns = serializers.ListField(
        child=serializers.ChoiceField(choices=MEANINGS), required=False, default=list, max_length=60
    )


class AddedWeighingsSerializer(serializers.Serializer):
    """How many weighings were added, and of how many spools."""

    added = serializers.IntegerField()
    spools = serializers.IntegerField()
    undo = serializers.IntegerField(allow_null=True)


def _read(data: dict[str, Any]) -> tuple[WeighingTable, Scale]:
    table = read_weighings(data["text"], ZoneInfo(data["zone"]), data["columns"], data["order"])
    return table, data["scale"] or fitting_scale([row.gross_g for row in table.good if row.gross_g is not None])


class LookAtWeighingsView(APIView):
    """Read a table of weighings without adding any."""

    @extend_schema(
        request=PastedWeighingsSerializer,
        responses={200: WeighingTableSerializer, **REFUSALS},
        operation_id="look_at_weighings",
    )
    def post(self, request: Request) -> Response:
        table, scale = _read(given(PastedWeighingsSerializer, request))
        looked = judge_weighings(table, scale).table
        return Response(WeighingTableSerializer(looked, context={"scale": scale}).data)


class AddWeighingsView(APIView):
    """Add the weighings of a table."""

    @extend_schema(
        request=PastedWeighingsSerializer,
        responses={201: AddedWeighingsSerializer, **REFUSALS},
        operation_id="add_weighings",
    )
    def post(self, request: Request) -> Response:
        saved = add_weighings(*_read(given(PastedWeighingsSerializer, request)))
        good = saved.record.good
        return Response({"added": len(good), "spools": spools_of(good), "undo": saved.undo}, status=201)
