"""Where things are: beside the source in a checkout, in the person's own data folder once Darre is installed."""

import os
from pathlib import Path

from platformdirs import user_data_path

BASE_DIR = Path(__file__).resolve().parent.parent
_FROM_SOURCE = (BASE_DIR / "manage.py").exists()
PAGE_DIR = BASE_DIR / "web" / "dist" if _FROM_SOURCE else Path(__file__).resolve().parent / "page"
"""The page as it was built."""


def _records() -> Path:
    if chosen := os.environ.get("DARRE_FOLDER"):
        return Path(chosen).expanduser().resolve()
    return BASE_DIR / "var" if _FROM_SOURCE else user_data_path("darre", appauthor=False)


VAR_DIR = _records()
"""Databases, photos, backups, and the secret that sessions are signed with."""
