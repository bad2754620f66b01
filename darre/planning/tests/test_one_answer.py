"""One answer everywhere: rack, spool page, plan, map, ticket, run and list say the same of a spool, to the digit shown.

Compared over the demo world and over workshops drawn at random: `WORKSHOPS` of them. `make bench` draws more, and there
every spool of the demo world goes into every dryer.
"""

import os
import random
from unittest import mock
from uuid import uuid4

from django.db import transaction
from django.test import TestCase
from django.utils import timezone

from darre.demo.tests.fresh import load_demo_world
from darre.equipment.models import Dryer, Scale
from darre.history.recorder import history_entry
from darre.inventory.actions.empty_spools import add_empty_spool
from darre.inventory.models import EmptySpool, Spool
from darre.moisture.best import workshop
from darre.moisture.lanes import lanes
from darre.places.actions.arrivals import NewSpool, add_spool
from darre.places.actions.places import add_place
from darre.places.actions.room import add_room, note_room_air
from darre.planning.plans import Planned, Wanted, chart
from darre.runs.actions.weighings import Reading, save_weighing
from drying.air import RoomAir
from drying.errors import OutOfRangeError
from drying.materials import STANDARD_METHODS, all_materials, empty_spool_kinds, most_held_pct
from drying.planning import METHODS
from drying.planning.choose import Goal, choose, needed
from drying.quantity import Quantity
from drying.weighing import Tare, TareMethod

WORKSHOPS = int(os.environ.get("WORKSHOPS", "6"))
AT_LENGTH = "WORKSHOPS" in os.environ
SHOWN = 3  # figures of a moisture that a screen shows at most


def shown(value):
    return None if value is None else float(f"{value:.{SHOWN}g}")


class UndoneError(Exception):
    """Ends a comparison: what it wrote is rolled back."""


class Asking(TestCase):
    """Asks every screen's address the same question at one and the same moment and compares what it is told."""

    def setUp(self):
        now = timezone.now()
        still = mock.patch.object(timezone, "now", return_value=now)
        still.start()
        self.addCleanup(still.stop)

    def get(self, path, **asked):
        answer = self.client.get(f"/api/{path}", asked)
        self.assertEqual(answer.status_code, 200, (path, asked, answer.content[:300]))
        return answer.json()

    def assert_the_rack_the_page_and_the_plan_agree(self):
        """Of every spool that is to be dried: the rack's next act is the plan that opens. How many were compared."""
        compared = 0
        for traced in self.get("rack/", span="week")["lanes"]:
            spool, heat = traced["lane"]["spool"], traced["heat"]
            page = self.get(f"spools/{spool['id']}/page/")["traced"]
            self.assertEqual((page["heat"], page["next"]), (heat, traced["next"]), spool["name"])
            self.assertEqual(heat is not None, traced["next"]["act"] in ("dry", "dries_here") and bool(heat))
            if heat is None:
                continue
            plan = self.get("plan/", spool=spool["id"])
            ticket = plan["ticket"]
            self.assertEqual(
                (plan["dryer"]["id"], plan["method"], ticket["air_c"], ticket["duration_h"]),
                (heat["dryer"], heat["method"], heat["temp_c"], heat["duration_h"]),
                spool["name"],
            )
            self.assertEqual(shown(ticket["members"][0]["end_pct"]), shown(heat["end_pct"]), spool["name"])
            self.assertEqual(plan["outcome"] == "reaches", heat["reaches"], spool["name"])
            compared += 1
        return compared

    def assert_the_run_is_as_planned(self, spools, dryer, **asked):
        """Plan, start, look at the run and the list of runs, and roll it back. False where there was nothing to run."""
        together = ",".join(str(spool.pk) for spool in spools[1:])
        plan = self.get("plan/", spool=spools[0].pk, co_dried=together, dryer=dryer.pk, **asked)
        ticket = plan["ticket"]
        if ticket is None or plan["busy_with"] or any(m["measure"] == "slots" for m in plan["misfits"]):
            return False
        told = (plan["lanes"][0]["spool"]["name"], dryer.name, asked)
        try:
            with transaction.atomic():
                self._compare_run(plan, ticket, told)
                raise UndoneError
        except UndoneError:
            return True

    def _compare_run(self, plan, ticket, told):
        lead, *others = [lane["spool"]["id"] for lane in plan["lanes"]]
        body = {"spool": lead, "co_dried": others, "dryer": plan["dryer"]["id"], "method": plan["method"],
                "temp_c": ticket["air_c"], "duration_h": ticket["duration_h"], "form": plan["form"],
                "aim_pct": ticket["members"][0]["aim_pct"] or None, "client_key": str(uuid4()),
                "override_reason": "compared with its plan"}  # fmt: skip
        answer = self.client.post("/api/plan/start/", body, content_type="application/json")
        if answer.json().get("code") == "would_melt":
            self.assertTrue(any(not limit["overridable"] for limit in plan["broken"]), told)
            return
        self.assertEqual(answer.status_code, 201, (told, answer.content[:300]))
        listed = {row["run"]["id"]: row for row in self.get("runs/", running="true")}
        for run, member, course in zip(answer.json()["runs"], ticket["members"], ticket["forecasts"], strict=True):
            sheet = self.get(f"runs/{run['id']}/")
            for seen in (run, sheet["run"], listed[run["id"]]["run"]):
                self.assertEqual(
                    (seen["temp_c"], seen["duration_h"], seen["aim_pct"], seen["turn_over_h"]),
                    (ticket["air_c"], ticket["duration_h"], member["aim_pct"], ticket["turn_over_h"]),
                    told,
                )
            self.assertEqual(
                [shown(v) for v in sheet["forecast"]["moisture_pct"]], [shown(v) for v in course["moisture_pct"]], told
            )
            self.assertEqual(shown(sheet["floor_pct"]), shown(member["floor_pct"]), told)
            self.assertEqual(sheet["verdict"]["moisture"]["p50"], listed[run["id"]]["verdict"]["moisture"]["p50"])
            lane = next(x for x in self.get("lanes/") if x["spool"]["id"] == run["spool"]["id"])
            self.assertEqual(
                (lane["run"]["temp_c"], lane["run"]["duration_h"]), (ticket["air_c"], ticket["duration_h"]), told
            )
            mean = sheet["verdict"]["moisture"]["mean"]
            self.assertAlmostEqual(lane["moisture"]["value"], mean, delta=0.005 * mean, msg=str(told))


