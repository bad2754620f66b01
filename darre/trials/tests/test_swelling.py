"""Swelling over the API: designed, begun, measured, told, and how it says no."""

from uuid import uuid4

from darre.equipment.models import Scale
from darre.inventory.models import Spool
from darre.runs.tests.test_run_path import Shed
from darre.trials.models import SampleReading, Trial

# Two pieces: g and mm dry, and later. By hand: 2 % of water and 0.5 % longer, then 4 % and 1 %.
PIECES = (("10.00", ("100.00", "100.02", "99.98")), ("12.00", ("80.00", "80.02", "79.98")))
LATER = ((("10.20", "100.5 100.52 100.48"), ("10.40", "101 101.02 100.98")),
         (("12.24", "80.4 80.42 80.38"), ("12.48", "80.8 80.82 80.78")))  # fmt: skip


class Swelling(Shed):
    def begun(self, pieces=PIECES, spool="Hinge stock"):
        return self.post(
            "trials/", kind="swelling", spool=Spool.objects.get(name=spool).pk,
            scale=Scale.objects.get(name="Pocket scale").pk,
            samples=[{"start_g": grams, "before_mm": list(long)} for grams, long in pieces],
        )  # fmt: skip

    def seen(self, trial):
        return self.client.get(f"/api/trials/{trial}/").json()

    def measure(self, sample, grams, long, hours=None):
        return self.post(
            f"samples/{sample}/readings/", gross_g=grams, after_mm=long.split(), client_key=str(uuid4()), hours=hours
        )

    def measured(self):
        """Both pieces in both climates, a day apart and in the past."""
        trial = self.begun().json()["trial"]
        began = Trial.objects.get(pk=trial)
        began.began_at = began.began_at.replace(year=began.began_at.year - 1)
        began.save()
        for sample, climates in zip(self.seen(trial)["samples"], LATER, strict=True):
            for day, (grams, long) in enumerate(climates, start=1):
                answer = self.measure(sample["id"], grams, long, hours=24 * day)
                self.assertEqual(answer.status_code, 201, answer.content)
        return trial

    def test_pieces_tell_how_much_longer_they_get_for_each_percent_of_water(self):
        trial = self.measured()
        found = self.seen(trial)
        slope = found["swelling"]["strain_per_pct"]
        self.assertAlmostEqual(slope["p50"], 0.25, delta=1e-4)
        self.assertTrue(0.2 < slope["p05"] < 0.25 < slope["p95"] < 0.3)
        self.assertTrue(found["swelling"]["fits"])
        told = [(r["water_pct"], r["strain_pct"]) for s in found["samples"] for r in s["readings"]]
        for (water, strain), (by_hand, grown) in zip(told, ((2, 0.5), (4, 1), (2, 0.5), (4, 1)), strict=True):
            self.assertAlmostEqual(water, by_hand)
            self.assertAlmostEqual(strain, grown)
        # 0.25 mm on 100 mm for each percent that the isotherm gives in the room's air.
        grows, part = found["swelling"]["part_grows_mm"], found["swelling"]["part_mm"]
        spool = Spool.objects.get(name="Hinge stock").pk
        holds = self.client.get(f"/api/trials/swelling-design/?spool={spool}").json()["holds_pct"]
        self.assertEqual(part, 100.0)
        self.assertAlmostEqual(grows["p50"], 0.25 * holds, delta=1e-3)
        row = next(row for row in self.client.get("/api/trials/").json() if row["id"] == trial)
        self.assertEqual(row["swelling"]["strain_per_pct"], slope)

    def test_a_reading_is_put_right_with_its_length(self):
        trial = self.measured()
        reading = self.seen(trial)["samples"][0]["readings"][0]["id"]
        said = {"gross_g": "10.20", "after_mm": ["100.6", "100.62"]}
        answer = self.client.put(f"/api/sample-readings/{reading}/", said, content_type="application/json")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(SampleReading.objects.get(pk=reading).after_mm, [100.6, 100.62])
        self.post(f"history/{answer.json()['undo']}/undo/")
        self.assertEqual(SampleReading.objects.get(pk=reading).after_mm, [100.5, 100.52, 100.48])

    def test_pieces_of_different_swelling_do_not_agree(self):
        trial = self.begun().json()["trial"]
        for sample, (grams, long) in zip(
            self.seen(trial)["samples"], (("10.40", "101"), ("12.48", "80.1")), strict=True
        ):
            self.measure(sample["id"], grams, long)
        self.assertFalse(self.seen(trial)["swelling"]["fits"])

    def test_what_cannot_be_is_refused_at_its_field(self):
        first = self.seen(self.begun().json()["trial"])["samples"][0]["id"]
        for grams, long, field in (
            ("10.2", "", "after_mm"), ("10.2", "140", "after_mm"),
            ("10.2", "0", "after_mm.0"), ("16", "100.4", "gross_g"),
        ):  # fmt: skip
            with self.subTest(long=long, grams=grams):
                answer = self.measure(first, grams, long)
                self.assertEqual((answer.status_code, answer.json()["field"]), (400, field))
        answer = self.begun(pieces=(("10.0", ()),))
        self.assertEqual((answer.status_code, answer.json()["field"]), (400, "samples.0.before_mm"))
        self.assertEqual(SampleReading.objects.filter(sample=first).count(), 0)

    def test_of_other_trials_no_length_is_kept_or_asked_for(self):
        spool, scale = (m.objects.get(name=n).pk for m, n in ((Spool, "Hinge stock"), (Scale, "Pocket scale")))
        begun = self.post("trials/", kind="twin", spool=spool, scale=scale, temp_c=60,
                          samples=[{"start_g": "20", "before_mm": ["100"]}])  # fmt: skip
        sample = Trial.objects.get(pk=begun.json()["trial"]).samples.get()
        self.assertEqual(sample.before_mm, [])
        self.assertEqual(self.measure(sample.pk, "19.9", "").status_code, 201)
        self.assertEqual(self.measure(sample.pk, "19.8", "101", hours=None).status_code, 201)
        self.assertEqual([r.after_mm for r in sample.readings.all()], [[], []])

    def test_more_and_longer_pieces_show_less_swelling(self):
        spool = Spool.objects.get(name="Hinge stock").pk

        def least(query):
            return self.client.get(f"/api/trials/swelling-design/?spool={spool}&{query}").json()["least_pct"]

        usual = least("pieces=3&readings=5&length_mm=100")
        self.assertAlmostEqual(least("pieces=12&readings=5&length_mm=100"), usual / 2)
        self.assertAlmostEqual(least("pieces=3&readings=5&length_mm=200"), usual / 2)
