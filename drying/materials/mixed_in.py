"""What is mixed into a base polymer: a silky, matte or wood-filled filament is its polymer with other values."""

from __future__ import annotations

import math
import tomllib
from dataclasses import dataclass, replace
from functools import cache, lru_cache
from importlib import resources
from typing import Any

from drying.errors import OutOfRangeError, UnknownMaterialError
from drying.materials.properties import Material, Programme, Property

JOIN = "--"  # "pla--silky": what is mixed in stands in a material's id
_SOURCE = "Engineering estimate for what is mixed in, over the value of the base polymer."


@dataclass(frozen=True)
class MixedIn:
    """What a thing mixed into a polymer does to its values, see `data/mixed_in.toml`."""

    id: str
    name: str
    holds: float
    spread: float
    density: float = 1.0
    soft_c: float = 0.0
    soft_sd_c: float = 0.0
    clean: float = 1.0
    trouble: float = 1.0
    fibres: bool = False

    @property
    def suffix(self) -> str:
        """What the id of a polymer with this in it ends with."""
        return f"{JOIN}{self.id}"


@cache
def all_mixed_in() -> dict[str, MixedIn]:
    """Everything that can be mixed in, by id, in the order of the data file."""
    table = tomllib.loads(resources.files(__package__).joinpath("data/mixed_in.toml").read_text("utf-8"))
    return {key: MixedIn(id=key, **raw) for key, raw in table.items()}


def parts_of(material_id: str) -> tuple[str, str | None]:
    """The base polymer of a material's id, and what is mixed in; None where nothing is."""
    base, _, mixed = material_id.partition(JOIN)
    return base, mixed or None


def _times(value: Property | None, factor: float, spread: float) -> Property | None:
    """A value that what is mixed in changes by a factor, and makes less sure."""
    if value is None or factor == 1.0 or value.value == 0.0:
        return value
    wider = math.exp(math.hypot(math.log(value.spread), math.log(spread)))
    return replace(value, value=value.value * factor, spread=wider, source=_SOURCE)


@lru_cache(maxsize=256)
def with_mixed_in(base: Material, mixed_id: str) -> Material:
    """A polymer with something mixed in; the same object for the same two, as solutions are kept by it.

    Raises UnknownMaterialError, which lists what is known; OutOfRangeError for fibre into what is filled with it.
    """
    mixed = all_mixed_in().get(mixed_id)
    if mixed is None:
        known = ", ".join(all_mixed_in())
        raise UnknownMaterialError("material", f"There is no '{mixed_id}' to mix in. Known: {known}.")
    if mixed.fibres and base.fibres:
        raise OutOfRangeError("material", f"{base.name} is filled with fibre already. Leave out what is mixed in.")
    factors = {
        "k1": mixed.holds, "k3": mixed.holds, "soaked": mixed.holds,
        "clean": mixed.clean, "trouble": mixed.trouble, "brittle": mixed.trouble,
    }  # fmt: skip
    changed: dict[str, Any] = {
        name: _times(getattr(base, name), factor, mixed.spread) for name, factor in factors.items()
    }
    soft = replace(
        base.soft, value=base.soft.value + mixed.soft_c, spread=math.hypot(base.soft.spread, mixed.soft_sd_c)
    )
    cooler = min(mixed.soft_c, 0.0)
    return replace(
        base,
        id=base.id + mixed.suffix,
        name=f"{base.name}, {mixed.name}",
        short=f"{base.short} {mixed.id}",
        density=replace(base.density, value=base.density.value * mixed.density),
        soft=soft if mixed.soft_c else base.soft,
        programmes={name: Programme(run.temp_c + cooler, run.duration_h) for name, run in base.programmes.items()},
        notes=(*base.notes, *([_FIBRES] if mixed.fibres else [])),
        fibres=base.fibres or mixed.fibres,
        **changed,
    )


_FIBRES = "Cut ends of fibre-filled strand shed fibres: handle with care."
