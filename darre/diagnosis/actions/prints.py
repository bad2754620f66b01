"""Prints, and the files that they were printed from."""

from dataclasses import asdict
from datetime import datetime

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.diagnosis.models import Case, Print, PrintFile
from darre.diagnosis.selectors import printed_mass
from darre.history.recorder import history_entry
from darre.inventory.actions.moments import refuse_impossible_time
from darre.inventory.actions.spools import PRINTED_SHARE
from darre.inventory.models import FilamentUse, Spool
from drying.quantity import Quantity
from gcode.reader import ReadFile


@transaction.atomic
def save_file(name: str, read: ReadFile) -> Saved[PrintFile]:
    """Save what a print file says. The same bytes are saved once, under the name they first came with."""
    known = PrintFile.objects.filter(sha256=read.sha256).first()
    if known:
        return Saved(known)
    with history_entry("file.read", f"Read {name}") as entry:
        file = entry.create(
            PrintFile(
                name=name, size=read.size, sha256=read.sha256, commands_sha256=read.commands_sha256,
                summary=asdict(read.summary),
            )
        )  # fmt: skip
    return entry.saved(file)


@transaction.atomic
def add_print(
    spool: Spool,
    name: str,
    at: datetime | None = None,
    file: PrintFile | None = None,
    mass_g: float | None = None,
    *,
    compensated: str = "",
    note: str = "",
) -> Saved[Print]:
    """Note a print: what it took, by its file unless the mass is typed, goes off the spool."""
    at = at or timezone.now()
    refuse_impossible_time(at, "it was printed")
    mass = Quantity(mass_g, PRINTED_SHARE * mass_g) if mass_g else printed_mass(spool, file) if file else None
    with history_entry("print.added", f"Printed {name} from {spool.name}") as entry:
        use = None
        if mass is not None:
            use = entry.create(
                FilamentUse(spool=spool, at=at, mass_g=mass.value, sd_g=mass.uncertainty, note=name[:120])
            )
        made = entry.create(
            Print(spool=spool, at=at, name=name, file=file, use=use, compensated=compensated, note=note)
        )
    return entry.saved(made)


@transaction.atomic
def remove_print(made: Print) -> Saved[None]:
    """Remove a print and what it took. Refused while a case rests on it."""
    case = Case.objects.filter(before=made).first() or Case.objects.filter(after=made).first()
    if case:
        raise Refusal("in_use", f"The case “{case.title}” rests on this print. Take it off that case first.")
    use = made.use
    with history_entry("print.removed", f"Removed the print {made.name}") as entry:
        entry.delete(made)
        if use:
            entry.delete(use)
    return entry.done()
