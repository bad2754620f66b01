"""What stands in the demo world. Makers, names and prices are invented; days count back from the start-up."""

from dataclasses import dataclass

from darre.equipment.models import Dryer, Scale
from darre.inventory.models import EmptySpool
from drying.dryers import DryerKind
from drying.quantity import Quantity
from drying.storage import DesiccantKind, Indicator, PlaceKind, Pouch
from drying.weighing import Tare, TareMethod

ROOM = "the shed"


@dataclass(frozen=True)
class DemoPlace:
    """A place of the shed."""

    name: str
    kind: PlaceKind


@dataclass(frozen=True)
class DemoFill:
    """Desiccant put into a place so many days ago, with the water it held (% of its dry mass); its pack was weighed so
    many days ago, g.
    """

    place: str
    kind: DesiccantKind
    dry_g: float
    load_pct: float
    days_ago: float
    indicator: Indicator
    pouch: Pouch
    weighed: tuple[tuple[float, float], ...] = ()


PLACES_DAYS = 35  # ago, that all of them were there

PLACES = (
    DemoPlace("Shelf", PlaceKind.SHELF),
    DemoPlace("On the printer", PlaceKind.PRINTER),
    DemoPlace("Bag 4", PlaceKind.ZIP_BAG),
    DemoPlace("Lidded bin B", PlaceKind.GASKET_BIN),
    DemoPlace("Dry bin", PlaceKind.GASKET_BIN),
)

FILLS = (
    DemoFill("Bag 4", DesiccantKind.SIEVE, 46, 3, 24, Indicator.NONE, Pouch.CLOTH),
    DemoFill("Lidded bin B", DesiccantKind.SILICA_GEL, 800, 2, 22, Indicator.ORANGE, Pouch.CLOTH),
    DemoFill("Dry bin", DesiccantKind.CLAY, 150, 6, 34, Indicator.CARD, Pouch.CLOTH, ((20, 162.6), (2, 166.4))),
)

EMPTY_SPOOLS = (
    EmptySpool(name="Tolvan plastic", kind="abs", width_mm=62),
    EmptySpool(name="Tolvan card", kind="card", width_mm=66),
    EmptySpool(name="Merrow & Pike plastic", kind="polystyrene", width_mm=58),
    EmptySpool(name="Saltgate plastic", kind="polystyrene", width_mm=64),
    EmptySpool(name="Saltgate card", kind="card", width_mm=64),
    EmptySpool(name="Quarrendon plastic", kind="abs", width_mm=60),
    EmptySpool(name="Ostrel card", kind="card", width_mm=65),
)

SCALES = (
    Scale(name="Pocket scale", max_g=200, resolution_g=0.01, repeatability_g=0.01),
    Scale(name="Bench scale", max_g=3000, resolution_g=0.1, repeatability_g=0.05, drift_g=0.02),
    Scale(name="Parcel scale", max_g=5000, resolution_g=1, repeatability_g=0.5),
)

DRYERS = (
    Dryer(
        name="Cellar box", kind=DryerKind.HEATED_BOX, note="two spools, vented, fan",
        min_c=35, max_c=65, hot_side_excess_c=4, timer_max_h=8, timer_choices_h=[2, 4, 6, 8], slots=2,
        max_diameter_mm=205, max_width_mm=70, vent_m3_h=0.08, fan=True, swing_c=3, warm_up_h=0.4,
        metered_kwh=0.44, metered_h=9.5, metered_air_c=63,
    ),
    Dryer(
        name="Tall stacker", kind=DryerKind.STACKER, note="rebuilt for spools, strong fan",
        min_c=35, max_c=75, display_offset_c=0, hot_side_excess_c=2, slots=3, max_diameter_mm=230, max_width_mm=90,
        vent_m3_h=2.5, fan=True, swing_c=2, warm_up_h=0.2, heater_w=240,
    ),
    Dryer(
        name="Bed and lid", kind=DryerKind.BED, note="printer bed under an insulated box",
        min_c=30, max_c=52, hot_side_excess_c=6, slots=1, fan=False, warm_up_h=0.6,
    ),
    Dryer(
        name="Old oven", kind=DryerKind.OVEN, note="electric, overshoots",
        min_c=50, max_c=120, display_offset_c=0, hot_side_excess_c=15, slots=2, vent_m3_h=0.5, swing_c=8, warm_up_h=0.3,
        heater_w=330,
    ),
)  # fmt: skip

# Set, measured beside the spool, and the shed's air then, °C.
PROBES = {
    "Cellar box": ((40, 35.4, 18.0), (50, 45.1, 18.5), (60, 54.7, 18.0), (70, 65.2, 19.0)),
    "Bed and lid": ((70, 42.1, 18.0), (90, 52.0, 18.5)),
}

TARIFF = {"currency": "£", "day_rate": 0.28, "night_rate": 0.12, "night_from_min": 30, "night_to_min": 330}

# Who is at home and awake, as minutes of the day, and who else comes by.
HOME = {"home_weekdays": [[390, 540], [960, 1410]], "home_weekends": [[480, 1410]]}
HELPERS = {"Nell": {"weekdays": [[660, 840]], "weekends": []}}


@dataclass(frozen=True)
class DemoWish:
    """A spool that is wanted by an hour of a day that is so many days ahead; None: whenever there is room."""

    spool: str
    days_ahead: int | None
    hour: int = 0
    grams: float | None = None
    note: str = ""


