"""Ladders of prints at planned moistures: what is hidden comes out, and what is promised beforehand is kept."""

import math
from itertools import pairwise
from unittest import TestCase

import numpy as np

from drying.cli.trial import answer_of
from drying.errors import OutOfRangeError
from drying.quantity import Quantity
from drying.trials.ladder import Prior, Rung, _fits, design_ladder, fit_ladder, least_ladder

PRIOR = Prior(0.22, 1.8, 0.08)


def printed(drawn, mark, width, moistures, prints, doubt):
    """A ladder with a hidden mark: each rung's true moisture is off by its own factor, common to its prints."""
    rungs = []
    for planned in moistures:
        true = planned * math.exp(drawn.normal(0.0, doubt))
        p = 1.0 / (1.0 + math.exp(-(math.log(true / mark)) / width))
        rungs.append(Rung(Quantity(planned, planned * doubt), prints, int(drawn.binomial(prints, p))))
    return rungs


def hidden(drawn):
    mark = PRIOR.mark_pct * math.exp(drawn.normal(0.0, math.log(PRIOR.spread)))
    return mark, PRIOR.width * math.exp(drawn.normal(0.0, math.log(1.5)))


class Hidden(TestCase):
    def test_nine_in_ten_intervals_hold_the_mark_and_ladders_that_rise_fit(self):
        drawn, held, fits, count = np.random.default_rng(17), 0, 0, 200
        for n in range(count):
            mark, width = hidden(drawn)
            rungs = printed(drawn, mark, width, (0.08, 0.14, 0.24, 0.42, 0.7), 1 + n % 5, 0.1)
            found = fit_ladder(PRIOR, rungs)
            held += found.mark_pct.p05 <= mark <= found.mark_pct.p95
            fits += found.fits
        self.assertTrue(0.86 <= held / count <= 0.94, held / count)
        self.assertGreater(fits / count, 0.96)

    def test_a_ladder_that_falls_does_not_fit(self):
        rungs = [Rung(Quantity(m, 0.05 * m), 8, s) for m, s in ((0.05, 8), (0.15, 5), (0.6, 0))]
        self.assertFalse(fit_ladder(PRIOR, rungs).fits)

    def test_rungs_that_trade_places_fit_where_their_moistures_are_hardly_known(self):
        # Seven of eight showed it at 0.20 %, one at 0.24 %: with either off by half it may be the other way round.
        for doubt, fits in ((0.6, True), (0.03, False)):
            rungs = [Rung(Quantity(m, doubt * m), 8, s) for m, s in ((0.20, 7), (0.24, 1))]
            self.assertEqual(fit_ladder(Prior(0.22, 1.3, 0.03), rungs).fits, fits, doubt)

    def test_one_rung_lies_on_some_rising_curve_however_unexpected(self):
        self.assertTrue(fit_ladder(PRIOR, [Rung(Quantity(0.02, 0.002), 3, 3)]).fits)

    def test_what_is_promised_is_what_such_ladders_come_to(self):
        drawn, design = np.random.default_rng(3), design_ladder(PRIOR, 5, 6)
        factors = []
        for _ in range(60):
            mark, width = hidden(drawn)
            factors.append(fit_ladder(PRIOR, printed(drawn, mark, width, design.moistures_pct, 6, 0.02)).factor)
        self.assertAlmostEqual(
            math.log(np.median(factors)), math.log(design.factor), delta=0.25 * math.log(design.factor)
        )


class ByHand(TestCase):
    def test_without_a_print_that_tells_the_prior_stands(self):
        far = fit_ladder(PRIOR, [Rung(Quantity(20.0, 0.1), 3, 3)])
        self.assertAlmostEqual(far.mark_pct.p50, PRIOR.mark_pct, delta=0.01 * PRIOR.mark_pct)
        self.assertAlmostEqual(far.factor, math.exp(1.6449 * math.log(PRIOR.spread)), delta=0.03)

    def test_many_prints_put_the_mark_between_the_rungs_that_differ(self):
        rungs = [Rung(Quantity(m, 1e-4), 20, s) for m, s in ((0.1, 0), (0.2, 0), (0.4, 20), (0.8, 20))]
        found = fit_ladder(PRIOR, rungs)
        self.assertTrue(0.2 < found.mark_pct.p05 < found.mark_pct.p95 < 0.4, found)
        self.assertTrue(found.told)
        self.assertLess(found.clean_pct.p50, found.mark_pct.p50)

    def test_what_is_seen_of_a_rung_moves_the_mark_against_it(self):
        at = Quantity(0.22, 0.001)
        marks = [fit_ladder(PRIOR, [Rung(at, 4, showed)]).mark_pct.p50 for showed in range(5)]
        self.assertEqual(marks, sorted(marks, reverse=True))

    def test_a_rung_whose_moisture_is_hardly_known_tells_less(self):
        sure, unsure = (fit_ladder(PRIOR, [Rung(Quantity(0.2, u), 6, 3)]).factor for u in (0.001, 0.2))
        self.assertLess(sure, unsure)


