"""JSON in and out of the command line: what is missing or wrong is named, and one bad entry leaves the others be."""

from __future__ import annotations

import json
import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any

from drying.errors import DryingError, OutOfRangeError


def part(of: Mapping[str, Any], name: str) -> Any:
    """A named part. Raises OutOfRangeError where it is missing."""
    if not isinstance(of, Mapping) or name not in of:
        raise OutOfRangeError(name, f"“{name}” is missing.")
    return of[name]


def require_known(of: Any, known: Iterable[str], what: str) -> None:
    """Raise OutOfRangeError that names what `what` has beside the names that are known; no object has none."""
    names = list(known)
    if isinstance(of, Mapping) and (more := sorted(str(name) for name in of if name not in names)):
        said = ", ".join(f"“{name}”" for name in more)
        raise OutOfRangeError(more[0], f"{said} in {what} is not known; there are {', '.join(names)}.")


def number(of: Mapping[str, Any], name: str) -> float:
    """A named number. Raises OutOfRangeError where it is missing or none."""
    value = part(of, name)
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise OutOfRangeError(name, f"“{name}” is {json.dumps(value)}: give a number.")
    return float(value)


def optional_number(of: Mapping[str, Any], name: str) -> float | None:
    """A named number that may be missing or null. Raises OutOfRangeError where it is something else."""
    return None if of.get(name) is None else number(of, name)


def rows(of: Mapping[str, Any], name: str) -> Sequence[Mapping[str, Any]]:
    """A named list of objects. Raises OutOfRangeError where it is missing or something else."""
    found = part(of, name)
    if not isinstance(found, list) or not all(isinstance(row, Mapping) for row in found):
        raise OutOfRangeError(name, f"“{name}” must be a list of objects.")
    return found


def answers(text: str, answer_of: Callable[[Mapping[str, Any]], dict[str, Any]], what: str) -> tuple[Any, list[str]]:
    """The answers to one entry or a list of them, in the same shape, and what was wrong (such an entry answers null).

    `what`: the name of an entry in complaints. Raises OutOfRangeError for a text that is not JSON.
    """
    try:
        asked = json.loads(text)
    except ValueError as error:
        raise OutOfRangeError("file", f"This is not JSON: {error}.") from None
    found: list[Any] = []
    complaints = []
    for at, item in enumerate(asked if isinstance(asked, list) else [asked]):
        try:
            found.append(answer_of(item))
        except DryingError as wrong:
            found.append(None)
            complaints.append(f"{what} {at + 1}: {wrong}")
    return (found if isinstance(asked, list) else found[0]), complaints
