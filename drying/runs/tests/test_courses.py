"""Courses and priors of a run: shapes, rates and weights, by computing each a second way."""

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np
from scipy.integrate import solve_ivp

from drying.air import RoomAir
from drying.dryers.load import Load
from drying.materials.empty_spools import empty_spool_kind
from drying.materials.properties import material
from drying.quantity import Quantity
from drying.runs.courses import Courses, shape_chances
from drying.runs.interruptions import segments_of_run
from drying.runs.posterior import _reached_at, summed_up, update_posterior
from drying.runs.record import RunSoFar, TimedWeighing
from drying.runs.tests.test_verdict import BENCH, BOX, SHED, TARE
from drying.transport.pace import strand_share
from drying.transport.solve import course
from drying.transport.state import even_state
from drying.transport.uncertainty import TORTUOSITY_SPREAD, UNKNOWN_RATE, Rate, rate_sigma
from drying.weighing.scale import Weighing

AIR_C = 63.0


def run_of(name="petg", start=0.3, sd=0.06, form="wound", grosses=(), rate=UNKNOWN_RATE):
    polymer = material(name)
    load = Load(polymer, empty_spool_kind("abs"), 1.75, Quantity(start, sd), 640.0, form=form)
    seen = [TimedWeighing(hours, Weighing(gross, BENCH)) for hours, gross in grosses]
    steady = replace(BOX, warm_up_h=0.0).segments(polymer, SHED, AIR_C, 48.0)
    return RunSoFar(load, steady, polymer.clean.value, TARE, seen, rate=rate)


def half_time(run, filament):
    """Hours in which half of what is over the floor has left, by the solver itself."""
    times = np.linspace(0.0, 48.0, 4001)
    start = run.load.start.value
    moisture = course(filament, even_state(filament, start), run.segments, times)
    share = (moisture - run.floor_pct) / (start - run.floor_pct)
    return float(np.interp(-0.5, -share, times))


def cylinder_hours(rise, levels):
    """Times in which a cylinder in dry air comes down to shares of its water, against that of a half: finite volumes
    and a stiff integrator, with a diffusivity that rises evenly with its water, so many times from dry to wet.
    """
    walls = 1.0 - (1.0 - np.linspace(0.0, 1.0, 49)) ** 1.6
    shell, middle = np.diff(walls**2), np.sqrt((walls[1:] ** 2 + walls[:-1] ** 2) / 2.0)

    def rates(_t, water):
        at_walls = np.append((water[1:] + water[:-1]) / 2.0, water[-1] / 2.0)
        faster = 1.0 + (rise - 1.0) * at_walls
        inward = faster * np.append(
            2.0 * walls[1:-1] / np.diff(middle) * np.diff(water), -2.0 * water[-1] / (1.0 - middle[-1])
        )
        return np.diff(inward, prepend=0.0) / shell

    times = np.append(0.0, np.geomspace(1e-4, 3.0, 400))
    solved = solve_ivp(rates, (0.0, 3.0), np.ones(48), "BDF", times, rtol=1e-6, atol=1e-9)
    left = shell @ solved.y
    return np.interp(-levels, -left, times) / np.interp(-0.5, -left, times)


