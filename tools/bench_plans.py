"""Plans in any company and dryer, in a server that has computed nothing yet: map, ticket, and what else could do it."""

from __future__ import annotations

import functools
import gc
import itertools
import os
import sys
import tempfile
import time
from collections import defaultdict
from collections.abc import Iterable
from pathlib import Path
from typing import Any

import numpy as np

from tools.measured import note

GOAL_MS = 400.0
EVERY_PAIR, EVERY_THREE = 3, 29  # all of them would take half an hour
EVERY_OVER_DESICCANT = 2
HELD_UP, HELD_UP_MS = 1.2, 10.0  # a plan is one thread's work: what takes longer than the processor waited for it
WHICH = {1: "alone", 2: "in company", 3: "of three"}


_KEEPS = type(functools.cache(len))
READ_FROM_FILES = {"all_materials", "all_mixed_in", "empty_spool_kinds", "kinds_of_dryer", "walls", "desiccant"}


def forget() -> None:
    """As after a start and a first page: nothing computed is kept, but for the shelf's moistures.

    The core's caches are looked for by their modules: the server's are beyond the collector's reach, see
    `collect_rarely`.
    """
    from darre.moisture.apps import moisture_state
    from darre.runs.apps import run_caches
    from drying.cache import Cache

    core = [module for name, module in sys.modules.items() if name.split(".")[0] == "drying"]
    for thing in {id(thing): thing for module in core for thing in vars(module).values()}.values():
        if isinstance(thing, _KEEPS) and thing.__name__ not in READ_FROM_FILES:
            thing.cache_clear()
    moisture_state().best_runs, moisture_state().heat_courses = Cache(2000), Cache(500)
    run_caches().tickets = Cache(32)
    gc.collect()


def companies() -> list[tuple[int, ...]]:
    """Every spool alone, and two and three of them together."""
    from darre.inventory.models import Spool

    spools = [spool.pk for spool in Spool.objects.filter(archived_at=None).order_by("id")]
    pairs = list(itertools.combinations(spools, 2))[::EVERY_PAIR]
    return [*((spool,) for spool in spools), *pairs, *list(itertools.combinations(spools, 3))[::EVERY_THREE]]


class Asked:
    """Plans asked for of a server that has computed nothing yet, and how long each took, ms."""

    def __init__(self, client: Any) -> None:
        self.client, self.took = client, defaultdict[str, list[float]](list)
        self.worked = defaultdict[str, list[float]](list)

    def ask(self, what: str, path: str) -> Any:
        """The answer at an address; its time counts as one of `what`."""
        start, worked = time.perf_counter(), time.process_time()
        answer = self.client.get(path)
        self.took[what].append(1000.0 * (time.perf_counter() - start))
        self.worked[what].append(1000.0 * (time.process_time() - worked))
        return answer.json()

    def undisturbed(self, what: str) -> list[float]:
        """The times of those that did not wait while the processor did other work."""
        each = zip(self.took[what], self.worked[what], strict=True)
        return [took for took, worked in each if took < HELD_UP * worked + HELD_UP_MS]

    def plans(self, companies: Iterable[tuple[int, ...]], dryers: Iterable[int], over: str = "") -> None:
        """Map, ticket and alternatives for every company in every dryer."""
        for company, dryer in itertools.product(companies, dryers):
            setup = f"spool={company[0]}&dryer={dryer}&co_dried={','.join(map(str, company[1:]))}"
            which = f"{WHICH[len(company)]}{over}"
            forget()
            self.ask(f"map, {which}", f"/api/plan/map/?{setup}")
            forget()
            plan = self.ask(f"ticket, {which}", f"/api/plan/?{setup}")
            if plan.get("outcome") in ("cannot", "harms"):
                self.ask(f"what else could do it, {which}", f"/api/plan/alternatives/?{setup}")

    def close_over_desiccant(self, dryer: int) -> None:
        """Close a dryer's vent and put desiccant into it."""
        [shape] = [each for each in self.client.get("/api/dryers/").json() if each["id"] == dryer]
        shape |= {"vent_m3_h": 0, "desiccant_kind": "sieve", "desiccant_g": 400, "desiccant_load_pct": 2}
        self.client.put(f"/api/dryers/{dryer}/", shape, content_type="application/json")


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        os.environ["DARRE_DB"] = str(Path(folder) / "demo-bench-plans.sqlite3")
        os.environ["DJANGO_SETTINGS_MODULE"] = "darre.settings"
        import django

        django.setup()
        from django.core.management import call_command
        from django.test import Client

        from darre.common.memory import collect_rarely
        from darre.equipment.models import Dryer

        call_command("demo_world", verbosity=0)
        collect_rarely()  # as the server does
        asked = Asked(Client(headers={"host": "localhost"}))
        asked.client.get("/api/lanes/")
        dryers = list(Dryer.objects.values_list("pk", flat=True))
        asked.plans(companies(), dryers)
        asked.close_over_desiccant(dryers[0])
        asked.client.get("/api/lanes/")
        asked.plans(companies()[::EVERY_OVER_DESICCANT], dryers[:1], " over desiccant")
        print(f"\nPlans in the demo's dryers, nothing computed before, ms (goal: {GOAL_MS:.0f}; no peer)")
        for what, times in sorted(asked.took.items()):
            middle, late = np.percentile(times, (50, 95))
            own = asked.undisturbed(what)
            waited = len(times) - len(own)
            print(f"  {what:40} median {middle:5.0f}, p95 {late:5.0f}, most {max(times):5.0f} ({len(times)})", end="")
            print(f"; without {waited} that waited for the processor {max(own):.0f}" if own and waited else "")
            note(f"plan: {what}, median", middle, "ms", at_most=GOAL_MS)
            note(f"plan: {what}, most", max(times), "ms", at_most=GOAL_MS)
            note(f"plan: {what}, most undisturbed", max(own, default=max(times)), "ms", at_most=GOAL_MS)


if __name__ == "__main__":
    main()
