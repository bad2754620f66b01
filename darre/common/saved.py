"""The one kind of result that actions return."""

from dataclasses import dataclass
from typing import Generic, TypeVar

Subject = TypeVar("Subject")


@dataclass(frozen=True)
class Saved(Generic[Subject]):
    """What every action returns: the record it is about (None where it was removed), and the history entry that undoes
    it (None where nothing had to be written).
    """

    record: Subject
    undo: int | None = None
