"""The demo's prints and cases: the rain gauge (open), the soaked lens caps (closed), the roof's worm gear (closed)."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any

from darre.demo.pictures import picture
from darre.diagnosis.actions.cases import add_photo, caliper, change_case, note_signs, note_strength, open_case, rate
from darre.diagnosis.actions.prints import add_print, save_file
from darre.diagnosis.actions.verdicts import close_case
from darre.diagnosis.models import Case, PrintFile
from darre.inventory.models import Spool
from drying.diagnosis import VerdictKind
from gcode.reader import GcodeReader


@dataclass(frozen=True)
class DemoFile:
    """A print file of the shed: turns of a ring, so many layers, that take so many metres of strand."""

    name: str
    metres: float
    layers: int
    nozzle_c: int
    bed_c: int
    retraction_mm: float
    speed_mm_s: int = 40


@dataclass(frozen=True)
class DemoPrint:
    """A print of the shed, days ago."""

    spool: str
    file: DemoFile
    name: str
    days_ago: float
    note: str = ""


@dataclass(frozen=True)
class DemoCase:
    """A case of the shed. `signs` in the order in which they were looked for."""

    title: str
    before: DemoPrint
    signs: dict[str, bool]
    shape: str
    photos: tuple[tuple[str, bool], ...]
    after: DemoPrint | None = None
    suspect_mm: tuple[float, ...] = ()
    dry_mm: tuple[float, ...] = ()
    ratings: dict[str, tuple[int, int]] = field(default_factory=dict)
    strengths: dict[tuple[str, str], tuple[tuple[float, ...], tuple[float, ...]]] = field(default_factory=dict)
    verdict: VerdictKind | None = None
    verdict_note: str = ""


COLLAR = DemoFile("rain-collar-02.gcode", 6.1, 60, 238, 75, 1.4)
FUNNEL = DemoFile("rain-funnel-03.gcode", 13.4, 140, 238, 75, 0.8)
WORM = DemoFile("roof-worm-05.gcode", 21.5, 180, 262, 80, 1.2, 45)
FRONT = DemoFile("drawer-front-a.gcode", 17.8, 90, 208, 58, 0.9, 55)

PRINTS = (DemoPrint("Rain gauge", COLLAR, "Rain collar", 9, "clean"),)

CASES = (
    DemoCase(
        "Worm gear for the roof",
        DemoPrint("Hinge stock", WORM, "Worm gear", 13.2),
        {
            "crackle": True, "steam": True, "bubbles": True, "strings": True, "weak_layers": True, "first_layer": False,
            "after_drying": True,
        },
        "worm",
        (("before", True), ("after", False)),
        after=DemoPrint("Hinge stock", WORM, "Worm gear again", 11.9),
        ratings={
            "strings": (1, 5), "blobs": (2, 4), "walls": (1, 5), "top": (2, 4), "corners": (3, 4), "sound": (1, 5),
            "strength": (2, 4),
        },
        strengths={
            ("pull", "standing"): ((388, 431, 402, 369), (598, 641, 575, 622)),
            ("pull", "lying"): ((1180, 1235, 1150), (1290, 1262, 1330)),
        },
        verdict=VerdictKind.WATER,
        verdict_note="Printed straight from the stacker the second time.",
    ),
    DemoCase(
        "Drawer front off the soaked spool",
        DemoPrint("Lens caps", FRONT, "Drawer front", 8.7, "the spool lay in the leak"),
        {
            "crackle": False, "steam": False, "bubbles": False, "ooze": False, "strings": False, "blobs": False,
            "weak_layers": False, "snap": False, "overhangs": True,
        },
        "front",
        (("before", False),),
        verdict=VerdictKind.WET_NOT_CAUSE,
        verdict_note="Wet by the scale, yet clean. The lip under the handle sags: the fan was off.",
    ),
    DemoCase(
        "Rain funnel with strings",
        DemoPrint("Rain gauge", FUNNEL, "Rain funnel", 3, "retraction was set from 1.4 to 0.8 mm that week"),
        {
            "strings": True, "crackle": True, "ooze": True, "steam": False, "settings_changed": True,
            "first_layer": False,
        },
        "funnel",
        (("before", True),),
        suspect_mm=(1.72, 1.80, 1.69, 1.78, 1.75, 1.74),
        dry_mm=(1.74, 1.76, 1.73, 1.78, 1.75, 1.74),
    ),
)  # fmt: skip


def gcode_of(demo_file: DemoFile) -> Iterator[bytes]:
    """The file's commands: rings on rings, one retraction a layer."""
    yield f"G21\nG90\nM83\nM190 S{demo_file.bed_c}\nM109 S{demo_file.nozzle_c}\nM106 S80\nG28\n".encode()
    turns, points = 4, 24
    each = demo_file.metres * 1000.0 / (demo_file.layers * turns * points)
    for layer in range(demo_file.layers):
        height, retraction, speed = 0.2 * (layer + 1), demo_file.retraction_mm, 60 * demo_file.speed_mm_s
        yield f"G1 Z{height:.2f} F9000\nG1 E{retraction} F2400\nG1 F{speed}\n".encode()
        for n in range(turns * points):
            angle = 2.0 * math.pi * n / points
            r = 30.0 + n // points
            yield f"G1 X{110 + r * math.cos(angle):.3f} Y{110 + r * math.sin(angle):.3f} E{each:.5f}\n".encode()
        yield f"G1 E-{demo_file.retraction_mm} F2400\n".encode()


_READ: dict[str, Any] = {}


def _file(demo_file: DemoFile) -> PrintFile:
    if demo_file.name not in _READ:
        reader = GcodeReader()
        for block in gcode_of(demo_file):
            reader.feed(block)
        _READ[demo_file.name] = reader.finish()
    return save_file(demo_file.name, _READ[demo_file.name]).record


def _load_print(demo_print: DemoPrint, now: datetime) -> Any:
    spool = Spool.objects.get(name=demo_print.spool)
    return add_print(
        spool, demo_print.name, now - timedelta(days=demo_print.days_ago), _file(demo_print.file), note=demo_print.note
    ).record


def _load_case(demo_case: DemoCase, now: datetime) -> None:
    before = _load_print(demo_case.before, now)
    case: Case = open_case(before.spool, demo_case.title, before=before).record
    if demo_case.after:
        change_case(case, after=_load_print(demo_case.after, now))
    for sign, seen in demo_case.signs.items():
        note_signs(case, {sign: seen})
    if demo_case.suspect_mm:
        caliper(case, demo_case.suspect_mm, demo_case.dry_mm)
    for side, wet in demo_case.photos:
        add_photo(case, side, f"{demo_case.shape}-{side}.jpg", picture(demo_case.shape, wet))
    scores = [
        {"side": side, "feature": feature, "score": score}
        for feature, pair in demo_case.ratings.items()
        for side, score in zip(("before", "after"), pair, strict=True)
    ]
    if scores:
        rate(case, scores, blind=True)
    for (method, pose), (first, second) in demo_case.strengths.items():
        note_strength(case, method, pose, "N", list(first), list(second))
    if demo_case.verdict:
        close_case(case, demo_case.verdict, note=demo_case.verdict_note)


def load_cases(now: datetime) -> None:
    """Load prints and cases through the same actions that the screens use."""
    for planned in PRINTS:
        _load_print(planned, now)
    for case in CASES:
        _load_case(case, now)
