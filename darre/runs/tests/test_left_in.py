"""A spool that stays in the dryer after its run, and printing straight out of it."""

from datetime import timedelta

from django.utils import timezone

from darre.inventory.models import Spool
from darre.places.models import Place, Stay
from darre.runs.models import Run
from darre.runs.tests.test_run_path import Shed


class Left(Shed):
    def setUp(self):
        self.run_id = self.started(at=self.ago(hours=9))["id"]

    def end(self, **body):
        return self.post(f"runs/{self.run_id}/end/", **body)

    def stays(self):
        return [(stay.place.name, stay.until is None) for stay in self.gauge.stays.order_by("since")][-2:]


class LeftIn(Left):
    def test_a_dryer_that_is_switched_off_is_its_place_and_lets_the_room_in(self):
        before = self.stays()[-1]
        answer = self.end(left_in=True)
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(self.stays(), [(before[0], False), ("Cellar box, switched off", True)])
        self.assertEqual(Place.objects.get(name="Cellar box, switched off").kind, "dryer")
        held = {row["place"]["name"]: row for row in self.client.get("/api/storage/").json()}
        inside = [c["lane"]["spool"]["name"] for c in held["Cellar box, switched off"]["contents"]]
        self.assertEqual(inside, ["Rain gauge"])
        self.assertEqual(self.post(f"history/{answer.json()['undo']}/undo/").status_code, 200)
        self.assertEqual(self.stays()[-1], before)
        self.assertFalse(Place.objects.filter(kind="dryer").exists())
        self.assertIsNone(Run.objects.get(pk=self.run_id).ended_at)

    def test_kept_warm_it_stays_drier_than_on_the_shelf(self):
        ahead = {}
        for how in ({"left_in": True, "hold_c": 55}, {}):
            answer = self.end(**how)
            self.assertEqual(answer.status_code, 200, answer.content)
            lane = self.client.get(f"/api/rack/?span=week&spool={self.gauge.id}").json()["lanes"][0]
            ahead[bool(how)] = lane["pct"][-1]
            self.assertEqual(self.post(f"history/{answer.json()['undo']}/undo/").status_code, 200)
        self.assertLess(ahead[True], 0.7 * ahead[False])

    def test_the_same_dryer_is_one_place_however_often(self):
        self.end(left_in=True)
        self.run_id = self.started()["id"]
        Run.objects.filter(pk=self.run_id).update(started_at=timezone.now() - timedelta(minutes=5))
        self.assertEqual(self.end(left_in=True).status_code, 200)
        self.assertEqual(Place.objects.filter(kind="dryer").count(), 1)
        self.assertEqual(Stay.objects.filter(spool=self.gauge, until=None).count(), 1)

    def test_a_hold_that_is_none_or_hotter_than_the_run_is_refused_and_the_run_goes_on(self):
        for hold_c, code, says in ((15, "not_warm", "switched off"), (70, "hotter_than_run", "nobody watches")):
            answer = self.end(left_in=True, hold_c=hold_c)
            self.assert_refused(answer, code, "hold_c", says, 400)
        self.assertIsNone(Run.objects.get(pk=self.run_id).ended_at)


class NextGrams(Left):
    def next_grams(self):
        return self.client.get(f"/api/runs/{self.run_id}/").json()

    def test_the_outer_turns_of_a_running_spool_are_the_driest(self):
        self.run_id = self.started(self.tyres, self.stacker, 55, "754", at=self.ago(hours=3))["id"]
        sheet = self.next_grams()
        told, now = sheet["next_grams"], sheet["verdict"]["moisture"]
        self.assertEqual(told["mass_g"], 50.0)
        self.assertLess(told["p50"], 0.95 * now["p50"])
        self.assertLess(told["p05"], told["p50"])

    def test_all_that_is_left_of_a_small_spool_is_its_mean(self):
        Spool.objects.filter(pk=self.tyres.pk).update(tare_g=730)
        self.run_id = self.started(self.tyres, self.stacker, 55, "754", at=self.ago(hours=3))["id"]
        sheet = self.next_grams()
        self.assertAlmostEqual(sheet["next_grams"]["mass_g"], 24.0)
        self.assertAlmostEqual(sheet["next_grams"]["p50"], sheet["verdict"]["moisture"]["p50"], places=9)

    def test_none_is_told_of_a_run_that_has_ended(self):
        self.end()
        self.assertIsNone(self.next_grams()["next_grams"])
