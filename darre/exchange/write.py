"""Writing the data package: a zip archive of one CSV file a table, `datapackage.json` that describes them, and the
photos. The same records give the same bytes, but for the moment at which it was made.
"""

from __future__ import annotations

import csv
import hashlib
import io
import json
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import IO, Any

from django.conf import settings
from django.db import connection, models

from darre.exchange.cells import kind_of, to_cell
from darre.exchange.tables import Table, tables, unit_of

FORMAT, DESCRIPTOR, PHOTOS = "1", "datapackage.json", "photos/"
LINE_END = "\r\n"  # as RFC 4180 has it
_ROWS_AT_ONCE, _PIECE = 2000, 65536


@contextmanager
def one_moment() -> Iterator[None]:
    """All that is read within stands as it did at one moment, and nobody is kept from writing meanwhile."""
    if connection.in_atomic_block:  # tests are in one already
        yield
        return
    with connection.cursor() as cursor:
        cursor.execute("BEGIN DEFERRED")
        try:
            yield
        finally:
            cursor.execute("ROLLBACK")


class _Counted:
    """Bytes on their way into the archive, counted and digested."""

    def __init__(self, out: IO[bytes]) -> None:
        self.out, self.size, self.digest = out, 0, hashlib.sha256()

    def write(self, piece: bytes) -> None:
        self.size += len(piece)
        self.digest.update(piece)
        self.out.write(piece)


def _entry(name: str) -> zipfile.ZipInfo:
    entry = zipfile.ZipInfo(name)  # without a moment of its own
    entry.compress_type, entry.external_attr = zipfile.ZIP_DEFLATED, 0o600 << 16
    return entry


def _column(field: models.Field[Any, Any]) -> dict[str, Any]:
    told: dict[str, Any] = {"name": field.attname, "type": kind_of(field)}
    if unit := unit_of(field):
        told["unit"] = unit
    if kind_of(field) == "datetime":
        told["description"] = "UTC"
    elif "sd_" in field.attname or field.attname.endswith("_sd"):
        told["description"] = "standard uncertainty"
    elif kind_of(field) == "any":
        told["description"] = "JSON"
    constraints: dict[str, Any] = {"required": not field.null and kind_of(field) != "string"}
    if field.choices:
        constraints["enum"] = [str(value) for value, _ in field.flatchoices]
    return told | {"constraints": constraints}


def _described(table: Table, written: _Counted, rows: int) -> dict[str, Any]:
    keys = [
        {"fields": field.attname, "reference": {"resource": Table(field.related_model).file[:-4], "fields": "id"}}
        for field in table.fields
        if isinstance(field, models.ForeignKey)
    ]
    pk = table.model._meta.pk
    return {
        "name": table.file[:-4],
        "path": table.file,
        "description": table.about,
        "encoding": "utf-8",
        "dialect": {"delimiter": ",", "lineTerminator": LINE_END},
        "bytes": written.size,
        "hash": f"sha256:{written.digest.hexdigest()}",
        "rows": rows,
        "schema": {
            "fields": list(map(_column, table.fields)),
            "primaryKey": pk.attname if pk else "id",
            "foreignKeys": keys,
        },
    }


def table_lines(table: Table) -> Iterator[str]:
    """A table as lines of CSV, the first with the names of its columns."""
    out = io.StringIO()
    lines, names = csv.writer(out, lineterminator=LINE_END), [field.attname for field in table.fields]
    lines.writerow(names)
    for row in table.model._base_manager.order_by("pk").values_list(*names).iterator(_ROWS_AT_ONCE):
        lines.writerow(map(to_cell, table.fields, row))
        if out.tell() > _PIECE:
            yield out.getvalue()
            out.seek(0)
            out.truncate()
    yield out.getvalue()


def _write_table(archive: zipfile.ZipFile, table: Table) -> dict[str, Any]:
    with archive.open(_entry(table.file), "w", force_zip64=True) as out:
        counted = _Counted(out)
        for piece in table_lines(table):
            counted.write(piece.encode())
    return _described(table, counted, table.model._base_manager.count())


def photo_files() -> list[Path]:
    """The photos that records name; the small ones are made of them again."""
    photos: type[models.Model] = next(t.model for t in tables() if t.model._meta.label == "diagnosis.Photo")
    names = sorted(set(photos._base_manager.values_list("file", flat=True)))
    folder: Path = settings.PHOTO_DIR
    return [path for path in (folder / f"{name}.jpg" for name in names) if path.is_file()]


def _write_photo(archive: zipfile.ZipFile, path: Path) -> None:
    """A photo that was removed meanwhile is left out: its record is gone too, or is written without it."""
    try:
        content = path.read_bytes()
    except FileNotFoundError:
        return
    archive.writestr(_entry(PHOTOS + path.name), content)


def write_package(out: IO[bytes], now: datetime) -> None:
    """Write all records as they stand at one moment. Raises OSError."""
    with zipfile.ZipFile(out, "w", allowZip64=True) as archive, one_moment():
        resources = [_write_table(archive, table) for table in tables()]
        for path in photo_files():
            _write_photo(archive, path)
        described = {
            "profile": "tabular-data-package",
            "name": "darre",
            "title": "Records of a Darre workshop",
            "version": FORMAT,
            "created": now.astimezone(UTC).isoformat(timespec="seconds").replace("+00:00", "Z"),
            "resources": resources,
        }
        archive.writestr(_entry(DESCRIPTOR), json.dumps(described, ensure_ascii=False, indent=1) + "\n")
