"""Reading what is sent: JSON that is no more nested, and has no longer numbers, than anything here could mean."""

import codecs
import json
import math
from collections.abc import Mapping
from typing import IO, Any

from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser

_MOST_DIGITS = 18  # of a whole number: what a database can hold


def _whole(text: str) -> int:
    if len(text.lstrip("-")) > _MOST_DIGITS:
        raise ValueError(f"a whole number of over {_MOST_DIGITS} digits")
    return int(text)


def _finite(text: str) -> float:
    value = float(text)
    if not math.isfinite(value):
        raise ValueError("a number that is not finite")
    return value


def _no_number(text: str) -> float:
    raise ValueError(f"{text} is not a number")


def bounded_json(text: str) -> Any:
    """What JSON text means. Raises ValueError for what is none, or is nested or written without end."""
    try:
        found = json.loads(text, parse_int=_whole, parse_float=_finite, parse_constant=_no_number)
    except RecursionError:
        raise ValueError("it is nested too deeply") from None
    if "\\ud" in text.lower():  # half of a character: no text that could be stored
        json.dumps(found, ensure_ascii=False).encode()
    return found


class BoundedJSONParser(JSONParser):
    """As the framework's; what no field could take is refused here, once for all of them."""

    def parse(
        self, stream: IO[Any], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> Any:
        try:
            return bounded_json(codecs.getreader("utf-8")(stream).read())
        except ValueError as error:
            raise ParseError(f"This cannot be read as JSON: {error}.") from None
