"""Reading for Plan: the set-up out of the records, and what the core makes of it."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from django.http import Http404

from darre.common.errors import Refusal
from darre.equipment.models import Dryer
from darre.equipment.records import core_dryer, dryers_in_service, own_scales
from darre.inventory.selectors import attended_after, preferences, tariff_of
from darre.moisture.best import workshop
from darre.moisture.lanes import Lane, lanes
from darre.runs.apps import run_caches
from darre.runs.models import Run
from darre.runs.selectors import running_in
from drying.dryers import Attended, Limit, Misfit, Setup, broken_limits, misfits
from drying.dryers.limits import limits
from drying.errors import OutOfRangeError, Sentence
from drying.planning import (
    Alternative,
    Choice,
    DryingMap,
    Outcome,
    Ring,
    Risk,
    Ticket,
    TwinOffer,
    map_to_show,
    outcome,
    rings,
    risk_of,
    to_plan,
    twin_offer,
    write_ticket,
)
from drying.planning.alternatives import alternatives
from drying.planning.choose import USUAL, choose
from drying.planning.tells import OwnScale, ScaleCheck, scale_check

LATEST_TURN_LINES = 12


@dataclass(frozen=True)
class Wanted:
    """What a plan is asked for; temperature, hours, form and aim may each be left to way and spool, and the way to
    what gets there.
    """

    method: str = ""
    temp_c: float | None = None
    duration_h: float | None = None
    form: str = ""
    aim_pct: float | None = None
    ready_in_h: float = 24.0


@dataclass(frozen=True)
class Planned:
    """The records behind a plan, the spool asked about first, then those dried with it; and the core's set-up."""

    lanes: list[Lane]
    dryer: Dryer
    setup: Setup


def planned(spools: Sequence[int], dryer: Dryer | None, wanted: Wanted, now: datetime) -> Planned:
    """The set-up for these spools, the one that is asked about first, in this dryer now; where none is given, in the
    one in service that does it best.

    Raises Refusal where there is no dryer, Http404 where a spool is not there, OutOfRangeError for an aim that no
    strand has.
    """
    order = list(dict.fromkeys(spools))
    found = sorted(lanes(now, only=order), key=lambda lane: order.index(lane.spool.id))
    if len(found) < len(order):
        raise Http404
    here = workshop(now)
    if dryer is None:
        best = here.best(found, wanted.form, wanted.aim_pct)
        dryer = next((d for d in here.dryers if best and d.pk == best.dryer), here.dryers[0] if here.dryers else None)
    if dryer is None:
        raise Refusal("no_dryer", "There is no dryer in service. Add one under Kit.", "dryer", 400)
    return Planned(found, dryer, here.setup(found, dryer, wanted.form, wanted.aim_pct))


@dataclass(frozen=True)
class PlacedMisfit:
    """A measure by which a spool does not go in; `spool` is its place among the loads, None for the whole load."""

    spool: int | None
    misfit: Misfit


def _misfits(batch: Planned) -> list[PlacedMisfit]:
    dryer = batch.setup.dryer
    found = [
        PlacedMisfit(at, misfit)
        for at, load in enumerate(batch.setup.loads)
        if load.form == "wound"
        for misfit in misfits(dryer, load.diameter_mm, load.width_mm)
    ]
    if len(batch.setup.loads) > dryer.slots:
        found.append(PlacedMisfit(None, Misfit("slots", len(batch.setup.loads), dryer.slots)))
    return found


@dataclass(frozen=True)
class Bill:
    """What a run costs in the person's currency; and, where that saves something, when to start it instead."""

    currency: str
    amount: float
    wait_h: float
    wait_amount: float


def bill_of(ticket: Ticket, start: datetime) -> Bill | None:
    """The price of a run that starts at `start`, by that moment's own clock; None where no tariff is known."""
    mine = preferences()
    tariff = tariff_of(mine)
    if tariff is None:
        return None
    minute, energy, hours = start.hour * 60 + start.minute, ticket.energy_kwh.value, ticket.duration_h
    wait = tariff.cheapest_wait_h(minute, hours)
    return Bill(
        mine.currency, tariff.price(energy, minute, hours), wait, tariff.price(energy, minute + 60 * wait, hours)
    )


@dataclass(frozen=True)
class Plan:
    """What Plan shows for one set-up and choice. Without a ticket `why_not` says why there can be none."""

    lanes: list[Lane]
    dryer: Dryer
    form: str
    method: str
    outcome: Outcome
    why_not: Sentence
    choice: Choice | None
    ticket: Ticket | None
    risk: Risk
    bill: Bill | None
    scale_check: ScaleCheck | None
    twin: TwinOffer | None
    broken: tuple[Limit, ...]
    misfits: list[PlacedMisfit]
    busy_with: list[Run]