WISHES = (
    DemoWish("Hinge stock", 3, 9, 380, "roof hinges"),
    DemoWish("Roller tyres", 1, 20, 120, "roof rollers"),
    DemoWish("Window panel", 2, 18),
    DemoWish("Lens caps", None),
    DemoWish("Rail support", 1, 4, 60, "support for the rails"),  # sooner than any dryer can do it
)

# What the makers' sheets of some spools ask for: °C, hours, whether only once opened.
SHEETS = {"Rain gauge": (65, 6, False), "Window panel": (80, 8, True)}


@dataclass(frozen=True)
class DemoSpool:
    """A spool of the shed: `known_days_ago` its moisture was known as `moisture` (% of dry mass), then it stood in
    each of `places` (days ago, name). `net_g` is what was left on it when it was weighed then.
    """

    name: str
    material: str
    colour: str
    maker: str
    empty_spool: str
    purpose: str
    tare: Tare
    net_g: float
    known_days_ago: float
    moisture: Quantity
    places: tuple[tuple[float, str], ...]


def _measured(mass_g: float) -> Tare:
    return Tare(mass_g, 0.1, TareMethod.MEASURED)


def _twin(mass_g: float) -> Tare:
    return Tare(mass_g, 3.0, TareMethod.TWIN)


def _nominal(mass_g: float) -> Tare:
    return Tare(mass_g, 10.0, TareMethod.NOMINAL)


Q = Quantity
SPOOLS = (
    DemoSpool("Hinge stock", "pa6", "natural", "Tolvan", "Tolvan plastic", "roof hinges, worm gear",
              _twin(236), 812, 20, Q(2.6, 0.4), ((20, "Shelf"),)),
    DemoSpool("Gear stock", "pa12", "black", "Tolvan", "Tolvan card", "focuser gears",
              _measured(168), 655, 16, Q(0.85, 0.15), ((16, "Shelf"), (9.4, "Lidded bin B"))),
    DemoSpool("Roller tyres", "tpu", "graphite", "Merrow & Pike", "Merrow & Pike plastic", "roof rollers",
              _twin(214), 540, 24, Q(0.10, 0.04), ((24, "Bag 4"), (10, "Shelf"))),
    DemoSpool("Rain gauge", "petg", "clear", "Saltgate", "Saltgate plastic", "rain gauge, funnels",
              _measured(218.4), 641.5, 21, Q(0.05, 0.02), ((21, "Lidded bin B"), (7, "On the printer"))),
    DemoSpool("Dome rail", "asa", "white", "Saltgate", "Saltgate card", "outdoor rails",
              _nominal(181), 930, 12, Q(0.07, 0.02), ((12, "Lidded bin B"),)),
    DemoSpool("Vent louvre", "abs", "grey", "Quarrendon", "Quarrendon plastic", "fan louvres",
              _measured(245.2), 774, 10, Q(0.20, 0.07), ((10, "Shelf"),)),
    DemoSpool("Lens caps", "pla", "slate", "Ostrel", "Ostrel card", "caps, drawer fronts",
              _twin(152), 488, 9, Q(0.95, 0.12), ((9, "Shelf"),)),
    DemoSpool("Cable guides", "pla-filled", "cork", "Ostrel", "Ostrel card", "cable guides",
              _twin(152), 410, 15, Q(0.40, 0.05), ((15, "Bag 4"),)),
    DemoSpool("Star chart", "pla-tough", "navy", "Quarrendon", "Quarrendon plastic", "setting circles, fine text",
              _nominal(245), 880, 12, Q(0.44, 0.06), ((12, "Shelf"), (6.99, "Lidded bin B"))),
    DemoSpool("Window panel", "pc", "clear", "Tolvan", "Tolvan plastic", "camera window",
              _twin(236), 700, 17, Q(0.15, 0.04), ((17, "Shelf"), (14.3, "Lidded bin B"), (0.25, "Shelf"))),
    DemoSpool("Rail support", "pva", "natural", "Merrow & Pike", "Merrow & Pike plastic", "support",
              _nominal(214), 480, 18, Q(1.3, 0.3), ((18, "Dry bin"),)),
)  # fmt: skip


@dataclass(frozen=True)
class DemoRun:
    """A run of the shed: hours ago it started, when it was weighed (h after the start), how it really went.

    `true_start_pct` and `true_rate` (against the forecast) are the hidden truth; `body_water_g` left with it.
    `aim_pct`: drier than clean was wanted, for fine text.
    """

    spool: str
    dryer: str
    method: str
    temp_c: float
    duration_h: float
    started_h_ago: float
    weighed_at_h: tuple[float, ...]
    ended: bool
    true_start_pct: float
    true_rate: float
    body_water_g: float = 0.0
    aim_pct: float | None = None


RUNS = (
    DemoRun("Hinge stock", "Tall stacker", "usual", 72, 24, 13 * 24, (0, 3, 6, 10, 16, 24), True, 2.75, 1.15),
    DemoRun("Gear stock", "Tall stacker", "usual", 72, 14, 10 * 24, (0, 4, 14), True, 0.9, 0.9, body_water_g=9.5),
    DemoRun("Vent louvre", "Cellar box", "gentle", 63, 8, 4, (0, 1.5, 3), False, 0.30, 0.85),
    DemoRun(
        "Star chart", "Tall stacker", "gentle", 38, 48, 9 * 24, (0, 6, 12, 24, 36, 48), True, 0.47, 1.5, aim_pct=0.10
    ),
    DemoRun("Window panel", "Tall stacker", "gentle", 75, 16, 15 * 24, (0, 2, 5, 10, 16), True, 0.16, 1.2),
)
