"""Reading a data package. Nothing in it is trusted: names, sizes and every cell are looked at before a record is made,
and what is wrong is named by file, row and column.
"""

from __future__ import annotations

import csv
import hashlib
import io
import json
import re
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from django.db import models

from darre.common.errors import Refusal
from darre.exchange.cells import MOST_CELL, from_cell
from darre.exchange.tables import Table, tables
from darre.exchange.write import DESCRIPTOR, FORMAT, PHOTOS

MOST_FILES, MOST_BYTES, MOST_PHOTO = 20_000, 2_000_000_000, 20_000_000
MOST_DESCRIPTOR, MOST_ROWS = 8_000_000, 5_000_000
PHOTO = re.compile(PHOTOS + r"([0-9a-f]{40})\.jpg")


def wrong(says: str) -> Refusal:
    """What is wrong with the package."""
    return Refusal("bad_package", f"{says} Nothing was changed.", "file", 400)


class Incoming:
    """A package that somebody sent. Raises Refusal where it is none, damaged, or of a newer kind."""

    def __init__(self, file: Path) -> None:
        try:
            self._archive = zipfile.ZipFile(file)
        except (zipfile.BadZipFile, OSError, ValueError, NotImplementedError):
            raise wrong("This is no data package: it is not a zip archive, or it is damaged.") from None
        try:
            self._look()
        except BaseException:
            self._archive.close()
            raise

    def __enter__(self) -> Incoming:
        return self

    def __exit__(self, *_: object) -> None:
        self._archive.close()

    def _look(self) -> None:
        entries = self._archive.infolist()
        names = [entry.filename for entry in entries]
        if len(entries) > MOST_FILES or sum(entry.file_size for entry in entries) > MOST_BYTES:
            raise wrong("This archive holds more than any data package.")
        if len(set(names)) < len(names):
            raise wrong("This archive holds two files of one name.")
        if DESCRIPTOR not in names:
            raise wrong(f"This archive is no data package of Darre: it has no {DESCRIPTOR}.")
        described = self._described()
        if described.get("name") != "darre" or not isinstance(described.get("version"), str):
            raise wrong("This data package is of another program.")
        if described["version"] != FORMAT:
            raise wrong(f"This data package has format {described['version'][:20]}; this version reads {FORMAT}.")
        known = {table.file for table in tables()} | {DESCRIPTOR}
        for name in names:
            if name not in known and not PHOTO.fullmatch(name):
                raise wrong(f"This archive has a file that does not belong in it: {name[:80]!r}.")
        self.names, self._digests = set(names), self._told_digests(described)

    def _described(self) -> dict[str, Any]:
        try:
            found = json.loads(self._bytes(DESCRIPTOR, MOST_DESCRIPTOR))
        except (ValueError, RecursionError):
            raise wrong(f"{DESCRIPTOR} cannot be read.") from None
        if not isinstance(found, dict):
            raise wrong(f"{DESCRIPTOR} cannot be read.")
        return found

    @staticmethod
    def _told_digests(described: dict[str, Any]) -> dict[str, str]:
        told = described.get("resources")
        rows = [row for row in told if isinstance(row, dict)] if isinstance(told, list) else []
        return {str(row.get("path")): str(row.get("hash")) for row in rows if row.get("hash")}

    def _bytes(self, name: str, most: int) -> bytes:
        if self._archive.getinfo(name).file_size > most:
            raise wrong(f"{name} is too large.")
        try:
            return self._archive.read(name)
        except (zipfile.BadZipFile, OSError, EOFError, NotImplementedError, RuntimeError, ValueError):
            raise wrong(f"{name} is damaged.") from None

    def photos(self) -> Iterator[tuple[str, bytes]]:
        """The photos by the names they are stored under. Raises Refusal."""
        for name in sorted(self.names):
            if found := PHOTO.fullmatch(name):
                yield found.group(1), self._bytes(name, MOST_PHOTO)

    def records(self, table: Table) -> Iterator[tuple[int, models.Model]]:
        """The rows of a table as records that are not stored yet, each with its line. Raises Refusal."""
        if table.file not in self.names:
            return
        usual = csv.field_size_limit(MOST_CELL)
        try:
            with self._archive.open(table.file) as raw, io.TextIOWrapper(raw, "utf-8-sig", newline="") as text:
                yield from self._rows(table, csv.reader(text, strict=True))
        except (zipfile.BadZipFile, OSError, EOFError, NotImplementedError, RuntimeError):
            raise wrong(f"{table.file} is damaged.") from None
        except UnicodeDecodeError:
            raise wrong(f"{table.file} is not in UTF-8.") from None
        except csv.Error as error:
            raise wrong(f"{table.file} is no table as CSV has it: {error}.") from None
        finally:
            csv.field_size_limit(usual)

    def _rows(self, table: Table, reader: Any) -> Iterator[tuple[int, models.Model]]:
        head: list[str] = next(reader, [])
        fields = {field.attname: field for field in table.fields}
        for name in head:
            if name not in fields:
                raise wrong(f"{table.file} has a column that is not known: {name[:60]!r}.")
        if len(set(head)) < len(head):
            raise wrong(f"{table.file} has a column twice.")
        for name, field in fields.items():
            if name not in head and not (field.null or field.has_default()):
                raise wrong(f"{table.file} lacks the column {name}.")
        columns = [fields[name] for name in head]
        for row in reader:
            if reader.line_num > MOST_ROWS:
                raise wrong(f"{table.file} has more than {MOST_ROWS} lines.")
            if len(row) != len(columns):
                raise wrong(f"{table.file}, line {reader.line_num}: {len(row)} cells where {len(columns)} belong.")
            yield reader.line_num, self._record(table, columns, row, reader.line_num)

    @staticmethod
    def _record(table: Table, columns: list[Any], row: list[str], line: int) -> models.Model:
        values = {}
        for field, cell in zip(columns, row, strict=True):
            try:
                values[field.attname] = from_cell(field, cell)
            except ValueError:
                says = f"{table.file}, line {line}, {field.attname}: {cell[:40]!r} cannot stand there."
                raise wrong(says) from None
        return table.model(**values)

    def check_digests(self) -> None:
        """Every table is as it was written; whoever edits one takes its digest out of the description. Raises
        Refusal.
        """
        for name in sorted(self.names & self._digests.keys()):
            found = hashlib.sha256()
            try:
                with self._archive.open(name) as raw:
                    while piece := raw.read(1 << 20):
                        found.update(piece)
            except (zipfile.BadZipFile, OSError, EOFError, NotImplementedError, RuntimeError):
                raise wrong(f"{name} is damaged.") from None
            if self._digests[name] != f"sha256:{found.hexdigest()}":
                raise wrong(f"{name} is not as it was written: its digest differs from that in {DESCRIPTOR}.")
