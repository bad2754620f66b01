"""Measure the core and the server, in one run, against named peers. Figures are ratios wherever a peer exists."""

from __future__ import annotations

import os
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from scipy.integrate import solve_ivp
from scipy.special import jn_zeros

from drying.materials import Material, material
from drying.strand import Array, Conditions, forecast_loose_pct, radius_m

HOURS = np.linspace(0.1, 48.0, 97)
START, DRY_AIR = 0.48, 0.156


def best(act: Callable[[], object], repeat: int = 7) -> float:
    """Least time of several runs, s: the one least disturbed by the rest of the machine."""
    times = []
    for _ in range(repeat):
        start = time.perf_counter()
        act()
        times.append(time.perf_counter() - start)
    return min(times)


def crank(it: Material, terms: int) -> Array:
    """Crank's series with many terms, the judge of both solvers."""
    alpha = np.asarray(jn_zeros(0, terms))
    tau = it.diffusivity_m2_s(45.0) * HOURS * 3600.0 / radius_m(1.75) ** 2
    left = np.exp(-np.multiply.outer(tau, alpha**2)) @ (4.0 / alpha**2)
    end = it.k1.value * DRY_AIR + it.k3.value * DRY_AIR**3
    return np.asarray(end + (START - end) * left)


def finite_volumes(it: Material, cells: int = 60) -> Array:
    """The same strand on an equal grid with scipy's BDF."""
    radius, d = radius_m(1.75), it.diffusivity_m2_s(45.0)
    faces = np.linspace(0.0, radius, cells + 1)
    volume = np.diff(faces**2) / 2.0
    end = it.k1.value * DRY_AIR + it.k3.value * DRY_AIR**3
    step = radius / cells

    def rate(_: float, c: Array) -> Array:
        flux = np.zeros(cells + 1)
        flux[1:-1] = faces[1:-1] * d * np.diff(c) / step
        flux[-1] = radius * d * (end - c[-1]) / (step / 2.0)
        return np.diff(flux) / volume

    found = solve_ivp(rate, (0.0, 48 * 3600.0), np.full(cells, START), "BDF", HOURS * 3600.0, rtol=1e-6, atol=1e-9)
    return np.asarray(volume @ found.y / volume.sum())


def bench_strand() -> None:
    """Loose-strand forecast of 97 times over 48 h: series with short-time form against scipy's BDF."""
    print("Loose strand, 97 times over 48 h at 45 °C (peer: scipy BDF, 60 finite volumes, rtol 1e-6)")
    print(f"  {'material':12} {'this, ms':>9} {'BDF, ms':>9} {'ratio':>7} {'error of this':>14} {'error of BDF':>13}")
    for name in ("pla", "petg", "pa6"):
        it = material(name)
        judge = crank(it, 2000)
        mine = lambda it=it: forecast_loose_pct(it, 1.75, START, Conditions(45.0, DRY_AIR), HOURS)  # noqa: E731
        peer = lambda it=it: finite_volumes(it)  # noqa: E731
        t_mine, t_peer = best(mine, 50), best(peer, 3)
        errors = [100.0 * np.abs(x() - judge).max() / START for x in (mine, peer)]
        print(
            f"  {name:12} {1e3 * t_mine:9.3f} {1e3 * t_peer:9.1f} {t_peer / t_mine:6.0f}x"
            f" {errors[0]:12.5f} % {errors[1]:11.4f} %"
        )


def bench_server() -> None:
    """Server time of each page's requests over the demo world, warm, median of 30."""
    with tempfile.TemporaryDirectory() as folder:
        os.environ["DARRE_DB"] = str(Path(folder) / "demo-bench.sqlite3")
        os.environ["DJANGO_SETTINGS_MODULE"] = "darre.settings"
        import django

        django.setup()
        from django.core.management import call_command
        from django.test import Client

        start = time.perf_counter()
        call_command("demo_world", verbosity=0)
        print(f"\nDemo world: migrated and loaded in {time.perf_counter() - start:.2f} s")
        client = Client(headers={"host": "localhost"})
        print("Server time, warm, median of 30 (no peer)")
        for path in ("/api/room/", "/api/lanes/", "/api/plan/?spool=4&dryer=1", "/api/runs/", "/api/runs/1/"):
            times = []
            for _ in range(33):
                start = time.perf_counter()
                assert client.get(path).status_code == 200
                times.append(time.perf_counter() - start)
            print(f"  {path:30} {1e3 * float(np.median(times[3:])):7.1f} ms")


if __name__ == "__main__":
    bench_strand()
    bench_server()
