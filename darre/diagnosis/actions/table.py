"""The person's own numbers in the evidence table. Each can be gone back from."""

from darre.common.saved import Saved
from darre.diagnosis.models import OwnChance
from darre.diagnosis.selectors import table_for
from darre.history.recorder import history_entry
from drying.diagnosis import evidence_table, with_own_chances


def set_chance(sign: str, cause: str, p: float | None) -> Saved[None]:
    """Put an own chance of seeing a sign under a cause, or (no sign) a cause's base rate; None: back to the built-in.

    Raises OutOfRangeError for an unknown sign or cause, and for a chance that would make something certain.
    """
    table = table_for("", own=())
    if p is not None and sign:
        with_own_chances(table, (evidence_table.OwnChance(sign, cause, p),))
    elif p is not None:
        with_own_chances(table, rates={cause: p})
    present = OwnChance.objects.filter(sign=sign, cause=cause).first()
    if present is None and p is None:
        return Saved(None)
    name = table.sign(sign).name if sign else "base rate"
    now = "went back to the built-in" if p is None else f"set to {p:g}"
    with history_entry("evidence.chance_set", f"{name}, {cause}: {now}") as entry:
        if present and p is None:
            entry.delete(present)
        elif present:
            entry.update(present, p=p)
        elif p is not None:
            entry.create(OwnChance(sign=sign, cause=cause, p=p))
    return entry.done()
