"""What the bench's unexpected runs are made of: each is as it is described, and changes nothing else."""

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np

from drying.runs.record import RunSoFar
from drying.runs.tests.test_verdict import BOX, SHED, load
from drying.weighing.tare import Tare, TareMethod
from standins.truth import drawn
from tools.mishaps import (
    MISHAPS,
    after_three_runs,
    dryer_off,
    on_card,
    soaked,
    with_twin,
    wood_held_pct,
    wrong_start,
)

TARE = Tare(200.0, 1.0, TareMethod.MEASURED)
HOURS = np.array([0.0, 1.0, 4.0, 9.0, 12.0])
# Wood Handbook, moisture content of wood at 70 °F (21.1 °C) against relative humidity, %
WOOD_21C = {5: 1.3, 20: 4.5, 35: 6.9, 50: 9.2, 65: 12.0, 80: 16.0, 90: 20.5}


class Mishaps(TestCase):
    def setUp(self):
        segments = BOX.segments(load().material, SHED, 63, 12)
        self.told = RunSoFar(load(), segments, load().aim_pct, TARE, (), start_temp_c=SHED.temp_c)
        self.truth = drawn(load(), segments, 200.0, 1.0, np.random.default_rng(5), SHED.temp_c)

    def pairs(self, change, count=40):
        rng = np.random.default_rng(11)
        return [change(self.told, self.truth, rng) for _ in range(count)]

    def test_wood_holds_what_the_handbook_says(self):
        for rh, held in WOOD_21C.items():
            self.assertAlmostEqual(wood_held_pct(21.1, rh / 100.0), held, delta=0.15)
        self.assertLess(wood_held_pct(60.0, 0.5), wood_held_pct(20.0, 0.5))

    def test_a_card_body_loses_water_of_its_own_and_the_strand_goes_on_as_before(self):
        for told, truth in self.pairs(on_card):
            lost = self.truth.gross_g(HOURS) - truth.gross_g(HOURS)
            self.assertEqual(lost[0], 0.0)
            self.assertTrue(np.all(np.diff(lost) >= 0.0))
            self.assertTrue(2.0 < lost[-1] < 24.0, lost)  # a body of 200 g
            np.testing.assert_array_equal(truth.moisture_pct(HOURS), self.truth.moisture_pct(HOURS))
            self.assertTrue(told.load.empty_spool.isotherm)

    def test_a_soaked_spool_is_told_as_soaked_and_loses_more_than_its_strand_does(self):
        winding = self.truth.body.winding
        for told, truth in self.pairs(soaked):
            self.assertTrue(told.load.soaked)
            gross = truth.gross_g(HOURS)
            strand = truth.base.dry_g * truth.moisture_pct(HOURS) / 100.0
            beside = (gross[0] - gross[-1]) - (strand[0] - strand[-1])
            self.assertTrue(0.0 <= beside <= 0.2e6 * winding.volume_m3)
            self.assertGreater(strand[0], truth.base.dry_g * self.truth.start_pct / 100.0)

    def test_an_hour_without_heat_leaves_more_water_than_was_to_be(self):
        for told, truth in self.pairs(dryer_off):
            self.assertIs(told, self.told)
            cold = [s for s in truth.segments if s.temp_c == s.room.temp_c]
            self.assertEqual(len(cold), 1)
            self.assertTrue(1.0 <= cold[0].duration_h <= 3.0)
            self.assertGreater(truth.moisture_pct(HOURS)[-1], self.truth.moisture_pct(HOURS)[-1])

    def test_a_wrong_start_is_as_far_off_as_it_is_said_to_be_and_not_told(self):
        start = self.told.load.start
        for told, truth in self.pairs(wrong_start):
            self.assertEqual(told.load.start, start)
            off = abs(truth.start_pct - start.value) / start.uncertainty
            self.assertTrue(abs(off - 2.5) < 1e-9 or truth.start_pct == 0.05 * start.value)

    def test_a_twin_tells_the_start_no_closer_than_its_scale_and_the_air_allow_and_is_right(self):
        starts = [told.load.start for told, _ in self.pairs(with_twin, 200)]
        grams = math.pi / 4.0 * 0.175**2 * 2000.0 * 1.5  # of 20 m, were it as dense as 1.5 g/cm³: it is less
        finest = 100.0 * 2**0.5 * 0.003 / grams  # two readings to a hundredth of a gram
        for start in starts:
            self.assertTrue(finest < start.uncertainty < 0.1, start)
        held = [abs(s.value - self.truth.start_pct) < 1.645 * s.uncertainty for s in starts]
        self.assertGreater(np.mean(held), 0.85)

    def test_three_runs_teach_the_pace_that_they_showed(self):
        seen = []

        def ended(told, truth):
            seen.append(truth.start_pct)
            return 0.3, 0.1, None

        told, truth = after_three_runs(ended)(self.told, self.truth, np.random.default_rng(2))
        self.assertEqual(len(set(seen)), 3)
        self.assertIs(truth, self.truth)
        self.assertTrue(1.1 < told.rate.median < np.exp(0.3))
        self.assertLess(told.rate.sigma, self.told.rate.sigma)
        silent, _ = after_three_runs(lambda told, truth: None)(self.told, self.truth, np.random.default_rng(2))
        self.assertEqual(silent.rate, self.told.rate)

    def test_nothing_but_what_is_named_is_changed(self):
        for name, change in MISHAPS.items():
            told, _ = change(self.told, self.truth, np.random.default_rng(4))
            same = replace(told, load=self.told.load)
            self.assertEqual(same, self.told, name)
