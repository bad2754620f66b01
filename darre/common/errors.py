"""How the application says no: one exception for every refusal, one shape of answer.

Every error answer is {"code", "message", "field", "fields"}: a stable code for programs, a message that a person can
act on, the field at fault (or null), and every field at fault with its own code and message. Nothing is stored.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from django.core.exceptions import PermissionDenied
from django.http import Http404
from rest_framework import exceptions
from rest_framework.response import Response
from rest_framework.views import set_rollback

from drying.errors import DryingError


@dataclass
class Refusal(Exception):  # noqa: N818  a refusal is an answer, not a fault
    """An action that will not be done. `extra` goes into the answer as it is (for what the person may do next)."""

    code: str
    message: str
    field: str | None = None
    status: int = 409
    extra: Mapping[str, Any] | None = None

    def __str__(self) -> str:
        return self.message


def _field_errors(detail: Any, path: str = "") -> Iterator[dict[str, str]]:
    if isinstance(detail, Mapping):
        for name, inner in detail.items():
            yield from _field_errors(inner, path if name == "non_field_errors" else f"{path}.{name}".strip("."))
    elif isinstance(detail, list):
        for inner in detail:
            yield from _field_errors(inner, path)
    else:
        yield {"field": path, "code": getattr(detail, "code", "invalid"), "message": str(detail)}


def _body(code: str, message: str, field: str | None = None, **more: Any) -> dict[str, Any]:
    return {"code": code, "message": message, "field": field, "fields": [], **more}


def refusal_body(refusal: Refusal) -> dict[str, Any]:
    """A refusal as it is answered."""
    return _body(refusal.code, refusal.message, refusal.field, **(refusal.extra or {}))


def answer_error(error: Exception, context: dict[str, Any]) -> Response | None:
    """Map an exception to its answer. Anything not listed here is a defect and stays one."""
    set_rollback()
    if isinstance(error, Refusal):
        return Response(refusal_body(error), status=error.status)
    if isinstance(error, DryingError):
        return Response(_body("out_of_range", str(error), error.name), status=400)
    if isinstance(error, exceptions.ValidationError):
        fields = list(_field_errors(error.detail))
        first = fields[0]
        return Response(_body("invalid", first["message"], first["field"] or None) | {"fields": fields}, status=400)
    if isinstance(error, Http404):
        return Response(_body("not_found", "There is nothing at this address; it may have been undone."), status=404)
    if isinstance(error, PermissionDenied):
        return Response(_body("forbidden", "This is not allowed here."), status=403)
    if isinstance(error, exceptions.APIException):
        return Response(_body(str(error.get_codes()), str(error.detail)), status=error.status_code)
    return None
