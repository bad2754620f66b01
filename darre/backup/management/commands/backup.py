"""`manage.py backup`: make a backup of the records, also while Darre is running."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError
from django.utils import timezone

from darre.backup.keeping import back_up, database_file
from darre.common.database_file import UnusableError


class Command(BaseCommand):
    """Makes a backup and says where it is."""

    help = "Make a backup of database and photos: one file."

    def handle(self, *args: Any, **options: Any) -> None:
        database = database_file()
        if not database.exists():
            raise CommandError(f"There are no records yet: {database.name} is not there.")
        try:
            made = back_up(database, timezone.now())
        except UnusableError as error:
            raise CommandError(str(error)) from None
        self.stdout.write(f"Backed up to {made.file} ({made.size_bytes / 1e6:.1f} MB).")
