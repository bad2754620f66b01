"""The air beside a trial's samples: noted, counted, drawn, taken back, and how it says no."""

from datetime import timedelta
from uuid import uuid4

from django.utils import timezone

from darre.history.models import HistoryEntry
from darre.inventory.models import OwnValue
from darre.trials.models import AirNote, Trial
from darre.trials.tests.test_trials import AtTheBench
from drying.air import vapour_concentration_g_m3


class Noted(AtTheBench):
    def note(self, trial, temp_c, rh_pct, hours=None, **more):
        body = {"temp_c": temp_c, "rh_pct": rh_pct, "hours": hours, "client_key": str(uuid4())} | more
        return self.post(f"trials/{trial}/air/", **body)

    def lot(self, **more):
        trial = self.begun(masses=("22.00",) * 4, **more)
        for sample, hours, gross in zip(self.seen(trial)["samples"], (1, 4, 12, 30), (21.9, 21.8, 21.65, 21.6),
                                        strict=True):  # fmt: skip
            self.weigh(sample, gross, hours)
        return trial

    def test_readings_are_drawn_against_the_room_and_their_mean_is_said(self):
        trial = self.lot()
        for hours, temp, rh in ((0, "60", "30"), (1, "70", "10"), (4, "70", "10")):
            self.assertEqual(self.note(trial, temp, rh, hours).status_code, 201)
        [air] = self.seen(trial)["airs"]
        self.assertEqual((air["sample"], [note["hours"] for note in air["notes"]]), (None, [0, 1, 4]))
        self.assertAlmostEqual(air["mean"]["temp_c"], 68.75)
        self.assertAlmostEqual(air["mean"]["rh_pct"], 12.5)
        room = self.seen(trial)
        want = vapour_concentration_g_m3(room["room_temp_c"], room["room_rh_pct"])
        self.assertAlmostEqual(air["course"]["room_g_m3"][0], want)
        self.assertAlmostEqual(air["course"]["inside_g_m3"][1], vapour_concentration_g_m3(70, 10))

    def test_what_was_read_counts_and_not_what_was_meant(self):
        meant, measured = self.lot(), self.lot()
        self.note(measured, "55", "3", 2)
        before, after = self.seen(meant)["fit"], self.seen(measured)["fit"]
        self.assertLess(after["end_pct"]["p50"], before["end_pct"]["p50"])
        self.assertLess(after["built_in_diffusivity_m2_s"], before["built_in_diffusivity_m2_s"])
        # The same lot said to be at 55 °C from the start compares with the same built-in value.
        typed = self.seen(self.lot(temp_c="55"))["fit"]
        self.assertAlmostEqual(after["built_in_diffusivity_m2_s"] / typed["built_in_diffusivity_m2_s"], 1.0, places=9)

    def test_what_is_taken_over_is_of_the_air_that_was_read(self):
        values = []
        for rh in (None, "45"):
            trial = self.begun("uptake", ("10.20",) * 3, temp_c="23", rh_pct="60")
            self.post(f"trials/{trial}/samples/", start_g="20.40", baked=True)
            *coils, twin = self.seen(trial)["samples"]
            for coil, hours, gross in zip(coils, (3, 12, 38), ("10.26", "10.31", "10.35"), strict=True):
                self.weigh(coil, gross, hours)
            self.weigh(twin, "20.30", 38)
            if rh:
                self.note(trial, "23", rh, 10)
            answer = self.post(f"trials/{trial}/take-over/")
            self.assertEqual(answer.status_code, 200, answer.content[:300])
            values.append(OwnValue.objects.get(name="k1").value)
            self.post(f"history/{answer.json()['undo']}/undo/")
        self.assertGreater(values[1], 1.1 * values[0])  # as much water out of drier air: it holds more at each humidity

    def test_a_reading_beside_a_sponge_tells_its_dryers_flow(self):
        trial = Trial.objects.get(kind="sponge")
        trial.closed_at = None
        trial.save()
        first, other = self.seen(trial.pk)["samples"]
        sponges = {s["name"]: s for s in self.seen(trial.pk)["sponges"]}
        rate = sponges[first["name"]]["g_per_h"]["p50"]
        for hours, rh in ((1, "18"), (3, "14")):
            self.assertEqual(self.note(trial.pk, "50", rh, hours, sample=first["id"]).status_code, 201)
        found = self.seen(trial.pk)
        told = {s["name"]: s for s in found["sponges"]}
        more = vapour_concentration_g_m3(50, 16) - vapour_concentration_g_m3(found["room_temp_c"], found["room_rh_pct"])
        self.assertAlmostEqual(told[first["name"]]["vent_m3_h"]["p50"], rate / more, places=6)
        self.assertEqual(told[other["name"]]["vent_m3_h"], sponges[other["name"]]["vent_m3_h"])

    def test_it_is_stored_once_and_undone_and_removed_and_goes_with_its_trial(self):
        trial, key = self.lot(), str(uuid4())
        first = self.note(trial, "65", "9", 3, client_key=key)
        again = self.note(trial, "65", "9", 3, client_key=key)
        self.assertEqual((first.status_code, again.status_code, again.json()["undo"]), (201, 200, None))
        self.post(f"history/{first.json()['undo']}/undo/")
        self.assertEqual(self.seen(trial)["airs"], [])
        self.note(trial, "65", "9", 3)
        note = AirNote.objects.get(trial=trial)
        self.assertEqual(self.client.delete(f"/api/trial-air/{note.pk}/").status_code, 200)
        self.assertFalse(AirNote.objects.filter(trial=trial).exists())
        self.post(f"history/{HistoryEntry.objects.latest('pk').pk}/undo/")
        self.assertEqual(AirNote.objects.get(trial=trial).temp_c, 65)
        self.assertEqual(self.client.delete(f"/api/trials/{trial}/").status_code, 200)
        self.assertFalse(AirNote.objects.filter(trial_id=trial).exists())

    def test_refusals_name_what_to_mend_and_store_nothing(self):
        lot, soak = self.lot(), self.begun("uptake", ("10.2",), temp_c="23")
        sponges = Trial.objects.get(kind="sponge")
        sponges.closed_at = None
        sponges.save()
        self.note(lot, "65", "9", 3)
        ended = self.lot()
        self.post(f"trials/{ended}/end/")
        soon = (timezone.now() + timedelta(hours=3) - Trial.objects.get(pk=lot).began_at) / timedelta(hours=1)
        cases = (
            (lot, {"hours": 3}, "hours", "at that time already"),
            (lot, {"hours": soon}, None, "future"),
            (lot, {"rh_pct": "140"}, "rh_pct", "100"),
            (soak, {}, "trial", "makes no difference"),
            (sponges.pk, {}, "sample", "the dryer that the meter hangs in"),
            (ended, {}, "trial", "ended"),
        )  # fmt: skip
        before = AirNote.objects.count()
        for trial, more, field, says in cases:
            answer = self.note(trial, "64", **({"rh_pct": "10"} | more))
            self.assertIn(answer.status_code, (400, 409), (more, answer.content[:300]))
            self.assertIn(says, answer.content.decode(), (more, answer.content[:300]))
            if field:
                self.assertIn(f'"{field}"', answer.content.decode(), more)
        self.assertEqual(AirNote.objects.count(), before)
