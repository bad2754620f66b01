"""Bad prints as JSON for the command line: was it the water?"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from drying.cli.json_input import number, part, require_known
from drying.diagnosis import judge, prior
from drying.diagnosis.evidence_table import evidence_table
from drying.diagnosis.next_checks import next_checks
from drying.errors import OutOfRangeError
from drying.materials import material
from drying.quantity import Quantity


def answer_of(mapping: Mapping[str, Any]) -> dict[str, Any]:
    """The chance of each cause, and what to look for next. Raises DryingError that names what is missing or wrong."""
    require_known(mapping, ("material", "moisture_pct", "observations"), "the case")
    polymer = material(part(mapping, "material"))
    given = part(mapping, "moisture_pct")
    require_known(given, ("mean", "sd"), "“moisture_pct”")
    moisture = None if given is None else Quantity(number(given, "mean"), number(given, "sd"))
    observed = part(mapping, "observations")
    if not isinstance(observed, Mapping) or not all(isinstance(v, bool) for v in observed.values()):
        raise OutOfRangeError(
            "observations", "“observations” must name signs, each true (seen) or false (looked for and not seen)."
        )
    table = evidence_table(polymer.id)
    begin = prior(table, polymer, moisture)
    found = judge(table, begin, observed)
    return {
        "p_water": round(found.p_water, 4),
        "causes": {cause: round(p, 4) for cause, p in found.causes.items()},
        "next": [
            {"test": n.check.id, "bits": round(n.bits, 4), "minutes": n.check.minutes}
            for n in next_checks(table, begin, observed)
        ],
    }
