"""Writing with a history line, and taking an act back.

An action opens an act, writes through it, and both the records and their line are stored together or not at all:

    with act("weighing.kept", "Weighed Rain gauge: 858.4 g") as book:
        book.create(weighing)
"""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, TypeVar
from uuid import UUID

from django.apps import apps
from django.db import IntegrityError, models, transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.history.models import Line

Record = TypeVar("Record", bound=models.Model)


def _plain(value: Any) -> Any:
    """A field's value as JSON keeps it; moments to the microsecond."""
    if isinstance(value, datetime):
        return value.isoformat()
    return str(value) if isinstance(value, UUID) else value


def snapshot(record: models.Model) -> dict[str, Any]:
    """Every stored field of a record, as plain JSON values."""
    return {f.attname: _plain(f.value_from_object(record)) for f in record._meta.concrete_fields}


@dataclass
class Book:
    """The open act. Every write of an action goes through one of these three."""

    changes: list[dict[str, Any]] = field(default_factory=list)
    line: Line | None = None

    @property
    def undo(self) -> int | None:
        """The line of history that takes this act back; None while it is open."""
        return self.line.id if self.line else None

    def create(self, record: Record) -> Record:
        record.save(force_insert=True)
        record.refresh_from_db()
        self._note(record, None, snapshot(record))
        return record

    def update(self, record: Record, **values: Any) -> Record:
        before = snapshot(record)
        for name, value in values.items():
            setattr(record, name, value)
        record.save(update_fields=list(values))
        record.refresh_from_db()
        self._note(record, before, snapshot(record))
        return record

    def delete(self, record: models.Model) -> None:
        before, pk = snapshot(record), record.pk
        record.delete()
        self.changes.append({"model": record._meta.label_lower, "pk": pk, "before": before, "after": None})

    def _note(self, record: models.Model, before: dict[str, Any] | None, after: dict[str, Any]) -> None:
        self.changes.append({"model": record._meta.label_lower, "pk": record.pk, "before": before, "after": after})


@contextmanager
def act(name: str, summary: str) -> Iterator[Book]:
    """One act in one transaction. `name` is "record.what", `summary` a short line for people."""
    with transaction.atomic():
        book = Book()
        yield book
        book.line = Line.objects.create(act=name, summary=summary[:200], changes=book.changes)


def _restore(change: dict[str, Any]) -> None:
    model = apps.get_model(change["model"])
    present = model._default_manager.filter(pk=change["pk"]).first()
    if (snapshot(present) if present else None) != change["after"]:
        raise Refusal(
            "changed_since", "This was changed again afterwards. Take the later change back first.", status=409
        )
    if change["before"] is None:
        assert present is not None
        present.delete()
        return
    restored = model(pk=change["pk"])
    for name, value in change["before"].items():
        setattr(restored, name, model._meta.get_field(name).to_python(value) if value is not None else None)
    restored.save(force_insert=present is None, force_update=present is not None)


def undo(line_id: int) -> Line:
    """Take an act back: every record of it stands as before, and a line says so.

    Refused where a record was changed since, where it was already taken back, and where other records rest on it.
    """
    with transaction.atomic():
        line = Line.objects.filter(pk=line_id).first()
        if line is None:
            raise Refusal("not_found", "There is no such line of history.", status=404)
        if line.undone_at is not None:
            return line  # a second click on Undo changes nothing
        for change in reversed(line.changes):
            try:
                with transaction.atomic():
                    _restore(change)
            except (models.ProtectedError, IntegrityError):
                raise Refusal(
                    "in_use", "Other records rest on this one now. Take the later acts back first.", status=409
                ) from None
        line.undone_at = timezone.now()
        line.save(update_fields=["undone_at"])
        turned = [{**c, "before": c["after"], "after": c["before"]} for c in reversed(line.changes)]
        Line.objects.create(act="line.undone", summary=f"Took back: {line.summary}"[:200], changes=turned)
        return line
