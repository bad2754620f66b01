"""What was planned is what is run: aim, members, masses, rates and times of the ticket stand in the run."""

from uuid import uuid4

from darre.equipment.models import Dryer
from darre.inventory.models import Spool
from darre.runs.models import Batch, Run
from darre.runs.tests.test_run_path import Shed


class FromPlan(Shed):
    """The demo world's shed, with plans asked for and started as the page does."""

    @classmethod
    def setUpTestData(cls):
        super().setUpTestData()
        cls.rail = Spool.objects.get(name="Dome rail")

    def plan(self, spool, dryer, **asked):
        return self.client.get("/api/plan/", {"spool": spool.id, "dryer": dryer.id, **asked}).json()

    def start_planned(self, plan, **more):
        """Start what a plan's answer says, as the page does."""
        lead, *others = [lane["spool"]["id"] for lane in plan["lanes"]]
        ticket = plan["ticket"]
        body = {"spool": lead, "co_dried": others, "dryer": plan["dryer"]["id"], "method": plan["method"],
                "temp_c": ticket["air_c"], "duration_h": ticket["duration_h"],
                "aim_pct": ticket["members"][0]["aim_pct"], "client_key": str(uuid4())}  # fmt: skip
        return self.post("plan/start/", **{**body, **more})

    def sheet(self, run):
        return self.client.get(f"/api/runs/{run['id']}/").json()


