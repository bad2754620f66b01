"""Bringing a data package into a workshop that has no records yet, as one act that can be taken back."""

from __future__ import annotations

import secrets
import time
from collections import defaultdict
from dataclasses import dataclass
from itertools import islice
from pathlib import Path

from django.db import IntegrityError, models

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.devices.models import Device
from darre.diagnosis.photo_store import take_over
from darre.equipment.models import Dryer
from darre.equipment.records import core_dryer
from darre.exchange.read import Incoming, wrong
from darre.exchange.tables import HIDDEN, Table, tables
from darre.history.recorder import OpenEntry, history_entry
from darre.inventory.models import Preferences
from drying.errors import DryingError

_AT_ONCE = 2000
# What a workshop may have before anything was recorded in it; the package's own take its place.
REPLACED: tuple[type[models.Model], ...] = (Preferences,)


@dataclass(frozen=True)
class BroughtIn:
    """How much came in."""

    records: int
    photos: int


def is_bulk(table: Table) -> bool:
    """Whether its rows are readings by the thousand, which an entry of history does not hold one by one."""
    return "import_key" in HIDDEN.get(table.model._meta.label, ())


def refuse_unless_empty() -> None:
    """Raise Refusal where anything is recorded here."""
    for table in tables():
        if table.model not in REPLACED and table.model._base_manager.exists():
            what = table.model._meta.verbose_name_plural
            says = (
                f"A data package comes into an empty workshop, and this one has {what}. Start one of its own: "
                "DARRE_DB=another.sqlite3 make serve"
            )
            raise Refusal("not_empty", says, "file", 409)


def _checked(incoming: Incoming) -> dict[Table, list[models.Model]]:
    """Every record, looked at; readings by the thousand are looked at and read again later. Raises Refusal."""
    there: dict[type[models.Model], set[object]] = defaultdict(set)
    found: dict[Table, list[models.Model]] = {}
    for table in tables():
        pointers = [field for field in table.fields if isinstance(field, models.ForeignKey)]
        found[table] = []
        for line, record in incoming.records(table):
            if record.pk in there[table.model]:
                raise wrong(f"{table.file}, line {line}: there is a row with the number {record.pk} already.")
            there[table.model].add(record.pk)
            for field in pointers:
                owner = getattr(record, field.attname)
                if owner is not None and owner not in there[field.related_model]:
                    file = Table(field.related_model).file
                    raise wrong(f"{table.file}, line {line}, {field.attname}: {owner} is not in {file}.")
            _look_closer(table, line, record)
            if not is_bulk(table):
                found[table].append(record)
    return found


def _look_closer(table: Table, line: int, record: models.Model) -> None:
    if isinstance(record, Device):
        record.token_hash = secrets.token_hex(32)  # of no token: it is given a new one in Kit
    if isinstance(record, Dryer):
        try:
            core_dryer(record)
        except (DryingError, ValueError, TypeError, KeyError, IndexError) as error:
            raise wrong(f"{table.file}, line {line}: {error}") from None


def _stored(entry: OpenEntry, incoming: Incoming, found: dict[Table, list[models.Model]]) -> int:
    count, key = 0, time.time_ns()
    for model in REPLACED:
        for record in model._base_manager.all():
            entry.delete(record)
    for table, records in found.items():
        try:
            entry.create_all(records)
            count += len(records)
            if is_bulk(table):
                count += _stored_in_bulk(entry, table, incoming, key)
        except IntegrityError as error:
            raise wrong(f"{table.file} does not hold together: {error}.") from None
    return count


def _stored_in_bulk(entry: OpenEntry, table: Table, incoming: Incoming, key: int) -> int:
    rows, count = (record for _, record in incoming.records(table)), 0
    while some := list(islice(rows, _AT_ONCE)):
        for record in some:
            record.import_key = key  # type: ignore[attr-defined]  # every table taken in has it
        entry.create_rows(some, key)
        count += len(some)
    stored = table.model._base_manager.filter(import_key=key).count()
    if stored < count:
        raise wrong(f"{table.file}: {count - stored} rows are out of bounds, or of the same moment as another.")
    return count


def bring_in(file: Path, name: str) -> Saved[BroughtIn]:
    """Bring a package in. Raises Refusal where there are records here, and where anything is wrong with the package."""
    refuse_unless_empty()
    with Incoming(file) as incoming:
        incoming.check_digests()
        found = _checked(incoming)  # all of it before anything is written, and before others must wait
        photos = 0
        for photo, content in incoming.photos():
            take_over(photo, content)
            photos += 1
        with history_entry("package.brought_in", f"Brought in {name}") as entry:
            refuse_unless_empty()
            count = _stored(entry, incoming, found)
        return entry.saved(BroughtIn(count, photos))
