"""A run beside desiccant: as planned, as it goes on, and what it leaves in the dryer."""

from datetime import timedelta

from django.utils import timezone

from darre.common.test_runner import forget
from darre.equipment.models import Dryer
from darre.planning.tests.test_one_truth import FromPlan


class BesideGel(FromPlan):
    def setUp(self):
        super().setUp()
        self.shut = self.stacker
        self.gel(150.0, 2.0)

    def gel(self, grams, load, **more):
        fields = {"vent_m3_h": 0.0, "desiccant_kind": "silica_gel", "desiccant_g": grams, "desiccant_load_pct": load}
        Dryer.objects.filter(pk=self.shut.pk).update(**fields, **more)
        self.shut.refresh_from_db()
        forget()

    def started(self, *others, hours_ago=0.0):
        plan = self.plan(self.gauge, self.shut, co_dried=",".join(str(o.id) for o in others))
        at = (timezone.now() - timedelta(hours=hours_ago)).isoformat()
        return plan, self.start_planned(plan, at=at).json()["runs"]


class AsPlanned(BesideGel):
    def test_a_closed_dryer_with_enough_of_it_dries_and_without_any_it_does_not(self):
        self.assertEqual(self.plan(self.gauge, self.shut)["outcome"], "reaches")
        Dryer.objects.filter(pk=self.shut.pk).update(desiccant_kind="", desiccant_g=None, desiccant_load_pct=None)
        forget()
        bare = self.plan(self.gauge, self.shut)
        self.assertNotEqual(bare["outcome"], "reaches")
        [no_way] = [c for c in bare["ticket"]["cautions"] if c["kind"] == "no_way_out"]
        self.assertGreater(no_way["numbers"]["needed_g"], 1.0)

    def test_the_run_is_expected_to_end_where_its_plan_does(self):
        plan, [run] = self.started()
        told, sheet = plan["ticket"], self.sheet(run)
        at_end = min(sheet["course"], key=lambda p: abs(p["time_h"] - told["duration_h"]))
        moisture = plan["ticket"]["forecasts"][0]
        planned = min(zip(moisture["time_h"], moisture["moisture_pct"], strict=True),
                      key=lambda p: abs(p[0] - at_end["time_h"]))[1]  # fmt: skip
        self.assertAlmostEqual(at_end["mean"], planned, delta=0.03)
        self.assertAlmostEqual(sheet["floor_pct"], told["members"][0]["floor_pct"], delta=0.002)

    def test_by_the_planned_end_it_has_taken_up_what_the_ticket_says(self):
        hours = self.plan(self.gauge, self.shut)["ticket"]["duration_h"]
        plan, [run] = self.started(hours_ago=hours)
        told = plan["ticket"]["desiccant"]
        seen = self.sheet(run)["desiccant"]
        self.assertAlmostEqual(seen["takes_g"], told["takes_g"], delta=0.05 * told["takes_g"])
        self.assertAlmostEqual(seen["now_pct"], told["after_pct"], delta=0.05)
        self.assertEqual((seen["before_pct"], seen["dry_g"], seen["changed"]), (2.0, 150.0, False))

    def test_what_it_takes_up_is_what_all_its_spools_lose(self):
        for others in ((), (self.rail,), (self.rail, self.tyres)):
            ticket = self.plan(self.gauge, self.shut, co_dried=",".join(str(o.id) for o in others))["ticket"]
            out_g = sum(member["water_out_g"] for member in ticket["members"])
            self.assertAlmostEqual(ticket["desiccant"]["takes_g"], out_g, delta=0.03 * abs(out_g) + 0.02)


class Left(BesideGel):
    def end(self, run):
        return self.post(f"runs/{run['id']}/end/")

    def load(self):
        return Dryer.objects.get(pk=self.shut.pk).desiccant_load_pct

    def test_a_run_leaves_its_water_in_the_dryers_record_and_undo_takes_it_back(self):
        _, [run] = self.started(hours_ago=8.0)
        expected = self.sheet(run)["desiccant"]["now_pct"]
        answer = self.end(run).json()
        self.assertAlmostEqual(self.load(), expected, places=2)
        self.assertGreater(self.load(), 2.1)
        self.assertAlmostEqual(self.plan(self.gauge, self.shut)["dryer"]["desiccant_load_pct"], self.load())
        self.post(f"history/{answer['undo']}/undo/")
        self.assertEqual(self.load(), 2.0)

    def test_only_the_last_run_of_a_box_leaves_it(self):
        _, (first, last) = self.started(self.rail, hours_ago=8.0)
        self.end(first)
        self.assertEqual(self.load(), 2.0)
        self.end(last)
        self.assertGreater(self.load(), 2.1)

    def test_what_was_put_in_meanwhile_is_not_written_over(self):
        _, [run] = self.started(hours_ago=8.0)
        self.gel(300.0, 2.5)
        self.end(run)
        self.assertEqual(self.load(), 2.5)

    def test_fresh_desiccant_noted_in_the_run_dries_on_from_there(self):
        self.gel(8.0, 2.0)
        _, [run] = self.started(hours_ago=12.0)
        before = self.sheet(run)
        at = (timezone.now() - timedelta(hours=6)).isoformat()
        self.post(f"runs/{run['id']}/events/", kind="desiccant", at=at)
        after = self.sheet(run)
        self.assertTrue(after["desiccant"]["changed"])
        self.assertLess(after["desiccant"]["now_pct"], before["desiccant"]["now_pct"])
        self.assertLess(after["verdict"]["moisture"]["p50"], before["verdict"]["moisture"]["p50"] - 0.005)


class Kept(FromPlan):
    NEEDED = {"name": "Tall stacker", "kind": "stacker", "min_c": 40, "max_c": 75}

    def change(self, **values):
        return self.client.put(
            f"/api/dryers/{self.stacker.pk}/", {**self.NEEDED, **values}, content_type="application/json"
        )

    def test_without_its_water_it_is_fresh_and_without_its_kind_there_is_none(self):
        self.assertEqual(self.change(desiccant_kind="sieve", desiccant_g="120,5").status_code, 200)
        dryer = Dryer.objects.get(pk=self.stacker.pk)
        self.assertEqual((dryer.desiccant_g, dryer.desiccant_load_pct), (120.5, 3.0))  # the table's left_pct
        self.change(desiccant_load_pct=9)
        self.assertEqual(Dryer.objects.get(pk=dryer.pk).desiccant_load_pct, 9.0)
        self.change(desiccant_kind="")
        dryer.refresh_from_db()
        self.assertEqual((dryer.desiccant_kind, dryer.desiccant_g, dryer.desiccant_load_pct), ("", None, None))

    def test_half_of_it_is_refused_by_the_field_that_is_missing(self):
        for values, field in (
            ({"desiccant_kind": "clay"}, "desiccant_g"),
            ({"desiccant_g": 50}, "desiccant_kind"),
            ({"desiccant_kind": "clay", "desiccant_g": 50, "desiccant_load_pct": 101}, "desiccant_load_pct"),
            ({"desiccant_kind": "clay", "desiccant_g": -1}, "desiccant_g"),
        ):
            answer = self.change(**values)
            self.assertEqual(answer.status_code, 400, values)
            self.assertIn(field, answer.content.decode(), values)
        self.assertEqual(Dryer.objects.get(pk=self.stacker.pk).desiccant_kind, "")
