"""Answers as JSON, and parts of them that are written once for every answer that they stand in."""

from collections.abc import Callable

import orjson
from rest_framework.utils.encoders import JSONEncoder


def as_json(shape: object) -> bytes:
    """As the framework's own renderer writes it, in a tenth of the time: a rack is some fifty thousand numbers."""
    return orjson.dumps(shape, JSONEncoder().default, orjson.OPT_PASSTHROUGH_DATETIME)


class Written:
    """How something that does not change any more is written in JSON. Kept with it, and gone with it."""

    def __init__(self) -> None:
        self._parts: dict[object, orjson.Fragment] = {}

    def once(self, key: object, shape: Callable[[], object]) -> orjson.Fragment:
        """The part that `key` stands for, to be put into an answer; written where it was not asked for before."""
        found = self._parts.get(key)
        if found is None:
            found = self._parts[key] = orjson.Fragment(as_json(shape()))
        return found
