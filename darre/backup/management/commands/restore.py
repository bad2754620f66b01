"""`manage.py restore FILE`: put a backup back; what was there is kept."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connections
from django.utils import timezone

from darre.backup.keeping import database_file, restore
from darre.common.database_file import UnusableError, lock


class Command(BaseCommand):
    """Puts a backup in the place of the records, which are kept beside it."""

    help = "Put a backup back. Stop Darre first."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        database = database_file()
        database.parent.mkdir(parents=True, exist_ok=True)
        try:
            lock(database)
            connections.close_all()
            kept = restore(options["file"], database, timezone.now())
        except UnusableError as error:
            raise CommandError(str(error)) from None
        call_command("migrate", verbosity=0)
        if kept is not None:
            self.stdout.write(f"What was there before is kept in {kept.name}.")
        self.stdout.write(f"Put back {options['file'].name}.")
