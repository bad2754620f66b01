"""What somebody reads off a meter beside a trial's samples."""

from uuid import UUID

from django.db import transaction

from darre.common.errors import Refusal
from darre.common.saved import Saved
from darre.history.recorder import history_entry
from darre.inventory.actions.moments import refuse_impossible_time
from darre.trials.actions.trials import moment_in, refuse_closed
from darre.trials.air import in_water
from darre.trials.models import AirNote, Sample, Trial

WITHOUT_AIR = (Trial.Kind.LADDER, Trial.Kind.SWELLING)


@transaction.atomic
def note_air(
    trial: Trial,
    temp_c: float,
    rh_pct: float,
    client_key: UUID,
    sample: Sample | None = None,
    hours: float | None = None,
) -> Saved[AirNote]:
    """Note what a meter beside the samples shows now, or showed so many hours after the trial began; of sponges, which
    one it hangs beside. Sent twice it is stored once.

    Raises Refusal: closed, a trial whose samples lie in no air, a sponge of another trial or none, in the future, twice
    at the same time.
    """
    known = AirNote.objects.filter(client_key=client_key).first()
    if known is not None:
        return Saved(known)
    refuse_closed(trial)
    if trial.kind in WITHOUT_AIR or in_water(trial):
        raise Refusal("no_air", "The air makes no difference to these samples.", "trial", 400)
    if trial.kind == Trial.Kind.SPONGE and (sample is None or sample.trial_id != trial.pk):
        raise Refusal("required", "Needed: the dryer that the meter hangs in.", "sample", 400)
    beside = sample if trial.kind == Trial.Kind.SPONGE else None
    at = moment_in(trial, hours)
    refuse_impossible_time(at, "it was read")
    if trial.air_notes.filter(at=at, sample=beside).exists():
        raise Refusal("twice", "There is a reading at that time already. Remove that one first.", "hours")
    where = f" beside the sponge in {beside.name}" if beside else " beside the coils"
    with history_entry("trial.air_noted", f"Noted {temp_c:g} °C and {rh_pct:g} %{where}") as entry:
        note = entry.create(
            AirNote(trial=trial, sample=beside, at=at, temp_c=temp_c, rh_pct=rh_pct, client_key=client_key)
        )
    return entry.saved(note)


@transaction.atomic
def remove_air(note: AirNote) -> Saved[None]:
    """Take out a reading that was none. Raises Refusal where the trial is closed."""
    refuse_closed(note.trial)
    with history_entry("trial.air_removed", "Removed a reading of the air from a trial") as entry:
        entry.delete(note)
    return entry.done()
