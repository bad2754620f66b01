"""Loops in machine code, for sums over arrays too small for NumPy's calls to pay: Python that `numba` compiles.

The code is compiled for the machine at hand when its module is first imported, and kept beside the source until that
changes. A loop may call those of its own module alone: what it took from another would be kept past a change there.
Loading the compiler takes about 0.8 s and 110 MB, so such a module is imported where it is first needed.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any, TypeVar, cast

from numba import boolean, float64, int64, njit, types, void

_Loop = TypeVar("_Loop", bound=Callable[..., object])

Number, Count, Flag, Nothing = float64, int64, boolean, void
Vector, Matrix, Cube, Hypercube = float64[::1], float64[:, ::1], float64[:, :, ::1], float64[:, :, :, ::1]
CountVector = int64[::1]
"""What a loop takes: numbers, and arrays of one to four dimensions that lie in one piece."""


def several(kind: Any, count: int) -> Any:
    """The type of so many of the same as a tuple."""
    return types.UniTuple(kind, count)


def record(kind: type[tuple[Any, ...]], *fields: Any) -> Any:
    """The type of a named tuple whose fields are of these types."""
    return types.NamedTuple(fields, kind)


def compiled(signature: Any) -> Callable[[_Loop], _Loop]:
    """A function compiled for numbers and arrays of these types, as in `compiled(Number(Vector, Count))`.

    It runs without the interpreter's lock, so that other threads go on. It gives the digits that the same function
    gives in Python; where that would raise ZeroDivisionError, infinity or NaN.
    """
    build = partial(njit, signature, nogil=True, error_model="numpy")

    def of(loop: _Loop) -> _Loop:
        try:
            return cast(_Loop, build(cache=True)(loop))
        except Exception:
            _forget(loop)  # what was kept is damaged, or names a class that has another name by now
        try:
            return cast(_Loop, build(cache=True)(loop))
        except RuntimeError:  # nothing may be written, neither beside the source nor in the home directory
            return cast(_Loop, build()(loop))

    return of


def _forget(loop: Callable[..., object]) -> None:
    """Remove what was kept of a loop beside its source, so that it is compiled anew."""
    source = Path(loop.__code__.co_filename)
    for kept in (source.parent / "__pycache__").glob(f"{source.stem}.{loop.__name__}-*.nb?"):
        kept.unlink(missing_ok=True)
