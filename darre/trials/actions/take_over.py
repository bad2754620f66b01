"""Using what a trial told: for a material, for a spool, for a dryer. Each can be gone back from."""

import math
from typing import Any

from django.db import transaction
from django.utils import timezone

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.inventory.actions.materials import THRESHOLDS
from darre.inventory.actions.spools import note_moisture
from darre.inventory.material_book import Entry, material_book
from darre.inventory.models import OwnValue
from darre.trials.air import conditions_of
from darre.trials.models import Trial
from darre.trials.selectors import Finding, finding_of, get_trial
from drying.materials import Property
from drying.quantity import Quantity
from drying.trials import OwnNumber, d23_of, drawn_to, isotherm_scale

NOT_TOLD = Refusal("not_told", "This trial does not tell anything yet that could be used.", "trial")
DRAWN = " Combined with the earlier value, by how sure each is."
WIDEST = 4.0  # a factor (one sigma); the built-in values are surer than that


def take_over(trial_id: int) -> Saved[None]:
    """Use what a trial told from now on. A lot: the diffusivity of its material, and of coils in water or in air of a
    known humidity what it holds. A ladder: both thresholds of its material. A baked coil: the moisture of its spool
    when the coil was cut. Sponges: the exchange flow of the dryers. Plans and forecasts move at once.

    Raises Refusal where it tells nothing yet, or its samples do not agree.
    """
    trial = get_trial(trial_id)
    found = finding_of(trial)
    if trial.kind == Trial.Kind.SPONGE:
        return _flows(found)
    if trial.kind == Trial.Kind.TWIN:
        return _moisture(found)
    if trial.kind == Trial.Kind.LADDER:
        return _thresholds(found)
    return _of_lot(found)


def _thresholds(found: Finding) -> Saved[None]:
    trial, mark = found.trial, found.mark
    if mark is None or trial.spool is None:
        raise NOT_TOLD
    if not mark.fits:
        raise Refusal("do_not_agree", "No rising curve goes through these rungs: nothing is taken over.", "trial")
    values = {
        name: (points.p50, max(math.exp(points.log_sd), 1.01))
        for name, points in (("trouble", mark.mark_pct), ("clean", mark.clean_pct))
    }
    return _write_own(trial, trial.spool.material, values)


def _moisture(found: Finding) -> Saved[None]:
    if found.start_pct is None or found.trial.spool is None:
        raise NOT_TOLD
    held = Quantity(found.start_pct.p50, max(found.start_pct.sd, 1e-4))
    return note_moisture(found.trial.spool, held, found.trial.began_at)


@transaction.atomic
def _flows(found: Finding) -> Saved[None]:
    dryers = {sample.name: sample.dryer for sample in found.trial.samples.all()}
    told = [(dryers[s.name], s.vent_m3_h.p50) for s in found.sponges if s.vent_m3_h is not None]
    if not told:
        says = "No exchange flow is told: it takes the air in the box, measured while the sponge was in it."
        raise Refusal("not_told", says, "trial")
    with history_entry("trial.taken_over", "Took over what sponges told of the dryers") as entry:
        for dryer, flow in told:
            if dryer is not None:
                entry.update(dryer, vent_m3_h=float(f"{flow:.3g}"))
    return entry.done()


def _of_lot(found: Finding) -> Saved[None]:
    trial, fit = found.trial, found.fit
    if fit is None or trial.spool is None or trial.temp_c is None:
        raise NOT_TOLD
    if not fit.fits and fit.doubtful is None:
        raise Refusal("do_not_agree", "These samples do not agree with one another: nothing is taken over.", "trial")
    polymer, around = material_book()[trial.spool.material], conditions_of(trial)
    d23 = d23_of(polymer, fit.diffusivity_m2_s, around.temp_c)
    values = {"d23": (d23.value, d23.spread)}
    if trial.kind == Trial.Kind.UPTAKE and around.rh_pct is None:  # water tells what it holds soaked, not its isotherm
        values["soaked"] = (fit.end_pct.p50, math.exp(max(fit.end_pct.log_sd, 0.01)))
    elif trial.kind == Trial.Kind.UPTAKE and around.rh_pct is not None:
        scale = isotherm_scale(polymer, fit.end_pct, around.rh_pct / 100.0)
        values |= {
            name: (getattr(polymer, name).value * scale.value, scale.spread)
            for name in ("k1", "k3")
            if getattr(polymer, name).value > 0.0
        }
    if max(spread for _, spread in values.values()) > WIDEST:
        says = "This trial is still too unsure to be used. A finer scale or more coils would tell."
        raise Refusal("too_unsure", says, "trial")
    return _write_own(trial, trial.spool.material, values)


def _drawn_to_base(known: Entry, name: str, measured: OwnNumber, present: OwnValue | None, note: str) -> OwnNumber:
    """What counts of a value of an own material, such as a maker's: drawn to what was known of it before, which begins
    as its polymer's. A value of the polymer itself is taken as measured, and so is a threshold.
    """
    before: Property | None = getattr(known.now, name)
    if present is not None and present.note.startswith(note):  # the same trial again, with more readings
        before = getattr(known.base, name)
    if not known.own or before is None or before.spread_kind != "factor" or name in THRESHOLDS:
        return measured
    return drawn_to(OwnNumber(before.value, before.spread), measured)


@transaction.atomic
def _write_own(trial: Trial, material_id: str, values: dict[str, tuple[float, float]]) -> Saved[None]:
    note = f"From your trial of {timezone.localtime(trial.began_at):%d %b %Y}."
    known = material_book().entries[material_id]
    with history_entry("trial.taken_over", f"Took over what a trial told of {known.now.name}") as entry:
        for own, measured in values.items():
            present = OwnValue.objects.filter(material=material_id, name=own).first()
            found = _drawn_to_base(known, own, OwnNumber(*measured), present, note)
            drawn = note if found.value == measured[0] else f"{note}{DRAWN}"
            fields: dict[str, Any] = {
                "value": float(f"{found.value:.4g}"), "spread": round(found.spread, 3), "note": drawn
            }  # fmt: skip
            if present is None:
                entry.create(OwnValue(material=material_id, name=own, **fields))
            else:
                entry.update(present, origin=OwnValue.Origin.TYPED, **fields)
        material_book()  # raises where this makes no sense, and nothing is stored
    return entry.done()
