"""What a trial promises before it is begun, the percent sum with its slips, and what is taken over."""

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from drying.errors import OutOfRangeError
from drying.materials import equilibrium_moisture_pct, material
from drying.transport.strand import fraction_exchanged
from drying.trials import (
    DryingLot,
    LotFit,
    OwnNumber,
    Plan,
    Points,
    Reading,
    Sample,
    Slip,
    Twin,
    curve,
    d23_of,
    design,
    drawn_to,
    expected,
    fit_drying,
    half_time_h,
    holds_pct,
    isotherm_scale,
    slip_behind,
    water_sum,
)
from drying.weighing import Scale

FINE, COARSE = Scale(0.01, 0.005), Scale(1.0, 0.5)
NYLON = Plan(6e-12, 1.75, 8.2, 0.5, 24.0)


def lot_at(times_h, rng, d=6e-12):
    """Coils of a dry lot (no film) that are each weighed once, by the series of the cylinder."""
    samples = []
    for hours in times_h:
        dry = rng.normal(22.2, 0.3)
        moved = float(fraction_exchanged(np.array([d * hours * 3600.0 / 0.000875**2]))[0])
        wet, out = dry * 1.082, dry * (1.0 + (8.2 - 7.7 * moved) / 100.0)
        samples.append(Sample(round(wet, 2), (Reading(hours, round(out + rng.normal(0.0, 0.005), 2)),)))
    return DryingLot(1.75, 1140.0, 65.0, FINE, tuple(samples), Twin(22.40, 20.703))


class Beforehand(TestCase):
    def test_times_are_each_their_own_and_reach_from_early_to_late(self):
        found = design(NYLON, FINE, 8).times_h
        self.assertEqual(len(set(found)), 8)
        moved = fraction_exchanged(np.array(found) / NYLON.slowness_h)
        self.assertLess(moved[0], 0.35)
        self.assertGreater(moved[-1], 0.9)

    def test_times_are_such_as_people_keep(self):
        # To five minutes under an hour, a quarter under four, else a half.
        plans = [replace(NYLON, diffusivity_m2_s=d) for d in (2e-12, 2e-11, 2e-10)]
        minutes = {60.0 * hours for plan in plans for hours in design(plan, FINE, 9).times_h}
        for at in minutes:
            step = 5.0 if at < 60.0 else 15.0 if at < 240.0 else 30.0
            self.assertAlmostEqual(at / step, round(at / step), places=9, msg=at)
        self.assertTrue(any(at % 15.0 > 1.0 for at in minutes if at < 60.0))
        self.assertTrue(any(at % 30.0 > 1.0 for at in minutes if 60.0 < at < 240.0))

    def test_no_other_times_tell_more_than_a_little(self):
        rng = np.random.default_rng(2)
        promised = design(NYLON, FINE, 6)
        for _ in range(200):
            other = np.sort(rng.uniform(0.5, 40.0, 6))
            if np.diff(fraction_exchanged(other / NYLON.slowness_h)).min() > 0.1:  # each its own, as asked
                self.assertGreater(expected(NYLON, FINE, other)[0], 1.0 + 0.8 * (promised.diffusivity_factor - 1.0))

    def test_what_is_promised_is_what_fits_of_such_lots_come_to(self):
        rng = np.random.default_rng(4)
        promised = design(NYLON, FINE, 8)
        widths = [
            math.sqrt(found.p95 / found.p05)
            for found in (fit_drying(lot_at(promised.times_h, rng)).diffusivity_m2_s for _ in range(6))
        ]
        self.assertAlmostEqual(float(np.median(widths)), promised.diffusivity_factor, delta=0.03)

    def test_a_finer_scale_and_more_coils_tell_more(self):
        eight = design(NYLON, FINE, 8).diffusivity_factor
        self.assertLess(design(NYLON, FINE, 16).diffusivity_factor, eight)
        self.assertGreater(design(NYLON, COARSE, 8).diffusivity_factor, 3.0)

    def test_what_cannot_be_planned_is_named(self):
        for broken, named in (
            (lambda: design(NYLON, FINE, 1), "coils"),
            (lambda: Plan(6e-12, 1.75, 0.5, 0.5, 24.0), "where they end"),
            (lambda: Plan(6e-12, 1.75, 8.0, 0.5, 0.0), "coil_g"),
            (lambda: Plan(0.0, 1.75, 8.0, 0.5, 24.0), "diffusivity"),
        ):
            with self.assertRaisesRegex(OutOfRangeError, named):
                broken()


