"""What ended runs teach of rate, floor and shape together: against sums over grids and against the posterior itself."""

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np

from drying.runs.courses import WARMING, log_chance_of_cells
from drying.runs.posterior import CourseCache, update_posterior
from drying.runs.rate import NO_WARMING, PastRun, rate_from, warming_by
from drying.runs.tests.test_courses import run_of
from drying.transport import COMPUTED, FLOOR_SIGMAS, RATE_SIGMA, RUN_SD, Lesson, Rate, RateCells
from drying.transport.uncertainty import DRYER_SD, MATERIAL_SD, SPOOL_SD

STRAND = ("strand_slower", "strand_faster")
SHAPES = (COMPUTED, *STRAND)
RNG = np.random.default_rng(3)
LOGS = np.linspace(-3.0, 3.0, 241)
NEW = ("petg", 1, 1, 0.7)
SHARED = MATERIAL_SD**2 + SPOOL_SD**2 + DRYER_SD**2


def flat(value, shapes=SHAPES):
    return tuple((float(value),) * len(shapes) for _ in FLOOR_SIGMAS)


def lesson(mean, sd, shapes=SHAPES, level=0.0):
    """The same for every floor and shape: a normal in the log rate, but for a constant."""
    return Lesson(shapes, flat(level, shapes), flat(mean / sd**2, shapes), flat(1 / sd**2, shapes))


def past(mean, sd, *, spool=1, dryer=1, taught=None, warming=NO_WARMING):
    return PastRun("petg", spool, dryer, mean, sd, 0.7, taught, warming)


def uneven():
    """A lesson whose cells all differ."""
    draw = [RNG.normal(size=(FLOOR_SIGMAS.size, len(SHAPES))) for _ in range(3)]
    return Lesson(SHAPES, *(tuple(map(tuple, of)) for of in (draw[0], 3.0 * draw[1], 8.0 * np.abs(draw[2]))))


class Together(TestCase):
    def test_lessons_that_say_the_same_of_every_floor_and_shape_teach_as_rates_alone_do(self):
        for runs in ([(0.4, 0.2)], [(0.4, 0.2), (-0.1, 0.1), (0.2, 0.3)]):
            by_rates = rate_from([past(*one) for one in runs], *NEW)
            by_lessons = rate_from([past(*one, taught=lesson(*one)) for one in runs], *NEW)
            self.assertAlmostEqual(by_lessons.median, by_rates.median, places=5)
            self.assertAlmostEqual(by_lessons.sigma, by_rates.sigma, places=5)
            np.testing.assert_allclose(by_lessons.cells.level, 0.0, atol=1e-6)

    def test_every_cell_is_the_sum_over_a_grid_of_rates(self):
        taught = [uneven(), uneven()]
        found = rate_from([past(0.0, 1.0, taught=one) for one in taught], *NEW).cells
        # Two runs and the next: what they share, and each its own luck.
        among = np.linalg.inv(SHARED + RUN_SD**2 * np.eye(3))
        at = np.stack(np.meshgrid(LOGS, LOGS, LOGS, indexing="ij"))[..., ::2, ::2, ::2]
        prior = -0.5 * np.einsum("i...,ij,j...->...", at, among, at)
        for cell in ((0, 0), (3, 1), (6, 2)):
            say = sum(
                one.level[cell[0]][cell[1]]
                + one.slope[cell[0]][cell[1]] * r
                - one.curvature[cell[0]][cell[1]] * r**2 / 2
                for one, r in zip(taught, at, strict=False)
            )
            chances = np.exp(prior + say)
            mean = float((chances * at[2]).sum() / chances.sum())
            self.assertAlmostEqual(found.mean[cell[0]][cell[1]], mean, delta=2e-3)
            sd = math.sqrt(float((chances * (at[2] - mean) ** 2).sum() / chances.sum()))
            self.assertAlmostEqual(found.sd[cell[0]][cell[1]], sd, delta=2e-3)
            here, first = math.log(chances.sum()), self.first_level(taught, prior, at)
            level = found.level[cell[0]][cell[1]] - found.level[0][0]
            self.assertAlmostEqual(level, here - first, delta=5e-3)

    def first_level(self, taught, prior, at):
        say = sum(
            one.level[0][0] + one.slope[0][0] * r - one.curvature[0][0] * r**2 / 2
            for one, r in zip(taught, at, strict=False)
        )
        return math.log(np.exp(prior + say).sum())

    def test_the_rate_alone_is_that_of_all_cells_by_their_chances(self):
        found = rate_from([past(0.0, 1.0, taught=uneven())], *NEW)
        chances = np.exp(np.array(found.cells.level) + log_chance_of_cells(len(SHAPES)))
        chances /= chances.sum()
        mean, sd = np.array(found.cells.mean), np.array(found.cells.sd)
        middle = float((chances * mean).sum())
        self.assertAlmostEqual(math.log(found.median), middle, places=5)
        self.assertAlmostEqual(found.sigma**2, float((chances * (sd**2 + (mean - middle) ** 2)).sum()), places=5)

    def test_a_shape_that_one_run_does_not_know_counts_there_as_the_computed_one(self):
        more = lesson(0.1, 0.2, (*SHAPES, "slower_when_dry", "faster_when_dry"))
        plain = Lesson((COMPUTED,), flat(0, SHAPES[:1]), flat(2, SHAPES[:1]), flat(5, SHAPES[:1]))
        found = rate_from([past(0.1, 0.2, taught=more), past(0.4, 0.4, taught=plain)], *NEW)
        self.assertEqual(found.cells.shapes, more.shapes)
        np.testing.assert_allclose(found.cells.level, 0.0, atol=1e-6)

    def test_runs_of_other_spools_teach_of_the_rate_alone(self):
        other = rate_from([past(0.3, 0.1, spool=2, taught=uneven())], *NEW)
        self.assertIsNone(other.cells)
        self.assertEqual(other, rate_from([past(0.3, 0.1, spool=2)], *NEW))
        coil = PastRun("petg", 1, 1, 0.3, 0.1, 1.0, uneven())
        self.assertIsNone(rate_from([coil], *NEW).cells)


