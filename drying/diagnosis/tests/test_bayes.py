"""Was it the water: every chance against the whole joint table, summed by hand."""

import itertools
import math
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from drying.diagnosis.bayes import OwnSign, VerdictKind, _suggested, in_words, judge, prior, scene
from drying.diagnosis.evidence_table import WATER, WET, evidence_table
from drying.errors import OutOfRangeError
from drying.materials import material
from drying.quantity import Quantity

TABLE = evidence_table("petg")
PETG = material("petg")
ALONE = [sign for sign, row in TABLE.signs.items() if not row.like]


class ByHand(TestCase):
    @settings(max_examples=60)
    @given(st.dictionaries(st.sampled_from(ALONE), st.booleans(), max_size=5), st.floats(0.01, 1.5))
    def test_signs_without_companions_multiply_the_odds_of_each_cause(self, observed, wet):
        begin = prior(TABLE, PETG, Quantity(wet, 0.05))
        rates = {cause: TABLE.base_rates[cause] for cause in TABLE.causes if cause != WATER}
        weight = {cause: (1 - begin.p_water) * rate / sum(rates.values()) for cause, rate in rates.items()}
        weight[WATER] = begin.p_water
        for sign, seen in observed.items():
            for cause in weight:
                p = TABLE.signs[sign].p[cause]
                weight[cause] *= p if seen else 1 - p
        found = judge(TABLE, begin, observed)
        for cause, value in weight.items():
            self.assertAlmostEqual(found.causes[cause], value / sum(weight.values()), places=9)
        self.assertEqual(found.p_water, found.causes[WATER])

    @settings(max_examples=40)
    @given(st.dictionaries(st.sampled_from([*TABLE.signs, WET]), st.booleans(), min_size=1, max_size=6))
    def test_the_bits_of_all_signs_lead_from_the_start_to_the_end(self, observed):
        begin = prior(TABLE, PETG, Quantity(0.2, 0.1))
        found = judge(TABLE, begin, observed)
        end = math.log2(found.p_water / (1 - found.p_water))
        self.assertAlmostEqual(found.start_bits, math.log2(begin.p_water / (1 - begin.p_water)), places=9)
        self.assertAlmostEqual(found.start_bits + sum(w.bits for w in found.weights), end, places=7)
        self.assertAlmostEqual(found.weights[-1].p_after, found.p_water, places=12)

    def test_the_order_of_the_signs_does_not_matter_to_the_end(self):
        begin = prior(TABLE, PETG, None)
        signs = list(TABLE.signs)[:4]
        ends = {
            round(judge(TABLE, begin, dict.fromkeys(order, True)).p_water, 12)
            for order in itertools.permutations(signs)
        }
        self.assertEqual(len(ends), 1)

    def test_each_chance_without_a_sign_is_that_of_a_case_that_never_looked(self):
        begin = prior(TABLE, PETG, Quantity(0.2, 0.1))
        observed = dict(zip(list(TABLE.signs)[:5], (True, False, True, True, False), strict=True))
        for weight in judge(TABLE, begin, observed).weights:
            rest = {sign: seen for sign, seen in observed.items() if sign != weight.sign}
            self.assertAlmostEqual(weight.p_without, judge(TABLE, begin, rest).p_water, places=12)

    def test_an_own_observation_multiplies_the_waters_odds(self):
        begin = prior(TABLE, PETG, Quantity(0.2, 0.1))
        plain = judge(TABLE, begin, {}).p_water
        for times in (0.1, 1.0, 3.0, 10.0):
            found = judge(TABLE, begin, {}, [OwnSign("smelled sour", times)]).p_water
            self.assertAlmostEqual(found / (1 - found), times * plain / (1 - plain), places=9)
        with self.assertRaisesRegex(OutOfRangeError, "times"):
            OwnSign("too sure", 1e6)

    def test_the_bounds_hold_the_chance_and_widen_with_what_rests_on_the_table(self):
        begin = prior(TABLE, PETG, Quantity(0.2, 0.1))
        for observed in ({}, {ALONE[0]: True}, dict.fromkeys(ALONE[:4], True)):
            found = judge(TABLE, begin, observed)
            self.assertTrue(found.low < found.p_water < found.high, observed)
        self.assertEqual(judge(TABLE, begin, {ALONE[0]: True}).low, judge(TABLE, begin, {ALONE[0]: True}).low)

    def test_a_companion_counts_within_the_bounds_as_it_does_in_the_chance(self):
        begin = prior(TABLE, PETG, Quantity(0.2, 0.1))
        signs = [sign for sign, row in TABLE.signs.items() if row.like]
        pairs = [p for p in itertools.combinations(signs, 2) if TABLE.signs[p[0]].like == TABLE.signs[p[1]].like]
        self.assertGreater(len(pairs), 2)
        for pair in pairs:
            found = judge(TABLE, begin, dict.fromkeys(pair, True))
            low, middle, high = (math.log(p / (1.0 - p)) for p in (found.low, found.p_water, found.high))
            self.assertAlmostEqual((low + high) / 2.0, middle, delta=0.1 * (high - low), msg=pair)


