"""`manage.py demo_world`: make the demo database anew."""

import json
import sqlite3
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.utils import timezone

from darre.demo.devices import load_devices
from darre.demo.load import LOADED, load_demo_world


def touched_by_hand(file: Path) -> bool:
    """Whether anything was written to this demo database after it was loaded. A schedule is worked out where somebody
    only looks at it.
    """
    try:
        with sqlite3.connect(file) as db:
            last = db.execute(
                "SELECT kind FROM history_historyentry WHERE kind != 'schedule.worked_out' ORDER BY id DESC LIMIT 1"
            ).fetchone()
    except sqlite3.DatabaseError:
        return False
    return last is not None and last[0] != LOADED


def make_room(file: Path) -> Path | None:
    """Make room for a new demo at this file: one in which someone worked is set aside, one as it was loaded goes.

    Returns where the old one is kept, None where there was nothing to keep. Raises CommandError for a file that is not
    named demo*: it may be the person's own.
    """
    if not file.name.startswith("demo"):
        raise CommandError(f"{file.name} is not a demo database: set DARRE_DB to a file named demo*.sqlite3.")
    kept = None
    if file.exists():
        if touched_by_hand(file):
            kept = file.with_name(f"kept-{file.stem}-{timezone.now():%Y%m%d-%H%M%S}.sqlite3")
            with sqlite3.connect(file) as db:
                db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            file.rename(kept)
        for suffix in ("", "-wal", "-shm"):
            file.with_name(file.name + suffix).unlink(missing_ok=True)
    return kept


class Command(BaseCommand):
    """Starts the demo world afresh; a demo in which someone worked is set aside, not lost."""

    help = "Make the demo database anew. Refuses any database whose file is not named demo*."

    def handle(self, *args: Any, **options: Any) -> None:
        file = Path(str(settings.DATABASES["default"]["NAME"]))
        if kept := make_room(file):
            self.stdout.write(f"Your work in the last demo is kept in {kept.name}.")
        call_command("migrate", verbosity=0)
        load_demo_world(people=True)
        secrets = file.with_name(f"{file.name}.standins.json")
        secrets.write_text(json.dumps(load_devices(timezone.now())), "utf-8")
        self.stdout.write("Demo world loaded.")
