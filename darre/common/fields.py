"""API fields that take what people type and say plainly what is wrong with it."""

import math
import re
from datetime import datetime
from typing import Any

from django.utils import timezone
from django.utils.dateparse import parse_datetime
from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from darre.common.errors import field_error
from drying.errors import Amount

_NUMBER = re.compile(r"[+-]?(\d+([.,]\d*)?|[.,]\d+)")
_LONGEST_SHOWN = 60  # of what was typed, in the sentence that says what is wrong with it
_FIRST_YEAR, _LAST_YEAR = 1970, 2200
_SCIENTIFIC = re.compile(_NUMBER.pattern + r"([eE][+-]?\d{1,3})?")


@extend_schema_field({"oneOf": [{"type": "number"}, {"type": "string"}], "description": "A comma decimal is fine."})
class TypedNumber(serializers.Field):
    """A number, or text with a point or a comma for the decimals. Every message names bounds and unit."""

    written = _NUMBER

    def __init__(
        self, *, unit: str, low: float, high: float, above_low: bool = False, difference: bool = False, **more: Any
    ) -> None:
        super().__init__(**more)
        self.unit, self.low, self.high, self.above_low, self.difference = unit, low, high, above_low, difference

    @property
    def _in_unit(self) -> str:
        return f" in {self.unit}" if self.unit else ""

    def to_internal_value(self, data: object) -> float:
        if isinstance(data, bool) or not isinstance(data, int | float | str):
            raise serializers.ValidationError(f"Needed: a number{self._in_unit}.", code="not_a_number")
        text = str(data).strip().replace("\u2212", "-").removesuffix(self.unit).strip()
        if not text:
            raise serializers.ValidationError(f"Needed: a number{self._in_unit}, for example 21.5.", code="required")
        if isinstance(data, str) and not self.written.fullmatch(text):
            raise serializers.ValidationError(
                f"“{data[:_LONGEST_SHOWN]}” is not a number. Give one{self._in_unit}, such as 858.4 or 858,4.",
                code="not_a_number",
            )
        value = float(text.replace(",", ".")) if isinstance(data, str) else float(data)
        if not math.isfinite(value):
            raise serializers.ValidationError(f"Needed: a finite number{self._in_unit}.", code="not_a_number")
        if value < self.low or value > self.high or (self.above_low and value == self.low):
            over = "more than" if self.above_low else "at least"
            given, least, most = (Amount(v, self.unit, self.difference) for v in (value, self.low, self.high))
            raise field_error("out_of_range", given, f" is out of range: give {over} ", least, ", at most ", most, ".")
        return value

    def to_representation(self, value: float) -> float:
        return value


class ScientificNumber(TypedNumber):
    """A number that may be very small: as text it may have a power of ten behind it, such as 3e-12."""

    written = _SCIENTIFIC


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
        if not _FIRST_YEAR < moment.year < _LAST_YEAR:
            raise serializers.ValidationError(
                f"The year {moment.year} looks like a typo. Give the actual date and time.", code="not_a_moment"
            )
        return moment

    def to_representation(self, value: datetime) -> str:
        return value.isoformat()


_SPAN = re.compile(r"(\d{1,2})(?:[:.](\d{2}))?\s*(?:-|–|to)\s*(\d{1,2})(?:[:.](\d{2}))?")
MOST_SPANS = 6


@extend_schema_field({"type": "string", "description": "Such as 7-8:30, 17-23; empty for the whole day."})
class HoursOfDay(serializers.Field):
    """Stretches of a day as people write them, "7-8:30, 17-23"; kept as pairs of minutes of the day."""

    def to_internal_value(self, data: object) -> list[list[int]]:
        parts = [part.strip() for part in str(data).split(",") if part.strip()]
        found = [_SPAN.fullmatch(part) for part in parts]
        spans = [
            [60 * int(m[1]) + int(m[2] or 0), 60 * int(m[3]) + int(m[4] or 0)]
            for m in found
            if m is not None and int(m[2] or 0) < 60 and int(m[4] or 0) < 60
        ]
        if len(spans) < len(parts) or any(not (0 <= a < 1440 and 0 <= b <= 1440 and a != b) for a, b in spans):
            raise serializers.ValidationError(
                f"“{data}” cannot be read as hours of a day. Write them as 7-8:30, 17-23.", code="not_hours"
            )
        if len(spans) > MOST_SPANS:
            raise serializers.ValidationError(f"Give at most {MOST_SPANS} stretches.", code="too_many")
        return spans

    def to_representation(self, value: list[list[int]]) -> str:
        return ", ".join("–".join(f"{minute // 60:02}:{minute % 60:02}" for minute in span) for span in value)


def optional_text(longest: int) -> serializers.CharField:
    return serializers.CharField(max_length=longest, required=False, allow_blank=True, default="")