class Started(FromPlan):
    def test_a_run_has_the_aim_of_its_plan(self):
        plan = self.plan(self.gauge, self.stacker, aim_pct="0.15")
        self.assertNotEqual(plan["lanes"][0]["clean_pct"], 0.15)
        [run] = self.start_planned(plan).json()["runs"]
        sheet = self.sheet(run)
        self.assertEqual((sheet["run"]["aim_pct"], sheet["clean_pct"]), (0.15, plan["lanes"][0]["clean_pct"]))
        self.assertEqual(Run.objects.get(pk=run["id"]).aim_pct, 0.15)

    def test_spools_planned_together_run_and_are_judged_together(self):
        plan = self.plan(self.gauge, self.stacker, co_dried=f"{self.rail.id},{self.tyres.id}")
        answer = self.start_planned(plan).json()
        self.assertEqual(len(answer["runs"]), 3)
        self.assertEqual(len({run["batch"] for run in answer["runs"]}), 1)
        for run, told in zip(answer["runs"], plan["ticket"]["forecasts"], strict=True):
            sheet = self.sheet(run)
            self.assertEqual(sheet["forecast"]["basis"], "shared_box")
            self.assertEqual(len(sheet["beside"]), 2)
            for now, then in zip(sheet["forecast"]["moisture_pct"], told["moisture_pct"], strict=True):
                self.assertAlmostEqual(now, then, places=4)
        # Before anything is weighed, what is expected now is what the plan said.
        sheet, hours = self.sheet(answer["runs"][0]), plan["ticket"]["duration_h"]
        expected = min(sheet["course"], key=lambda point: abs(point["time_h"] - hours))
        told = plan["ticket"]["forecasts"][0]
        at = min(range(len(told["time_h"])), key=lambda n: abs(told["time_h"][n] - expected["time_h"]))
        spread = told["high_pct"][at] - told["low_pct"][at]
        self.assertAlmostEqual(expected["mean"], told["moisture_pct"][at], delta=0.35 * spread)

    def test_a_run_without_a_weighing_goes_by_the_mass_that_its_plan_used(self):
        plan = self.plan(self.gauge, self.stacker)
        [run] = self.start_planned(plan).json()["runs"]
        self.assertEqual(Run.objects.get(pk=run["id"]).net_g, round(plan["lanes"][0]["net_g"]))
        sheet, told = self.sheet(run), plan["ticket"]["members"][0]
        self.assertEqual(sheet["verdict"]["state"], "no_weigh_in")
        # What is expected comes to the aim about when the ticket said: a full spool would need far longer.
        self.assertAlmostEqual(sheet["verdict"]["to_aim"]["p50"], told["ready_h"], delta=0.15 * told["ready_h"])

    def test_the_next_weighing_is_the_tickets_until_a_weighing_tells_more(self):
        plan = self.plan(self.gauge, self.stacker)
        readings = [{**self.reading("800.3"), "spool": self.gauge.id}]
        [run] = self.start_planned(plan, readings=readings).json()["runs"]
        self.assertEqual(self.sheet(run)["verdict"]["next_weigh_h"], plan["ticket"]["weigh_at_h"][0])
        listed = next(row for row in self.client.get("/api/runs/").json() if row["run"]["id"] == run["id"])
        self.assertEqual(listed["verdict"]["next_weigh_h"], plan["ticket"]["weigh_at_h"][0])

    def test_all_start_or_none(self):
        before = Run.objects.count(), Batch.objects.count()
        running = Run.objects.get(ended_at__isnull=True).spool
        body = {"spool": self.gauge.id, "co_dried": [running.id], "dryer": self.stacker.id, "temp_c": 60,
                "duration_h": 6, "client_key": str(uuid4())}  # fmt: skip
        self.assert_refused(self.post("plan/start/", **body), "already_running", "spool", running.name, 409)
        light = [{**self.reading("800.3"), "spool": self.gauge.id}, {**self.reading("100"), "spool": self.rail.id}]
        refused = self.post("plan/start/", **{**body, "co_dried": [self.rail.id], "readings": light})
        self.assert_refused(refused, "gross_below_tare", "readings.1.gross_g", "Dome rail")
        self.assertEqual((Run.objects.count(), Batch.objects.count()), before)

    def test_drying_together_ends_where_the_plan_says_also_after_a_run_too_short_to_warm_through(self):
        Dryer.objects.filter(pk=self.stacker.pk).update(fan=False)
        plan = self.plan(self.gauge, self.stacker, co_dried=str(self.rail.id), duration_h="1")
        for run, told in zip(self.start_planned(plan).json()["runs"], plan["ticket"]["members"], strict=True):
            self.assertAlmostEqual(self.sheet(run)["floor_pct"], told["floor_pct"], delta=1e-9)

    def test_energy_is_that_of_the_box_once_however_many_share_it(self):
        plan = self.plan(self.gauge, self.stacker, co_dried=str(self.rail.id))
        one, other = self.start_planned(plan, at=self.ago(hours=4)).json()["runs"]
        path = f"/api/runs/{one['id']}/energy/"
        self.client.put(path, {"start_kwh": 100, "end_kwh": 100.8}, content_type="application/json")
        spent = [self.sheet(run)["spent"] for run in (one, other)]
        for one, other in zip(spent[0].values(), spent[1].values(), strict=True):
            if isinstance(one, float):  # the clock goes on between the two questions
                self.assertAlmostEqual(one, other, delta=0.001 * one)
            else:
                self.assertEqual(one, other)
        self.assertAlmostEqual(spent[0]["energy_kwh"]["value"], 0.8)

    def test_a_dryer_changed_later_changes_nothing_of_what_was_run(self):
        [run] = self.start_planned(self.plan(self.gauge, self.stacker), at=self.ago(hours=4)).json()["runs"]
        before = self.sheet(run)
        Dryer.objects.filter(pk=self.stacker.pk).update(vent_m3_h=0.01, swing_c=9.0, heater_w=9000.0, warm_up_h=3.0)
        after = self.sheet(run)
        for name in ("forecast", "floor_pct"):
            self.assertEqual(before[name], after[name])
        self.assertAlmostEqual(before["spent"]["energy_kwh"]["value"], after["spent"]["energy_kwh"]["value"], places=3)
        self.assertAlmostEqual(before["verdict"]["moisture"]["mean"], after["verdict"]["moisture"]["mean"], delta=1e-3)

    def test_a_spool_that_joins_a_running_dryer_joins_its_batch_and_is_expected_beside_the_other(self):
        running = Run.objects.select_related("batch__dryer").get(ended_at__isnull=True)
        self.assertEqual(running.dryer, self.box)
        [run] = self.start(temp_c=running.batch.temp_c).json()["runs"]
        self.assertEqual(run["batch"], running.batch_id)
        self.assertEqual(self.sheet(run)["forecast"]["basis"], "shared_box")
        self.assertEqual([row["spool_name"] for row in self.sheet(run)["beside"]], [running.spool.name])

    def test_a_batch_is_undone_as_a_whole(self):
        before = Run.objects.count(), Batch.objects.count()
        plan = self.plan(self.gauge, self.stacker, co_dried=str(self.rail.id))
        undo = self.start_planned(plan).json()["undo"]
        self.assertEqual(self.post(f"history/{undo}/undo/").status_code, 200)
        self.assertEqual((Run.objects.count(), Batch.objects.count()), before)
