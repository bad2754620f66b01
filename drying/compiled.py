"""Loops in machine code, for sums over arrays too small for NumPy's calls to pay: Python that `numba` compiles.

The code is compiled for the machine at hand when its module is first imported, and kept beside the source until that
changes, that of a loop it calls, or this module.
Loading the compiler takes about 0.8 s and 110 MB, so such a module is imported where it is first needed.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import Any, TypeVar, cast

from numba import boolean, float64, int64, njit, types, void
from numba.core.dispatcher import Dispatcher

_Loop = TypeVar("_Loop", bound=Callable[..., object])

Number, Count, Flag, Nothing = float64, int64, boolean, void
Vector, Matrix, Cube, Hypercube = float64[::1], float64[:, ::1], float64[:, :, ::1], float64[:, :, :, ::1]
CountVector, CountMatrix = int64[::1], int64[:, ::1]
"""What a loop takes: numbers, and arrays of one to four dimensions that lie in one piece."""
GONE = 40.0  # time constants: less than the last digit of what decays is left


def several(kind: Any, count: int) -> Any:
    """The type of so many of the same as a tuple."""
    return types.UniTuple(kind, count)


def record(kind: type[tuple[Any, ...]], *fields: Any) -> Any:
    """The type of a named tuple whose fields are of these types."""
    if len(set(fields)) == 1:
        return types.NamedUniTuple(fields[0], len(fields), kind)
    return types.NamedTuple(fields, kind)


def compiled(signature: Any) -> Callable[[_Loop], _Loop]:
    """A function compiled for numbers and arrays of these types, as in `compiled(Number(Vector, Count))`.

    It runs without the interpreter's lock, so that other threads go on. It gives the digits that the same function
    gives in Python; where that would raise ZeroDivisionError, infinity or NaN. One whose name begins with an underscore
    can be called by other loops alone: the way in from Python takes a third of the time that compiling does.
    """

    def of(loop: _Loop) -> _Loop:
        inner = loop.__name__.startswith("_")
        build = partial(
            njit, signature, nogil=True, error_model="numpy", no_cfunc_wrapper=True, no_cpython_wrapper=inner
        )
        if any(_changed_s(source) > _kept_since_s(loop) for source in _taken_in(loop)):
            _forget(loop)
        try:
            return cast(_Loop, build(cache=True)(loop))
        except Exception:
            _forget(loop)  # what was kept is damaged, or names a class that has another name by now
        try:
            return cast(_Loop, build(cache=True)(loop))
        except RuntimeError:  # nothing may be written, neither beside the source nor in the home directory
            return cast(_Loop, build()(loop))

    return of


def _kept(loop: Callable[..., object]) -> Iterator[Path]:
    """What was kept of a loop beside its source."""
    source = Path(loop.__code__.co_filename)
    return (source.parent / "__pycache__").glob(f"{source.stem}.{loop.__name__}-*.nb?")


def _kept_since_s(loop: Callable[..., object]) -> float:
    return min((_changed_s(kept) for kept in _kept(loop)), default=math.inf)


def _changed_s(file: Path) -> float:
    return file.stat().st_mtime if file.exists() else 0.0  # in an archive nothing changes


def _taken_in(loop: Callable[..., object]) -> set[Path]:
    """The sources that a loop's code was made from besides its own: of loops that it calls, by way of others too, and
    this module, which says how.
    """
    called = [loop.__globals__.get(name) for name in loop.__code__.co_names]
    loops = [other.py_func for other in called if isinstance(other, Dispatcher)]
    here = {Path(other.__code__.co_filename) for other in loops if other.__module__ != loop.__module__}
    return here.union([Path(__file__)], *[_taken_in(other) for other in loops])


def _forget(loop: Callable[..., object]) -> None:
    """Remove what was kept of a loop, so that it is compiled anew."""
    for kept in _kept(loop):
        kept.unlink(missing_ok=True)
