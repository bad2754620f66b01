"""A backup a day, made beside the serving of pages."""

import logging
import threading
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from django.db import DatabaseError
from django.utils import timezone

from darre.backup.keeping import back_up, is_due
from darre.common.database_file import UnusableError

LOOK_EVERY_S = 600.0


def keep_daily(
    database: Path,
    stop: threading.Event | None = None,
    then: Callable[[datetime], object] = lambda now: None,
) -> threading.Thread:
    """Look every ten minutes whether a backup is due, make it, and do what is to be done `then`. What goes wrong is
    said in the log, then tried again.
    """
    stop = stop or threading.Event()

    def look() -> None:
        while True:
            try:
                if is_due(database, timezone.now()):
                    back_up(database, timezone.now())
                    then(timezone.now())
            except (UnusableError, OSError, DatabaseError) as error:
                logging.getLogger("darre").warning("The daily backup was not made: %s", error)
            if stop.wait(LOOK_EVERY_S):
                return

    thread = threading.Thread(target=look, name="daily backup", daemon=True)
    thread.start()
    return thread
