"""What is seen under which cause: the table behind "was it the water?", its reasons, and a person's own numbers in it.

Everything is read from `data/evidence.toml`. Each value is an engineering estimate that can be edited; the built-in
one stays to go back to.
"""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache
from importlib import resources
from typing import Any

from drying.errors import OutOfRangeError, require_range

WATER = "water"
WET = "wet"  # the one sign that is weighed and not looked for: was it above its trouble threshold?
LEAST, MOST = 0.005, 0.995  # no sign is certain under any cause, nor out of the question


@dataclass(frozen=True)
class Sign:
    """Something to be seen. `p`: chance of seeing it under each cause; `like`: the group that comes and goes together
    ("": none). `own`: causes whose number is the person's own. `material_why`: what this polymer changes about it.
    """

    id: str
    name: str
    p: Mapping[str, float]
    like: str
    why: str
    own: tuple[str, ...] = ()
    material_why: str = ""


@dataclass(frozen=True)
class Check:
    """Something to be done to find out: the signs it shows, minutes of the person's time, hours of waiting."""

    id: str
    name: str
    signs: tuple[str, ...]
    minutes: float
    wait_h: float


@dataclass(frozen=True)
class WaterShare:
    """What turns moisture into a prior; see `data/evidence.toml`."""

    share_when_wet: float
    share_when_not: float
    usual_activity: float
    usual_share: float
    usual_factor: float
    weighed_rightly: float


@dataclass(frozen=True)
class EvidenceTable:
    """The table for one polymer: causes, how bad prints share out among those other than water, signs and checks."""

    causes: tuple[str, ...]
    base_rates: Mapping[str, float]
    water: WaterShare
    signs: Mapping[str, Sign]
    checks: Mapping[str, Check]
    source: str
    own_rates: tuple[str, ...] = ()

    def sign(self, sign_id: str) -> Sign:
        """The sign with this id. Raises OutOfRangeError, which lists the known ids."""
        if sign_id not in self.signs:
            raise OutOfRangeError("sign", f"There is no sign '{sign_id}'. Known: {', '.join(self.signs)}.")
        return self.signs[sign_id]


@cache
def _raw() -> dict[str, Any]:
    return tomllib.loads(resources.files(__package__).joinpath("data/evidence.toml").read_text("utf-8"))


@cache
def evidence_table(material_id: str = "") -> EvidenceTable:
    """The built-in table, with what this built-in material changes in it."""
    raw = _raw()
    causes = tuple(raw["causes"])
    signs = {}
    for key, row in raw["signs"].items():
        signs[key] = Sign(key, row["name"], dict(zip(causes, row["p"], strict=True)), row.get("like", ""), row["why"])
    for change in raw["changes"]:
        if material_id in change["materials"]:
            p = dict(zip(causes, change["p"], strict=True))
            signs[change["sign"]] = replace(signs[change["sign"]], p=p, material_why=change["why"])
    checks = {
        key: Check(key, row["name"], tuple(row["signs"]), float(row["minutes"]), float(row["wait_h"]))
        for key, row in raw["tests"].items()
    }
    return EvidenceTable(causes, dict(raw["base_rates"]), WaterShare(**raw["water"]), signs, checks, raw["source"])


@dataclass(frozen=True)
class OwnChance:
    """A person's own chance of seeing a sign under a cause."""

    sign: str
    cause: str
    p: float


def with_own_chances(
    table: EvidenceTable, chances: tuple[OwnChance, ...] = (), rates: Mapping[str, float] | None = None
) -> EvidenceTable:
    """The table with a person's own numbers over the built-in ones.

    Raises OutOfRangeError for an unknown sign or cause, and for a chance outside 0.005 to 0.995: nothing is certain.
    """
    signs = dict(table.signs)
    for own in chances:
        sign = signs.get(own.sign) or table.sign(own.sign)
        if own.cause not in table.causes:
            raise OutOfRangeError("cause", f"There is no cause '{own.cause}'. Known: {', '.join(table.causes)}.")
        require_range("p", own.p, LEAST, MOST, "")
        signs[own.sign] = replace(sign, p={**sign.p, own.cause: own.p}, own=(*sign.own, own.cause))
    for cause, rate in (rates or {}).items():
        if cause not in table.base_rates:
            raise OutOfRangeError("cause", f"'{cause}' has no base rate. Known: {', '.join(table.base_rates)}.")
        require_range("p", rate, LEAST, MOST, "")
    merged = {**table.base_rates, **(rates or {})}
    return replace(table, signs=signs, base_rates=merged, own_rates=tuple(rates or {}))
