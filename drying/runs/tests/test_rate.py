"""What earlier runs teach of a rate: against draws from the same model, conditioned by hand."""

import math
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from drying.materials import material
from drying.runs.rate import PastRun, rate_by_data_alone, rate_from
from drying.transport.uncertainty import (
    DRYER_SD,
    MATERIAL_SD,
    RATE_SIGMA,
    RUN_SD,
    SPOOL_SD,
    TORTUOSITY_SPREAD,
    Rate,
    rate_sigma,
)

RNG = np.random.default_rng(11)


def drawn(names, sd, count):
    """One normal part for each name, `count` times."""
    return {name: RNG.normal(0.0, sd, count) for name in set(names)}


class FromDraws(TestCase):
    """The model is drawn a million times; the answer is the straight line of the new run's rate on what was seen."""

    COUNT = 400_000

    def by_draws(self, past, new):
        """Strand and winding each have a part for the material and one for the dryer; a run hangs on both by its
        strand share. Coils and wound spools have each a part of their own for the spool.
        """
        runs = [(p.material, p.spool, p.dryer, p.strand_share) for p in past] + [new]
        ways = [(s, math.sqrt(1 - s**2)) for *_, s in runs]
        of = {
            (at, way): drawn([run[at] for run in runs], sd, self.COUNT)
            for at, sd in ((0, MATERIAL_SD), (2, DRYER_SD))
            for way in (0, 1)
        }
        of_spool = drawn([(run[1], run[3] == 1.0) for run in runs], SPOOL_SD, self.COUNT)
        rates = [
            sum(weight * of[at, way][run[at]] for at in (0, 2) for way, weight in enumerate(weights))
            + of_spool[run[1], run[3] == 1.0]
            + RNG.normal(0, RUN_SD, self.COUNT)
            for run, weights in zip(runs, ways, strict=True)
        ]
        seen = np.array([r + RNG.normal(0, p.uncertainty, self.COUNT) for r, p in zip(rates, past, strict=False)])
        weights = np.linalg.lstsq(seen.T, rates[-1], rcond=None)[0]
        return float(weights @ [p.log_rate for p in past]), float((rates[-1] - weights @ seen).std())

    def test_the_answer_is_that_of_a_million_draws(self):
        past = [
            PastRun("petg", 1, 1, 0.35, 0.10, 0.8),
            PastRun("petg", 2, 1, -0.10, 0.30, 0.8),
            PastRun("abs", 3, 1, 0.20, 0.05, 0.6),
            PastRun("petg", 1, 2, 0.50, 0.20, 0.7),
            PastRun("petg", 1, 1, 0.90, 0.20, 1.0),
        ]
        for new in (
            ("petg", 1, 1, 0.8),
            ("petg", 2, 2, 0.5),
            ("petg", 9, 9, 1.0),
            ("abs", 3, 9, 0.6),
            ("pla", 9, 1, 0),
        ):
            mean, sd = self.by_draws(past, new)
            found = rate_from(past, *new)
            self.assertAlmostEqual(math.log(found.median), mean, delta=0.012, msg=str(new))
            self.assertAlmostEqual(found.sigma, sd, delta=0.01, msg=str(new))

    def test_one_run_of_the_same_three_pulls_by_its_share_of_the_variance(self):
        shared = MATERIAL_SD**2 + SPOOL_SD**2 + DRYER_SD**2
        pull = shared / (shared + RUN_SD**2 + 0.2**2)
        found = rate_from([PastRun("petg", 1, 1, 0.4, 0.2, 0.7)], "petg", 1, 1, 0.7)
        self.assertAlmostEqual(math.log(found.median), 0.4 * pull)
        self.assertAlmostEqual(found.sigma**2, RATE_SIGMA**2 - pull * shared)

    @given(
        st.lists(st.tuples(st.floats(0.0, 1.5), st.floats(0.01, 0.5)), min_size=1, max_size=6),
        st.floats(0.0, 0.999),
        st.sampled_from([1, 2]),
    )
    def test_a_coil_never_moves_a_wound_spool_by_more_than_it_tells_of_the_strand(self, coils, share, dryer):
        past = [PastRun("petg", 1, 1, log, sd, 1.0) for log, sd in coils]
        moved = math.log(rate_from(past, "petg", 1, dryer, share).median)
        self.assertLessEqual(moved, share * max(log for log, _ in coils) + 1e-9)
        self.assertGreaterEqual(moved, -1e-9)

    def test_a_soaked_coil_that_dried_fast_hardly_shortens_the_plan_of_its_spool(self):
        coil = PastRun("tpu", 1, 1, math.log(2.67), 0.1, 1.0)
        self.assertLess(rate_from([coil], "tpu", 1, 1, 0.33).median, 1.35)
        self.assertGreater(rate_from([coil], "tpu", 1, 1, 1.0).median, 2.0)  # the next coil of it

    def test_a_run_that_shares_nothing_teaches_nothing(self):
        found = rate_from([PastRun("petg", 1, 1, 0.9, 0.05, 0.5)], "pla", 2, 2, 0.5)
        self.assertEqual((found.median, found.sigma), (1.0, RATE_SIGMA))

    def test_however_many_runs_the_next_one_has_still_its_own_luck(self):
        many = [PastRun("petg", 1, 1, 0.1, 0.01, 0.5)] * 40
        self.assertGreaterEqual(rate_from(many, "petg", 1, 1, 0.5).sigma, RUN_SD)


