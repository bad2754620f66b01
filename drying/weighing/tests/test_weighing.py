"""Loss, percent and tare: the propagation against a Monte Carlo, and the rules on what counts as a finding."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st

from drying.errors import OutOfRangeError
from drying.quantity import Quantity
from drying.weighing.loss import loss, net
from drying.weighing.scale import Scale, Weighing
from drying.weighing.tare import Tare, TareMethod, nominal_tare, tare_spread_g, twin_tare, usual_tare

BENCH = Scale(0.1, 0.05, 0.02)
PARCEL = Scale(1.0, 0.5)
TARE = Tare(218.0, 3.0, TareMethod.TWIN)


class Uncertainty(TestCase):
    def test_a_reading_rounded_to_one_gram_carries_0_29_g(self):
        # JCGM 100:2008, F.2.2.1: a display step d has the standard uncertainty 0.29·d.
        self.assertAlmostEqual(Scale(1.0).uncertainty_g, 0.2887, places=4)

    def test_percents_agree_with_a_monte_carlo_of_the_same_terms(self):
        # JCGM 101:2008 takes the propagation of distributions as the check of the first-order law.
        rng, n, left = np.random.default_rng(20260101), 400_000, 0.05
        for scale, first, last in ((BENCH, 861.2, 859.9), (PARCEL, 1218.0, 1190.0)):
            m1, m2 = (rng.normal(g, scale.uncertainty_g, n) for g in (first, last))
            tare = rng.normal(TARE.mass_g, TARE.uncertainty_g, n)
            dry_pct = 100 * (m1 - m2) / ((m2 - tare) / (1 + left / 100))
            wet_pct = 100 * (m1 - m2) / (m1 - tare)
            got = loss(Weighing(first, scale), Weighing(last, scale), TARE, left)
            with self.subTest(scale=scale.resolution_g):
                self.assertAlmostEqual(got.dry_basis_pct.uncertainty / dry_pct.std(), 1.0, delta=0.01)
                self.assertAlmostEqual(got.wet_basis_pct.uncertainty / wet_pct.std(), 1.0, delta=0.01)
                self.assertAlmostEqual(got.dry_basis_pct.value, dry_pct.mean(), delta=3e-4 * dry_pct.mean())

    def test_the_tare_enters_the_percent_and_not_the_grams(self):
        vague = Tare(218.0, 30.0, TareMethod.NOMINAL)
        sharp, blurred = (loss(Weighing(1218, PARCEL), Weighing(1190, PARCEL), t) for t in (TARE, vague))
        self.assertEqual(sharp.mass_g, blurred.mass_g)
        self.assertGreater(blurred.dry_basis_pct.uncertainty, sharp.dry_basis_pct.uncertainty)


class Findings(TestCase):
    @given(st.floats(300, 1200), st.floats(-20, 20))
    def test_a_loss_is_a_finding_from_two_standard_uncertainties_on(self, first, lost):
        got = loss(Weighing(first, PARCEL), Weighing(first - lost, PARCEL), TARE)
        self.assertEqual(got.finding, abs(got.mass_g.value) >= 2 * np.hypot(*[PARCEL.uncertainty_g] * 2))

    @given(st.floats(300, 1200), st.floats(0.5, 50))
    def test_percent_on_dry_basis_exceeds_that_on_wet_basis(self, first, lost):
        assume(first - lost > TARE.mass_g + 10)
        got = loss(Weighing(first, BENCH), Weighing(first - lost, BENCH), TARE)
        self.assertGreater(got.dry_basis_pct.value, got.wet_basis_pct.value)

    def test_gross_below_tare_and_bad_scales_are_refused_by_name(self):
        with self.assertRaisesRegex(OutOfRangeError, "120 g is below the tare of 218 g"):
            net(Weighing(120, BENCH), TARE)
        with self.assertRaisesRegex(OutOfRangeError, "there is no filament"):
            loss(Weighing(218, BENCH), Weighing(218, BENCH), TARE)
        with self.assertRaisesRegex(OutOfRangeError, "resolution_g"):
            Scale(-0.1)


class Tares(TestCase):
    def test_a_measured_tare_is_surer_than_a_twin_and_a_twin_surer_than_the_nominal_mass(self):
        spreads = [tare_spread_g(method) for method in (TareMethod.MEASURED, TareMethod.TWIN, TareMethod.NOMINAL)]
        self.assertEqual(spreads, [0.5, 3.0, 10.0])

    def test_a_tare_that_no_spool_has_is_refused_by_name(self):
        for mass, spread, named in (
            (-1, 1, "tare_g"),
            (20001, 1, "tare_g"),
            (200, -1, "tare_sd_g"),
            (200, 1001, "tare_sd_g"),
        ):
            with self.assertRaises(OutOfRangeError) as refused:
                Tare(mass, spread, TareMethod.MEASURED)
            self.assertEqual(refused.exception.name, named)


class Readings(TestCase):
    def test_warmth_and_surface_water_add_to_the_scales_own_doubt(self):
        plain, warm, wet, both = (Weighing(900, BENCH, *marks) for marks in ((), (True,), (False, True), (True, True)))
        self.assertEqual(plain.uncertainty_g, BENCH.uncertainty_g)
        self.assertAlmostEqual(warm.uncertainty_g**2, BENCH.uncertainty_g**2 + 0.09**2)
        self.assertAlmostEqual(wet.uncertainty_g**2, BENCH.uncertainty_g**2 + 1.0)
        self.assertAlmostEqual(both.uncertainty_g**2, BENCH.uncertainty_g**2 + 0.09**2 + 1.0)

    def test_a_warm_spool_reads_light_and_a_warm_coil_hardly(self):
        # Rising air lifts a spool straight from the box by 0.1 to 0.4 g: the middle of that is given back.
        self.assertAlmostEqual(Weighing(900, BENCH, True).mass_g, 900.25)
        self.assertAlmostEqual(Weighing(4.0, BENCH, True).mass_g, 4.0, delta=0.003)
        self.assertEqual(Weighing(900, BENCH).mass_g, 900)
        for wrong in (math.inf, math.nan, -1.0):
            with self.subTest(wrong), self.assertRaisesRegex(OutOfRangeError, "gross_g"):
                Weighing(wrong, BENCH)

    def test_the_terms_of_a_scale_add_in_quadrature(self):
        # JCGM 100:2008, equation 10: 0.3²/12 + 0.04² + 0.03² = 0.0100.
        self.assertAlmostEqual(Scale(0.3, 0.04, 0.03).uncertainty_g, 0.1)
        for values, named in (
            ((0.0,), "resolution_g"),
            ((101.0,), "resolution_g"),
            ((0.1, -1), "repeat"),
            ((0.1, 0, 101), "drift"),
        ):
            with self.assertRaisesRegex(OutOfRangeError, named):
                Scale(*values)

    def test_what_the_empty_spool_gave_off_is_no_water_of_the_filament(self):
        card = Quantity(4.0, 1.5)
        got = loss(Weighing(1218, BENCH), Weighing(1198, BENCH), TARE, 0.1, card)
        self.assertAlmostEqual(got.mass_g.value, 20.0)
        self.assertAlmostEqual(got.filament_g.value, 16.0)
        self.assertAlmostEqual(got.filament_g.uncertainty, np.hypot(got.mass_g.uncertainty, 1.5))
        self.assertAlmostEqual(got.dry_basis_pct.value, 100 * 16.0 / (980.0 / 1.001))
        self.assertAlmostEqual(got.wet_basis_pct.value, 1.6)
        self.assertAlmostEqual(got.detectable_g, 2 * got.filament_g.uncertainty)

    def test_water_that_is_left_makes_the_dry_mass_smaller(self):
        for left in (-0.1, 100.1):
            with self.assertRaisesRegex(OutOfRangeError, "moisture_left_pct"):
                loss(Weighing(1218, BENCH), Weighing(1198, BENCH), TARE, left)
        wet, dry = (
            loss(Weighing(1218, BENCH), Weighing(1198, BENCH), TARE, left).dry_basis_pct.value for left in (5, 0)
        )
        self.assertAlmostEqual(wet / dry, 1.05)


class Unknown(TestCase):
    def test_an_empty_spool_is_taken_by_what_it_held_when_new(self):
        # A kilogram's weighs some 200 g; of half the filament, the three-quarters power of a half.
        for nominal_g, mass_g in ((1000.0, 200.0), (500.0, 118.92), (250.0, 70.71), (3000.0, 455.9)):
            found = usual_tare(nominal_g)
            self.assertAlmostEqual(found.mass_g, mass_g, delta=0.05)
            self.assertAlmostEqual(found.uncertainty_g / found.mass_g, 0.22)
            self.assertIs(found.method, TareMethod.UNKNOWN)


class OfOthers(TestCase):
    def test_one_of_the_make_tells_as_much_as_a_twin_and_many_tell_their_mean_from_which_this_one_differs(self):
        for count, sd in ((1, 3.0), (2, 3.0 * math.sqrt(0.75)), (1000, 3.0 * math.sqrt(0.5005))):
            found = twin_tare([200.0 + 2.0 * (n % 2) for n in range(count)])
            self.assertAlmostEqual(found.uncertainty_g, sd, places=6)
        self.assertAlmostEqual(twin_tare([200.0, 202.0, 207.0]).mass_g, 203.0)

    def test_a_label_is_off_by_its_own_share_and_never_by_less_than_that_of_half_a_kilogram(self):
        for nominal, sd in ((250.0, 5.0), (500.0, 5.0), (1000.0, 10.0), (3000.0, 30.0)):
            found = nominal_tare(nominal + 210.0, nominal)
            self.assertAlmostEqual(found.uncertainty_g, sd)
            self.assertAlmostEqual(found.mass_g, 210.0)
