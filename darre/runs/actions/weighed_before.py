"""What was weighed and printed of a spool, as the rows of a table join it one after the other."""

import math
from bisect import bisect_left
from dataclasses import dataclass, field
from datetime import datetime
from itertools import pairwise

from darre.common.errors import Refusal
from darre.inventory.material_book import MaterialBook
from darre.inventory.models import FilamentUse, Spool
from darre.runs.actions.weighings import PRINTED_SHARE, Reading
from darre.runs.models import Weighing
from darre.runs.plausible import explained_after, reading_sd_g
from drying.errors import Amount
from drying.quantity import COVERAGE


@dataclass
class Weighed:
    """A spool with all that was weighed and printed of it, in order."""

    spool: Spool
    weighed: list[Weighing]
    uses: list[FilamentUse]
    joined: list[Weighing] = field(default_factory=list)

    def last_before(self, at: datetime) -> Weighing | None:
        """The weighing that one of that moment is compared with."""
        found = bisect_left(self.weighed, at, key=lambda weighing: weighing.at)
        return self.weighed[found - 1] if found else None

    def knows(self, at: datetime, gross_g: float) -> bool:
        """Whether just this is there already."""
        return any(one.at == at and one.gross_g == gross_g for one in self.weighed)

    def join(self, weighing: Weighing) -> None:
        """Take one more weighing in, at its place."""
        self.joined.append(weighing)
        self.weighed.insert(bisect_left(self.weighed, weighing.at, key=lambda one: one.at), weighing)


def weighed_of(spool: Spool) -> Weighed:
    """What is stored of a spool. A doubtful weighing is compared with nothing."""
    weighed = spool.weighings.filter(weighed_object=Weighing.Object.SPOOL, doubtful=False).select_related("scale")
    return Weighed(spool, list(weighed.order_by("at", "id")), list(spool.uses.all()))


def printed_before(at: datetime, reading: Reading, of: Weighed, book: MaterialBook) -> FilamentUse | None:
    """What was printed off since the weighing before, where water cannot explain the loss; as uncertain as the water is
    then. Raises Refusal for a gain that it cannot explain.
    """
    last = of.last_before(at)
    if last is None:
        return None
    sd_g = reading_sd_g(reading.scale, warm=False, surface_wet=False)
    found = explained_after(last, of.spool, of.uses, book, at, sd_g)
    if found.covers(reading.gross_g):
        return None
    lost = found.expected_g - reading.gross_g
    if lost < 0.0:
        most = Amount(round(found.high_g - found.expected_g, 1), "g")
        says = (
            "It gained ",
            Amount(round(-lost, 1), "g"),
            " since ",
            last.at,
            "; water can explain at most ",
            most,
            ".",
        )
        raise Refusal("not_by_water", says, "gross_g")
    water_sd_g = (found.high_g - found.low_g) / (2.0 * COVERAGE)
    printed_sd_g = math.hypot(PRINTED_SHARE * lost, water_sd_g)
    return FilamentUse(spool=of.spool, at=at, mass_g=lost, sd_g=printed_sd_g, note="between two weighings")


def printed_up_to_known(of: Weighed, book: MaterialBook) -> list[FilamentUse]:
    """What was printed off between a weighing that joined and the next one that was there already. A gain is left as it
    is: that one was stored, and asked about, before.
    """
    found = []
    for joined, known in pairwise(of.weighed):
        if not any(joined is one for one in of.joined) or any(known is one for one in of.joined):
            continue
        try:
            printed = printed_before(known.at, Reading(known.scale, known.gross_g, known.client_key), of, book)
        except Refusal:
            continue
        if printed is not None:
            found.append(printed)
    return found
