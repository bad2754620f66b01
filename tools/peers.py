"""The same equations by general tools: scipy's BDF on the solver's own grid, and FiPy's finite volumes."""

from __future__ import annotations

import numpy as np
from scipy.integrate import solve_ivp
from scipy.sparse import csc_matrix

from drying.humid_air import vapour_concentration_g_m3
from drying.sorption import activity_of_moisture, equilibrium_moisture_pct
from drying.strand import Array
from drying.water_state import (
    REST_WEIGHT,
    STRAND_WEIGHTS,
    Body,
    Segment,
    face_conductance,
    gas_capacity,
    strand_density,
)
from drying.wound_pack import Grid, Pack, vapour_diffusivity_m2_s


def equal_cells(pack: Pack, count: int) -> Grid:
    """The pack in equal cells, by finite volumes: second order, as a general tool would do it."""
    edges = np.linspace(pack.hub_radius_mm, pack.outer_radius_mm, count + 1) / 1000.0
    area = (edges[-1] ** 2 - edges[0] ** 2) / 2.0
    between = edges[1:-1] / (edges[1] - edges[0]) / area
    stiffness = (
        np.diag(np.append(between, 0.0) + np.insert(between, 0, 0.0)) - np.diag(between, 1) - np.diag(between, -1)
    )
    return Grid(np.diff(edges**2) / 2.0 / area, stiffness)


def bdf(
    body: Body,
    start_pct: float,
    segment: Segment,
    time_h: Array,
    cells: Grid,
    *,
    rtol: float = 1e-5,
    half_cell_m: float = 0.0,
) -> Array:
    """scipy's BDF on any nodes of a pack in a vented box, the same strand modes, the isotherm inside.

    Called as it mostly is, with the pattern of its Jacobian. `half_cell_m`: way from the last node to the face.
    """
    assert body.pack is not None
    assert segment.vent_m3_h is not None
    temp = segment.temp_c
    nodes, modes = cells.mass.size, STRAND_WEIGHTS.size
    k1, k3 = body.material.k1.value, body.material.k3.value
    rate, density = body.strand_rates_per_s(temp), strand_density(body) / 100.0
    capacity = gas_capacity(body.pack, temp)
    conductivity = vapour_diffusivity_m2_s(body.pack, temp) * vapour_concentration_g_m3(temp, 100.0) / 1000.0
    flow = conductivity * cells.stiffness / cells.mass[:, None]
    radius = body.pack.outer_radius_mm / 1000.0
    area = (radius**2 - (body.pack.hub_radius_mm / 1000.0) ** 2) / 2.0
    ways = [face_conductance(body.pack, temp, segment.vent_m3_h)]
    if half_cell_m:
        ways.append(conductivity * radius / half_cell_m / area)
    vent, outside = 1.0 / sum(1.0 / w for w in ways) / cells.mass[-1], segment.activity

    def rates(_: float, y: Array) -> Array:
        gas, strand = y[:nodes], y[nodes:].reshape(nodes, modes)
        into = rate * (k1 * gas + k3 * gas**3)[:, None] - rate * strand
        leak = -(flow @ gas)
        leak[-1] -= vent * (gas[-1] - outside)
        held = capacity + density * REST_WEIGHT * (k1 + 3.0 * k3 * gas**2)
        gas_rate = (leak - density * into @ STRAND_WEIGHTS) / held
        return np.concatenate([gas_rate, into.ravel()])

    pattern = np.zeros((nodes * (modes + 1),) * 2)
    pattern[:nodes, :nodes] = flow != 0
    for i in range(nodes):
        rows = nodes + i * modes + np.arange(modes)
        pattern[rows, rows] = pattern[rows, i] = pattern[i, rows] = 1
    gas = np.full(nodes, activity_of_moisture(body.material, start_pct))
    begin = np.concatenate([gas, np.full(nodes * modes, start_pct)])
    span = (0.0, float(time_h[-1]) * 3600.0)
    how = {"rtol": rtol, "atol": rtol * 1e-3 * start_pct, "jac_sparsity": csc_matrix(pattern)}
    found = solve_ivp(rates, span, begin, "BDF", time_h * 3600.0, **how)
    gas_t, strand_t = found.y[:nodes], found.y[nodes:].reshape(nodes, modes, -1)
    local = np.einsum("n,mnt->mt", STRAND_WEIGHTS, strand_t) + REST_WEIGHT * (k1 * gas_t + k3 * gas_t**3)
    return np.asarray(cells.mass @ local)


def fipy_coil(body: Body, start_pct: float, segment: Segment, time_h: Array, cells: int = 80) -> Array:
    """FiPy on a loose coil: one strand as a cylindrical mesh, surface held at the equilibrium, implicit steps.

    Two scales coupled at every cell are left out: FiPy takes such exchange terms explicitly, and did not come to the
    right course without many sweeps a step.
    """
    import fipy

    radius = body.strand_diameter_mm / 2000.0
    mesh = fipy.CylindricalGrid1D(Lr=radius, nr=cells)
    moisture = fipy.CellVariable(mesh=mesh, value=start_pct)
    moisture.constrain(equilibrium_moisture_pct(body.material, segment.activity), mesh.facesRight)
    equation = fipy.TransientTerm() == fipy.DiffusionTerm(body.material.diffusivity_m2_s(segment.temp_c))
    weights = np.asarray(mesh.cellVolumes) / np.asarray(mesh.cellVolumes).sum()
    now, width, found = 0.0, 10.0, []
    for target in time_h * 3600.0:
        while now < target - 1e-6:
            step = min(width, target - now)
            equation.solve(var=moisture, dt=step)
            now, width = now + step, min(width * 1.1, 600.0)
        found.append(float(weights @ np.asarray(moisture.value)))
    return np.array(found)
