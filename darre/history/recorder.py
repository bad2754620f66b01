"""Writing with a history entry, and undoing it.

An action opens an entry and writes through it. Records and entry are stored together or not at all:

    with history_entry("weighing.saved", "Weighed Rain gauge: 858.4 g") as entry:
        entry.create(weighing)
    return entry.saved(weighing)
"""

from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, TypeVar
from uuid import UUID

from django.apps import apps
from django.db import IntegrityError, models, transaction
from django.db.models import Max
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved, Subject
from darre.history.models import HistoryEntry

Record = TypeVar("Record", bound=models.Model)

_acting: ContextVar[str] = ContextVar("acting", default="")


@dataclass
class _Asked:
    """The request that is being answered, by its key; and whether an entry bears it."""

    key: UUID
    noted: bool = False


_asked: ContextVar[_Asked | None] = ContextVar("asked", default=None)
_parts: ContextVar[list[int] | None] = ContextVar("parts", default=None)


@contextmanager
def acting_as(name: str) -> Iterator[None]:
    """Who acts: every entry that is written meanwhile bears this name."""
    token = _acting.set(name)
    try:
        yield
    finally:
        _acting.reset(token)


@contextmanager
def asked_by(key: UUID) -> Iterator[None]:
    """By which request: the first entry that is written meanwhile bears its key."""
    token = _asked.set(_Asked(key))
    try:
        yield
    finally:
        _asked.reset(token)


def _plain(value: Any) -> Any:
    """A field's value as JSON keeps it; moments to the microsecond."""
    if isinstance(value, datetime):
        return value.isoformat()
    return str(value) if isinstance(value, UUID) else value


def snapshot(record: models.Model) -> dict[str, Any]:
    """Every stored field of a record, as plain JSON values."""
    return {f.attname: _plain(f.value_from_object(record)) for f in record._meta.concrete_fields}


@dataclass
class OpenEntry:
    """A history entry that is being written. Every write of an action goes through create, update or delete."""

    changes: list[dict[str, Any]] = field(default_factory=list)
    stored: HistoryEntry | None = None

    def saved(self, record: Subject) -> Saved[Subject]:
        """The action's result, once the entry is stored."""
        assert self.stored is not None
        return Saved(record, self.stored.pk)

    def done(self) -> Saved[None]:
        """The result of an action that leaves no record behind."""
        return self.saved(None)

    def create(self, record: Record) -> Record:
        record.save(force_insert=True)
        record.refresh_from_db()
        self._note(record, None, snapshot(record))
        return record

    def update(self, record: Record, **values: Any) -> Record:
        """Raises Refusal where the record was changed since it was read."""
        before = self._as_read(record)
        for name, value in values.items():
            setattr(record, name, value)
        record.save(update_fields=list(values))
        record.refresh_from_db()
        self._note(record, before, snapshot(record))
        return record

    def delete(self, record: models.Model) -> None:
        """Raises Refusal where another record belongs to this one, and where it was changed since it was read."""
        before, pk = self._as_read(record), record.pk
        try:
            record.delete()
        except models.ProtectedError as error:
            by = next(iter(error.protected_objects))
            says = f"{record} stays: {by} ({by._meta.verbose_name}) belongs to it. Remove that first."
            raise Refusal("in_use", says, status=409) from None
        self.changes.append({"model": record._meta.label_lower, "pk": pk, "before": before, "after": None})

    def _as_read(self, record: models.Model) -> dict[str, Any]:
        """The record's fields: what an act judged by must still be so, now that nobody else can write."""
        read = snapshot(record)
        present = type(record)._base_manager.filter(pk=record.pk).first()
        if present is None:
            raise Refusal("gone", "This was removed at the same moment, perhaps by another tab.", status=409)
        if snapshot(present) != read:
            says = "This was changed at the same moment, perhaps in another tab. Look at it again, then repeat it."
            raise Refusal("changed_meanwhile", says, status=409)
        return read

    def create_all(self, records: Sequence[models.Model]) -> None:
        """Store many records of one kind at once. Their values must be as the database gives them back."""
        if records:
            type(records[0])._default_manager.bulk_create(records, batch_size=500)
            for record in records:
                self._note(record, None, snapshot(record))

    def create_rows(self, rows: Sequence[models.Model], key: int) -> None:
        """Store the rows of an import; those that are there already stay. They bear `key` as their `import_key`, by
        which they are removed together when the entry is undone; the entry itself does not hold them.
        """
        if not rows:
            return
        model = type(rows[0])
        model._default_manager.bulk_create(rows, ignore_conflicts=True, batch_size=500)
        count = model._default_manager.filter(import_key=key).count()
        self.changes.append(
            {"model": model._meta.label_lower, "pk": None, "before": None, "after": None, "key": key, "rows": count}
        )

    def _note(self, record: models.Model, before: dict[str, Any] | None, after: dict[str, Any]) -> None:
        self.changes.append({"model": record._meta.label_lower, "pk": record.pk, "before": before, "after": after})


