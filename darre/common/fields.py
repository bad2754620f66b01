"""API fields that take what people type and say plainly what is wrong with it."""

import math
import re
from datetime import datetime
from typing import Any

from django.utils import timezone
from django.utils.dateparse import parse_datetime
from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

_NUMBER = re.compile(r"[+-]?(\d+([.,]\d*)?|[.,]\d+)")


@extend_schema_field({"oneOf": [{"type": "number"}, {"type": "string"}], "description": "A comma decimal is fine."})
class TypedNumber(serializers.Field):
    """A number, or text with a point or a comma for the decimals. Every message names bounds and unit."""

    def __init__(self, *, unit: str, low: float, high: float, above_low: bool = False, **more: Any) -> None:
        super().__init__(**more)
        self.unit, self.low, self.high, self.above_low = unit, low, high, above_low

    def to_internal_value(self, data: object) -> float:
        if isinstance(data, bool) or not isinstance(data, int | float | str):
            raise serializers.ValidationError(f"Needed: a number in {self.unit}.", code="not_a_number")
        text = str(data).strip().replace("\u2212", "-").removesuffix(self.unit).strip()
        if not text:
            raise serializers.ValidationError(f"Needed: a number in {self.unit}, for example 21.5.", code="required")
        if isinstance(data, str) and not _NUMBER.fullmatch(text):
            raise serializers.ValidationError(
                f"“{data}” is not a number. Give one in {self.unit}, such as 858.4 or 858,4.", code="not_a_number"
            )
        value = float(text.replace(",", ".")) if isinstance(data, str) else float(data)
        if value < self.low or value > self.high or not math.isfinite(value) or (self.above_low and value == self.low):
            over = "more than" if self.above_low else "at least"
            raise serializers.ValidationError(
                f"{value:g} {self.unit} is out of range: give {over} {self.low:g}, at most {self.high:g} {self.unit}.",
                code="out_of_range",
            )
        return value

    def to_representation(self, value: float) -> float:
        return value


@extend_schema_field({"type": "string", "format": "date-time"})
class Moment(serializers.Field):
    """A moment with its zone offset. A bare clock time is refused: it means two moments when clocks are put back."""

    def to_internal_value(self, data: object) -> datetime:
        try:
            moment = parse_datetime(data) if isinstance(data, str) else None
        except ValueError:
            moment = None
        if moment is None:
            raise serializers.ValidationError(
                "Give the date and time with its zone offset, such as 2026-03-29T01:30:00+01:00.", code="not_a_moment"
            )
        if timezone.is_naive(moment):
            raise serializers.ValidationError(
                f"{data} has no zone offset, so it is not known which moment it means; add one, such as +01:00.",
                code="no_zone",
            )
        return moment

    def to_representation(self, value: datetime) -> str:
        return value.isoformat()


def optional_text(longest: int) -> serializers.CharField:
    return serializers.CharField(max_length=longest, required=False, allow_blank=True, default="")
