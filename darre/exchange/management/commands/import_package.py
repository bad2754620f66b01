"""`manage.py import_package FILE`: bring a data package into a workshop without records."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError

from darre.common.errors import Refusal
from darre.exchange.actions.bring_in import bring_in


class Command(BaseCommand):
    """Brings the package in, or says what is wrong with it."""

    help = "Bring a data package into an empty workshop."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        try:
            found = bring_in(options["file"], options["file"].name).record
        except Refusal as refusal:
            raise CommandError(str(refusal)) from None
        self.stdout.write(f"Brought in {found.records} records and {found.photos} photos.")
