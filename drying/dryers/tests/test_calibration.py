"""From setting to air: lines, levels, beds, and how sure each is."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from drying.dryers.calibration import (
    BED_FACTOR,
    LONE_PAIR_SD_C,
    PROBE_SD_C,
    TYPED_OFFSET_SD_C,
    ProbePair,
    bed_factor,
    calibration_of,
    display_calibration,
    line_through,
)
from drying.errors import OutOfRangeError


class Lines(TestCase):
    """Against scipy's own regression, which is written by other people."""

    @given(
        st.lists(st.floats(-2.0, 2.0), min_size=3, max_size=9),
        st.floats(0.6, 1.2),
        st.floats(-8.0, 8.0),
        st.floats(30.0, 75.0),
    )
    def test_intercept_slope_and_uncertainty_are_those_of_least_squares(self, noise, slope, offset, at):
        sets = np.linspace(40.0, 75.0, len(noise))
        airs = slope * sets + offset + np.array(noise)
        found = line_through([ProbePair(s, a) for s, a in zip(sets, airs, strict=True)])
        want = stats.linregress(sets, airs)
        self.assertAlmostEqual(found.slope, want.slope, places=8)
        self.assertAlmostEqual(found.intercept_c, want.intercept, places=6)
        rest = airs - want.intercept - want.slope * sets
        scatter = max(math.sqrt(rest @ rest / (len(noise) - 2)), PROBE_SD_C)
        middle, spread = sets.mean(), ((sets - sets.mean()) ** 2).sum()
        line_sd = scatter * math.sqrt(1 / len(noise) + (at - middle) ** 2 / spread)
        self.assertAlmostEqual(found.air_of(at).uncertainty, math.hypot(line_sd, PROBE_SD_C), places=6)

    def test_the_answer_is_least_sure_far_from_the_pairs(self):
        line = line_through([ProbePair(50, 46), ProbePair(55, 50), ProbePair(60, 55)])
        doubts = [line.air_of(setting).uncertainty for setting in (55, 65, 80, 110)]
        self.assertEqual(doubts, sorted(doubts))
        self.assertGreater(doubts[-1], 3 * doubts[0])

    def test_two_pairs_lie_on_their_line_and_are_as_sure_as_the_probe(self):
        line = line_through([ProbePair(40, 37), ProbePair(70, 64)])
        self.assertAlmostEqual(line.slope, 0.9)
        self.assertAlmostEqual(line.intercept_c, 1.0)
        self.assertEqual((line.scatter_c, line.pairs), (PROBE_SD_C, 2))

    def test_pairs_at_one_setting_tell_the_offset_alone_and_say_so(self):
        for pairs in ([ProbePair(60, 55)], [ProbePair(60, 54.5), ProbePair(62, 57.5)]):
            line = line_through(pairs)
            self.assertEqual(line.slope, 1.0)
            self.assertAlmostEqual(line.air_of(60).value, 55.0)
            self.assertAlmostEqual(line.air_of(40).uncertainty, math.hypot(LONE_PAIR_SD_C, PROBE_SD_C))

    def test_five_degrees_apart_is_where_a_slope_is_first_believed(self):
        self.assertEqual(line_through([ProbePair(60, 55), ProbePair(64.9, 60)]).slope, 1.0)
        self.assertAlmostEqual(line_through([ProbePair(60, 55), ProbePair(65, 59)]).slope, 0.8)

    def test_a_slope_that_no_dryer_has_is_refused_just_past_its_bounds(self):
        for rise, passes in ((0.31, True), (0.29, False), (1.99, True), (2.01, False), (-0.5, False)):
            pairs = [ProbePair(40, 40), ProbePair(50, 40 + 10 * rise)]
            if passes:
                self.assertAlmostEqual(line_through(pairs).slope, rise)
            else:
                with self.assertRaisesRegex(OutOfRangeError, "mistyped"):
                    line_through(pairs)

    def test_a_pair_of_impossible_temperatures_names_the_one_at_fault(self):
        for given_pair, named in (((310, 60), "set_c"), ((60, 210), "air_c"), ((60, 50, 70), "room_c")):
            with self.assertRaisesRegex(OutOfRangeError, named):
                ProbePair(*given_pair)


class Displays(TestCase):
    def test_a_display_is_taken_at_its_word_as_far_as_its_kind_allows(self):
        air = display_calibration(None, 4.0).air_of(60)
        self.assertEqual(air.value, 60.0)
        self.assertAlmostEqual(air.uncertainty, math.hypot(4.0, PROBE_SD_C))

    def test_a_typed_offset_is_display_less_air(self):
        line = display_calibration(6.0, 4.0)
        self.assertEqual(line.setting(55.0, 20.0).set_c, 61)
        self.assertAlmostEqual(line.air_of(61).uncertainty, math.hypot(TYPED_OFFSET_SD_C, PROBE_SD_C))
        for offset in (-61, 101, math.nan):
            with self.assertRaises(OutOfRangeError):
                display_calibration(offset, 4.0)

    def test_the_setting_goes_to_the_whole_degree_that_a_display_takes(self):
        line = line_through([ProbePair(40, 36.2), ProbePair(70, 63.2)])
        for air in (41.3, 50.05, 58.8):
            setting = line.setting(air, 20.0)
            self.assertEqual(setting.set_c, round(setting.set_c))
            self.assertLessEqual(abs(line.air_of(setting.set_c).value - air), 0.5 * line.slope + 1e-9)
            self.assertEqual(setting.air.value, air)


