"""Trials over the API: begun, weighed, told, taken over, put right, and how they say no."""

import math
from datetime import timedelta
from uuid import uuid4

from django.utils import timezone

from darre.common.test_runner import forget
from darre.equipment.models import Dryer
from darre.inventory.material_book import material_book
from darre.inventory.models import OwnValue, Spool
from darre.runs.tests.test_run_path import Shed
from darre.trials.models import SampleReading, Trial


class AtTheBench(Shed):
    def begun(self, kind="drying", masses=("24.31", "23.88", "25.02"), **more):
        began = (timezone.now() - timedelta(hours=40)).isoformat()
        body = {"kind": kind, "spool": Spool.objects.get(name="Hinge stock").pk, "scale": self.pocket.pk,
                "temp_c": "65", "began_at": began, "samples": [{"start_g": g} for g in masses]} | more  # fmt: skip
        answer = self.post("trials/", **body)
        self.assertEqual(answer.status_code, 201, answer.content[:300])
        return answer.json()["trial"]

    def seen(self, trial):
        answer = self.client.get(f"/api/trials/{trial}/")
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.json()

    def weigh(self, sample, gross_g, hours=None, key=None):
        return self.post(
            f"samples/{sample['id']}/readings/", gross_g=gross_g, hours=hours, client_key=key or str(uuid4())
        )


class Told(AtTheBench):
    def test_the_demos_lot_tells_what_is_hidden_in_it(self):
        found = self.seen(Trial.objects.get(kind="drying").pk)
        for name, truth in (("diffusivity_m2_s", 4.6e-12), ("start_pct", 8.3), ("end_pct", 0.45)):
            self.assertLessEqual(found["fit"][name]["p05"], truth * 1.005, name)
            self.assertGreaterEqual(found["fit"][name]["p95"], truth * 0.995, name)
        self.assertTrue(found["fit"]["fits"])
        held = [s["readings"][0]["holds_pct"] for s in found["samples"] if not s["baked"]]
        self.assertEqual(held, sorted(held, reverse=True))
        self.assertAlmostEqual(found["curve"]["middle_pct"][0], found["fit"]["start_pct"]["p50"])

    def test_the_demos_sponges_tell_their_ratio_by_hand(self):
        [pair] = self.seen(Trial.objects.get(kind="sponge").pk)["pairs"]
        by_hand = (61.4 - 34.9) / (63.0 - 22.6)  # over the same hours
        self.assertEqual((pair["one"], pair["other"]), ("Cellar box", "Tall stacker"))
        self.assertAlmostEqual(pair["ratio"]["p50"], by_hand, places=4)

    def test_nothing_is_said_before_three_weighings(self):
        trial = self.begun()
        samples = self.seen(trial)["samples"]
        self.assertEqual([s["name"] for s in samples], ["H1", "H2", "H3"])
        for n, (sample, hours, gross) in enumerate(zip(samples, (1, 5, 20), ("23.97", "23.1", "23.4"), strict=True)):
            found = self.seen(trial)
            self.assertEqual((found["fit"], found["next"]), (None, sample["id"]), n)
            self.assertEqual(self.weigh(sample, gross, hours).status_code, 201)
        found = self.seen(trial)
        self.assertIsNotNone(found["fit"])
        self.assertEqual(found["next"], samples[0]["id"])  # and round again
        self.weigh(samples[0], "23.9", 30)
        self.assertEqual(self.seen(trial)["next"], samples[1]["id"])

    def test_a_mistyped_reading_is_named_and_put_right(self):
        trial = self.begun(masses=("22.00",) * 8)
        times, out = (1, 1.5, 2.5, 4, 5.5, 7.5, 14.5, 29.5), []
        demos = self.seen(Trial.objects.get(closed_at__isnull=False, kind="drying").pk)["samples"]
        good = [s["readings"][0]["gross_g"] / s["start_g"] for s in demos if not s["baked"]]
        for sample, hours, share in zip(self.seen(trial)["samples"], times, good, strict=True):
            gross = round(22.0 * share, 2)
            out.append(gross)
            self.weigh(sample, gross + (0.9 if sample["name"] == "H4" else 0.0), hours)
        found = self.seen(trial)
        self.assertEqual(found["fit"]["doubtful"], "H4")
        wrong = found["samples"][3]["readings"][0]
        self.assertTrue(wrong["doubtful"])
        put = self.client.put(
            f"/api/sample-readings/{wrong['id']}/", {"gross_g": out[3]}, content_type="application/json"
        )
        self.assertEqual(put.status_code, 200)
        self.assertIsNone(self.seen(trial)["fit"]["doubtful"])

    def test_a_soaks_sum_counts_the_baked_coil_and_explains_a_slip(self):
        trial = self.begun("uptake", ("10.20", "10.20"), temp_c="23")
        self.post(f"trials/{trial}/samples/", start_g="20.40", baked=True)
        one, other, twin = self.seen(trial)["samples"]
        self.weigh(one, "10.60", 10)
        self.weigh(twin, "20.00", 12)
        self.weigh(other, "10.80", 30)
        found = self.seen(trial)["sum"]
        self.assertAlmostEqual(found["total_pct"], 8.0)
        self.assertAlmostEqual(found["before_pct"], 2.0)
        for typed, slip, right in (("8,0", None, True), ("7.4", "wet_basis", False), ("6.0", "twin_forgotten", False),
                                   ("-8", "sign", False), ("3", None, False)):  # fmt: skip
            told = self.client.get(f"/api/trials/{trial}/slip/", {"typed_pct": typed}).json()
            self.assertEqual((told["slip"], told["typed_is_right"]), (slip, right), typed)

    def test_a_baked_coil_tells_what_its_spool_held(self):
        trial = self.begun("twin", ("22.00",))
        [coil] = self.seen(trial)["samples"]
        self.weigh(coil, "21.12", 38)
        found = self.seen(trial)
        lost = 100 * 0.88 / 21.12
        self.assertAlmostEqual(found["start_pct"]["p50"], lost * (1 + found["floor_pct"]["p50"] / 100)
                               + found["floor_pct"]["p50"], places=4)  # fmt: skip
        undo = self.post(f"trials/{trial}/take-over/").json()["undo"]
        reading = Spool.objects.get(name="Hinge stock").moisture_readings.order_by("id").last()
        self.assertAlmostEqual(reading.moisture_pct, found["start_pct"]["p50"])
        self.assertEqual(self.post(f"history/{undo}/undo/").status_code, 200)


