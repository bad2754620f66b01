"""Ladders over the API: designed, begun, rated blind, told, used, and how they say no."""

from uuid import uuid4

from darre.inventory.models import OwnValue, Spool
from darre.runs.tests.test_run_path import Shed
from darre.trials.models import RungPrint, Trial


class Ladders(Shed):
    MOISTURES = (0.06, 0.12, 0.24, 0.48)

    def begun(self, moistures=MOISTURES, spool="Rain gauge"):
        rungs = [{"moisture_pct": str(m), "plus_minus_pct": "0.01"} for m in moistures]
        return self.post("ladders/", spool=Spool.objects.get(name=spool).pk, rungs=rungs)

    def seen(self, trial):
        return self.client.get(f"/api/trials/{trial}/").json()

    def rate(self, rung, showed, key=None):
        return self.post(f"rungs/{rung}/prints/", showed=showed, client_key=key or str(uuid4()))

    def rated(self, showing_from=0.2, each=6):
        """A ladder whose water shows from some moisture on, printed as the page asks."""
        trial = self.begun().json()["trial"]
        moisture = dict(Trial.objects.get(pk=trial).rungs.values_list("pk", "moisture_pct"))
        for _ in range(each * len(moisture)):
            rung = self.seen(trial)["next_rung"]
            self.assertEqual(self.rate(rung, moisture[rung] > showing_from).status_code, 201)
        return trial

    def test_prints_are_asked_for_evenly_and_their_moisture_is_told_when_the_trial_is_ended(self):
        trial = self.rated(each=2)
        found = self.seen(trial)
        self.assertEqual({len(rung["prints"]) for rung in found["rungs"]}, {2})
        self.assertEqual({rung["moisture_pct"] for rung in found["rungs"]}, {None})
        self.post(f"trials/{trial}/end/")
        ended = self.seen(trial)
        self.assertEqual(sorted(rung["moisture_pct"] for rung in ended["rungs"]), list(self.MOISTURES))
        self.assertIsNone(ended["next_rung"])
        letters = [rung["letter"] for rung in sorted(ended["rungs"], key=lambda rung: rung["moisture_pct"])]
        self.assertEqual(sorted(letters), ["A", "B", "C", "D"])
        self.assertNotEqual(letters, sorted(letters))  # this one's lot; the order of letters tells nothing

    def test_the_mark_lies_where_the_water_begins_to_show_and_moves_the_material(self):
        trial = self.rated()
        mark = self.seen(trial)["mark"]
        self.assertTrue(0.12 < mark["mark_pct"]["p05"] < mark["mark_pct"]["p95"] < 0.27, mark)
        self.assertTrue(mark["fits"])
        self.post(f"trials/{trial}/end/")
        answer = self.post(f"trials/{trial}/take-over/")
        self.assertEqual(answer.status_code, 200, answer.content)
        for name, points in (("trouble", "mark_pct"), ("clean", "clean_pct")):
            own = OwnValue.objects.get(material="petg", name=name)
            self.assertAlmostEqual(own.value, mark[points]["p50"], delta=0.001)
        # What was taken over is not counted a second time by the trial that it came from.
        self.assertEqual(self.seen(trial)["mark"], mark)
        self.post(f"history/{answer.json()['undo']}/undo/")
        self.assertFalse(OwnValue.objects.filter(material="petg", name="trouble").exists())

    def test_the_demos_ladder_is_half_done(self):
        found = self.seen(Trial.objects.get(kind="ladder").pk)
        self.assertIsNotNone(found["next_rung"])
        self.assertEqual(sum(len(rung["prints"]) for rung in found["rungs"]), 9)
        self.assertTrue(found["mark"]["fits"])
        self.assertTrue(0.15 < found["mark"]["mark_pct"]["p50"] < 0.4)

    def test_a_design_names_moistures_and_more_prints_make_it_surer(self):
        spool = Spool.objects.get(name="Rain gauge").pk
        factors = [self.client.get(f"/api/ladders/design/?spool={spool}&prints={n}").json()["factor"] for n in (2, 8)]
        self.assertLess(factors[1], factors[0])
        least = self.client.get(f"/api/ladders/design/?spool={spool}").json()
        self.assertLess(least["factor"], least["before_factor"])
        self.assertTrue(least["moistures_pct"][0] < least["before_pct"] < least["moistures_pct"][-1])

    def test_what_cannot_be_is_refused_in_words(self):
        for answer, says in (
            (self.begun([0.1]), "2 to 9 moistures"),
            (self.begun([0.1, 0.1]), "same moisture"),
            (self.begun([0.0, 0.1]), "moisture"),
        ):
            self.assertEqual(answer.status_code, 400, answer.content)
            self.assertIn(says, answer.content.decode())
        trial = self.rated(each=1)
        rung = self.seen(trial)["rungs"][0]["id"]
        self.post(f"trials/{trial}/end/")
        self.assertEqual(self.rate(rung, True).status_code, 409)
        falling = self.begun().json()["trial"]
        for n, rung in enumerate(Trial.objects.get(pk=falling).rungs.order_by("moisture_pct")):
            for _ in range(8):
                self.rate(rung.pk, n < 2)
        answer = self.post(f"trials/{falling}/take-over/")
        self.assertEqual((answer.status_code, "No rising curve" in answer.json()["message"]), (409, True))
        empty = self.begun().json()["trial"]
        self.assertEqual(self.post(f"trials/{empty}/take-over/").status_code, 409)

    def test_a_rating_that_is_sent_twice_counts_once_and_can_be_taken_out(self):
        trial, key = self.begun().json()["trial"], str(uuid4())
        rung = self.seen(trial)["next_rung"]
        self.assertEqual([self.rate(rung, True, key).status_code for _ in range(2)], [201, 200])
        [rated] = RungPrint.objects.filter(rung=rung)
        self.assertEqual(self.client.delete(f"/api/rung-prints/{rated.pk}/").status_code, 200)
        self.assertFalse(RungPrint.objects.filter(rung=rung).exists())
