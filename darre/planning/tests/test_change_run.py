"""Changing one's mind about what is running is an event of the same run: hotter, longer, and back."""

from darre.runs.models import Run
from darre.runs.tests.test_run_path import Shed


class Changed(Shed):
    def setUp(self):
        self.run_id = self.started(self.tyres, self.stacker, 55, "754", at=self.ago(hours=6))["id"]

    def sheet(self):
        return self.client.get(f"/api/runs/{self.run_id}/").json()

    def change(self, **body):
        return self.post(f"runs/{self.run_id}/change/", **body)

    def test_longer_moves_the_planned_end_and_the_undo_moves_it_back(self):
        before = self.sheet()
        changed = self.change(duration_h="12,5")
        self.assertEqual(changed.status_code, 201)
        after = self.sheet()
        self.assertAlmostEqual(after["end_h"], 12.5, places=3)
        self.assertEqual((after["run"]["duration_h"], before["run"]["duration_h"]), (12.5, 8))
        self.assertEqual(after["events"][-1]["kind"], "changed")
        self.assertEqual(after["forecast"], before["forecast"])  # what was planned stays what was planned
        self.assertEqual(self.post(f"history/{changed.json()['undo']}/undo/").status_code, 200)
        self.assertEqual(self.sheet()["run"]["duration_h"], 8)

    def test_hotter_dries_faster_from_then_on_and_not_before(self):
        before = self.sheet()["verdict"]
        self.assertEqual(self.change(temp_c=65, at=self.ago(hours=3)).status_code, 201)
        after = self.sheet()
        self.assertEqual(after["run"]["temp_c"], 65)
        self.assertLess(after["verdict"]["moisture"]["mean"], before["moisture"]["mean"])
        self.assertLess(after["floor_pct"], 0.95 * before["floor_pct"])
        at_start = [p for p in after["course"] if p["time_h"] < 2.5]
        self.assertGreater(at_start[-1]["mean"], after["verdict"]["moisture"]["mean"])

    def test_a_temperature_past_a_limit_takes_a_reason_and_one_that_melts_takes_none(self):
        self.assert_refused(self.change(temp_c=76), "over_limit", "override_reason", "softens above|sags above", 409)
        self.assertEqual(self.change(temp_c=76, override_reason="my own probe says 70").status_code, 201)
        self.assert_refused(self.change(temp_c=190, override_reason="why not"), "would_melt", "temp_c", "ruin", 400)

    def test_what_cannot_be_changed_says_why(self):
        self.assert_refused(self.change(), "nothing_changed", "temp_c", "another temperature, or other hours", 400)
        self.assert_refused(self.change(duration_h=9, at=self.ago(hours=7)), "outside_run", "at", "before the start")
        plain = self.post(f"runs/{self.run_id}/events/", kind="changed")
        self.assertEqual(plain.status_code, 400)
        self.post(f"runs/{self.run_id}/end/")
        self.assert_refused(self.change(duration_h=9), "already_ended", None, "ended already", 409)

    def test_what_is_beside_it_is_changed_with_it(self):
        other = self.started(self.gauge, self.stacker, 55, "800.3")
        self.assertEqual(other["batch"], Run.objects.get(pk=self.run_id).batch_id)
        self.change(temp_c=62)
        beside = self.client.get(f"/api/runs/{other['id']}/").json()
        self.assertEqual((beside["run"]["temp_c"], self.sheet()["run"]["temp_c"]), (62, 62))