class Shapes(TestCase):
    def test_the_strands_share_of_the_time_is_how_the_time_answers_to_its_diffusivity(self):
        for name in ("petg", "abs"):
            run = run_of(name)
            filament, step = run.load.filament, 0.02
            d23 = filament.material.d23
            slow, fast = (
                half_time(
                    run, replace(filament, material=replace(filament.material, d23=replace(d23, value=d23.value * f)))
                )
                for f in (math.exp(-step), math.exp(step))
            )
            share = math.log(slow / fast) / (2 * step)
            got = Courses(run, 48.0).sigma
            spreads = [rate_sigma(filament.material, run.segments[-1].temp_c, s) for s in np.linspace(0, 1, 201)]
            # The spread falls and rises with the share, so it is compared at the share that the solver gives.
            self.assertAlmostEqual(got, float(np.interp(share, np.linspace(0, 1, 201), spreads)), delta=0.02, msg=name)

    def test_the_closed_form_of_that_share_is_good_to_a_tenth(self):
        for name in ("petg", "abs", "pla", "tpu", "pa12", "asa", "pc"):
            run = run_of(name)
            free = replace(run, segments=[replace(s, vent_m3_h=None) for s in run.segments])
            filament, step = run.load.filament, 0.02
            d23 = filament.material.d23
            slow, fast = (
                half_time(
                    free, replace(filament, material=replace(filament.material, d23=replace(d23, value=d23.value * f)))
                )
                for f in (math.exp(-step), math.exp(step))
            )
            self.assertAlmostEqual(strand_share(filament, AIR_C), math.log(slow / fast) / (2 * step), delta=0.1)
        self.assertEqual(strand_share(replace(filament, winding=None), AIR_C), 1.0)

    def test_a_loose_coil_is_strand_alone_and_has_one_shape(self):
        run = run_of(form="loose")
        found = Courses(run, 48.0)
        self.assertEqual((found.shapes, shape_chances(found.shapes).tolist()), (1, [1.0]))
        self.assertAlmostEqual(found.sigma, rate_sigma(run.load.material, run.segments[-1].temp_c, 1.0))

    def test_a_strand_that_slows_when_dry_has_the_long_tail_of_a_diffusivity_that_rises(self):
        run = run_of("pa12", start=1.2, form="loose")
        found = Courses(run, 400.0)
        self.assertEqual(found.shapes, 3)
        middle, tail, short = (found.shares[n, found.log_rates.size // 2] for n in range(3))
        levels = np.array([0.7, 0.4, 0.3, 0.2, 0.1, 0.06])
        hours = [np.interp(-levels, -row, found.times) / np.interp(-0.5, -row, found.times) for row in (middle, tail)]
        for row, rise, allowed in ((0, 1.0, 0.02), (1, 9.0, 0.12)):
            np.testing.assert_allclose(hours[row], cylinder_hours(rise, levels), rtol=allowed, err_msg=f"rise {rise}")
        self.assertGreater(cylinder_hours(9.0, levels)[-1], 1.4 * hours[0][-1])  # and one diffusivity is far off
        self.assertTrue(np.all(short[found.times > 30.0] <= middle[found.times > 30.0] + 1e-9))
        self.assertEqual(Courses(run_of("petg", form="loose"), 48.0).shapes, 1)

    def test_what_was_learned_narrows_the_spread_in_its_own_measure(self):
        free, learned = (Courses(run_of(rate=rate), 48.0).sigma for rate in (UNKNOWN_RATE, Rate(1.2, 0.2)))
        self.assertAlmostEqual(learned / free, 0.2 / UNKNOWN_RATE.sigma, places=3)

    def test_the_other_shapes_stand_at_the_points_of_gauss_and_hermite(self):
        # Three points for a normal: the middle with 2/3, and at ±√3 standard deviations with 1/6 each.
        found = Courses(run_of(), 48.0)
        np.testing.assert_allclose(shape_chances(found.shapes), [2 / 3, 1 / 6, 1 / 6])
        polymer = material("petg")
        # Strand and winding share the spread of their ratio between them: half of it each, one slow and one fast.
        apart = math.sqrt(3) * math.hypot(math.log(polymer.d23.spread), math.log(TORTUOSITY_SPREAD)) / 2
        run = run_of()
        filament = run.load.filament
        slow = replace(
            filament,
            material=replace(polymer, d23=replace(polymer.d23, value=polymer.d23.value * math.exp(-apart))),
            winding=replace(filament.winding, tortuosity=max(1.0, filament.winding.tortuosity * math.exp(-apart))),
        )
        times = np.linspace(0.0, 30.0, 400)
        moisture = course(slow, even_state(slow, 0.3), run.segments, times)
        share = (moisture - run.floor_pct) / (0.3 - run.floor_pct)
        stretched = times * half_time(run, filament) / half_time(run, slow)
        middle = found.log_rates.size // 2
        got = np.interp(stretched, found.times, found.shares[found.starts.size, middle])
        np.testing.assert_allclose(got, share, atol=0.001)

    def test_every_shape_comes_to_half_when_the_middle_one_does(self):
        found = Courses(run_of("abs"), 48.0)
        middle = found.log_rates.size // 2
        halves = [np.interp(-0.5, -np.minimum.accumulate(row[middle]), found.times) for row in found.shares]
        np.testing.assert_allclose(halves, halves[0], rtol=0.01)


class Rates(TestCase):
    def test_between_its_rates_the_courses_are_those_of_the_solver(self):
        run = run_of()
        found = Courses(run, 48.0)
        for rate in (0.5, 0.8, 1.0, 1.37, 2.2):
            got = found.shares_at_rates(np.array([rate]))[0, 0]
            fast = [replace(s, duration_h=s.duration_h * rate) for s in run.segments]
            times = found.times[found.times * rate <= 48.0 * rate]
            moisture = course(run.load.filament, even_state(run.load.filament, 0.3), fast, times * rate)
            want = (moisture - run.floor_pct) / (0.3 - run.floor_pct)
            np.testing.assert_allclose(got[: times.size], want, atol=0.004, err_msg=str(rate))

    def test_at_its_own_rates_a_course_is_the_computed_one_itself(self):
        courses = Courses(run_of(), 48.0)
        found = courses.shares_at_rates(np.exp(courses.log_rates))
        np.testing.assert_allclose(found, courses.shares, atol=1e-9)
        between = courses.shares_at_rates(np.exp((courses.log_rates[1:] + courses.log_rates[:-1]) / 2.0))
        for inner, slower, faster in zip(between[0], courses.shares[0], courses.shares[0, 1:], strict=False):
            self.assertTrue((inner <= slower + 2e-3).all() and (inner >= faster - 2e-3).all())

    def test_the_starts_that_are_computed_straddle_what_is_expected_and_keep_off_the_floor(self):
        # By Henry's law one start serves all; at the floor there is no share to follow, so beside it.
        petg = run_of("petg", 0.3)
        np.testing.assert_allclose(Courses(petg, 48.0).starts, [0.3])
        floor, held = petg.floor_pct, 0.60  # PETG holds 0.60 % after lying in water: 2 % of that is 0.012 %
        at_floor = Courses(run_of("petg", petg.floor_pct), 48.0).starts
        self.assertGreater(at_floor[0], floor + 0.005)
        self.assertLess(at_floor[0], floor + 0.03 * held)
        near = floor + 0.05 * held
        np.testing.assert_allclose(Courses(run_of("petg", near), 48.0).starts, [near])
        nylon = Courses(run_of("pa6", 3.0, 0.5), 48.0).starts
        np.testing.assert_allclose(nylon, [2.0, 3.0, 4.0])
        sure = Courses(run_of("pa6", 3.0, 0.01), 48.0).starts
        np.testing.assert_allclose(sure, [2.7, 3.0, 3.3])

    def test_the_weights_of_a_start_add_up_and_give_linear_things_exactly(self):
        found = Courses(run_of("pa6", start=2.0, sd=0.3), 48.0)
        own = found.starts.size
        self.assertEqual(own, 3)
        starts = np.linspace(found.starts[0], found.starts[-1], 17)
        weights = found.weights(starts)
        np.testing.assert_allclose(weights[:, 0].sum(axis=1), 1.0)
        np.testing.assert_allclose(weights[:, 0, :own] @ found.starts, starts)
        for shape in range(1, found.shapes):
            change = weights[:, shape] - weights[:, 0]
            want = np.zeros_like(change)
            want[:, own + shape - 1], want[:, own // 2] = 1.0, -1.0
            np.testing.assert_allclose(change, want, atol=1e-12)


class Priors(TestCase):
    """With one weighing nothing is learned: what is left is what was believed before."""

    def setUp(self):
        self.run_ = run_of(grosses=[(0.0, 214.0 + 640.0)])
        self.found = update_posterior(self.run_, 24.0)

    def marginal(self, axis):
        return self.found.chances.sum(axis=tuple(a for a in range(4) if a != axis))

    def test_starts_and_rates_are_spread_as_they_were(self):
        start = self.marginal(0)
        mean = float(start @ self.found.starts)
        self.assertAlmostEqual(mean, 0.3, delta=0.01)
        log_rate = self.found.log_rate
        self.assertAlmostEqual(log_rate.value, 0.0, delta=0.01)
        self.assertAlmostEqual(log_rate.uncertainty, self.found.courses.sigma, delta=0.01)

    def test_one_prior_in_twenty_is_spread_over_all_that_the_strand_can_hold(self):
        run = run_of("petg", 0.10, 0.01)
        posterior = update_posterior(run, 1.0)
        far = 1.0 - posterior.chance_under(0.16, 0.0)  # six standard deviations over what was expected
        most = float(posterior.starts.max())
        self.assertAlmostEqual(far / (0.05 * (most - 0.16) / most), 1.0, delta=0.25)

    def test_the_floors_are_a_normal_in_the_log_of_the_isotherm(self):
        polymer = self.run_.load.material
        sigmas = np.log(self.found.floors / self.run_.floor_pct) / math.log(polymer.k1.spread)
        want = np.exp(-0.5 * sigmas**2)
        np.testing.assert_allclose(self.marginal(2), want / want.sum(), atol=2e-3)
        np.testing.assert_allclose(self.marginal(3), [2 / 3, 1 / 6, 1 / 6], atol=2e-3)

    def test_the_chances_sum_to_one_and_the_interval_holds_nine_in_ten(self):
        self.assertAlmostEqual(float(self.found.chances.sum()), 1.0)
        for hours in (0.0, 4.0, 12.0):
            found = self.found.estimate_at(hours)
            inside = self.found.chance_under(found.p95, hours) - self.found.chance_under(found.p05, hours)
            self.assertAlmostEqual(inside, 0.9, delta=0.02)
            self.assertAlmostEqual(self.found.chance_under(found.p50, hours), 0.5, delta=0.05)


class Learning(TestCase):
    def test_two_weighings_narrow_the_start_as_a_normal_update_does(self):
        # A coil whose rate is known: the loss is a straight line of the start, so the answer can be had by hand.
        hours, dry = 12.0, 640.0 / 1.003
        run = run_of(form="loose", sd=0.1, rate=Rate(1.0, 0.01))
        filament = run.load.filament
        ends = [
            float(course(filament, even_state(filament, start), run.segments, np.array([hours]))[0])
            for start in (0.2, 0.4)
        ]
        per_start = dry / 100.0 * (1.0 - (ends[1] - ends[0]) / 0.2)
        lost = dry / 100.0 * (0.3 - (ends[0] + ends[1]) / 2.0)
        heavy = 214.0 + 640.0
        seen = run_of(form="loose", sd=0.1, rate=Rate(1.0, 0.01), grosses=[(0.0, heavy), (hours, heavy - lost)])
        found = update_posterior(seen, hours)
        starts = found.chances.sum(axis=(1, 2, 3))
        mean = float(starts @ found.starts)
        sd = math.sqrt(float(starts @ (found.starts - mean) ** 2))
        noise = 2 * BENCH.uncertainty_g**2 + (lost * TARE.uncertainty_g / dry) ** 2 + (0.03 * lost) ** 2
        want = (1 / 0.1**2 + per_start**2 / noise) ** -0.5
        self.assertAlmostEqual(mean, 0.3, delta=0.01)
        self.assertAlmostEqual(sd / want, 1.0, delta=0.25)
        self.assertTrue(found.fits)


class WithoutHeat(TestCase):
    """Heat for 4 h, none for 12 h in a damp room, heat again: followed a second way, by the solver."""

    DAMP = RoomAir(19.0, 70.0)
    TIMES = (2.0, 4.0, 9.0, 16.0, 20.0, 30.0)

    def run_of(self, name, start, sd=0.02):
        polymer = material(name)
        load = Load(polymer, empty_spool_kind("abs"), 1.75, Quantity(start, sd), 640.0)
        box = segments_of_run(BOX, polymer, self.DAMP, [(0.0, AIR_C)], 40.0, [(4.0, 16.0)])
        return RunSoFar(load, box, polymer.clean.value, TARE, [])

    def test_what_is_expected_is_what_the_solver_gives_for_the_air_as_it_was(self):
        for name, start in (("petg", 0.3), ("asa", 0.5), ("pa6", 2.0)):
            run = self.run_of(name, start)
            found = update_posterior(run, 40.0)
            seen = np.array(self.TIMES)
            filament = run.load.filament
            for rate in (0.7, 1.0, 1.5):
                stretched = [replace(s, duration_h=s.duration_h * rate) for s in run.segments]
                truth = course(filament, even_state(filament, start), stretched, seen * rate)
                at = int(np.argmin(np.abs(np.log(found.rates / rate))))
                near = int(np.argmin(np.abs(found.starts - start)))
                middle = found.floors.size // 2
                got = [found.moistures(t)[near, at, middle, 0] for t in self.TIMES]
                shift = (found.starts[near] - start) * np.ones(seen.size)
                with self.subTest(name, rate=rate):
                    np.testing.assert_allclose(got, truth, atol=0.03 * start + float(np.abs(shift).max()))

    def test_no_moisture_is_negative_and_the_band_stays_that_of_the_start(self):
        found = update_posterior(self.run_of("petg", 0.3, 0.06), 40.0)
        for hours in (0.5, 3.0, 9.0, 15.0, 25.0):
            band = found.estimate_at(hours)
            self.assertGreaterEqual(band.p05, 0.0)
            self.assertLess(band.p95, 0.45)

    def test_it_takes_up_water_while_the_heat_is_off(self):
        found = update_posterior(self.run_of("petg", 0.3), 40.0)
        self.assertGreater(found.estimate_at(15.9).p50, found.estimate_at(4.5).p50)

    def test_hours_to_the_aim_are_when_the_moisture_first_comes_there(self):
        found = update_posterior(self.run_of("asa", 0.5), 40.0)
        hours = found.hours_to_aim
        for place in ((20, 20, 3, 0), (10, 30, 3, 0), (30, 10, 2, 1)):
            at = float(hours[place])
            if np.isfinite(at) and at > 0.0:
                self.assertAlmostEqual(float(found.moistures(at)[place]), found.run.aim_pct, delta=2e-3)
                self.assertGreater(float(found.moistures(0.9 * at)[place]), found.run.aim_pct - 2e-3)


class ToTheAim(TestCase):
    def test_hours_are_when_each_course_of_the_grid_comes_to_the_aim(self):
        for name, start in (("pa6", 1.6), ("petg", 0.3)):
            run = run_of(name, start, 0.1 * start)
            found = update_posterior(run, 24.0)
            hours = found.hours_to_aim
            times = np.linspace(0.0, 24.0, 241)
            moistures = np.stack([found.moistures(float(t)) for t in times])
            first = times[np.argmax(moistures <= run.aim_pct, axis=0)]
            likely = (found.starts > run.aim_pct) & (found.starts < 2.0 * start)
            sought = likely[:, None, None, None] & (found.floors < run.aim_pct)[:, None]
            comes = (moistures <= run.aim_pct).any(axis=0)
            self.assertGreater((comes & sought).mean(), 0.01)
            np.testing.assert_allclose(hours[comes & sought], first[comes & sought], atol=0.5, err_msg=name)
            self.assertTrue(np.all(hours[~comes & sought] > 23.0))

    def test_each_value_is_looked_up_on_its_own_course_and_never_comes_past_its_end(self):
        courses, times = np.array([[-1.0, 0.0, 0.0, 3.0], [-0.2, 0.1, 0.3, 0.4]]), np.array([0.0, 1.0, 5.0, 7.0])
        wanted = np.array([[-2.0, -0.5, 1.5, 3.1, np.nan], [-0.2, 0.2, 0.35, 0.41, np.inf]])
        np.testing.assert_allclose(
            _reached_at(wanted, courses, times), [[0.0, 0.5, 6.0, np.inf, np.nan], [0.0, 3.0, 6.0, np.inf, np.inf]]
        )


class SummedUp(TestCase):
    def test_values_that_are_all_the_same_have_no_deviation(self):
        found = summed_up(np.array([3.0, 3.0]), np.array([0.5, 0.5]))
        self.assertEqual((found.mean, found.sd), (3.0, 0.0))

    def test_mean_and_deviation_are_those_of_the_values_by_their_chances(self):
        found = summed_up(np.array([0.1, 0.2, 0.5]), np.array([0.5, 0.25, 0.25]))
        self.assertAlmostEqual(found.mean, 0.225)
        self.assertAlmostEqual(found.sd, math.sqrt(0.5 * 0.125**2 + 0.25 * 0.025**2 + 0.25 * 0.275**2))

    def test_what_a_loss_will_vary_by_is_that_of_the_moistures_themselves(self):
        for segments in (None, "off"):
            run = run_of(grosses=[(0.0, 854.0), (3.0, 853.4)])
            if segments:
                (steady,) = run.segments
                cold = replace(steady, temp_c=SHED.temp_c, duration_h=2.0)
                run = replace(run, segments=[replace(steady, duration_h=4.0), cold, replace(steady, duration_h=42.0)])
            posterior = update_posterior(run, 24.0)
            target = np.minimum(posterior.hours_to_aim, 40.0)
            times = np.array([4.0, 7.0, 12.0])
            variance, shared = posterior.losses_against(target, 3.0, times)
            self.assertEqual((variance.shape, shared.shape), ((3,), (3,)))
            off = target - float((posterior.chances * target).sum())
            for n, time_h in enumerate(times):
                lost = posterior.moistures(3.0) - posterior.moistures(float(time_h))
                mean = float((posterior.chances * lost).sum())
                want = float((posterior.chances * (lost - mean) ** 2).sum())
                self.assertAlmostEqual(variance[n] / want, 1.0, places=6)
                self.assertAlmostEqual(shared[n], float((posterior.chances * lost * off).sum()), places=6)