class Designs(TestCase):
    def test_more_prints_and_more_rungs_tell_more(self):
        factors = [design_ladder(PRIOR, 5, prints).factor for prints in (1, 2, 4, 8)]
        self.assertEqual(factors, sorted(factors, reverse=True))
        self.assertLess(design_ladder(PRIOR, 7, 4).factor, design_ladder(PRIOR, 3, 4).factor)

    def test_rungs_lie_about_the_mark_and_apart(self):
        moistures = design_ladder(PRIOR, 5, 3).moistures_pct
        self.assertEqual(list(moistures), sorted(set(moistures)))
        self.assertLess(moistures[0], PRIOR.mark_pct)
        self.assertGreater(moistures[-1], PRIOR.mark_pct)
        for sure in (Prior(0.22, 1.1, 0.08), Prior(0.22, 3.0, 0.02)):  # however well the mark is known before
            at = design_ladder(sure, 7, 3).moistures_pct
            self.assertGreater(min(b / a for a, b in pairwise(at)), 1.18)

    def test_the_least_ladder_tells_and_one_print_fewer_a_rung_does_not(self):
        least = least_ladder(PRIOR)
        self.assertTrue(least.tells)
        if least.prints > 1:
            self.assertFalse(design_ladder(PRIOR, len(least.moistures_pct), least.prints - 1).tells)
        blunt = least_ladder(Prior(0.22, 5.0, 0.002))  # so wide a curve that no sixty prints tell
        self.assertFalse(blunt.tells)
        self.assertEqual(blunt.prints, 60 // len(blunt.moistures_pct))  # the most that may be asked of anybody

    def test_what_cannot_be_is_refused_by_name(self):
        for name, make in (
            ("clean_pct", lambda: Prior(0.2, 1.8, 0.3)),
            ("spread", lambda: Prior(0.2, 0.5, 0.1)),
            ("showed", lambda: Rung(Quantity(0.2, 0.01), 3, 4)),
            ("prints", lambda: Rung(Quantity(0.2, 0.01), 0, 0)),
            ("moisture_pct", lambda: Rung(Quantity(0.0, 0.01), 1, 0)),
            ("rungs", lambda: fit_ladder(PRIOR, [])),
            ("rungs", lambda: design_ladder(PRIOR, 1, 3)),
        ):
            with self.subTest(name), self.assertRaises(OutOfRangeError) as refused:
                make()
            self.assertEqual(refused.exception.name, name)


class CommandLine(TestCase):
    def test_rungs_are_answered_with_the_mark_and_none_with_a_design(self):
        rungs = [
            {"moisture_pct": m, "u_pct": 0.01, "prints": 6, "showed": s} for m, s in ((0.1, 0), (0.2, 3), (0.5, 6))
        ]
        found = answer_of({"kind": "ladder", "material": "petg", "rungs": rungs})
        self.assertEqual(set(found), {"mark_pct", "clean_pct", "fits", "told"})
        self.assertTrue(0.1 < found["mark_pct"]["p50"] < 0.4)
        own = {"mark_pct": 0.22, "spread": 1.8, "clean_pct": 0.08}
        self.assertEqual(set(answer_of({"kind": "ladder", "prior": own})["design"]),
                         {"moistures_pct", "prints", "factor", "tells"})  # fmt: skip

    def test_what_is_wrong_is_refused_by_name(self):
        rung = {"moisture_pct": 0.2, "prints": 3, "showed": 1}
        for trial, named in (
            ({"material": "pp"}, "does not matter"),
            ({"material": "petg", "rungs": [rung | {"prints": 2.5}]}, "prints"),
            ({"material": "petg", "rungs": [rung | {"colour": 1}]}, "colour"),
            ({"prior": {"mark_pct": 1}}, "spread"),
        ):
            with self.subTest(named), self.assertRaisesRegex(OutOfRangeError, named):
                answer_of({"kind": "ladder", **trial})


class Fitting(TestCase):
    def test_two_rungs_leave_one_degree_of_freedom(self):
        # At the mark half of the prints show it. 31 of 48 are 7 too many: 49/12 = 4.08; 33 are 81/12 = 6.75, which
        # one degree of freedom passes in one of a hundred (6.63) no more, and two would (9.21).
        def fits(showed):
            rungs = [Rung(Quantity(1.0, 1e-6), 48, n) for n in (24, showed)]
            return _fits(rungs, np.array([0.0]), np.array([0.5]), np.array([[1.0]]))

        self.assertEqual([fits(31), fits(32), fits(33), fits(34)], [True, True, False, False])

    def test_a_mark_over_half_of_the_dry_mass_is_refused(self):
        self.assertEqual(Prior(50.0, 1.8, 0.08).mark_pct, 50.0)
        for mark in (50.5, 0.00009):
            with self.assertRaises(OutOfRangeError):
                Prior(mark, 1.8, 0.00001)