class TheSum(TestCase):
    # A coil of 10 g dry with 2 % in it: cut 10.2, soaked 10.8; its twin 20.4, baked 20.0. Worked out by hand.
    FOUND = water_sum(10.2, 10.8, 20.4, 20.0)

    def test_gain_and_what_was_there_before_are_all_the_water(self):
        self.assertAlmostEqual(self.FOUND.gained_pct, 6.0)
        self.assertAlmostEqual(self.FOUND.before_pct, 2.0)
        self.assertAlmostEqual(self.FOUND.total_pct, 8.0)
        self.assertAlmostEqual(self.FOUND.wet_basis_pct, 100.0 * 0.8 / 10.8)

    def test_each_slip_is_found_and_a_right_number_or_a_strange_one_is_none(self):
        for typed, body, slip in (
            (8.0, None, None),
            (8.01, None, None),
            (7.41, None, Slip.WET_BASIS),  # 0.8 of 10.8
            (6.0, None, Slip.TWIN_FORGOTTEN),
            (5.56, None, Slip.TWIN_FORGOTTEN_WET),  # 0.6 of 10.8
            (-8.0, None, Slip.SIGN),
            (-4.0, None, Slip.SIGN),
            (4.0, 2.0, Slip.GROSS),  # as heavy a spool on the scale
            (4.0, None, None),
            (12.3, None, None),
            (0.5, None, None),
        ):
            self.assertEqual(slip_behind(typed, self.FOUND, 0.02, body), slip, typed)

    @given(st.floats(1.0, 50.0), st.floats(0.05, 4.0), st.floats(0.05, 9.0))
    def test_the_sum_is_the_water_over_the_dry_mass(self, dry_g, before, gained):
        cut, out = dry_g * (1 + before / 100), dry_g * (1 + (before + gained) / 100)
        found = water_sum(cut, out, 3.0 * cut, 3.0 * dry_g)
        self.assertAlmostEqual(found.total_pct, before + gained, places=6)

    def test_without_a_baked_coil_only_the_gain_is_known(self):
        found = water_sum(10.2, 10.8, None, None)
        self.assertEqual((found.before_pct, round(found.gained_pct, 3)), (0.0, round(100 * 0.6 / 10.2, 3)))

    def test_masses_that_cannot_be_are_named(self):
        for masses, named in (((0.0, 1.0, None, None), "before_g"), ((10.0, 30.0, None, None), "soaked_g"),
                              ((10.0, 10.5, 20.0, 25.0), "twin_after_g")):  # fmt: skip
            with self.assertRaisesRegex(OutOfRangeError, named):
                water_sum(*masses)


class TakenOver(TestCase):
    FIT = LotFit(Points(5e-12, 6e-12, 7.2e-12), Points(8.0, 8.2, 8.4), Points(0.4, 0.5, 0.6), None, True, None)

    def test_the_curve_goes_from_start_to_end_and_half_is_gone_at_the_half_time(self):
        half = half_time_h(self.FIT, 1.75)
        middle, slow, fast = curve(self.FIT, 1.75, [0.0, half.p50, 400.0])
        np.testing.assert_allclose(middle, [8.2, (8.2 + 0.5) / 2, 0.5], atol=2e-4)
        self.assertGreater(slow[1], middle[1])
        self.assertLess(fast[1], middle[1])
        # Half of the water of a cylinder is gone at D·t/r² = 0.0631 (the series of Bessel roots, first 200 terms).
        self.assertAlmostEqual(half.p50, 0.0631 * 0.000875**2 / 6e-12 / 3600, delta=0.01 * half.p50)
        self.assertLess(half.p05, half.p50)

    def test_a_coils_water_is_counted_on_its_own_dry_mass(self):
        self.assertAlmostEqual(holds_pct(self.FIT, 10.82, 10.50), 5.0)
        self.assertAlmostEqual(holds_pct(self.FIT, 10.92, 10.50, film_first=1.0), 5.0)

    def test_the_material_dries_as_it_did_in_the_trial_and_its_spread_grows_with_the_way_to_23_degrees(self):
        nylon = material("pa6")
        own = d23_of(nylon, self.FIT.diffusivity_m2_s, 65.0)
        changed = own.value * nylon.diffusivity_m2_s(65.0) / nylon.d23.value
        self.assertAlmostEqual(changed, 6e-12, delta=1e-16)
        near = d23_of(nylon, self.FIT.diffusivity_m2_s, 24.0)
        self.assertGreater(own.spread, near.spread)
        self.assertAlmostEqual(math.log(near.spread), math.log(7.2 / 5.0) / 3.2898, delta=0.01)

    def test_the_isotherm_is_scaled_so_that_it_holds_what_was_found(self):
        nylon = material("pa6")
        for activity in (0.5, 1.0):
            scale = isotherm_scale(nylon, Points(6.0, 6.5, 7.0), activity)
            self.assertAlmostEqual(scale.value * equilibrium_moisture_pct(nylon, activity), 6.5)