@contextmanager
def history_entry(kind: str, summary: str) -> Iterator[OpenEntry]:
    """One history entry in one transaction. `kind` is "record.what", `summary` a short line for people."""
    with transaction.atomic():
        entry = OpenEntry()
        yield entry
        asked, parts = _asked.get(), _parts.get()
        if parts is not None:  # the whole bears the request's key
            asked = None
        key = asked.key if asked and not asked.noted else None
        try:
            entry.stored = HistoryEntry.objects.create(
                kind=kind, summary=summary[:200], changes=entry.changes, by=_acting.get(), act_key=key
            )
        except IntegrityError:
            raise Refusal("done_already", "This was sent twice, and is done already.", status=409) from None
        if asked:
            asked.noted = True
        if parts is not None:
            parts.append(entry.stored.pk)


@contextmanager
def gathered(kind: str, summary: str) -> Iterator[OpenEntry]:
    """One entry of an act that takes long: its parts are written each by itself, as entries of their own, so that
    nobody waits for the database meanwhile; at the end they become one, which is undone whole. Where the act breaks
    off the parts stay, and each can be undone; so each must be whole.
    """
    token = _parts.set([])
    try:
        whole = OpenEntry()
        yield whole
        written = _parts.get() or []
    finally:
        _parts.reset(token)
    if written:
        with history_entry(kind, summary) as entry:
            parts = HistoryEntry.objects.filter(pk__in=written, undone_at=None)
            entry.changes.extend(change for part in parts.order_by("pk") for change in part.changes)
            parts.delete()
        whole.stored = entry.stored


class ChangedMeanwhile(Exception):  # noqa: N818  it is caught, and the act is tried again
    """What an act was computed from has changed before it could be written."""


def _last_entry() -> int:
    return HistoryEntry.objects.aggregate(last=Max("pk"))["last"] or 0


def refuse_if_changed_since(entry: int) -> None:
    """Raise ChangedMeanwhile where anything was written after this entry. Call it first in the act's transaction."""
    if _last_entry() != entry:
        raise ChangedMeanwhile


def computed_before_writing(act: Callable[[int], Saved[Subject]], tries: int = 4) -> Saved[Subject]:
    """Run an act that computes first, without the write lock, and writes only where nothing changed in between.

    `act` takes the last history entry before it began, and asks `refuse_if_changed_since` with it before it writes.
    Every edit is an entry, one in place as well, so nothing that the act was computed from goes unnoticed. Where
    something changed it is tried again from the start.
    """
    for _ in range(tries):
        try:
            return act(_last_entry())
        except ChangedMeanwhile:
            continue
    raise Refusal("busy", "Other changes to this came in at the same moment. Please try again.", status=409)


def _is_as(present: models.Model | None, after: dict[str, Any] | None) -> bool:
    """Whether a record stands as an entry left it, by the fields that both have: an older version had others."""
    if present is None or after is None:
        return present is after
    now = snapshot(present)
    return all(now[name] == value for name, value in after.items() if name in now)


def _restore(change: dict[str, Any]) -> None:
    model = apps.get_model(change["model"])
    if "key" in change:
        if change.get("gone"):
            raise Refusal("rows_gone", "The rows of this import were removed. Import the file again.", status=409)
        model._default_manager.filter(import_key=change["key"]).delete()
        return
    present = model._default_manager.filter(pk=change["pk"]).first()
    if not _is_as(present, change["after"]):
        raise Refusal("changed_since", "This was changed again afterwards. Undo the later change first.", status=409)
    if change["before"] is None:
        assert present is not None
        present.delete()
        return
    restored = model(pk=change["pk"])
    kept = {field.attname for field in model._meta.concrete_fields}
    for name, value in ((name, value) for name, value in change["before"].items() if name in kept):
        setattr(restored, name, model._meta.get_field(name).to_python(value) if value is not None else None)
    _refuse_orphan(restored)
    restored.save(force_insert=present is None, force_update=present is not None)


def _refuse_orphan(record: models.Model) -> None:
    """Raise Refusal for a record that belongs to one that is not there: the database would say so only at the end."""
    for column in record._meta.concrete_fields:
        owner, key = column.remote_field, getattr(record, column.attname)
        if owner is not None and key is not None and not owner.model._base_manager.filter(pk=key).exists():
            says = (
                f"The {owner.model._meta.verbose_name} it belonged to was removed since. Undo the later changes first."
            )
            raise Refusal("in_use", says, status=409)


def undo(entry_id: int) -> HistoryEntry:
    """Undo an entry: every record in it stands as before, and a new entry says so.

    Refused where a record was changed since and where other records depend on it. Undoing twice changes nothing.
    """
    with transaction.atomic():
        entry = HistoryEntry.objects.filter(pk=entry_id).first()
        if entry is None:
            raise Refusal("not_found", "There is no such history entry.", status=404)
        if entry.undone_at is not None:
            return entry
        for change in reversed(entry.changes):
            try:
                with transaction.atomic():
                    _restore(change)
            except (models.ProtectedError, IntegrityError):
                raise Refusal(
                    "in_use", "Other records depend on this one now. Undo the later changes first.", status=409
                ) from None
        entry.undone_at = timezone.now()
        entry.save(update_fields=["undone_at"])
        turned = [
            {**c, "before": c["after"], "after": c["before"], **({"gone": True} if "key" in c else {})}
            for c in reversed(entry.changes)
        ]
        HistoryEntry.objects.create(
            kind="entry.undone", summary=f"Undid: {entry.summary}"[:200], changes=turned, by=_acting.get()
        )
        return entry