class Used(AtTheBench):
    def test_what_a_lot_told_moves_the_plan_at_once_and_can_be_gone_back_from(self):
        lot = Trial.objects.get(kind="drying")
        hinge = lot.spool
        asked = {"spool": hinge.pk, "dryer": self.stacker.pk, "temp_c": 65, "duration_h": 10}

        def end_pct():
            return self.client.get("/api/plan/", asked).json()["ticket"]["members"][0]["end_pct"]

        before = end_pct()
        undo = self.post(f"trials/{lot.pk}/take-over/").json()["undo"]
        own = OwnValue.objects.get(material=hinge.material, name="d23")
        self.assertIn("From your trial of", own.note)
        self.assertGreater(abs(end_pct() - before), 1e-3)
        self.assertEqual(self.post(f"history/{undo}/undo/").status_code, 200)
        self.assertEqual((end_pct(), OwnValue.objects.filter(name="d23").count()), (before, 0))

    def test_a_makers_value_is_drawn_to_its_polymers_by_how_little_was_measured_and_the_polymers_is_not(self):
        lot = Trial.objects.get(kind="drying")
        polymer = material_book()[lot.spool.material].d23
        self.post(f"trials/{lot.pk}/take-over/")
        measured = OwnValue.objects.get(material=lot.spool.material, name="d23")
        measured_value, measured_spread = measured.value, measured.spread
        measured.delete()
        forget()
        mine = self.post("materials/", name="Tolvan nylon", base=lot.spool.material).json()["material"]["id"]
        lot.spool.material = mine
        lot.spool.save()
        forget()
        self.assertEqual(self.post(f"trials/{lot.pk}/take-over/").status_code, 200)
        found = OwnValue.objects.get(material=mine, name="d23")
        # The mean of the two logs by their precisions.
        one, other = math.log(polymer.spread) ** -2, math.log(measured_spread) ** -2
        want = math.exp((one * math.log(polymer.value) + other * math.log(measured_value)) / (one + other))
        self.assertAlmostEqual(found.value / want, 1.0, places=2)
        self.assertLess(found.spread, measured_spread)
        self.assertIn("Combined with the earlier value", found.note)
        self.post(f"trials/{lot.pk}/take-over/")  # the same trial again counts once
        again = OwnValue.objects.get(material=mine, name="d23")
        self.assertEqual((again.value, again.spread), (found.value, found.spread))

    def test_sponges_give_their_dryers_the_exchange_flow(self):
        duel = Trial.objects.get(kind="sponge")
        told = {s["name"]: s["vent_m3_h"]["p50"] for s in self.seen(duel.pk)["sponges"]}
        self.assertEqual(self.post(f"trials/{duel.pk}/take-over/").status_code, 200)
        for name, flow in told.items():
            self.assertAlmostEqual(Dryer.objects.get(name=name).vent_m3_h, flow, delta=0.01 * flow)

    def test_what_tells_nothing_is_not_used(self):
        for trial, code in ((self.begun(), "not_told"), (self.begun("twin", ("22.0",)), "not_told")):
            self.assert_refused(self.post(f"trials/{trial}/take-over/"), code, "trial", "does not tell")

    def test_a_trial_is_removed_whole_and_comes_back_whole(self):
        lot, readings = Trial.objects.get(kind="drying"), SampleReading.objects.count()
        undo = self.client.delete(f"/api/trials/{lot.pk}/").json()["undo"]
        self.assertEqual(Trial.objects.filter(kind="drying").count(), 0)
        self.assertEqual(self.post(f"history/{undo}/undo/").status_code, 200)
        self.assertEqual(SampleReading.objects.count(), readings)