class WarmingThrough(TestCase):
    SHAPES = (COMPUTED, *WARMING)

    def test_other_spools_in_the_same_dryer_tell_how_windings_warm_through_there(self):
        runs = [past(0.0, 0.3, spool=n, warming=(-0.5, 0.2)) for n in (2, 3)]
        cells = rate_from(runs, *NEW).cells
        self.assertEqual(cells.shapes, self.SHAPES)
        for row in cells.level:
            self.assertAlmostEqual(row[1] - row[0], -1.0)
            self.assertAlmostEqual(row[2] - row[0], 0.4)
        elsewhere = [replace(run, dryer=2) for run in runs]
        self.assertIsNone(rate_from(elsewhere, *NEW).cells)

    def test_a_run_of_the_spool_in_another_dryer_tells_nothing_of_it(self):
        level = tuple((0.0, 2.0, -1.0) for _ in FLOOR_SIGMAS)
        taught = Lesson(self.SHAPES, level, flat(0, self.SHAPES), flat(4, self.SHAPES))
        here, there = (rate_from([past(0.0, 0.5, dryer=n, taught=taught)], *NEW).cells for n in (1, 2))
        self.assertAlmostEqual(here.level[0][1] - here.level[0][0], 2.0)
        self.assertEqual(there.shapes, (COMPUTED,))

    def test_it_is_the_chance_over_every_floor_and_rate(self):
        level, slope, curvature = (RNG.normal(size=(7, 3)) for _ in range(3))
        taught = Lesson(self.SHAPES, *(tuple(map(tuple, of)) for of in (level, slope, curvature**2)))
        floors = np.exp(-0.5 * FLOOR_SIGMAS**2)[:, None, None]
        says = level[..., None] + slope[..., None] * LOGS - curvature[..., None] ** 2 * LOGS**2 / 2
        chance = (floors * np.exp(says - 0.5 * (LOGS / RATE_SIGMA) ** 2)).sum(axis=(0, 2))
        # Half of the variance in common: points 0 and ±√3 with weights 2/3 and 1/6, and rows that have the mean and the
        # variance of a normal given the other (by hand): 0 and 3·(1/8 + 1/8) = 3/4, ±√3/2 and 3/2 - 3/4 = 3/4.
        by_dryer = np.array([[0.75, 0.125, 0.125], [0.5, 0.5, 0.0], [0.5, 0.0, 0.5]]) @ chance
        np.testing.assert_allclose(warming_by(taught), np.log(by_dryer[1:] / by_dryer[0]), atol=1e-4)
        self.assertEqual(warming_by(lesson(0.1, 0.2)), NO_WARMING)

    def test_one_winding_that_surely_warms_slowly_makes_its_dryer_slow_by_no_more_than_it_tells(self):
        level = tuple((-40.0, -40.0, 0.0) for _ in FLOOR_SIGMAS)
        faster, slower = warming_by(Lesson(self.SHAPES, level, flat(0, self.SHAPES), flat(0, self.SHAPES)))
        self.assertAlmostEqual(slower, math.log(0.5 / 0.125))
        self.assertLess(faster, -10.0)


