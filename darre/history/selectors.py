"""Reading the history: pages of entries, and what an entry changed, field by field."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from django.apps import apps
from django.db import models
from django.http import Http404

from darre.history.models import HistoryEntry

PAGE = 60
LONG = 300  # characters; a longer value, such as a stored forecast, is not shown
UNSAID = frozenset({"id", "batch_id", "run_id", "client_key", "import_key", "token_hash"})  # no names for people


@dataclass(frozen=True)
class FieldChange:
    """A field of a record before and after; a reference is shown by the name of what it refers to."""

    field: str
    before: Any
    after: Any


@dataclass(frozen=True)
class RecordChange:
    """What an entry did to a record. `record`: its kind; `rows`: how many came with an import."""

    record: str
    fields: list[FieldChange]
    created: bool
    removed: bool
    rows: int | None


def entries_before(before: int | None, find: str) -> list[HistoryEntry]:
    """A page of the history, newest first, older than an entry; `find`: words that stand in the summary or the name."""
    found = HistoryEntry.objects.defer("changes")
    if before is not None:
        found = found.filter(pk__lt=before)
    for word in find.split():
        found = found.filter(models.Q(summary__icontains=word) | models.Q(by__icontains=word))
    return list(found[:PAGE])


def changes_of(entry_id: int) -> list[RecordChange]:
    """What an entry changed, in the order of writing. Raises Http404."""
    entry = HistoryEntry.objects.filter(pk=entry_id).first()
    if entry is None:
        raise Http404
    return [_record_change(change) for change in entry.changes]


def _record_change(change: dict[str, Any]) -> RecordChange:
    if "key" in change:
        gone = bool(change.get("gone"))
        return RecordChange(change["model"], [], created=not gone, removed=gone, rows=change["rows"])
    before, after = change["before"], change["after"]
    fields = list(_field_changes(apps.get_model(change["model"]), before or {}, after or {}))
    return RecordChange(change["model"], fields, created=before is None, removed=after is None, rows=None)


def _field_changes(model: type[models.Model], before: dict[str, Any], after: dict[str, Any]) -> Iterator[FieldChange]:
    for name in {**before, **after}:
        was, now = before.get(name), after.get(name)
        if name in UNSAID or was == now or (was in (None, "") and now in (None, "")):
            continue
        shown = [_shown(model, name, value) for value in (was, now)]
        if any(isinstance(value, dict | list) and len(str(value)) > LONG for value in shown):
            continue
        yield FieldChange(name, *shown)


def _shown(model: type[models.Model], name: str, value: Any) -> Any:
    """A value as it can be shown: the name of what it refers to, where it refers to something that is still there."""
    field = next((f for f in model._meta.concrete_fields if f.attname == name), None)
    if value is None or not isinstance(field, models.ForeignKey):
        return value
    found = field.related_model._default_manager.filter(pk=value).first()
    return str(value) if found is None else getattr(found, "name", str(found))
