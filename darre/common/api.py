"""Health, and the answer for addresses that are not there."""

from functools import cache
from typing import Any

from django.db import connection
from django.http import Http404
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from darre.common.errors import Part, Refusal, part_of


class SentencePartSerializer(serializers.Serializer):
    """A part of a sentence: an amount with its unit where `value` is given, a moment where `at` is, else text alone.

    `text` is the part in the unit given, or in UTC; `difference` marks a step between temperatures.
    """

    text = serializers.CharField(allow_blank=True, trim_whitespace=False)
    value = serializers.FloatField(allow_null=True)
    unit = serializers.CharField(allow_blank=True)
    difference = serializers.BooleanField()
    at = serializers.DateTimeField(allow_null=True)

    def to_representation(self, part: Part) -> dict[str, Any]:
        return part_of(part)


class FieldErrorSerializer(serializers.Serializer):
    """One field at fault."""

    field = serializers.CharField()
    code = serializers.CharField()
    message = serializers.CharField()
    parts = SentencePartSerializer(many=True)


class ErrorSerializer(serializers.Serializer):
    """What every error answer looks like."""

    code = serializers.CharField()
    message = serializers.CharField()
    parts = SentencePartSerializer(many=True)
    field = serializers.CharField(allow_null=True)
    fields = FieldErrorSerializer(many=True)  # type: ignore[assignment]  # the answer's own key, not the class's


REFUSALS = {400: ErrorSerializer, 404: ErrorSerializer, 409: ErrorSerializer}  # what an act may be answered besides


@cache
def _shape(kind: type[serializers.Serializer], many: bool) -> serializers.BaseSerializer:
    return kind(many=many)


def shown(kind: type[serializers.Serializer], thing: object, *, many: bool = False) -> Any:
    """A thing in the shape of an answer, or each of many. For shapes that hang on nothing else: their fields are put
    together once, which takes longer than to fill them.
    """
    return _shape(kind, many).to_representation(thing)


def given(shape: type[serializers.Serializer], request: Request) -> dict[str, Any]:
    """What was sent, in its shape. Raises ValidationError."""
    found = shape(data=request.data)
    found.is_valid(raise_exception=True)
    data: dict[str, Any] = found.validated_data
    return data


def given_query(shape: type[serializers.Serializer], request: Request) -> dict[str, Any]:
    """What an address asks for, in its shape. Raises ValidationError."""
    found = shape(data=request.query_params)
    found.is_valid(raise_exception=True)
    data: dict[str, Any] = found.validated_data
    return data


def number_asked(request: Request, name: str) -> int | None:
    """The record's number that an address asks for; None where it asks for none. Raises Refusal for what is none."""
    wanted = request.query_params.get(name)
    if wanted is None:
        return None
    if not (wanted.isdecimal() and len(wanted) <= 18):
        raise Refusal("invalid", f"Give a {name} by its number.", name, 400)
    return int(wanted)


_SINCE = timezone.now()


class HealthSerializer(serializers.Serializer):
    """The server's own state; `since`: when it started."""

    status = serializers.CharField()
    since = serializers.DateTimeField()


class HealthView(APIView):
    """Whether the server is up and reaches its database."""

    @extend_schema(responses=HealthSerializer)
    def get(self, request: Request) -> Response:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
        return Response({"status": "ok", "since": _SINCE.isoformat()})


class NoSuchAddressView(APIView):
    """An address under /api/ that is not there, answered in the shape of every other error."""

    schema = None

    def initial(self, request: Request, *args: object, **kwargs: object) -> None:
        raise Http404
