"""The same equations by general tools: scipy's BDF on the solver's own grid and on equal cells, and FiPy."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from scipy.integrate import solve_ivp
from scipy.sparse import csc_matrix

from drying.air import vapour_concentration_g_m3
from drying.arrays import Array
from drying.materials import activity_of_moisture
from drying.transport import (
    REST_WEIGHT,
    STRAND_WEIGHTS,
    Filament,
    Grid,
    Segment,
    Winding,
    face_conductance,
    gas_capacity,
    strand_density,
    vapour_diffusivity_m2_s,
)


def equal_cells(winding: Winding, count: int) -> Grid:
    """The pack in equal cells, by finite volumes: second order, as a general tool would do it."""
    edges = np.linspace(winding.hub_radius_mm, winding.outer_radius_mm, count + 1) / 1000.0
    area = (edges[-1] ** 2 - edges[0] ** 2) / 2.0
    between = edges[1:-1] / (edges[1] - edges[0]) / area
    stiffness = (
        np.diag(np.append(between, 0.0) + np.insert(between, 0, 0.0)) - np.diag(between, 1) - np.diag(between, -1)
    )
    return Grid(np.diff(edges**2) / 2.0 / area, stiffness)


def _jacobian_pattern(flow: Array, modes: int) -> Array:
    """Which rates of gas and strand depend on which values."""
    nodes = flow.shape[0]
    pattern = np.zeros((nodes * (modes + 1),) * 2)
    pattern[:nodes, :nodes] = flow != 0
    for i in range(nodes):
        rows = nodes + i * modes + np.arange(modes)
        pattern[rows, rows] = pattern[rows, i] = pattern[i, rows] = 1
    return pattern


def _face(winding: Winding, segment: Segment, conductivity: float, half_cell_m: float) -> float:
    """Conductance from the last node through the face into the vented box."""
    assert segment.vent_m3_h is not None
    radius = winding.outer_radius_mm / 1000.0
    area = (radius**2 - (winding.hub_radius_mm / 1000.0) ** 2) / 2.0
    conductances = [face_conductance(winding, segment.temp_c, segment.vent_m3_h)]
    if half_cell_m:
        conductances.append(conductivity * radius / half_cell_m / area)
    return 1.0 / sum(1.0 / w for w in conductances)


def bdf(
    body: Filament,
    start_pct: float,
    segment: Segment,
    time_h: Array,
    cells: Grid,
    *,
    rtol: float = 1e-5,
    half_cell_m: float = 0.0,
) -> Array:
    """scipy's BDF on any nodes of a winding in a vented box, the same strand modes, the isotherm inside.

    Called as usual, with the pattern of its Jacobian. `half_cell_m`: distance from the last node to the face.
    """
    assert body.winding is not None
    assert segment.vent_m3_h is not None
    temp = segment.temp_c
    nodes, modes = cells.mass.size, STRAND_WEIGHTS.size
    k1, k3 = body.material.k1.value, body.material.k3.value
    rate, density = body.strand_rates_per_s(temp), strand_density(body) / 100.0
    capacity = gas_capacity(body.winding, temp)
    conductivity = vapour_diffusivity_m2_s(body.winding, temp) * vapour_concentration_g_m3(temp, 100.0) / 1000.0
    flow = conductivity * cells.stiffness / cells.mass[:, None]
    vent = _face(body.winding, segment, conductivity, half_cell_m) / cells.mass[-1]
    outside = segment.activity

    def rates(_: float, y: Array) -> Array:
        gas, filament = y[:nodes], y[nodes:].reshape(nodes, modes)
        into = rate * (k1 * gas + k3 * gas**3)[:, None] - rate * filament
        leak = -(flow @ gas)
        leak[-1] -= vent * (gas[-1] - outside)
        held = capacity + density * REST_WEIGHT * (k1 + 3.0 * k3 * gas**2)
        gas_rate = (leak - density * into @ STRAND_WEIGHTS) / held
        return np.concatenate([gas_rate, into.ravel()])

    pattern = _jacobian_pattern(flow, modes)
    gas = np.full(nodes, activity_of_moisture(body.material, start_pct))
    begin = np.concatenate([gas, np.full(nodes * modes, start_pct)])
    span = (0.0, float(time_h[-1]) * 3600.0)
    how = {"rtol": rtol, "atol": rtol * 1e-3 * start_pct, "jac_sparsity": csc_matrix(pattern)}
    found = solve_ivp(rates, span, begin, "BDF", time_h * 3600.0, **how)
    gas_t, strand_t = found.y[:nodes], found.y[nodes:].reshape(nodes, modes, -1)
    local = np.einsum("n,mnt->mt", STRAND_WEIGHTS, strand_t) + REST_WEIGHT * (k1 * gas_t + k3 * gas_t**3)
    return np.asarray(cells.mass @ local)


def _sheet_conductance(
    mesh: Any, cells: int, shells: int, up: Array, ring: Array, across_gas: Callable[[Array], Array]
) -> Array:
    """Conductance of each face of the sheet: along the strand's shells, and across the winding in the gas."""
    one, other = (np.asarray(ids) for ids in np.ma.filled(mesh.faceCellIDs, -1))
    inner = other >= 0
    row, column = np.minimum(one, other) // cells, np.maximum(one, other) % cells
    across = inner & (one // cells == other // cells)
    found = np.where(inner & ~across, up[np.clip(row, 0, shells - 1)] * ring[column], 0.0)
    found[across] = np.where(row[across] == shells, across_gas(column[across]), 0.0)
    return np.asarray(found)


def fipy_two_scales(
    body: Filament, start_pct: float, segment: Segment, time_h: Array, cells: int = 40, shells: int = 24
) -> Array:
    """FiPy on both scales at once, Henry's law, vented box: one implicit scalar equation on a sheet of cells.

    Across lies the winding, along lies the strand from its axis to its surface, and the last row is the gas;
    conductances carry the geometry. (As coupled equations FiPy treats the exchange explicitly and loses water.)
    """
    import fipy

    assert body.winding is not None
    assert segment.vent_m3_h is not None
    winding, temp = body.winding, segment.temp_c
    low, high = winding.hub_radius_mm / 1000.0, winding.outer_radius_mm / 1000.0
    area, width = (high**2 - low**2) / 2.0, (high - low) / cells
    ring = equal_cells(winding, cells).mass
    conductivity = vapour_diffusivity_m2_s(winding, temp) * vapour_concentration_g_m3(temp, 100.0) / 1000.0
    held = strand_density(body) * body.material.k1.value / 100.0
    edges = np.linspace(0.0, 1.0, shells + 1) ** 0.5  # equal volumes, so finer towards the surface
    middle = (edges[1:] + edges[:-1]) / 2.0
    rate = body.material.diffusivity_m2_s(temp) / (body.strand_diameter_mm / 2000.0) ** 2
    up = held * rate * 2.0 * edges[1:] / np.diff(np.append(middle, 1.0))
    mesh = fipy.Grid2D(nx=cells, ny=shells + 1, dx=1.0, dy=1.0)
    capacity = np.append(np.full(shells, held / shells), gas_capacity(winding, temp))

    def across_gas(column: Array) -> Array:
        return np.asarray(conductivity * (low + column * width) / width / area)

    conductance = _sheet_conductance(mesh, cells, shells, up, ring, across_gas)
    conductances = (face_conductance(winding, temp, segment.vent_m3_h), conductivity * high / (width / 2.0) / area)
    leak = np.append(np.zeros(mesh.numberOfCells - 1), 1.0 / sum(1.0 / w for w in conductances))
    vent = fipy.CellVariable(mesh=mesh, value=leak)
    activity = fipy.CellVariable(mesh=mesh, value=activity_of_moisture(body.material, start_pct))
    equation = fipy.TransientTerm(
        coeff=fipy.CellVariable(mesh=mesh, value=np.multiply.outer(capacity, ring).ravel())
    ) == fipy.DiffusionTerm(coeff=fipy.FaceVariable(mesh=mesh, value=conductance)) - fipy.ImplicitSourceTerm(vent) + (
        vent * segment.activity
    )

    def moisture_pct() -> float:
        sheet = np.asarray(activity.value).reshape(shells + 1, cells)[:-1]
        return body.material.k1.value * float(sheet.mean(axis=0) @ ring)

    return _stepped(equation, activity, time_h * 3600.0, moisture_pct)


def _stepped(equation: Any, variable: Any, times_s: Array, read: Callable[[], float]) -> Array:
    """Solve a FiPy equation in growing steps and read something off at each time."""
    import fipy

    solver, now, step, found = fipy.LinearLUSolver(tolerance=1e-12), 0.0, 5.0, []
    for target in times_s:
        while now < target - 1e-6:
            here = min(step, target - now)
            equation.solve(var=variable, dt=here, solver=solver)
            now, step = now + here, min(step * 1.1, 600.0)
        found.append(read())
    return np.array(found)