class Refused(AtTheBench):
    def test_bad_input_is_named_and_nothing_is_stored(self):
        trial = self.begun()
        first = self.seen(trial)["samples"][0]
        key = str(uuid4())
        self.assertEqual(self.weigh(first, "23.97", 1, key).status_code, 201)
        self.assertEqual(self.weigh(first, "23.97", 1, key).status_code, 200)  # the same, sent twice
        kept = SampleReading.objects.count()
        hinge, box = Spool.objects.get(name="Hinge stock").pk, self.box.pk
        wet = [{"dryer": box, "start_g": 50, "dry_g": 60}]
        for answer, code, field, named in (
            (self.weigh(first, "23.5", 0), "before_start", "hours", "over 0"),
            (self.weigh(first, "23.5", 900), "in_future", "at", "has not come"),
            (self.weigh(first, "23.9", 1), "twice", "hours", "already"),
            (self.weigh(first, "5", 3), "impossible", "gross_g", "no water"),
            (self.weigh(first, "", 3), "invalid", "gross_g", "Needed"),
            (self.post("trials/", kind="drying", scale=self.pocket.pk, temp_c=65, samples=[{"start_g": 1}]),
             "required", "spool", "cut from"),
            (self.post("trials/", kind="drying", spool=hinge, scale=self.pocket.pk, samples=[{"start_g": 1}]),
             "required", "temp_c", "temperature"),
            (self.post("trials/", kind="drying", spool=hinge, scale=self.pocket.pk, temp_c=65, samples=[]),
             "no_samples", "samples", "at least one"),
            (self.post("trials/", kind="sponge", scale=self.bench.pk, samples=wet),
             "required", "samples.0.dry_g", "dry"),
            (self.post("trials/", kind="drying", spool=hinge, scale=self.pocket.pk, temp_c=65,
                       samples=[{"start_g": 1, "name": "A"}, {"start_g": 2, "name": "A"}]),
             "name_taken", "samples", "named A"),
        ):  # fmt: skip
            with self.subTest(named):
                self.assert_refused(answer, code, field, named)
        self.assertEqual(SampleReading.objects.count(), kept)

    def test_a_sponge_cannot_gain_nor_weigh_less_than_dry(self):
        duel = self.post("trials/", kind="sponge", scale=self.bench.pk,
                         samples=[{"dryer": self.box.pk, "start_g": "60", "dry_g": "9"}]).json()["trial"]  # fmt: skip
        [sponge] = self.seen(duel)["samples"]
        self.assert_refused(self.weigh(sponge, "61"), "impossible", "gross_g", "cannot gain")
        self.assert_refused(self.weigh(sponge, "8"), "impossible", "gross_g", "dry")

    def test_an_ended_trial_is_weighed_no_more(self):
        trial = self.begun()
        self.assertEqual(self.post(f"trials/{trial}/end/").status_code, 200)
        first = self.seen(trial)["samples"][0]
        self.assert_refused(self.weigh(first, "23.97"), "closed", "trial", "ended")

    def test_a_design_that_would_move_nothing_is_said(self):
        asked = {
            "kind": "drying",
            "spool": Spool.objects.get(name="Dome rail").pk,
            "scale": self.pocket.pk,
            "temp_c": 20,
        }
        answer = self.client.get("/api/trials/design/", asked)
        self.assert_refused(answer, "nothing_moves", "temp_c", "lose nothing")
        found = self.client.get("/api/trials/design/", asked | {"soaked": True, "temp_c": 60, "coils": 5}).json()
        self.assertEqual(len(found["times_h"]), 5)
        self.assertEqual({s["name"] for s in found["scales"]}, {"Pocket scale", "Bench scale", "Parcel scale"})
