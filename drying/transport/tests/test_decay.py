"""Courses by Henry's law against the matrix exponential of the whole system, all nodes and modes in one matrix."""

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.linalg import expm

from drying.air import RoomAir
from drying.materials import material
from drying.transport.solve import advance, course, follow
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


def taken_on(filament, segment, begin, hours):
    """The mean moisture and the state so long after a segment began."""
    nodes, k1, air = grid(filament.winding).mass.size, filament.material.k1.value, segment.activity
    rest = np.concatenate([np.full(nodes, air), np.full(begin.strand.size, k1 * air)])
    departure = np.concatenate([begin.gas, begin.strand.ravel()]) - rest
    if segment.vent_m3_h is None:
        departure[nodes - 1] = 0.0
    now = rest + expm(whole_system(filament, segment) * 3600.0 * hours) @ departure
    gas, strand = now[:nodes], now[nodes:].reshape(nodes, -1)
    mean = grid(filament.winding).mass @ (strand @ STRAND_WEIGHTS + REST_WEIGHT * k1 * gas)
    return mean, State(gas, strand, segment.temp_c)


def drawn(filament, seed, temp_c):
    """A state that is nowhere in equilibrium."""
    rng, nodes = np.random.default_rng(seed), grid(filament.winding).mass.size
    return State(rng.uniform(0.0, 0.8, nodes), rng.uniform(0.0, 1.0, (nodes, STRAND_WEIGHTS.size)), temp_c)


class Exponential(TestCase):
    @settings(max_examples=8)
    @given(
        st.sampled_from(["petg", "tpu", "pc"]), st.floats(150.0, 1000.0), st.floats(20.0, 90.0), st.floats(0.0, 0.6),
        st.sampled_from([None, 0.0, 0.05, 2.0]), st.floats(0.02, 3.0), st.integers(0, 9999),
    )  # fmt: skip
    def test_gas_strand_and_mean_are_those_of_the_whole_system(self, name, grams, temp_c, air, vent, hours, seed):
        filament = Filament(material(name), 1.75, winding_of_mass(grams, 1200.0))
        segment = Segment(hours, temp_c, RoomAir(temp_c, 100.0 * air), vent)
        begin = drawn(filament, seed, temp_c)
        (half, _), (whole, want) = (taken_on(filament, segment, begin, share * hours) for share in (0.5, 1.0))
        moisture, end = advance(filament, segment, begin, np.array([hours / 2.0, hours]))
        np.testing.assert_allclose(moisture, [half, whole], atol=1e-9)
        np.testing.assert_allclose(end.gas, want.gas, atol=1e-8)
        np.testing.assert_allclose(end.strand, want.strand, atol=1e-8)

    def test_through_pieces_of_air_each_begins_where_the_one_before_ended(self):
        """Whether only the air changes or the flow too; of a time at which it does, the piece before says the mean."""
        filament = Filament(material("petg"), 1.75, winding_of_mass(600.0, 1200.0))
        for vents in ((None, None, None), (0.05, 0.05, 0.3), (None, 0.0, 0.0)):
            pieces = [
                Segment(hours, 55.0, RoomAir(55.0, rh), vent)
                for hours, rh, vent in zip((0.7, 1.1, 2.0), (5.0, 40.0, 12.0), vents, strict=True)
            ]
            want, state, at = {}, drawn(filament, 7, 55.0), 0.0
            for piece in pieces:
                for share in (0.3, 1.0):
                    mean, after = taken_on(filament, piece, state, share * piece.duration_h)
                    want[at + share * piece.duration_h] = mean
                state, at = after, at + piece.duration_h
            times = np.array(list(want))[[3, 0, 5, 1, 4, 2]]
            found = course(filament, drawn(filament, 7, 55.0), pieces, times)
            np.testing.assert_allclose(found, [want[time] for time in times], atol=1e-9, err_msg=str(vents))
            end = follow(filament, drawn(filament, 7, 55.0), pieces)
            np.testing.assert_allclose(end.strand, state.strand, atol=1e-8, err_msg=str(vents))
            np.testing.assert_allclose(end.gas, state.gas, atol=1e-8, err_msg=str(vents))
