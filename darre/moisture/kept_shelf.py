"""What was computed of the shelf, in a file beside the database: the first page after a start need not simulate a
year again. Sealed with the server's own secret, and thrown away on any doubt: nothing in it is a record.

A simulation goes on from the first hour that differs from what is kept, and a best run goes by the set-ups that it was
chosen from: what is kept can be useless, never wrong, as long as the same code computed it.
"""

import hashlib
import hmac
import io
import logging
import os
import pickle
from pathlib import Path

from django.conf import settings

from darre.inventory.material_book import material_book
from darre.moisture.apps import best_runs, simulator
from drying.materials import Material
from drying.moisture import code_digest

MOST_BYTES, OF_BLOCKS = 300_000_000, 20_000_000
SEAL = hashlib.sha256().digest_size


def file_of(database: Path) -> Path:
    """Where it is kept for a database."""
    return database.with_name(f"{database.name}.computed")


def _seal(kept: bytes) -> bytes:
    key = hashlib.sha256(b"darre computed" + settings.SECRET_KEY.encode()).digest()
    return hmac.new(key, code_digest() + kept, hashlib.sha256).digest()


class _Runs(pickle.Pickler):
    """Writes a material as its own words: it is the same one only as itself, and the next process has its own."""

    def persistent_id(self, thing: object) -> str | None:
        return repr(thing) if isinstance(thing, Material) else None


class _PresentRuns(pickle.Unpickler):
    """Reads materials as those that stand in the book now; a run of one that is no more is found by nobody."""

    def __init__(self, content: bytes) -> None:
        super().__init__(io.BytesIO(content))
        self.book = {repr(entry.now): entry.now for entry in material_book().entries.values()}

    def persistent_load(self, pid: str) -> Material | None:
        return self.book.get(pid)


def _runs() -> bytes:
    out = io.BytesIO()
    _Runs(out, protocol=pickle.HIGHEST_PROTOCOL).dump(best_runs().items())
    return out.getvalue()


def keep(database: Path) -> None:
    """Write what was computed, whole or not at all. A disk that does not take it is no fault: it is computed again."""
    kept = pickle.dumps((simulator().computed(OF_BLOCKS), _runs()), protocol=pickle.HIGHEST_PROTOCOL)
    file, part = file_of(database), database.with_name(f"{database.name}.computed.part")
    if len(kept) > MOST_BYTES:
        return
    try:
        with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
            out.write(_seal(kept) + kept)
        part.replace(file)
    except OSError as error:
        part.unlink(missing_ok=True)
        logging.getLogger("darre").info("What was computed is not kept for the next start: %s", error)


def take(database: Path) -> bool:
    """Go on from what was kept; False where nothing is, or where it is not to be trusted: then it goes."""
    file = file_of(database)
    try:
        if file.stat().st_size > MOST_BYTES + SEAL:
            raise ValueError("it is too large")
        content = memoryview(file.read_bytes())
        if not hmac.compare_digest(content[:SEAL], _seal(bytes(content[SEAL:]))):
            raise ValueError("it is not of this server, or of other code")
        simulations, runs = pickle.loads(content[SEAL:])
    except FileNotFoundError:
        return False
    except Exception as error:  # whatever a torn or foreign file does, everything is computed again
        logging.getLogger("darre").info("What was computed before is not used: %s", error)
        file.unlink(missing_ok=True)
        return False
    simulator().take_computed(simulations)
    for key, run in _PresentRuns(runs).load():
        best_runs().put(key, run)
    return True
