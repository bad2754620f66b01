"""Trials as JSON for the command line: what coils, soaks, sponges and calipers tell."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict
from typing import Any

from drying.air import RoomAir
from drying.cli.json_input import number, part, require_known, rows
from drying.diagnosis.learning import thresholds_of
from drying.errors import OutOfRangeError
from drying.materials import material
from drying.quantity import Quantity
from drying.trials import (
    DryingLot,
    Points,
    Prior,
    Reading,
    Rung,
    Sample,
    Sponge,
    SwellingSample,
    Twin,
    UptakeLot,
    duel,
    fit_drying,
    fit_ladder,
    fit_swelling,
    fit_uptake,
    least_ladder,
    twin_start,
)
from drying.weighing import Scale

_LOT = ("kind", "strand_diameter_mm", "density_kg_m3", "temp_c", "scale", "samples", "baked")


def _points(found: Points | None) -> dict[str, float] | None:
    return None if found is None else {name: float(f"{value:.6g}") for name, value in asdict(found).items()}


def _scale(of: Mapping[str, Any]) -> Scale:
    given = part(of, "scale")
    require_known(given, ("resolution_g", "repeatability_g"), "“scale”")
    return Scale(number(given, "resolution_g"), number(given, "repeatability_g"))


def _air(given: Mapping[str, Any], what: str) -> RoomAir:
    require_known(given, ("temp_c", "rh_pct"), what)
    return RoomAir(number(given, "temp_c"), number(given, "rh_pct"))


def _samples(of: Mapping[str, Any], start: str) -> tuple[Sample, ...]:
    found = []
    for row in rows(of, "samples"):
        require_known(row, (start, "readings"), "a sample")
        for reading in rows(row, "readings"):
            require_known(reading, ("time_h", "gross_g"), "a reading")
        readings = tuple(Reading(number(r, "time_h"), number(r, "gross_g")) for r in rows(row, "readings"))
        found.append(Sample(number(row, start), readings))
    return tuple(found)


def _baked(of: Mapping[str, Any]) -> Twin | None:
    given = of.get("baked")
    if given is None:
        return None
    require_known(given, ("before_g", "after_g"), "“baked”")
    return Twin(number(given, "before_g"), number(given, "after_g"))


def _drying(of: Mapping[str, Any]) -> dict[str, Any]:
    require_known(of, (*_LOT, "room", "soaked"), "the trial")
    soaked = of.get("soaked", False)
    if not isinstance(soaked, bool):
        raise OutOfRangeError("soaked", f"“soaked” is {soaked!r}: it is true or false.")
    lot = DryingLot(
        number(of, "strand_diameter_mm"), number(of, "density_kg_m3"), number(of, "temp_c"), _scale(of),
        _samples(of, "wet_g"), _baked(of), _air(part(of, "room"), "“room”"), soaked,
    )  # fmt: skip
    found = fit_drying(lot)
    return {
        "diffusivity_m2_s": _points(found.diffusivity_m2_s), "start_pct": _points(found.start_pct),
        "floor_pct": _points(found.end_pct), "film_g_per_m": _points(found.film_g_per_m), "fits": found.fits,
    }  # fmt: skip


def _uptake(of: Mapping[str, Any]) -> dict[str, Any]:
    require_known(of, (*_LOT, "medium"), "the trial")
    medium = part(of, "medium")
    rh_pct = None
    if medium != "water":
        require_known(medium, ("rh_pct",), "“medium”")
        rh_pct = number(medium, "rh_pct")
    lot = UptakeLot(
        number(of, "strand_diameter_mm"), number(of, "density_kg_m3"), number(of, "temp_c"), _scale(of),
        _samples(of, "start_g"), _baked(of), rh_pct,
    )  # fmt: skip
    found = fit_uptake(lot)
    return {
        "diffusivity_m2_s": _points(found.diffusivity_m2_s), "capacity_pct": _points(found.end_pct),
        "start_pct": _points(found.start_pct), "film_g_per_m": _points(found.film_g_per_m), "fits": found.fits,
    }  # fmt: skip


def _twin(of: Mapping[str, Any]) -> dict[str, Any]:
    require_known(of, ("kind", "spool", "coil", "scale"), "the trial")
    coil = part(of, "coil")
    require_known(coil, ("before_g", "after_g", "floor_air"), "“coil”")
    air = part(coil, "floor_air")
    require_known(air, ("temp_c", "room_temp_c", "rh_pct"), "“floor_air”")
    start, floor = twin_start(
        material(part(part(of, "spool"), "material")), number(coil, "before_g"), number(coil, "after_g"),
        number(air, "temp_c"), RoomAir(number(air, "room_temp_c"), number(air, "rh_pct")), _scale(of),
    )  # fmt: skip
    return {"start_pct": _points(start), "floor_pct": _points(floor)}


def _sponge_of(of: Mapping[str, Any]) -> Sponge:
    known = ("name", "start_g", "end_g", "dry_g", "hours", "air", "room", "desiccant")
    require_known(of, known, "a dryer")
    air = part(of, "air")
    return Sponge(
        str(part(of, "name")), number(of, "start_g"), number(of, "end_g"), number(of, "dry_g"), number(of, "hours"),
        _air(part(of, "room"), "“room”"), None if air is None else _air(air, "“air”"), bool(of.get("desiccant", False)),
    )  # fmt: skip


def _sponges(of: Mapping[str, Any]) -> dict[str, Any]:
    require_known(of, ("kind", "scale", "dryers"), "the trial")
    found, ratios = duel([_sponge_of(row) for row in rows(of, "dryers")], _scale(of))
    return {
        "dryers": [
            {"name": f.name, "told": f.told, "g_per_h": _points(f.g_per_h), "vent_m3_h": _points(f.vent_m3_h)}
            for f in found
        ],
        "ratios": [{"of": one, "to": other, "ratio": _points(ratio)} for (one, other), ratio in ratios.items()],
    }


def _swelling(of: Mapping[str, Any]) -> dict[str, Any]:
    require_known(of, ("kind", "samples"), "the trial")
    samples = []
    for row in rows(of, "samples"):
        require_known(row, ("before_mm", "after_mm", "before_g", "after_g"), "a sample")
        series = [tuple(number({name: v}, name) for v in _series(row, name)) for name in ("before_mm", "after_mm")]
        samples.append(SwellingSample(series[0], series[1], number(row, "before_g"), number(row, "after_g")))
    found = fit_swelling(samples)
    return {
        "strain_pct": _points(found.strain_pct), "water_pct": float(f"{found.water_pct:.6g}"),
        "strain_per_pct": _points(found.strain_per_pct), "fits": found.fits,
    }  # fmt: skip


def _series(row: Mapping[str, Any], name: str) -> list[Any]:
    found = part(row, name)
    if not isinstance(found, list):
        raise OutOfRangeError(name, f"“{name}” must be a list of numbers.")
    return found


def _prior(of: Mapping[str, Any]) -> Prior:
    if "material" in of:
        polymer = material(part(of, "material"))
        before = thresholds_of(polymer)
        if before is None:
            raise OutOfRangeError("material", f"Water does not matter in {polymer.name}: there is no mark to find.")
        return Prior(before.trouble_pct, before.spread, before.clean_pct)
    given = part(of, "prior")
    require_known(given, ("mark_pct", "spread", "clean_pct"), "“prior”")
    return Prior(number(given, "mark_pct"), number(given, "spread"), number(given, "clean_pct"))


def _ladder(of: Mapping[str, Any]) -> dict[str, Any]:
    require_known(of, ("kind", "material", "prior", "rungs"), "the trial")
    prior = _prior(of)
    if not of.get("rungs"):
        planned = least_ladder(prior)
        return {"design": {"moistures_pct": list(planned.moistures_pct), "prints": planned.prints,
                           "factor": float(f"{planned.factor:.4g}"), "tells": planned.tells}}  # fmt: skip
    rungs = []
    for row in rows(of, "rungs"):
        require_known(row, ("moisture_pct", "u_pct", "prints", "showed"), "a rung")
        moisture = Quantity(number(row, "moisture_pct"), number(row, "u_pct") if "u_pct" in row else 0.0)
        rungs.append(Rung(moisture, _count(row, "prints"), _count(row, "showed")))
    found = fit_ladder(prior, rungs)
    return {"mark_pct": _points(found.mark_pct), "clean_pct": _points(found.clean_pct), "fits": found.fits,
            "told": found.told}  # fmt: skip


def _count(row: Mapping[str, Any], name: str) -> int:
    value = number(row, name)
    if value != int(value):
        raise OutOfRangeError(name, f"“{name}” is {value:g}: it is a whole number.")
    return int(value)


KINDS: dict[str, Callable[[Mapping[str, Any]], dict[str, Any]]] = {
    "drying": _drying,
    "uptake": _uptake,
    "twin": _twin,
    "sponge": _sponges,
    "swelling": _swelling,
    "ladder": _ladder,
}


def answer_of(mapping: Mapping[str, Any]) -> dict[str, Any]:
    """What a trial tells. Raises DryingError that names what is missing or wrong."""
    kind = part(mapping, "kind")
    if kind not in KINDS:
        raise OutOfRangeError("kind", f"There is no trial of kind “{kind}”; there are {', '.join(KINDS)}.")
    return KINDS[kind](mapping)
