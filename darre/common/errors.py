"""How the application says no: one exception for every refusal, one shape of answer.

Every error answer is {"code", "message", "parts", "field", "fields"}: a stable code for programs, a message that a
person can act on, the same in parts so that a screen can show amounts and moments in its own way, the field at fault
(or null), and every field at fault with its own. Nothing is stored.
"""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Self

from django.core.exceptions import PermissionDenied
from django.db import DatabaseError
from django.http import Http404
from rest_framework import exceptions
from rest_framework.response import Response
from rest_framework.views import set_rollback

from drying.errors import Amount, DryingError

Part = str | Amount | datetime
Spoken = tuple[Part, ...]
"""A sentence in parts, so that a screen can show amounts in other units and moments by the person's own clock."""


@dataclass
class Refusal(Exception):  # noqa: N818  a refusal is an answer, not a fault
    """An action that will not be done. `extra` goes into the answer as it is (for what the person may do next)."""

    code: str
    says: str | Spoken
    field: str | None = None
    status: int = 409
    extra: Mapping[str, Any] | None = None

    @property
    def message(self) -> str:
        """The whole sentence."""
        return plain(self.says)

    def __str__(self) -> str:
        return self.message


NOT_THERE = Refusal("not_found", "There is nothing at this address; it may have been undone.", status=404)


def _plain_part(part: Part) -> str:
    return f"{part.astimezone(UTC):%Y-%m-%d %H:%M} UTC" if isinstance(part, datetime) else str(part)


def plain(says: str | Spoken) -> str:
    """A sentence in one, with moments in UTC: for programs and logs."""
    return says if isinstance(says, str) else "".join(map(_plain_part, says))


def part_of(part: Part) -> dict[str, Any]:
    """A part of a sentence as it is answered: text, an amount with its unit, or a moment."""
    shape: dict[str, Any] = {"text": _plain_part(part), "value": None, "unit": "", "difference": False, "at": None}
    if isinstance(part, Amount):
        shape |= {"value": part.value, "unit": part.unit, "difference": part.difference}
    elif isinstance(part, datetime):
        shape |= {"at": part.isoformat()}
    return shape


def parts_of(says: str | Spoken) -> list[dict[str, Any]]:
    """A sentence as it is answered."""
    return [part_of(part) for part in ((says,) if isinstance(says, str) else says)]


class InParts(str):
    """The code of a field's error, with the parts of its sentence.

    The framework makes every message anew on its way up from the field and keeps nothing of it but text and code, so
    the parts travel on the code.
    """

    parts: Spoken

    def __new__(cls, code: str, *parts: Part) -> Self:
        made = super().__new__(cls, code)
        made.parts = parts
        return made


def field_error(code: str, *parts: Part) -> exceptions.ValidationError:
    """What a field raises where its sentence names amounts."""
    return exceptions.ValidationError(plain(parts), code=InParts(code, *parts))


def _shortened(message: str) -> str:
    """A sentence that may hold what was sent, however long that is."""
    return message if len(message) <= _LONGEST_SAID else f"{message[:_LONGEST_SAID]} …"


def _field_errors(detail: Any, path: str = "") -> Iterator[dict[str, Any]]:
    if isinstance(detail, Mapping):
        for name, inner in detail.items():
            yield from _field_errors(inner, path if name == "non_field_errors" else f"{path}.{name}".strip("."))
    elif isinstance(detail, list):
        for inner in detail:
            yield from _field_errors(inner, path)
    else:
        code, message = getattr(detail, "code", "invalid"), _shortened(str(detail))
        parts = code.parts if isinstance(code, InParts) else message
        yield {"field": path, "code": code, "message": message, "parts": parts_of(parts)}


def _body(code: str, says: str | Spoken, field: str | None = None, **more: Any) -> dict[str, Any]:
    return {"code": code, "message": plain(says), "parts": parts_of(says), "field": field, "fields": [], **more}


def refusal_body(refusal: Refusal) -> dict[str, Any]:
    """A refusal as it is answered."""
    return _body(refusal.code, refusal.says, refusal.field, **(refusal.extra or {}))


_LONGEST_SAID = 400
_STORAGE = (
    ("disk is full", "disk_full", 507, "The disk is full, so this was not saved. Make room, then try again."),
    ("readonly", "read_only", 507, "The database cannot be written, so this was not saved. See who owns its file."),
    ("locked", "busy", 503, "The database is busy, so this was not saved. Try again in a moment."),
    ("malformed", "damaged", 507, "The database is damaged. Stop Darre and put a copy from your backup in its place."),
    ("not a database", "damaged", 507, "The database is damaged. Stop Darre and put back a copy from your backup."),
    (
        "disk I/O",
        "disk_fails",
        507,
        "The disk did not take this, so it was not saved. See whether it is full or failing.",
    ),
    ("FOREIGN KEY", "gone", 409, "What this belongs to was removed at the same moment. Look at it again."),
    ("UNIQUE", "taken", 409, "The same was saved at the same moment, perhaps in another tab. Look at it again."),
)


def storage_refusal(error: DatabaseError) -> Refusal | None:
    """What the database cannot do, in a sentence; None for a defect of ours."""
    for sign, code, status, says in _STORAGE:
        if sign in str(error):
            return Refusal(code, says, status=status)
    return None


def answer_error(error: Exception, context: dict[str, Any]) -> Response | None:
    """Map an exception to its answer. Anything not listed here is a defect and stays one."""
    set_rollback()
    if isinstance(error, Refusal):
        return Response(refusal_body(error), status=error.status)
    if isinstance(error, DryingError):
        return Response(_body("out_of_range", error.parts, error.name), status=400)
    if isinstance(error, exceptions.ValidationError):
        fields = list(_field_errors(error.detail))
        first = fields[0]
        body = _body("invalid", first["message"], first["field"] or None) | {"parts": first["parts"], "fields": fields}
        return Response(body, status=400)
    if isinstance(error, Http404):
        return Response(refusal_body(NOT_THERE), status=NOT_THERE.status)
    if isinstance(error, PermissionDenied):
        return Response(_body("forbidden", "This is not allowed here."), status=403)
    if isinstance(error, DatabaseError) and (refusal := storage_refusal(error)):
        return Response(refusal_body(refusal), status=refusal.status)
    if isinstance(error, exceptions.Throttled):
        minutes = math.ceil((getattr(error, "wait", None) or 60.0) / 60.0)
        says = f"Too many tries. Wait {minutes} minute{'s' if minutes > 1 else ''}, then try again."
        return Response(_body("too_often", says), status=429)
    if isinstance(error, exceptions.APIException):
        return Response(_body(str(error.get_codes()), str(error.detail)), status=error.status_code)
    return None