class DataAlone(TestCase):
    def test_the_prior_is_taken_out_again(self):
        # A prior N(0.1, 0.4) and data N(0.5, 0.3) make the posterior by precisions; taken apart they come back.
        before, data, sd = Rate(math.exp(0.1), 0.4), 0.5, 0.3
        precision = 1 / 0.4**2 + 1 / sd**2
        after = (0.1 / 0.4**2 + data / sd**2) / precision
        mean, uncertainty = rate_by_data_alone(before, after, precision**-0.5)
        self.assertAlmostEqual(mean, data)
        self.assertAlmostEqual(uncertainty, sd)

    def test_where_the_data_say_less_than_a_fifth_of_the_prior_they_say_nothing(self):
        before = Rate(1.0, 0.4)
        for gain, says in ((0.19, False), (0.21, True)):
            after = ((1 + gain) / 0.4**2) ** -0.5
            self.assertEqual(rate_by_data_alone(before, 0.0, after) is not None, says)


class Spread(TestCase):
    def test_the_spread_is_that_of_what_the_rate_is_computed_with(self):
        polymer = material("petg")
        winding = math.hypot(math.log(TORTUOSITY_SPREAD), math.log(polymer.k1.spread))
        rest = DRYER_SD**2 + RUN_SD**2
        self.assertAlmostEqual(rate_sigma(polymer, 60.0, 0.0), math.sqrt(winding**2 + rest))
        at_reference = rate_sigma(polymer, 23.0, 1.0)
        self.assertAlmostEqual(at_reference, math.sqrt(math.log(polymer.d23.spread) ** 2 + rest), places=3)

    def test_far_from_23_degrees_the_activation_energy_adds_its_doubt(self):
        polymer = material("petg")
        spreads = [rate_sigma(polymer, temp, 1.0) for temp in (23.0, 45.0, 65.0, 90.0)]
        self.assertEqual(spreads, sorted(spreads))
        # ln D moves by Ea/R·(1/T - 1/296.15): the spread of Ea, kJ/mol, over R times 3.97e-4 per kelvin at 62.5 °C.
        slope = 1000.0 * polymer.ea.spread / 8.314462618 * (1 / 296.15 - 1 / 335.65)
        want = math.sqrt(math.log(polymer.d23.spread) ** 2 + slope**2 + DRYER_SD**2 + RUN_SD**2)
        self.assertAlmostEqual(rate_sigma(polymer, 62.5, 1.0), want, places=6)
