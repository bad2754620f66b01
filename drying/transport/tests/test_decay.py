"""Courses by Henry's law against the matrix exponential of the whole system, all nodes and modes in one matrix."""

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.linalg import expm

from drying.air import RoomAir
from drying.materials import material
from drying.transport.solve import advance
from drying.transport.state import (
    REST_WEIGHT,
    STRAND_WEIGHTS,
    Filament,
    Segment,
    State,
    face_conductance,
    gas_capacity,
    strand_density,
)
from drying.transport.winding import gas_conductivity, grid, winding_of_mass


def whole_system(filament, segment):
    """Of gas and strand as departures from the air: d/dt = matrix @ (gas at the nodes, then modes node by node)."""
    cells, k1, temp_c = grid(filament.winding), filament.material.k1.value, segment.temp_c
    nodes, density = cells.mass.size, strand_density(filament) / 100.0
    flow = gas_conductivity(filament.winding, temp_c) * cells.stiffness
    if segment.vent_m3_h is not None:
        flow[-1, -1] += face_conductance(filament.winding, temp_c, segment.vent_m3_h)
    holds = gas_capacity(filament.winding, temp_c) + density * REST_WEIGHT * k1
    into = np.hstack([np.kron(np.eye(nodes), filament.strand_rates_per_s(temp_c)[:, None]) * k1,
                      -np.diag(np.tile(filament.strand_rates_per_s(temp_c), nodes))])  # fmt: skip
    leaves = np.hstack([flow / cells.mass[:, None], np.zeros((nodes, nodes * STRAND_WEIGHTS.size))])
    gas = -(leaves + density * np.kron(np.eye(nodes), STRAND_WEIGHTS) @ into) / holds
    if segment.vent_m3_h is None:
        gas[-1] = 0.0  # the air's own: it never departs
    return np.vstack([gas, into])


class Exponential(TestCase):
    @settings(max_examples=8)
    @given(
        st.sampled_from(["petg", "tpu", "pc"]), st.floats(150.0, 1000.0), st.floats(20.0, 90.0), st.floats(0.0, 0.6),
        st.sampled_from([None, 0.0, 0.05, 2.0]), st.floats(0.02, 3.0), st.integers(0, 9999),
    )  # fmt: skip
    def test_gas_strand_and_mean_are_those_of_the_whole_system(self, name, grams, temp_c, air, vent, hours, seed):
        filament = Filament(material(name), 1.75, winding_of_mass(grams, 1200.0))
        segment = Segment(hours, temp_c, RoomAir(temp_c, 100.0 * air), vent)
        rng, nodes = np.random.default_rng(seed), grid(filament.winding).mass.size
        begin = State(rng.uniform(0.0, 0.8, nodes), rng.uniform(0.0, 1.0, (nodes, STRAND_WEIGHTS.size)), temp_c)
        rest = np.concatenate([np.full(nodes, air), np.full(begin.strand.size, filament.material.k1.value * air)])
        from_rest = np.concatenate([begin.gas, begin.strand.ravel()]) - rest
        if vent is None:
            from_rest[nodes - 1] = 0.0
        half = expm(whole_system(filament, segment) * 1800.0 * hours)
        means = []
        for departure in (half @ from_rest, half @ (half @ from_rest)):
            gas, strand = np.split(rest + departure, [nodes])
            local = strand.reshape(nodes, -1) @ STRAND_WEIGHTS + REST_WEIGHT * filament.material.k1.value * gas
            means.append(grid(filament.winding).mass @ local)
        moisture, end = advance(filament, segment, begin, np.array([hours / 2.0, hours]))
        np.testing.assert_allclose(moisture, means, atol=1e-9)
        np.testing.assert_allclose(end.gas, gas, atol=1e-8)
        np.testing.assert_allclose(end.strand, strand.reshape(nodes, -1), atol=1e-8)
