"""Spools that are used up leave the rack and keep their records."""

from darre.runs.tests.test_run_path import Shed


class Archiving(Shed):
    def names(self, path):
        answer = self.client.get(f"/api/{path}").json()
        rows = answer["lanes"] if isinstance(answer, dict) else answer
        return {row.get("lane", row)["spool"]["name"] for row in rows}

    def archive(self, spool):
        return self.post(f"spools/{spool.id}/archive/")

    def test_an_archived_spool_is_off_rack_lists_and_storage_and_comes_back_by_undo(self):
        answer = self.archive(self.tyres)
        self.assertEqual(answer.status_code, 200)
        for path in ("rack/?span=week", "lanes/"):
            self.assertNotIn("Roller tyres", self.names(path), path)
        listed = self.client.get("/api/archived-spools/").json()
        self.assertEqual([spool["name"] for spool in listed], ["Roller tyres"])
        self.assertEqual(self.client.get(f"/api/spools/{self.tyres.id}/page/").status_code, 200)
        self.assertEqual(self.post(f"history/{answer.json()['undo']}/undo/").status_code, 200)
        self.assertIn("Roller tyres", self.names("lanes/"))

    def test_the_others_in_its_container_are_known_as_before(self):
        inside = {
            row["place"]["name"]: {c["lane"]["spool"]["name"] for c in row["contents"]}
            for row in self.client.get("/api/storage/").json()
        }
        name, spools = next((place, spools) for place, spools in inside.items() if len(spools) > 1)
        gone, *left = sorted(spools)
        lanes = {lane["spool"]["name"]: lane for lane in self.client.get("/api/lanes/").json()}
        self.archive(type(self.tyres).objects.get(name=gone))
        held = next(row for row in self.client.get("/api/storage/").json() if row["place"]["name"] == name)
        self.assertEqual({c["lane"]["spool"]["name"] for c in held["contents"]}, set(left))
        after = {lane["spool"]["name"]: lane for lane in self.client.get("/api/lanes/").json()}
        for spool in left:
            before = lanes[spool]["moisture"]["value"]
            self.assertAlmostEqual(after[spool]["moisture"]["value"], before, delta=1e-3 * before)

    def test_what_is_drying_stays_and_nothing_is_archived_or_restored_twice(self):
        self.started(self.tyres, self.stacker, 55, "752")
        self.assert_refused(self.archive(self.tyres), "in_dryer", None, "End its run first", 409)
        self.archive(self.gauge)
        self.assert_refused(self.archive(self.gauge), "already_archived", None, "off the rack already", 409)
        self.assertEqual(self.client.delete(f"/api/spools/{self.gauge.id}/archive/").status_code, 200)
        again = self.client.delete(f"/api/spools/{self.gauge.id}/archive/")
        self.assert_refused(again, "not_archived", None, "is on the rack", 409)
