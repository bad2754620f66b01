"""Reading what is sent: JSON that is no more nested than anything here could mean."""

from collections.abc import Mapping
from typing import IO, Any

from rest_framework.exceptions import ParseError
from rest_framework.parsers import JSONParser


class BoundedJSONParser(JSONParser):
    """As the framework's, and what cannot be taken apart without end is refused and no fault of the server."""

    def parse(
        self, stream: IO[Any], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None
    ) -> Any:
        try:
            return super().parse(stream, media_type, parser_context)
        except RecursionError:
            raise ParseError("This JSON is nested too deeply.") from None
