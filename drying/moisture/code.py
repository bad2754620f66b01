"""The code that histories are computed with, by a digest: what was computed by other code is not gone on from."""

import hashlib
import sys
from functools import cache
from pathlib import Path

import numpy as np

CORE = Path(__file__).resolve().parent.parent


@cache
def code_digest() -> bytes:
    """Names the code and the values that the core computes with: all of its files, Python and numpy. What is made of
    them, such as machine code, follows from these.
    """
    found = hashlib.blake2b(f"{sys.version} {np.__version__}".encode(), digest_size=16)
    for file in sorted(path for path in CORE.rglob("*") if path.is_file()):
        if not {"tests", "__pycache__"} & set(file.parts):
            found.update(str(file.relative_to(CORE)).encode() + b"\0" + file.read_bytes())
    return found.digest()