class DemoWorld(Asking):
    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def test_the_rack_the_spool_page_and_the_plan_agree(self):
        self.assertGreaterEqual(self.assert_the_rack_the_page_and_the_plan_agree(), 6)

    def test_every_method_for_every_spool_in_every_dryer_ends_where_the_map_says(self):
        now, compared = timezone.now(), 0
        here = workshop(now)
        for lane in lanes(now):
            if not lane.material.programmes:
                continue
            for dryer in here.dryers[lane.spool.pk % 2 :: 1 if AT_LENGTH else 2]:
                setup = here.setup([lane], dryer)
                if not needed(setup):
                    continue  # it prints clean already: what a run would do to it is no reaching
                try:
                    choices = {method: choose(method, setup) for method in (*STANDARD_METHODS, *Goal)}
                except OutOfRangeError as harms:  # no temperature of this dryer is safe for it
                    self.assertEqual(harms.name, "dryer")
                    continue
                drawn = chart(
                    Planned([lane], dryer, setup), Wanted(duration_h=max(c.duration_h for c in choices.values()))
                )
                for method, choice in choices.items():
                    [end] = drawn.map.at(choice.temp_c, choice.duration_h)
                    # The map is drawn on a grid: between its points by straight lines.
                    by_map = end <= drawn.aim_pct * 1.05
                    with self.subTest(lane.spool.name, dryer=dryer.name, method=method, end=end, aim=drawn.aim_pct):
                        self.assertEqual(by_map, choice.reaches)
                    compared += 1
        self.assertGreater(compared, 40)

    def test_one_two_or_three_spools_run_as_planned_in_every_dryer(self):
        spools = list(Spool.objects.filter(runs__ended_at__isnull=False).distinct())
        spools += [s for s in Spool.objects.all() if s not in spools]
        free = [s for s in spools if not s.runs.filter(ended_at__isnull=True).exists()]
        drawn, started = random.Random(13), 0
        for dryer in Dryer.objects.exclude(batches__runs__ended_at__isnull=True):
            for spool in free if AT_LENGTH else drawn.sample(free, 4):
                method = drawn.choice([m for m in METHODS if m not in ("sheet", "own")])
                started += self.assert_the_run_is_as_planned([spool], dryer, method=method)
            for count in (2, 3):
                started += self.assert_the_run_is_as_planned(drawn.sample(free, count), dryer)
        self.assertGreaterEqual(started, 6)