class Priors(TestCase):
    def test_the_water_is_to_blame_as_often_as_wet_and_dry_prints_say(self):
        water = TABLE.water
        for wet in (0.0, 0.05, PETG.trouble.value, 0.6, 3.0):
            begin = prior(TABLE, PETG, Quantity(wet, 0.01))
            want = begin.p_wet * water.share_when_wet + (1 - begin.p_wet) * water.share_when_not
            self.assertAlmostEqual(begin.p_water, want)
            self.assertFalse(begin.assumed)

    def test_at_the_threshold_it_is_as_likely_wet_as_not(self):
        self.assertAlmostEqual(prior(TABLE, PETG, Quantity(PETG.trouble.value, 1e-6)).p_wet, 0.5, places=3)

    def test_the_chance_rises_with_the_moisture_and_is_blunted_by_its_doubt(self):
        chances = [prior(TABLE, PETG, Quantity(wet, 0.02)).p_wet for wet in np.linspace(0.02, 1.0, 20)]
        self.assertEqual(chances, sorted(chances))
        sure, vague = (prior(TABLE, PETG, Quantity(2 * PETG.trouble.value, sd)).p_wet for sd in (0.01, 0.3))
        self.assertTrue(0.5 < vague < sure)

    def test_a_moisture_that_cannot_be_is_refused(self):
        for moisture in (Quantity(-0.1, 0.1), Quantity(101.0, 0.1), Quantity(0.2, 101.0)):
            with self.assertRaisesRegex(OutOfRangeError, "moisture_pct"):
                prior(TABLE, PETG, moisture)
        with self.assertRaisesRegex(OutOfRangeError, "no sign 'lightning'"):
            judge(TABLE, prior(TABLE, PETG, None), {"lightning": True})


class Suggestions(TestCase):
    WET, DRY = prior(TABLE, PETG, Quantity(1.5, 0.05)), prior(TABLE, PETG, Quantity(0.01, 0.005))

    def test_how_a_case_would_be_closed_changes_at_its_thresholds(self):
        for p, other, begin, kind in (
            (0.85, 0.10, self.WET, VerdictKind.WATER),
            (0.849, 0.14, self.WET, VerdictKind.NO_FINDING),
            (0.849, 0.15, self.WET, VerdictKind.WATER_AND_OTHER),
            (0.65, 0.15, self.WET, VerdictKind.WATER_AND_OTHER),
            (0.649, 0.30, self.WET, VerdictKind.NO_FINDING),
            (0.151, 0.60, self.DRY, VerdictKind.NO_FINDING),
            (0.15, 0.60, self.WET, VerdictKind.WET_NOT_CAUSE),
            (0.15, 0.60, self.DRY, VerdictKind.OTHER),
        ):
            self.assertEqual(_suggested(p, other, begin), kind, (p, other))

    def test_the_other_cause_is_the_likeliest_that_is_not_the_water(self):
        for sign in ALONE:
            found = judge(TABLE, self.DRY, {sign: True})
            rest = {cause: p for cause, p in found.causes.items() if cause != WATER}
            self.assertEqual(found.other, max(rest, key=rest.get))

    def test_the_numbers_of_a_scene_are_the_tables_own(self):
        numbers = scene(TABLE, self.WET)
        for at, sign in enumerate(TABLE.signs):
            for cause in TABLE.causes:
                p = TABLE.signs[sign].p[cause]
                here = numbers.log_p[at, :, numbers.causes.index(cause)]
                np.testing.assert_allclose(here, np.log([1 - p, p]), atol=1e-12)


class Words(TestCase):
    def test_a_chance_has_the_word_of_the_range_that_it_lies_in(self):
        ends = ((1.0, "surely"), (0.97, "surely"), (0.96, "probably"), (0.85, "probably"), (0.84, "rather"),
                (0.65, "rather"), (0.64, "open"), (0.35, "open"), (0.34, "rather_not"), (0.15, "rather_not"),
                (0.14, "probably_not"), (0.03, "probably_not"), (0.02, "surely_not"), (0.0, "surely_not"))  # fmt: skip
        self.assertEqual([in_words(p) for p, _ in ends], [word for _, word in ends])
