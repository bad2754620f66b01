"""The polymers: density, sorption, diffusion, the temperatures that harm them, their two thresholds and three methods.

Every value is read from `data/materials.toml`, where it stands with its source, conditions and spread.
"""

from __future__ import annotations

import math
import tomllib
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import Any

from drying.air import GAS_CONSTANT, TEMP_MAX_C, TEMP_MIN_C, ZERO_C_IN_K
from drying.errors import UnknownMaterialError, require_range

REFERENCE_TEMP_K = 296.15  # D23 is the diffusivity at 23 °C
STANDARD_METHODS = ("gentle", "usual", "brisk")


@dataclass(frozen=True)
class Property:
    """One value of a material.

    `spread` is the standard uncertainty: with `spread_kind` "factor" the value may as well be `value * spread` or
    `value / spread` (log-normal, one sigma); with "plus_minus" it is an absolute standard deviation in `unit`.
    """

    value: float
    unit: str
    spread: float
    spread_kind: str
    source: str
    conditions: str


@dataclass(frozen=True)
class Programme:
    """What one method of drying does with a material: air temperature at the spool and hours of heat."""

    temp_c: float
    duration_h: float


@dataclass(frozen=True, eq=False)
class Material:
    """A polymer, or a blend that dries alike.

    `k1`, `k3` sorption in %; `d23` diffusivity at 23 °C in m²/s; `ea` activation energy in kJ/mol; `tg`, `soft` and
    `fuse` in °C (soft: a coil deforms under light load; fuse: the turns stick to one another). `clean` and
    `trouble` are the two thresholds in % of dry mass; None where the polymer takes up too little to matter. Above
    `brittle` cold filament snaps, None where it does not; `soaked` is held after lying in water, None where that is
    not known; both in % of dry mass. `fibres`: it is filled with fibres, which it sheds. `slows_when_dry`: water moves
    in it the slower the drier it is, 4 to 9 times from wet to dry.
    """

    id: str
    name: str
    short: str
    density: Property
    k1: Property
    k3: Property
    d23: Property
    ea: Property
    tg: Property
    soft: Property
    fuse: Property
    clean: Property | None
    trouble: Property | None
    brittle: Property | None
    soaked: Property | None
    programmes: dict[str, Programme]
    notes: tuple[str, ...]
    fibres: bool = False
    slows_when_dry: bool = False

    @property
    def needs_drying(self) -> bool:
        """False for polymers that take up so little water that drying them has no use."""
        return self.clean is not None

    @property
    def aim_pct(self) -> float:
        """What drying aims at: the clean threshold, % of dry mass; 0 for polymers without one."""
        return self.clean.value if self.clean else 0.0

    def diffusivity_m2_s(self, temp_c: float) -> float:
        """Diffusivity of water in the strand, m²/s, by Arrhenius: D23·exp(-Ea/R·(1/T - 1/296.15 K)).

        Raises OutOfRangeError outside -40 to 200 °C. No step at the glass transition is modelled.
        """
        require_range("temp_c", temp_c, TEMP_MIN_C, TEMP_MAX_C, "°C")
        kelvin = temp_c + ZERO_C_IN_K
        exponent = -self.ea.value * 1000.0 / GAS_CONSTANT * (1.0 / kelvin - 1.0 / REFERENCE_TEMP_K)
        return self.d23.value * math.exp(exponent)


def _property(name: str, raw: dict[str, Any], table: dict[str, Any]) -> Property:
    kind = table["kinds"][name]
    source = table["sources"][raw.get("source", kind["source"])]
    return Property(
        value=float(raw["value"]),
        unit=kind["unit"],
        spread=float(raw.get("spread", kind["spread"])),
        spread_kind=kind["spread_kind"],
        source=source,
        conditions=raw.get("conditions", kind["conditions"]),
    )


def _material(material_id: str, raw: dict[str, Any], table: dict[str, Any]) -> Material:
    properties: dict[str, Any] = {
        name: _property(name, raw[name], table) if name in raw else None for name in table["kinds"]
    }
    return Material(
        id=material_id,
        name=raw["name"],
        short=raw["short"],
        programmes={s: Programme(float(v[0]), float(v[1])) for s, v in raw.get("programmes", {}).items()},
        notes=tuple(raw.get("notes", ())),
        fibres=bool(raw.get("fibres", False)),
        slows_when_dry=bool(raw.get("slows_when_dry", False)),
        **properties,
    )


@cache
def all_materials() -> dict[str, Material]:
    """Every built-in material by id, in the order of the data file."""
    table = tomllib.loads(resources.files(__package__).joinpath("data/materials.toml").read_text("utf-8"))
    return {key: _material(key, raw, table) for key, raw in table["materials"].items()}


def material(material_id: str) -> Material:
    """The material with this id.

    Raises UnknownMaterialError, which lists the known ids.
    """
    try:
        return all_materials()[material_id]
    except KeyError:
        known = ", ".join(all_materials())
        raise UnknownMaterialError("material", f"There is no material '{material_id}'. Known: {known}.") from None