class Makers(TestCase):
    def test_a_makers_value_lies_between_its_polymers_and_the_measured_one_by_how_sure_each_is(self):
        base = OwnNumber(1.0, 2.0)
        even = drawn_to(base, OwnNumber(4.0, 2.0))
        self.assertAlmostEqual(even.value, 2.0)
        self.assertAlmostEqual(math.log(even.spread), math.log(2.0) / math.sqrt(2.0))
        self.assertAlmostEqual(drawn_to(base, OwnNumber(4.0, 1.0)).value, 4.0, places=4)
        self.assertAlmostEqual(drawn_to(base, OwnNumber(4.0, 1e6)).value, 1.0, delta=0.01)

    def test_of_many_makers_the_drawn_values_are_nearer_to_the_truth_than_the_measured_ones(self):
        rng = np.random.default_rng(8)
        truth = rng.normal(0.0, math.log(1.6), 2000)
        seen = truth + rng.normal(0.0, math.log(1.5), truth.size)
        drawn = [math.log(drawn_to(OwnNumber(1.0, 1.6), OwnNumber(math.exp(x), 1.5)).value) for x in seen]
        spread = math.log(drawn_to(OwnNumber(1.0, 1.6), OwnNumber(1.0, 1.5)).spread)
        self.assertLess(float(np.std(drawn - truth)), 0.8 * float(np.std(seen - truth)))
        self.assertAlmostEqual(float(np.std(drawn - truth)), spread, delta=0.01)


class Hidden(TestCase):
    def soaked(self, rng, wrong_g=0.0):
        """Eight soaked coils, wiped alike: a film of 0.3 % of the dry mass that goes first, uneven by a third."""
        samples = []
        for n, hours in enumerate((1.0, 1.5, 2.5, 4.0, 5.5, 7.5, 14.5, 29.5)):
            dry = rng.normal(20.5, 0.4)
            moved = float(fraction_exchanged(np.array([4.6e-12 * hours * 3600.0 / 0.000875**2]))[0])
            film = 0.3 * (1.0 + 0.35 * rng.standard_normal())
            wet, out = dry * (1.083 + film / 100.0), dry * (1.0 + (8.3 - 7.8 * moved) / 100.0)
            wrong = wrong_g if n == 3 else 0.0
            samples.append(Sample(round(wet, 2), (Reading(hours, round(out + wrong + rng.normal(0.0, 0.005), 2)),)))
        return DryingLot(1.75, 1140.0, 65.0, FINE, tuple(samples), Twin(20.0, 18.43), soaked=True)

    def test_a_wrong_reading_does_not_hide_behind_a_thick_film(self):
        rng = np.random.default_rng(8)
        found = [fit_drying(self.soaked(rng, 0.5)).doubtful for _ in range(6)]
        self.assertGreaterEqual(found.count((3, 0)), 5)

    def test_lots_without_one_are_left_as_they_are(self):
        rng = np.random.default_rng(12)
        found = [fit_drying(self.soaked(rng)).doubtful for _ in range(8)]
        self.assertGreaterEqual(found.count(None), 7)
