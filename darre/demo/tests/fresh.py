"""The demo world for tests, with the numbers that it has in a new database."""

from datetime import datetime

from django.db import connection

from darre.demo.load import load_demo_world as load


def load_demo_world(now: datetime | None = None) -> None:
    """Load it into an empty database as if nothing had ever been in it: spools, runs and dryers count from one."""
    with connection.cursor() as cursor:
        cursor.execute("DELETE FROM sqlite_sequence")
    load(now)
