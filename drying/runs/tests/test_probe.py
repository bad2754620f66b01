"""A probe in the winding: its lag is found again, and the run goes by it."""

import math
from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from drying.air import RoomAir
from drying.errors import OutOfRangeError
from drying.quantity import Quantity
from drying.runs.courses import PROBED, WARMING, Courses
from drying.runs.probe import PLACE_SD, warming_by_probe
from drying.runs.record import USUAL_WARMING, lasting
from drying.runs.tests.test_courses import run_of
from drying.transport import Segment, as_it_warms, warming_h

ROOM = RoomAir(20.0, 50.0)
SPOOL = run_of().load.filament
USUAL_H = warming_h(SPOOL)
BOX = [Segment(0.1 * n + 0.1, 30.0 + 8.0 * n, ROOM, 0.3) for n in range(4)] + [Segment(9.0, 62.0, ROOM, 0.3)]


def air_at(hour):
    ends = np.cumsum([s.duration_h for s in BOX])
    return BOX[min(int(np.searchsorted(ends, hour, side="right")), len(BOX) - 1)].temp_c


def seen(times_as_slow, until_h=4.0, every_h=0.1, noise_k=0.0, seed=1):
    """What a probe shows in a winding that lags behind by a first order, by a general integrator."""
    times = np.arange(0.0, until_h, every_h)
    constant = USUAL_H * times_as_slow
    found = solve_ivp(
        lambda t, y: [(air_at(t) - y[0]) / constant], (0.0, until_h), [20.0], t_eval=times, max_step=0.02, rtol=1e-8
    )
    return times, found.y[0] + np.random.default_rng(seed).normal(0.0, noise_k, times.size)


class Told(TestCase):
    @settings(max_examples=12, deadline=None)
    @given(st.floats(0.5, 2.5))
    def test_the_lag_comes_back(self, slower):
        told = warming_by_probe(SPOOL, None, BOX, *seen(slower))
        self.assertAlmostEqual(math.exp(told.value) / slower, 1.0, delta=0.04)
        self.assertGreaterEqual(told.uncertainty, PLACE_SD)

    def test_noise_widens_it_and_the_truth_stays_within_it(self):
        for seed in range(6):
            told = warming_by_probe(SPOOL, None, BOX, *seen(1.6, noise_k=1.5, seed=seed))
            self.assertLess(abs(told.value - math.log(1.6)), 2.0 * told.uncertainty)
        quiet = warming_by_probe(SPOOL, None, BOX, *seen(1.6, until_h=2.0, every_h=0.2))
        loud = warming_by_probe(SPOOL, None, BOX, *seen(1.6, until_h=2.0, every_h=0.2, noise_k=8.0))
        self.assertGreater(loud.uncertainty, 1.3 * quiet.uncertainty)

    def test_too_few_readings_too_short_a_way_or_a_coil_tell_nothing(self):
        times, temps = seen(1.0)
        self.assertIsNone(warming_by_probe(SPOOL, None, BOX, times[:7], temps[:7]))
        self.assertIsNone(warming_by_probe(SPOOL, None, BOX, times[:8], temps[:8]))  # not half of the way yet
        self.assertIsNone(warming_by_probe(replace(SPOOL, winding=None), None, BOX, times, temps))
        cool = [replace(s, temp_c=25.0) for s in BOX]
        self.assertIsNone(warming_by_probe(SPOOL, None, cool, times, np.linspace(20.0, 25.0, times.size)))
        with self.assertRaises(OutOfRangeError):
            warming_by_probe(SPOOL, None, BOX, times[::-1], temps)


class GoneBy(TestCase):
    def test_a_run_meets_what_a_winding_of_that_lag_meets(self):
        run = replace(run_of(), start_temp_c=20.0, warming=Quantity(math.log(1.8), 0.1))
        want = as_it_warms(run.load.filament, lasting(run.segments, 10.0), 20.0, None, 1.8)
        self.assertEqual(run.met(10.0), want)

    def test_its_shapes_are_its_own_and_as_narrow_as_the_probe_is_sure(self):
        usual = Courses(replace(run_of(), start_temp_c=20.0), 24.0)
        known = Courses(replace(run_of(), start_temp_c=20.0, warming=Quantity(0.0, 0.1)), 24.0)
        self.assertEqual(usual.shape_names[3:5], WARMING)
        self.assertEqual(known.shape_names[3:5], PROBED)
        apart = [np.abs(c.shares[-1] - c.shares[-2]).max() for c in (usual, known)]
        self.assertLess(apart[1], 0.5 * apart[0])
        self.assertEqual(USUAL_WARMING.uncertainty, math.log(1.4))
