"""Diffusion in a loose strand against Crank's full series, the fine-grid reference, and its own invariants."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import jn_zeros

from drying.errors import OutOfRangeError
from drying.materials.properties import all_materials, material
from drying.materials.sorption import equilibrium_moisture_pct
from drying.transport.strand import Conditions, dimensionless_time, forecast_loose_pct, fraction_exchanged
from drying.transport.winding import most_wound_g

ALPHA_200 = np.asarray(jn_zeros(0, 200))
PLA_LOOSE_45 = {0.5: 0.3700, 1: 0.3291, 2: 0.2767, 3: 0.2412, 4: 0.2148, 6: 0.1790, 8: 0.1574}


def crank_200(tau):
    return 1.0 - np.exp(-np.multiply.outer(tau, ALPHA_200**2)) @ (4.0 / ALPHA_200**2)


class LooseStrand(TestCase):
    def test_forecast_is_within_a_thousandth_of_the_200_term_series_from_a_minute_to_48_h(self):
        # Before the first minute the cut-off series itself is up to 0.2 % short of nothing-has-left-yet.
        hours = np.concatenate([[1 / 60], np.linspace(0.1, 48, 480)])
        for m in all_materials().values():
            for diameter, temp in ((1.75, 20.0), (1.75, 70.0), (2.85, 45.0)):
                with self.subTest(material=m.id, diameter=diameter, temp=temp):
                    tau = dimensionless_time(m, diameter, temp, hours)
                    start, end = 1.0, equilibrium_moisture_pct(m, 0.1)
                    got = forecast_loose_pct(m, diameter, start, Conditions(temp, 0.1), hours)
                    want = start + (end - start) * np.minimum(crank_200(tau), 1.0)
                    early = 4.0 / ALPHA_200[-1] ** 2  # nothing to compare with where even 200 terms are too few
                    checked = tau > early
                    self.assertTrue(checked.sum() > 470)
                    self.assertLess(np.abs(got - want)[checked].max(), 0.001 * start)

    def test_nothing_has_left_at_the_start_and_everything_in_the_end(self):
        np.testing.assert_allclose(fraction_exchanged([0.0, 50.0]), [0.0, 1.0], atol=1e-12)

    def test_pla_coil_at_45_c_follows_the_fine_grid_finite_volume_solution(self):
        # Reference: fine-grid finite volumes with a stiff integrator, room 21 °C and 60 %, 1.75 mm, from 0.48 %.
        hours = list(PLA_LOOSE_45)
        got = forecast_loose_pct(material("pla"), 1.75, 0.48, Conditions(45, 0.15559), hours)
        np.testing.assert_allclose(got, list(PLA_LOOSE_45.values()), atol=0.001 * 0.48)

    @given(st.floats(0, 3), st.floats(0, 3))
    def test_more_time_moves_more_water(self, a, b):
        low, high = fraction_exchanged(sorted((a, b)))
        self.assertTrue(0.0 <= low <= high + 1e-6 <= 1.0 + 2e-6)

    def test_negative_time_moisture_over_100_and_wild_diameters_are_refused(self):
        pla = material("pla")
        bad = (
            (1.75, 0.5, Conditions(45, 0.1), -1.0, "tau"),
            (1.75, 120.0, Conditions(45, 0.1), 1.0, "start_moisture_pct"),
            (1.75, 0.5, Conditions(45, 1.2), 1.0, "activity"),
            (1.75, 0.5, Conditions(250, 0.1), 1.0, "temp_c"),
            (-1.75, 0.5, Conditions(45, 0.1), 1.0, "strand_diameter_mm"),
        )
        for diameter, start, conditions, hours, name in bad:
            with self.subTest(name), self.assertRaisesRegex(OutOfRangeError, name):
                forecast_loose_pct(pla, diameter, start, conditions, [hours])


class ShortTimes(TestCase):
    def test_early_on_it_is_the_full_series_of_the_cylinder(self):
        # Crank (1975), section 5.3: 1 - Σ 4/αₙ²·exp(-αₙ²·τ), of 4,000 zeros of J0.
        zeros = jn_zeros(0, 4000)
        for tau in (1e-4, 1e-3, 0.005, 0.01, 0.02, 0.04):
            full = 1.0 - float(np.sum(4.0 / zeros**2 * np.exp(-(zeros**2) * tau)))
            self.assertAlmostEqual(float(fraction_exchanged(tau)), full, delta=1e-5)


class Flanges(TestCase):
    def test_the_most_that_goes_between_them_is_a_ring_packed_as_close_as_rods_lie(self):
        # 200 mm across over a hub of 100 mm, 60 mm wide: 1.41372e-3 m³, of which rods fill π/(2·√3) = 0.9069.
        self.assertAlmostEqual(most_wound_g(200.0, 100.0, 60.0, 1240.0), 1.41372e-3 * 0.9069 * 1.24e6, delta=0.2)
