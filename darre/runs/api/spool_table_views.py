"""Tables of spools over HTTP: looked at first, then added."""

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.api import REFUSALS, given, shown
from darre.common.pasted_api import LookedTableSerializer
from darre.common.pasted_table import MOST_TEXT
from darre.equipment.models import Scale
from darre.inventory.material_book import material_book
from darre.inventory.models import EmptySpool
from darre.places.models import Place
from darre.runs.actions.spool_table import Table, add_table
from darre.runs.spool_table import MEANINGS, SpoolRow, SpoolTable, read_table


class SpoolRowSerializer(serializers.Serializer):
    """A row as it was read, and what is wrong with it."""

    line = serializers.IntegerField()
    name = serializers.CharField()
    material = serializers.CharField()
    maker = serializers.CharField()
    colour = serializers.CharField()
    purpose = serializers.CharField()
    place_name = serializers.SerializerMethodField()
    gross_g = serializers.SerializerMethodField()
    tare_g = serializers.SerializerMethodField()
    moisture_pct = serializers.SerializerMethodField()
    problem = serializers.CharField()

    def get_place_name(self, row: SpoolRow) -> str:
        return row.place.name if row.place else ""

    def get_gross_g(self, row: SpoolRow) -> float | None:
        return row.numbers.get("gross_g")

    def get_tare_g(self, row: SpoolRow) -> float | None:
        return row.numbers.get("tare_g")

    def get_moisture_pct(self, row: SpoolRow) -> float | None:
        return row.numbers.get("moisture_pct")


class SpoolTableSerializer(LookedTableSerializer):
    """A table as it was read: `columns` are what the heads are taken for."""

    columns = serializers.ListField(child=serializers.ChoiceField(choices=MEANINGS), source="meanings")
    rows = SpoolRowSerializer(many=True)


class LookAtTableSerializer(serializers.Serializer):
    """A table as text, with what its columns are where the guess was put right."""

    text = serializers.CharField(max_length=MOST_TEXT, trim_whitespace=False)
    columns = serializers.ListField(
        child=serializers.ChoiceField(choices=MEANINGS), required=False, default=list, max_length=60
    )


class AddTableSerializer(LookAtTableSerializer):
    """A table to add; place, empty spool and scale count where a row says nothing."""

    place = serializers.PrimaryKeyRelatedField(queryset=Place.objects.all())
    empty_spool = serializers.PrimaryKeyRelatedField(
        queryset=EmptySpool.objects.all(), required=False, allow_null=True, default=None
    )
    scale = serializers.PrimaryKeyRelatedField(
        queryset=Scale.objects.all(), required=False, allow_null=True, default=None
    )


class AddedTableSerializer(serializers.Serializer):
    """How many spools were added."""

    added = serializers.IntegerField()
    undo = serializers.IntegerField(allow_null=True)


def _table(data: dict[str, Any]) -> SpoolTable:
    return read_table(data["text"], material_book(), data["columns"])


class LookAtTableView(APIView):
    """Read a table of spools without adding any."""

    @extend_schema(
        request=LookAtTableSerializer, responses={200: SpoolTableSerializer, **REFUSALS}, operation_id="look_at_spools"
    )
    def post(self, request: Request) -> Response:
        return Response(shown(SpoolTableSerializer, _table(given(LookAtTableSerializer, request))))


class AddTableView(APIView):
    """Add the spools of a table."""

    @extend_schema(
        request=AddTableSerializer, responses={201: AddedTableSerializer, **REFUSALS}, operation_id="add_spools"
    )
    def post(self, request: Request) -> Response:
        data = given(AddTableSerializer, request)
        saved = add_table(Table(_table(data), data["place"], data["empty_spool"], data["scale"]))
        return Response({"added": len(saved.record), "undo": saved.undo}, status=201)
