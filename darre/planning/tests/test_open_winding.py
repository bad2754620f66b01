"""A dryer whose air goes through the winding, from its record to plan, run, and what the run teaches."""

import math
from datetime import timedelta

from django.utils import timezone

from darre.equipment.models import Dryer
from darre.inventory.models import Spool
from darre.planning.tests.test_one_truth import FromPlan
from darre.runs.models import Run
from darre.runs.selectors import past_runs


class OpenWinding(FromPlan):
    def made(self, kind):
        """A dryer like the stacker, but of another kind."""
        answer = self.post("dryers/", name=f"Third {kind}", kind=kind, min_c="30", max_c="75", slots="2")
        self.assertEqual(answer.status_code, 201, answer.content)
        return Dryer.objects.get(name=f"Third {kind}")

    def cautions(self, plan):
        return {caution["kind"]: caution for caution in plan["ticket"]["cautions"]}

    def test_its_hours_are_said_to_be_the_least_with_the_most_beside_them(self):
        nylon = Spool.objects.get(name="Hinge stock")
        self.assertNotIn("lower_bound", self.cautions(self.plan(nylon, self.stacker, method="usual")))
        for kind in ("forced_air", "heated_vacuum"):
            plan = self.plan(nylon, self.made(kind), method="usual")
            bound = self.cautions(plan)["lower_bound"]
            self.assertTrue(bound["serious"])
            self.assertGreater(bound["numbers"]["most_h"], plan["ticket"]["duration_h"])
            self.assertEqual(plan["ticket"]["forecasts"][0]["basis"], "open_winding")
            self.assertEqual("heated_vacuum" in self.cautions(plan), kind == "heated_vacuum")

    def test_a_run_in_it_is_expected_to_end_when_its_plan_said_also_with_another_spool_in(self):
        vacuum = self.made("heated_vacuum")
        plan = self.plan(self.gauge, vacuum, co_dried=str(self.rail.id))
        for run, told in zip(self.start_planned(plan).json()["runs"], plan["ticket"]["members"], strict=True):
            sheet = self.sheet(run)
            self.assertEqual(sheet["forecast"]["basis"], "open_winding")
            if told["ready_h"]:
                self.assertAlmostEqual(sheet["verdict"]["to_aim"]["p50"], told["ready_h"], delta=0.2 * told["ready_h"])

    def test_what_it_taught_counts_less_elsewhere_than_a_common_run(self):
        vacuum, taught = self.made("heated_vacuum"), {}
        for dryer in (self.stacker, vacuum):
            [run] = self.start_planned(self.plan(self.gauge, dryer)).json()["runs"]
            Run.objects.filter(pk=run["id"]).update(
                learned_log_rate=0.3, learned_log_rate_sd=0.1, ended_at=timezone.now() + timedelta(minutes=1)
            )
            [taught[dryer.pk]] = [past for past in past_runs() if past.dryer == dryer.pk and past.log_rate == 0.3]
        self.assertEqual(taught[self.stacker.pk].uncertainty, 0.1)
        self.assertGreater(taught[vacuum.pk].uncertainty, math.hypot(0.1, 0.3))
        self.assertEqual(taught[vacuum.pk].strand_share, 1.0)  # as a coil: nothing of the winding

    def test_dryers_side_by_side_mark_its_hours(self):
        vacuum = self.made("heated_vacuum")
        found = self.client.get("/api/dryers/compared/").json()
        at = [dryer["id"] for dryer in found["dryers"]].index(vacuum.pk)
        bound = [[cell["is_bound"] for cell in row["cells"]] for row in found["rows"]]
        self.assertTrue(all(row[at] for row in bound if any(row)))
        self.assertEqual([sum(row) for row in bound], [row[at] for row in bound])
