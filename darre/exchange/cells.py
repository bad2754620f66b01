"""Values as cells of a table and back: every value comes back as it was."""

from __future__ import annotations

import json
import math
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from django.core.exceptions import ValidationError
from django.db import models

# A spreadsheet takes a cell that begins with one of these for a formula. A mark before it says that it is text.
FORMULA, MARK = ("=", "+", "-", "@", "\t", "\r", "\n"), "'"
MOST_CELL = 4_000_000
TRUE, FALSE = "true", "false"


def _target(field: models.Field[Any, Any]) -> models.Field[Any, Any]:
    return field.target_field if isinstance(field, models.ForeignKey) else field


def kind_of(field: models.Field[Any, Any]) -> str:
    """What the schema calls the values of a field."""
    field = _target(field)
    kinds: tuple[tuple[type[models.Field[Any, Any]], str], ...] = (
        (models.FloatField, "number"),
        (models.BooleanField, "boolean"),
        (models.DateTimeField, "datetime"),
        (models.IntegerField, "integer"),
        (models.JSONField, "any"),
        (models.CharField, "string"),
        (models.TextField, "string"),
        (models.UUIDField, "string"),
    )
    return next(name for kind, name in kinds if isinstance(field, kind))


def to_cell(field: models.Field[Any, Any], value: Any) -> str:
    """A stored value as text."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return TRUE if value else FALSE
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat().replace("+00:00", "Z")
    if isinstance(_target(field), models.JSONField):
        return json.dumps(value, ensure_ascii=False, separators=(",", ":"))
    if isinstance(value, str):
        return MARK + value if value.startswith((*FORMULA, MARK)) else value
    return repr(value) if isinstance(value, float) else str(value)


def _number(text: str) -> float:
    value = float(text)
    if not math.isfinite(value) or "_" in text:
        raise ValueError(text)
    return value


def _moment(text: str) -> datetime:
    at = datetime.fromisoformat(text)
    if at.tzinfo is None or not 1970 <= at.year <= 2200:
        raise ValueError(text)
    return at.astimezone(UTC)


def _integer(text: str) -> int:
    if len(text) > 20 or "_" in text:
        raise ValueError(text)
    return int(text)


def _from_text(field: models.Field[Any, Any], text: str) -> Any:
    field = _target(field)
    if isinstance(field, models.FloatField):
        return _number(text)
    if isinstance(field, models.BooleanField):
        return {TRUE: True, FALSE: False}[text]
    if isinstance(field, models.DateTimeField):
        return _moment(text)
    if isinstance(field, models.IntegerField):
        return _integer(text)
    if isinstance(field, models.JSONField):
        return json.loads(text, parse_constant=_number)
    if isinstance(field, models.UUIDField):
        return UUID(text)
    if "\0" in text:
        raise ValueError(text)
    return text.removeprefix(MARK)


def from_cell(field: models.Field[Any, Any], text: str) -> Any:
    """What a cell says. Raises ValueError where that is nothing that the field could hold."""
    if text == "" and (field.null or kind_of(field) != "string"):
        if not field.null:
            raise ValueError("it is empty")
        return None
    try:
        value = _from_text(field, text)
        if not isinstance(field, models.ForeignKey):
            field.run_validators(value)
            field.validate(value, None)
    except (KeyError, RecursionError, OverflowError):
        raise ValueError(text) from None
    except ValidationError as error:
        raise ValueError(" ".join(error.messages)) from None
    return value
