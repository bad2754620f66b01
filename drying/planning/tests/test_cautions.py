"""Cautions: which are serious, what they name, and when they come and when they do not."""

from dataclasses import replace
from typing import Any
from unittest import TestCase

from drying.dryers import Dryer, DryerKind, Limit, LimitKind, MakersSheet
from drying.dryers.calibration import BedCalibration, LevelCalibration, display_calibration
from drying.planning.cautions import CautionKind, cautions
from drying.planning.tests.test_planning import BOX, load, setup
from drying.quantity import Quantity
from drying.storage import Charge, DesiccantKind

SILICA_GEL = DesiccantKind.SILICA_GEL
SURE = replace(
    BOX, calibration=display_calibration(0.0, 1.0), hot_side_excess_c=0.0, fan=True, timer_max_h=None, max_c=110
)


def found(*loads, dryer=SURE, air_c=50.0, ends=(0.01,)):
    """Caution kinds with whether each is serious."""
    return {c.kind: c for c in cautions(setup(*loads, dryer=dryer), air_c, None, ends)}


K = CautionKind
BED = replace(SURE, kind=DryerKind.BED, calibration=BedCalibration(Quantity(0.4, 0.02), 3))
# what calls for it, the caution, whether it is serious
CALLED_FOR: tuple[tuple[dict[str, Any], CautionKind, bool], ...] = (
    ({"dryer": replace(SURE, kind=DryerKind.OVEN)}, K.OVEN, True),
    ({"dryer": replace(SURE, kind=DryerKind.STACKER)}, K.STACKER, False),
    ({"dryer": replace(SURE, kind=DryerKind.CHAMBER)}, K.CHAMBER, False),
    ({"dryer": replace(SURE, kind=DryerKind.LAMP)}, K.LAMP, True),
    ({"dryer": replace(SURE, kind=DryerKind.LAMP)}, K.TURN_OVER, False),
    ({"dryer": replace(SURE, kind=DryerKind.CABINET)}, K.CABINET, True),
    ({"dryer": BED}, K.BED, False),
    (
        {"dryer": BED},
        K.TURN_OVER,
        False,
    ),
    ({"dryer": replace(SURE, calibration=display_calibration(None, 6.0))}, K.DISPLAY_DOUBTFUL, True),
    ({"dryer": replace(SURE, calibration=LevelCalibration((("low", 50.0),), 1.0))}, K.LEVELS, False),
    ({"dryer": replace(SURE, vent_m3_h=0.0)}, K.NO_WAY_OUT, True),
    ({"dryer": replace(SURE, vent_m3_h=0.0, desiccant=Charge(SILICA_GEL, 2.0, 2.0))}, K.DESICCANT_SPENT, True),
    ({"air_c": 52.0, "dryer": replace(SURE, desiccant=Charge(SILICA_GEL, 80.0, 2.0))}, K.DESICCANT_HOT, True),
    ({"dryer": replace(SURE, kind=DryerKind.HEATED_VACUUM)}, K.HEATED_VACUUM, True),
    ({"dryer": replace(SURE, kind=DryerKind.HEATED_VACUUM)}, K.LOWER_BOUND, True),
    ({"dryer": replace(SURE, kind=DryerKind.FORCED_AIR)}, K.LOWER_BOUND, True),
    ({"dryer": replace(SURE, fan=False)}, K.NO_FAN, False),
    ({"dryer": replace(SURE, swing_c=None)}, K.ASSUMED, False),
    ({"dryer": replace(SURE, hot_side_excess_c=22.0)}, K.HOT_SIDE, True),
    ({"loads": [load(empty_spool="card")]}, K.CARD_BODY, False),
    ({"loads": [load(empty_spool="unknown")]}, K.BODY_UNKNOWN, False),
    ({"loads": [load("pa6-cf", 1.0)]}, K.FIBRES, False),
    ({"loads": [load(sheet=MakersSheet(60.0, 6.0, only_if_opened=True))]}, K.ONLY_IF_OPENED, False),
    ({"loads": [load(start=0.01)]}, K.ALREADY_CLEAN, False),
    ({"ends": (0.2,)}, K.ENDS_ABOVE_AIM, False),
    ({"air_c": 70.0, "loads": [load("pla", 0.6)]}, K.ABOVE_TG, False),
    ({"air_c": 100.0, "loads": [load("abs", 0.4)]}, K.FUMES, False),
    ({"air_c": 70.0}, K.FUMES, False),
    ({"air_c": 52.0, "loads": [load("pla", 0.6)]}, K.LIMIT, True),
    ({"air_c": 45.0, "loads": [replace(load("pla", 0.6), aim=0.10)]}, K.FLOOR_ABOVE_AIM, False),
    ({"loads": [load(start=0.01)], "ends": (0.05,)}, K.WETS, True),
    ({"air_c": 55.0, "dryer": replace(BED, hot_side_excess_c=0.0)}, K.HOT_BED, True),
    ({}, K.HEAT_UNATTENDED, False),
)