class Drawn(Asking):
    """Half of the workshops each, so that two processes share them."""

    def draw(self, seed):
        """A workshop: a room, one or two dryers, one to three spools of any material and size."""
        drawn, now = random.Random(seed), timezone.now()
        add_room("Room")
        note_room_air(now, RoomAir(drawn.uniform(12, 30), drawn.uniform(25, 85)))
        shelf = add_place("Shelf", "shelf", since=now).record
        scale = Scale.objects.create(name="Scale", max_g=5000, resolution_g=drawn.choice([0.1, 1.0]))
        with history_entry("dryer.added", "Added dryers"):
            for n in range(drawn.randint(1, 2)):
                low = drawn.uniform(30, 50)
                Dryer.objects.create(
                    name=f"Dryer {n}", kind=drawn.choice(["heated_box", "stacker", "oven"]), min_c=low,
                    max_c=low + drawn.uniform(10, 60), slots=drawn.randint(1, 3),
                    vent_m3_h=drawn.choice([None, drawn.uniform(0.01, 3)]), timer_max_h=drawn.choice([None, 4.0, 12.0]),
                )  # fmt: skip
            if seed % 4 < 2:  # two workshops of each process have a dryer that is shut, with desiccant in it
                Dryer.objects.filter(name="Dryer 0").update(
                    vent_m3_h=0.0, desiccant_kind=["silica_gel", "sieve"][seed % 2],
                    desiccant_g=40.0 + 20.0 * (seed % 9), desiccant_load_pct=2.0 + seed % 9,
                )  # fmt: skip
        for n in range(drawn.randint(1, 3)):
            material = drawn.choice([m for m in all_materials().values() if m.programmes])
            held = min(drawn.uniform(0.3, 2.5) * material.trouble.value, most_held_pct(material))
            empty = EmptySpool(name=f"Empty {n}", kind=drawn.choice(list(empty_spool_kinds())))
            spool = add_spool(
                NewSpool(
                    name=f"Spool {n}", material=material.id, empty_spool=add_empty_spool(empty).record,
                    tare=Tare(drawn.uniform(120, 260), 1.0, TareMethod.MEASURED), place=shelf,
                    moisture=Quantity(held, held * drawn.uniform(0.05, 0.4)),
                ),
                now,
            ).record  # fmt: skip
            if drawn.random() < 0.7:
                gross = round(spool.tare_g + drawn.uniform(60, 1000))
                save_weighing(spool, Reading(scale, gross, uuid4()), now)
        return drawn

    def assert_every_screen_says_the_same(self, seeds):
        compared = started = 0
        for seed in seeds:
            with self.subTest(seed=seed):
                try:
                    with transaction.atomic():
                        drawn = self.draw(seed)
                        compared += self.assert_the_rack_the_page_and_the_plan_agree()
                        spools = list(Spool.objects.all())
                        some = drawn.sample(spools, drawn.randint(1, len(spools)))
                        started += self.assert_the_run_is_as_planned(some, drawn.choice(list(Dryer.objects.all())))
                        raise UndoneError
                except UndoneError:
                    pass
        self.assertGreaterEqual(compared, len(seeds))
        self.assertGreaterEqual(started, max(len(seeds) // 4, 1))


class DrawnWorkshops(Drawn):
    def test_in_any_workshop_every_screen_says_the_same(self):
        self.assert_every_screen_says_the_same(range(0, WORKSHOPS, 2))


class MoreDrawnWorkshops(Drawn):
    def test_in_any_workshop_every_screen_says_the_same(self):
        self.assert_every_screen_says_the_same(range(1, WORKSHOPS, 2))
