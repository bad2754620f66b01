"""Decays of gas and strand: against dense diagonalisation, a closed form in many digits, and what no leak leaves."""

from decimal import Decimal, localcontext
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from drying.transport.arrow import decays

CASES, CELLS = 3, 5


def drawn(seed, strand_to_gas, modes=8):
    """Leaks over many decades, capacities, and strand rates that rise."""
    rng = np.random.default_rng(seed)
    leak = 10.0 ** rng.uniform(-9.0, 1.0, (CASES, CELLS))
    capacity = 10.0 ** rng.uniform(-1.0, 1.0, (CASES, modes + 1)) * strand_to_gas
    capacity[:, 0] = 1.0
    return leak, capacity, np.cumsum(10.0 ** rng.uniform(-5.0, -3.0, (CASES, modes)), axis=1)


def dense(leak, capacity, rates):
    """The same systems as whole matrices."""
    size = capacity.shape[1]
    found, at = np.zeros((*leak.shape, size, size)), np.arange(1, size)
    couple = (np.sqrt(capacity[:, 1:] / capacity[:, :1]) * rates)[:, None]
    found[..., at, at] = -rates[:, None]
    found[..., 0, 1:] = found[..., 1:, 0] = couple
    found[..., 0, 0] = -(leak + (capacity[:, 1:] * rates).sum(axis=1)[:, None]) / capacity[:, :1]
    return found


class Decays(TestCase):
    @given(st.integers(0, 100_000), st.sampled_from([0.01, 1.0, 100.0, 1e5]))
    def test_each_vector_decays_at_its_rate_and_all_stand_square_to_one_another(self, seed, strand_to_gas):
        asked = drawn(seed, strand_to_gas)
        matrix, (rate, turn) = dense(*asked), decays(*asked)
        size = np.abs(matrix).max()
        np.testing.assert_allclose(matrix @ turn, turn * rate[..., None, :], atol=1e-13 * size)
        np.testing.assert_allclose(turn.swapaxes(-1, -2) @ turn, np.broadcast_to(np.eye(9), turn.shape), atol=1e-12)
        np.testing.assert_allclose(rate, np.linalg.eigvalsh(matrix), rtol=1e-9, atol=1e-14 * size)
        self.assertTrue(np.all(np.diff(rate, axis=-1) >= 0.0) and np.all(rate <= 0.0))

    def test_a_slow_leak_keeps_its_digits_beside_gas_a_million_times_as_quick(self):
        """One strand mode: the slow root of a quadratic, worked out in forty digits."""
        for leak, capacity, rate in ((1e-7, 3e6, 2e-4), (4e-3, 2e3, 1e-5), (1e2, 5e5, 3e-4)):
            with localcontext() as digits:
                digits.prec = 40
                k, c, r = (Decimal(x) for x in (leak, capacity, rate))
                whole = k + c * r + r  # gas holds 1: x² - whole·x + k·r = 0
                slow = (whole - (whole * whole - 4 * k * r).sqrt()) / 2
            found = decays(np.array([[leak]]), np.array([[1.0, capacity]]), np.array([[rate]]))[0][0, 0]
            self.assertAlmostEqual(-found[1] / float(slow), 1.0, places=14)
            self.assertAlmostEqual(-found[0] / float(whole - slow), 1.0, places=14)

    def test_without_a_leak_water_only_moves_between_gas_and_strand(self):
        leak, capacity, rates = drawn(4, 100.0)
        rate, turn = decays(0.0 * leak, capacity, rates)
        np.testing.assert_allclose(rate[..., -1], 0.0, atol=1e-90)
        # What stays for ever is the same activity in all: by capacity, its square root in scaled numbers.
        stays = np.sqrt(capacity / capacity.sum(axis=1, keepdims=True))
        np.testing.assert_allclose(np.abs(turn[..., -1]), np.broadcast_to(stays[:, None], turn.shape[:-1]), rtol=1e-12)

    def test_systems_side_by_side_are_what_each_is_alone(self):
        leak, capacity, rates = drawn(9, 1000.0)
        rate, turn = decays(leak, capacity, rates)
        for n in range(CASES):
            alone = decays(leak[n : n + 1], capacity[n : n + 1], rates[n : n + 1])
            np.testing.assert_allclose(alone[0][0], rate[n], rtol=1e-14)
            np.testing.assert_allclose(np.abs(alone[1][0]), np.abs(turn[n]), atol=1e-13)