def _choice(setup: Setup, wanted: Wanted) -> tuple[str, Choice]:
    """By the way that is asked for, or that gets there; a temperature and hours of the person's own stand over it."""
    temp = None if wanted.temp_c is None else setup.dryer.nearest_c(wanted.temp_c)
    if temp is not None and wanted.duration_h is not None:
        return wanted.method or USUAL, Choice(temp, wanted.duration_h)
    if wanted.method:
        method, chosen = wanted.method, choose(wanted.method, setup, wanted.ready_in_h)
    else:
        method, chosen = to_plan(setup)
    if temp is None and wanted.duration_h is None:
        return method, chosen
    return method, Choice(
        chosen.temp_c if temp is None else temp,
        chosen.duration_h if wanted.duration_h is None else wanted.duration_h,
        chosen.held_by if temp is None else None,
    )


def _scale_check(batch: Planned, ticket: Ticket, own: Sequence[OwnScale]) -> ScaleCheck | None:
    """Whether one of the person's scales will tell, for the spool that was asked about first."""
    load, spool = batch.setup.lead, batch.lanes[0].spool
    gross = None if load.net_g is None else load.net_g + spool.tare_g
    return scale_check(load, ticket.forecasts[0], ticket.end_h, gross, own)


def _require_need(setup: Setup) -> None:
    if not setup.lead.material.programmes:
        raise Refusal("no_need", f"{setup.lead.material.name} takes up too little water to need drying.", "spool", 400)


def what_could(batch: Planned) -> tuple[Alternative, ...]:
    """What would bring it to its aim where this dryer does not: other dryers in service, drier air, more time, a loose
    coil, each worked out. Raises Refusal for a material that needs no drying.
    """
    _require_need(batch.setup)
    others = dryers_in_service().exclude(pk=batch.dryer.pk)
    return alternatives(batch.setup, {dryer.id: core_dryer(dryer) for dryer in others})


def ticket_of(setup: Setup, choice: Choice, attended: Attended) -> Ticket:
    """The ticket of a run. Who starts a run has just looked at its plan: it is the same one."""
    return run_caches().tickets.once((setup, choice, attended), lambda: write_ticket(setup, choice, attended))


def plan_run(batch: Planned, wanted: Wanted, start: datetime) -> Plan:
    """A run by a way to choose, or at a temperature and hours of the person's own, with what it costs from `start` on.

    Raises Refusal for a material that needs no drying, OutOfRangeError as the core's `choose` and `write_ticket` do.
    """
    setup = batch.setup
    _require_need(setup)
    method, choice, ticket, why_not = wanted.method or USUAL, None, None, Sentence()
    try:
        method, choice = _choice(setup, wanted)
    except OutOfRangeError as refused:
        if refused.name != "dryer":
            raise
        why_not = refused.parts
    ends: list[float] = []
    if choice is not None:
        ticket = ticket_of(setup, choice, attended_after(start))
        ends = [member.end_pct for member in ticket.members]
    came, scales = outcome(setup, choice, ends), own_scales() if ticket else []
    return Plan(
        lanes=batch.lanes,
        dryer=batch.dryer,
        form=setup.lead.form,
        method=method,
        outcome=came,
        why_not=why_not,
        choice=choice,
        ticket=ticket,
        risk=risk_of(setup, choice.temp_c, choice.duration_h, ends)[0] if choice else Risk.LIMIT,
        bill=bill_of(ticket, start) if ticket else None,
        scale_check=_scale_check(batch, ticket, scales) if ticket else None,
        twin=twin_offer(setup, ticket, scales) if ticket and came is Outcome.REACHES else None,
        broken=broken_limits(setup, choice.temp_c) if choice else (),
        misfits=_misfits(batch),
        busy_with=running_in(batch.dryer),
    )


@dataclass(frozen=True)
class CoDriedLine:
    """At each temperature of the map, when a spool of the batch reaches its aim, h; None where it does not."""

    spool: int
    name: str
    hours: list[float | None]


@dataclass(frozen=True)
class Chart:
    """What the drying map shows."""

    map: DryingMap
    aim_pct: float
    clean_pct: float | None
    trouble_pct: float | None
    start_pct: float
    limits: tuple[Limit, ...]
    levels_c: tuple[float, ...]
    turns_h: list[float]
    rings: tuple[Ring, ...]
    co_dried: list[CoDriedLine]


def chart(batch: Planned, wanted: Wanted) -> Chart:
    """The drying map for a set-up, wide enough for what is wanted."""
    setup = batch.setup
    material = setup.lead.material
    found = map_to_show(
        setup,
        [] if wanted.temp_c is None else [wanted.temp_c],
        [] if wanted.duration_h is None else [wanted.duration_h],
    )
    longest = setup.dryer.longest_turn_h
    end = float(found.hours[-1])
    turns = [] if longest is None else [k * longest for k in range(1, int(end / longest) + 1)]
    return Chart(
        map=found,
        aim_pct=setup.lead.aim_pct,
        clean_pct=material.clean.value if material.clean else None,
        trouble_pct=material.trouble.value if material.trouble else None,
        start_pct=setup.lead.start.value,
        limits=limits(setup),
        levels_c=setup.dryer.levels_c,
        turns_h=turns[:LATEST_TURN_LINES],
        rings=rings(setup, found),
        co_dried=[
            CoDriedLine(at, batch.lanes[at].spool.name, found.hours_to_aim(setup, at))
            for at in range(1, len(setup.loads))
        ],
    )
