"""Tables of past runs over HTTP: looked at first, then added."""

from typing import Any
from zoneinfo import ZoneInfo

from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, SentencePartSerializer, given
from darre.common.errors import Refusal, parts_of
from darre.common.pasted_api import DatedTableSerializer, LookedTableSerializer
from darre.common.written_times import DATE_ORDERS
from darre.equipment.models import Dryer, Scale
from darre.planning.actions.past_runs import Told, add_past_runs, judge_past_runs
from darre.planning.past_table import MEANINGS, PastRow, PastTable, read_past_runs
from darre.runs.actions.weighing_table import fitting_scale


class PastRowSerializer(serializers.Serializer):
    """A row as it was read, what must have been printed before its run, and what is wrong with it."""

    line = serializers.IntegerField()
    name = serializers.CharField()
    dryer_name = serializers.SerializerMethodField()
    at = serializers.DateTimeField(allow_null=True)
    temp_c = serializers.FloatField(allow_null=True)
    hours = serializers.FloatField(allow_null=True)
    before_g = serializers.FloatField(allow_null=True)
    after_g = serializers.FloatField(allow_null=True)
    printed_g = serializers.FloatField()
    problem = serializers.SerializerMethodField()

    def get_dryer_name(self, row: PastRow) -> str:
        return row.dryer.name if row.dryer else ""

    @extend_schema_field(SentencePartSerializer(many=True))
    def get_problem(self, row: PastRow) -> list[dict[str, Any]]:
        return parts_of(row.problem) if row.problem else []


class PastTableSerializer(LookedTableSerializer):
    """A table as it was read: `columns` are what the heads are taken for, `order` how the dates are written."""

    columns = serializers.ListField(child=serializers.ChoiceField(choices=MEANINGS), source="meanings")
    order = serializers.ChoiceField(choices=DATE_ORDERS)
    rows = PastRowSerializer(many=True)
    scale = serializers.SerializerMethodField()
    dryer = serializers.SerializerMethodField()

    def get_scale(self, table: PastTable) -> int:
        return int(self.context["told"].scale.pk)

    def get_dryer(self, table: PastTable) -> int:
        return int(self.context["told"].dryer.pk)


class PastedRunsSerializer(DatedTableSerializer):
    """A table of past runs. Without a scale the one that fits; `dryer`: of the rows that name none, else the first."""

    scale = serializers.PrimaryKeyRelatedField(
        queryset=Scale.objects.all(), required=False, allow_null=True, default=None
    )
    dryer = serializers.PrimaryKeyRelatedField(
        queryset=Dryer.objects.all(), required=False, allow_null=True, default=None
    )
    columns = serializers.ListField(
        child=serializers.ChoiceField(choices=MEANINGS), required=False, default=list, max_length=60
    )


class AddedRunsSerializer(serializers.Serializer):
    """How many past runs were added."""

    added = serializers.IntegerField()
    undo = serializers.IntegerField(allow_null=True)


def _read(data: dict[str, Any]) -> tuple[PastTable, Told]:
    table = read_past_runs(data["text"], ZoneInfo(data["zone"]), data["columns"], data["order"])
    dryer = data["dryer"] or Dryer.objects.order_by("-in_service", "pk").first()
    if dryer is None:
        raise Refusal("no_dryer", "Needed: the dryer that they were made in. Add it in Kit first.", "dryer", 400)
    return table, Told(data["scale"] or fitting_scale(table.masses), dryer)


class LookAtPastRunsView(APIView):
    """Read a table of past runs without adding any."""

    @extend_schema(
        request=PastedRunsSerializer, responses={200: PastTableSerializer, **REFUSALS}, operation_id="look_at_past_runs"
    )
    def post(self, request: Request) -> Response:
        table, told = _read(given(PastedRunsSerializer, request))
        looked = judge_past_runs(table, told).table
        return Response(PastTableSerializer(looked, context={"told": told}).data)


class AddPastRunsView(APIView):
    """Add the past runs of a table."""

    @extend_schema(
        request=PastedRunsSerializer, responses={201: AddedRunsSerializer, **REFUSALS}, operation_id="add_past_runs"
    )
    def post(self, request: Request) -> Response:
        saved = add_past_runs(*_read(given(PastedRunsSerializer, request)))
        return Response({"added": len(saved.record.good), "undo": saved.undo}, status=201)