class CalledFor(TestCase):
    def test_each_comes_where_it_is_called_for_and_is_as_serious_as_it_is(self):
        plain = set(found())
        for asked, kind, serious in CALLED_FOR:
            with self.subTest(kind):
                told = found(*asked.get("loads", ()), **{k: v for k, v in asked.items() if k != "loads"})
                self.assertIn(kind, told)
                self.assertEqual(told[kind].serious, serious)
                if kind is not K.HEAT_UNATTENDED:
                    self.assertNotIn(kind, plain)
        self.assertEqual(set(K) - {kind for _, kind, _ in CALLED_FOR}, {K.HELD_BY_LIMIT})

    def test_a_lower_bound_names_the_hours_of_a_common_winding_where_those_are_known(self):
        blown = replace(SURE, kind=DryerKind.FORCED_AIR)
        for most, numbers in ((None, {}), (14.0, {"most_h": 14.0})):
            told = {c.kind: c for c in cautions(setup(dryer=blown), 50.0, None, (0.01,), most_h=most)}
            self.assertEqual(told[K.LOWER_BOUND].numbers, numbers)

    def test_what_lowered_the_temperature_is_said_of_the_spool_that_asked_for_it(self):
        limit = Limit(LimitKind.SPOOL_SAG, 50.0, spool=1)
        told = {c.kind: c for c in cautions(setup(load(), load()), 50.0, limit, (0.01, 0.01))}[K.HELD_BY_LIMIT]
        self.assertEqual((told.limit, told.spool, told.serious), (limit, 1, False))

    def test_serious_ones_come_first_and_unattended_heat_is_always_the_last(self):
        dryer = replace(SURE, kind=DryerKind.OVEN, fan=False, vent_m3_h=0.0)
        told = cautions(setup(dryer=dryer), 50.0, None, (0.2,))
        serious = [c.serious for c in told]
        self.assertEqual(serious, sorted(serious, reverse=True))
        self.assertIs(told[-1].kind, K.HEAT_UNATTENDED)

    def test_a_dryer_without_a_hot_side_has_none_however_near_the_filament_is_to_soft(self):
        # PETG softens at 76 °C: at 74 °C of even air it is near, yet no spot is hotter than the air.
        self.assertNotIn(K.HOT_SIDE, found(air_c=74.0))
        self.assertIn(K.HOT_SIDE, found(air_c=72.0, dryer=replace(SURE, hot_side_excess_c=3.0)))
        self.assertNotIn(K.HOT_SIDE, found(air_c=40.0, dryer=replace(SURE, hot_side_excess_c=3.0)))

    def test_a_hot_bed_names_the_beds_own_temperature(self):
        bed = Dryer(30, 60, DryerKind.BED, calibration=BedCalibration(Quantity(0.4, 0.02), 3), vent_m3_h=0.1)
        # air = room + f·(bed − room): 55 °C in a room of 19.2 °C at f = 0.4 asks for a bed of 108.7 °C.
        told = found(dryer=bed, air_c=55.0)[K.HOT_BED]
        self.assertTrue(told.serious)
        self.assertAlmostEqual(told.numbers["bed_c"], 19.2 + (55.0 - 19.2) / 0.4, delta=0.6)
        self.assertNotIn(K.HOT_BED, found(dryer=bed, air_c=45.0))