class Levels(TestCase):
    LEVELS = (("full", 61.0), ("mild", 43.0), ("middle", 52.0))

    def test_the_nearest_level_is_set_by_its_name(self):
        known = calibration_of(bed=False, levels=self.LEVELS, pairs=[], offset_c=None, display_sd_c=4.0)
        for air, name, gives in (
            (40, "mild", 43),
            (47, "mild", 43),
            (48, "middle", 52),
            (56, "middle", 52),
            (90, "full", 61),
        ):
            setting = known.setting(air, 20.0)
            self.assertEqual((setting.level, setting.air.value, setting.set_c), (name, gives, None), air)
            self.assertEqual(setting.air.uncertainty, 2.0)

    def test_levels_stand_over_pairs_and_bed_and_are_kept_coolest_first(self):
        known = calibration_of(bed=True, levels=self.LEVELS, pairs=[ProbePair(60, 50, 20)], offset_c=3, display_sd_c=4)
        self.assertEqual([name for name, _ in known.levels], ["mild", "middle", "full"])
        for air in (19.0, 201.0):
            with self.assertRaisesRegex(OutOfRangeError, "levels"):
                calibration_of(bed=False, levels=[("odd", air)], pairs=[], offset_c=None, display_sd_c=4.0)


class Beds(TestCase):
    @given(st.floats(0.2, 0.8), st.lists(st.floats(30.0, 110.0), min_size=1, max_size=5), st.floats(10.0, 28.0))
    def test_pairs_without_noise_give_their_factor_back(self, factor, beds, room):
        pairs = [ProbePair(room + over, room + factor * over, room) for over in beds]
        found = bed_factor(pairs)
        self.assertAlmostEqual(found.factor.value, factor, places=9)
        self.assertEqual(found.pairs, len(beds))
        air = room + factor * 60.0
        self.assertLessEqual(abs(found.setting(air, room).set_c - (room + 60.0)), 0.5 + 1e-6)

    def test_more_pairs_and_hotter_ones_make_the_factor_surer(self):
        one = bed_factor([ProbePair(80, 50, 20)]).factor.uncertainty
        hot = bed_factor([ProbePair(110, 65, 20)]).factor.uncertainty
        two = bed_factor([ProbePair(80, 50, 20), ProbePair(80, 50, 20)]).factor.uncertainty
        self.assertAlmostEqual(one, LONE_PAIR_SD_C / 60)
        self.assertAlmostEqual(hot, LONE_PAIR_SD_C / 90)
        self.assertAlmostEqual(two, PROBE_SD_C / (60 * math.sqrt(2)))

    def test_without_the_rooms_air_a_pair_says_nothing_and_the_usual_factor_counts(self):
        self.assertEqual(bed_factor([ProbePair(90, 52)]).factor, BED_FACTOR)
        setting = bed_factor([]).setting(47.0, 20.0)
        self.assertEqual(setting.set_c, 80)
        self.assertAlmostEqual(setting.air.uncertainty, math.hypot(60 * BED_FACTOR.uncertainty, PROBE_SD_C))

    def test_air_that_is_not_between_room_and_bed_is_refused(self):
        for pair in (ProbePair(60, 61, 20), ProbePair(60, 20, 20), ProbePair(60, 15, 20), ProbePair(29, 24, 20)):
            with self.assertRaisesRegex(OutOfRangeError, "between the room and the bed"):
                bed_factor([pair])


class WhatIsKnown(TestCase):
    def test_pairs_stand_over_a_typed_offset_and_that_over_the_display(self):
        pairs = [ProbePair(40, 36), ProbePair(70, 63)]
        by_pairs, typed, shown = (
            calibration_of(bed=False, levels=[], pairs=probes, offset_c=offset, display_sd_c=4.0)
            for probes, offset in ((pairs, 5.0), ([], 5.0), ([], None))
        )
        self.assertAlmostEqual(by_pairs.air_of(55.0).value, 49.5)
        self.assertAlmostEqual(typed.air_of(55.0).value, 50.0)
        self.assertAlmostEqual(shown.air_of(55.0).value, 55.0, delta=4.0)
        self.assertGreater(shown.air_of(55.0).uncertainty, typed.air_of(55.0).uncertainty)