class OfARun(TestCase):
    """A lesson has what was known before taken out: under another prior it tells what the run itself would."""

    WEIGHED = ((0.0, 854.0), (3.0, 853.3), (8.0, 852.8), (14.0, 852.5))

    def of(self, rate):
        return update_posterior(run_of(grosses=self.WEIGHED, rate=rate), 14.0, CourseCache(1))

    def marginal(self, posterior):
        """Mean log rate, mean floor in its sigmas, and the chances of the shapes."""
        of_floor = posterior.chances.sum(axis=(0, 1, 3))
        return (posterior.log_rate.value, float(of_floor @ FLOOR_SIGMAS), posterior.chances.sum(axis=(0, 1, 2)))

    def test_it_tells_under_another_prior_what_the_run_itself_tells(self):
        first, other = self.of(Rate(1.2, 0.4)), Rate(1.3, 0.3)
        itself = self.of(other)
        taught = first.lesson
        level, slope, curvature = (np.array(of) for of in (taught.level, taught.slope, taught.curvature))
        mean, sd = math.log(other.median), itself.courses.sigma
        chance = np.exp(level + log_chance_of_cells(len(taught.shapes)))[..., None] * np.exp(
            slope[..., None] * LOGS - curvature[..., None] * LOGS**2 / 2 - 0.5 * ((LOGS - mean) / sd) ** 2
        )
        chance /= chance.sum()
        log_rate, floor, shapes = self.marginal(itself)
        self.assertAlmostEqual(float((chance.sum(axis=(0, 1)) * LOGS).sum()), log_rate, delta=0.03)
        self.assertAlmostEqual(float((chance.sum(axis=(1, 2)) * FLOOR_SIGMAS).sum()), floor, delta=0.08)
        np.testing.assert_allclose(chance.sum(axis=(0, 2)), shapes, atol=0.03)

    def test_cells_that_say_nothing_of_their_own_change_nothing(self):
        rate = Rate(1.2, 0.3)
        shapes = self.of(rate).courses.shape_names
        cells = RateCells(shapes, flat(0, shapes), flat(math.log(1.2), shapes), flat(0.3, shapes))
        plain, same = self.of(rate), self.of(replace(rate, cells=cells))
        np.testing.assert_allclose(same.chances, plain.chances, atol=1e-9)

    def test_a_floor_that_earlier_runs_made_out_is_known_from_the_start(self):
        shapes = (COMPUTED,)
        level = tuple((-50.0 * (n != 5),) for n in range(FLOOR_SIGMAS.size))
        cells = RateCells(shapes, level, flat(0, shapes), flat(0.3, shapes))
        found = self.of(Rate(1.0, 0.3, cells))
        self.assertGreater(found.chances.sum(axis=(0, 1, 3))[5], 0.999)
        self.assertAlmostEqual(found.floors[5] / found.run.floor_pct, 1.25 ** float(FLOOR_SIGMAS[5]))

    def test_a_run_of_which_nothing_was_weighed_again_leaves_an_even_lesson(self):
        taught = update_posterior(run_of(grosses=self.WEIGHED[:1]), 14.0, CourseCache(1)).lesson
        np.testing.assert_allclose(taught.level, 0.0, atol=0.02)
        np.testing.assert_allclose(taught.curvature, 0.0)
