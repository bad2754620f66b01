"""What is kept of the network: whether others may come in, and by which further names. Read before the settings are."""

import json
from dataclasses import asdict, dataclass
from pathlib import Path


@dataclass(frozen=True)
class Kept:
    """`open`: whether other devices are answered. `names`: further names by which they reach this machine."""

    open: bool = False
    names: tuple[str, ...] = ()


def file_of(database: Path) -> Path:
    """Where it is kept for a database."""
    return database.with_name(f"{database.name}.network.json")


def read_kept(database: Path) -> Kept:
    """What is kept; closed where nothing is, or where it cannot be read."""
    try:
        found = json.loads(file_of(database).read_text("utf-8"))
        return Kept(found["open"] is True, tuple(str(name) for name in found["names"]))
    except (OSError, ValueError, KeyError, TypeError):
        return Kept()


def keep(database: Path, kept: Kept) -> None:
    """Keep it, whole or not at all. Raises OSError."""
    file = file_of(database)
    part = file.with_name(f"{file.name}.part")
    part.write_text(json.dumps(asdict(kept)), "utf-8")
    part.chmod(0o600)
    part.replace(file)
