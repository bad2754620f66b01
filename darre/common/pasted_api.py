"""What requests with a pasted table say, and what every look at one answers."""

from typing import Any
from zoneinfo import available_timezones

from rest_framework import serializers

from darre.common.pasted_table import MOST_TEXT, LookedTable
from darre.common.written_times import DATE_ORDERS


class DatedTableSerializer(serializers.Serializer):
    """A table as text, the zone of its times, and how its dates are written where the guess was put right."""

    text = serializers.CharField(max_length=MOST_TEXT, trim_whitespace=False)
    zone = serializers.CharField()
    order = serializers.ChoiceField(choices=DATE_ORDERS, required=False, allow_blank=True, default="")

    def validate_zone(self, zone: str) -> str:
        if zone not in available_timezones():
            raise serializers.ValidationError("This is no time zone. Give one such as Europe/London.")
        return zone


class LookedTableSerializer(serializers.Serializer):
    """A table as it was read: `columns`, which each has, are what the heads are taken for."""

    heads = serializers.ListField(child=serializers.CharField())
    good = serializers.SerializerMethodField()

    def get_good(self, table: LookedTable[Any]) -> int:
        return len(table.good)
