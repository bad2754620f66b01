"""Judging a spool and a run: waterlines and verdicts."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from drying.air.psychrometrics import RoomAir
from drying.dryers.dryer import Dryer
from drying.dryers.load import Load
from drying.errors import OutOfRangeError
from drying.materials.empty_spools import empty_spool_kind
from drying.materials.properties import material
from drying.quantity import Quantity
from drying.runs.record import RunSoFar, TimedWeighing
from drying.runs.verdict import RunState, judge, review
from drying.weighing.scale import Scale, Weighing
from drying.weighing.tare import Tare, TareMethod

SHED = RoomAir(19.2, 66.0)
BOX = Dryer(35, 65, hot_side_excess_c=4, timer_max_h=8, vent_m3_h=0.08, swing_c=0, warm_up_h=0)
BENCH = Scale(0.1, 0.05)
TARE = Tare(214.0, 1.0, TareMethod.MEASURED)


def load(material_id="petg", start=0.24, sd=0.04, empty_spool="abs"):
    return Load(material(material_id), empty_spool_kind(empty_spool), 1.75, Quantity(start, sd), 640.0)


def run_of(grosses, hours, scale=BENCH, dried=None, form="wound"):
    dried = dried or load()
    seen = [TimedWeighing(t, Weighing(g, scale)) for t, g in zip(hours, grosses, strict=True)]
    segments = BOX.segments(dried.material, SHED, 63.0, 24)
    return RunSoFar(replace(dried, form=form), segments, dried.material.clean.value, TARE, seen)


class Verdicts(TestCase):
    def test_states_follow_from_the_weigh_ins(self):
        rows = (
            (RunState.NO_WEIGH_IN, [], []),
            (RunState.NO_WEIGH_OUT, [854.0], [0]),
            (RunState.NO_FINDING, [854.0, 853.9], [0, 0.05]),
            (RunState.FLAT, [854.0, 853.9], [0, 9]),
            (RunState.DRY, [854.0, 853.9, 854.0], [0, 6, 12]),
            (RunState.GAINED, [854.0, 856.0], [0, 9]),
            (RunState.NOT_WATER, [854.0, 840.0], [0, 9]),
            (RunState.GOING, [854.0, 853.5], [0, 1]),
            (RunState.DRY, [854.0, 852.9, 852.6, 852.6, 852.6], [0, 8, 24, 40, 60]),
        )
        for state, grosses, hours in rows:
            with self.subTest(state):
                self.assertEqual(judge(run_of(grosses, hours), (hours or [9])[-1]).state, state)

    def test_dry_though_little_left_asks_whether_the_heat_was_on(self):
        for asks, grosses, hours in (
            (True, [854.0, 853.9, 854.0], [0, 6, 12]),  # a box that never got warm looks the same
            (False, [854.0, 852.9, 852.6, 852.6, 852.6], [0, 8, 24, 40, 60]),  # 1.4 g of the 1.5 g in it
            (False, [854.0, 853.5], [0, 1]),
        ):
            with self.subTest(grosses=grosses):
                self.assertEqual(judge(run_of(grosses, hours), hours[-1]).lost_less, asks)

    def test_a_scale_too_coarse_says_how_much_it_would_have_seen(self):
        verdict = judge(run_of([854, 853], [0, 9], Scale(1.0, 0.5)), 9)
        self.assertEqual(verdict.state, RunState.NO_FINDING)
        self.assertAlmostEqual(verdict.loss.detectable_g, 2 * np.sqrt(2) * np.sqrt(1 / 12 + 0.25), places=9)

    def test_weigh_ins_narrow_what_is_believed_and_never_pass_the_start(self):
        before = judge(run_of([854.0], [0]), 9).moisture
        after = judge(run_of([854.0, 853.2, 852.9], [0, 4, 9]), 9).moisture
        self.assertLess(after.p95 - after.p05, before.p95 - before.p05)
        self.assertTrue(after.p05 <= after.p50 <= after.p95 < 0.24)

    def test_a_weigh_out_before_the_weigh_in_is_refused(self):
        with self.assertRaisesRegex(OutOfRangeError, "before the weigh-in"):
            judge(run_of([854, 853], [3, 1]), 3)

    def test_the_course_passes_through_what_is_believed_at_the_end(self):
        run = run_of([854.0, 853.5, 853.1], [0, 4, 9])
        found = review(run, 9, [0, 4, 9])
        self.assertEqual((found.course[-1], found.verdict), (found.verdict.moisture, judge(run, 9)))
        self.assertEqual([p.time_h for p in found.points], [0, 4, 9])

    def test_what_a_card_body_may_have_given_off_is_taken_out_and_widens_the_rest(self):
        plastic, card = (
            judge(run_of([866, 848], [0, 24], dried=load("pa12", 0.85, 0.2, b)), 24) for b in ("abs", "card")
        )
        self.assertEqual(plastic.loss.mass_g, card.loss.mass_g)
        self.assertTrue(0.05 * 214 < card.spool_water_g.value < 0.12 * 214)
        self.assertAlmostEqual(card.loss.filament_g.value, 18 - card.spool_water_g.value)
        self.assertGreater(card.loss.dry_basis_pct.uncertainty, 10 * plastic.loss.dry_basis_pct.uncertainty)

    def test_a_start_that_was_believed_wrongly_is_corrected_and_not_defended(self):
        # Believed 0.24 %, but the strand loses 0.33 % of its mass: the start must have been wetter.
        verdict = judge(run_of([854.0, 853.0, 852.3, 851.9], [0, 2, 6, 12], dried=load(start=0.24, sd=0.01)), 12)
        self.assertEqual(verdict.state, RunState.GOING)
        self.assertGreater(verdict.start.p05, 0.33)

    def test_weigh_ins_that_no_drying_curve_explains_are_not_given_a_confident_number(self):
        verdict = judge(run_of([854.0, 853.9, 853.9, 852.9], [0, 4, 20, 21]), 21)
        self.assertEqual(verdict.state, RunState.NO_FIT)
