"""The air that a trial's samples lie in: as somebody read it off a meter, else as it was planned."""

from dataclasses import dataclass

from darre.runs.records import hours_between
from darre.trials.models import AirNote, Sample, Trial
from drying.air import BoxAir, RoomAir, vapour_concentration_g_m3
from drying.air.box_air import box_air
from drying.trials import AirReading, mean_air


@dataclass(frozen=True)
class Conditions:
    """What coils lie in: °C, % relative humidity (None in water), and the air that a drying coil ends in equilibrium
    with once it is as warm as `temp_c`.
    """

    temp_c: float
    rh_pct: float | None
    room: RoomAir


def notes_of(trial: Trial, sample: Sample | None = None) -> list[AirNote]:
    """What was read of the air of a trial, or of that beside one sponge, in order of time."""
    return [note for note in trial.air_notes.all() if note.sample_id == (sample.pk if sample else None)]


def readings_of(trial: Trial, sample: Sample | None = None) -> list[AirReading]:
    """The same as the core takes it."""
    notes = notes_of(trial, sample)
    return [AirReading(hours_between(trial.began_at, note.at), note.temp_c, note.rh_pct) for note in notes]


def measured_air(trial: Trial, sample: Sample | None = None) -> RoomAir | None:
    """The mean of what was read; None where nothing was."""
    readings = readings_of(trial, sample)
    return mean_air(readings) if readings else None


def conditions_of(trial: Trial) -> Conditions:
    """What the coils of a trial lie in. What was read counts, not what had been planned."""
    assert trial.temp_c is not None
    measured = measured_air(trial)
    if measured is None:
        return Conditions(trial.temp_c, trial.rh_pct, RoomAir(trial.room_temp_c, trial.room_rh_pct))
    return Conditions(measured.temp_c, None if in_water(trial) else measured.rh_pct, measured)


def in_water(trial: Trial) -> bool:
    """Whether the coils lie in water, not in air."""
    return trial.kind == Trial.Kind.UPTAKE and trial.rh_pct is None


def air_course(trial: Trial, sample: Sample | None = None) -> BoxAir | None:
    """The readings as a course against the room's air; None with fewer than two."""
    readings = readings_of(trial, sample)
    if len(readings) < 2:
        return None
    room = vapour_concentration_g_m3(trial.room_temp_c, trial.room_rh_pct)
    times, temps, humidities = ([getattr(r, name) for r in readings] for name in ("time_h", "temp_c", "rh_pct"))
    return box_air(times, temps, humidities, [room] * len(readings), None)
