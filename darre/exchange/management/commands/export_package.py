"""`manage.py export_package FILE`: write all records as a data package."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError
from django.utils import timezone

from darre.backup.keeping import database_file
from darre.common.database_file import is_behind
from darre.exchange.write import write_package


class Command(BaseCommand):
    """Writes the package, also while Darre is running."""

    help = "Write all records as CSV tables with a described schema, in one archive."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        database = database_file()
        if not database.exists():
            raise CommandError(f"There are no records yet: {database.name} is not there.")
        if is_behind():
            raise CommandError(f"{database.name} is of an older version: start Darre once, which brings it up to date.")
        file: Path = options["file"]
        with file.open("wb") as out:
            write_package(out, timezone.now())
        self.stdout.write(f"Wrote {file} ({file.stat().st_size / 1e6:.1f} MB).")
