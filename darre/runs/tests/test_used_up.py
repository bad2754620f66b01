"""Spools that are used up leave the rack, keep their records, and tell what others of their make weigh empty."""

import math

from darre.inventory.models import EmptySpool, Spool
from darre.runs.models import Run, Weighing
from darre.runs.tests.test_run_path import Shed


class UsedUp(Shed):
    def names(self, path):
        answer = self.client.get(f"/api/{path}").json()
        rows = answer["lanes"] if isinstance(answer, dict) else answer
        return {row.get("lane", row)["spool"]["name"] for row in rows}

    def archive(self, spool, **body):
        return self.post(f"spools/{spool.id}/archive/", **body)

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


class EmptyTwins(UsedUp):
    """Three spools of one make, of which nothing is known but what it held when it was new."""

    def setUp(self):
        self.make = EmptySpool.objects.create(name="Grey hub", kind="polystyrene")
        self.first, self.second, self.third = (self.spool(f"Hatch {n}") for n in (1, 2, 3))

    def spool(self, name, **other):
        body = {"name": name, "material": "petg", "empty_spool": self.make.id, "tare_method": "unknown",
                "nominal_g": 1000, "place": self.gauge.stays.first().place_id, **other}  # fmt: skip
        return Spool.objects.get(pk=self.post("spools/", **body).json()["id"])

    def weigh(self, spool, gross_g):
        answer = self.post("weighings/", spool=spool.id, **self.reading(gross_g))
        return Weighing.objects.get(pk=answer.json()["weighing"]["id"])

    def tare(self, spool):
        spool.refresh_from_db()
        return spool.tare_g, spool.tare_sd_g, spool.tare_method

    def test_one_that_was_weighed_empty_tells_its_brothers_and_what_they_weighed_before(self):
        self.assertEqual(self.tare(self.second)[2], "unknown")
        weighing = self.weigh(self.second, 900)
        run = self.started(self.third, self.stacker, 55, "1000")
        net_before = Run.objects.get(pk=run["id"]).net_g
        before = self.tare(self.second), self.tare(self.third)
        answer = self.archive(self.first, empty_g="181,5")
        self.assertEqual(answer.json()["corrected"], ["Hatch 2", "Hatch 3"])
        self.assertEqual(self.tare(self.first), (181.5, 0.5, "measured"))
        for brother in (self.second, self.third):
            self.assertEqual(self.tare(brother), (181.5, 3.0, "twin"))
        weighing.refresh_from_db()
        self.assertEqual((weighing.gross_g, weighing.tare_g), (900.0, 181.5))
        self.assertAlmostEqual(Run.objects.get(pk=run["id"]).net_g, net_before + before[1][0] - 181.5)
        self.assertEqual(self.post(f"history/{answer.json()['undo']}/undo/").status_code, 200)
        self.assertEqual((self.tare(self.second), self.tare(self.third)), before)
        weighing.refresh_from_db()
        self.assertEqual(weighing.tare_g, before[0][0])

    def test_a_second_one_weighed_empty_is_averaged_and_makes_the_rest_surer(self):
        self.archive(self.first, empty_g=180)
        self.archive(self.second, empty_g=184)
        mass, spread, method = self.tare(self.third)
        self.assertEqual((mass, method), (182.0, "twin"))
        # Two of one make differ by 3 g: one of them from the mean of two by 3 g x sqrt(3) / 2.
        self.assertAlmostEqual(spread, 3.0 * math.sqrt(3.0) / 2.0)

    def test_a_new_spool_of_a_make_that_was_weighed_counts_from_it(self):
        self.archive(self.first, empty_g=180)
        self.assertEqual(self.tare(self.spool("Hatch 4")), (180.0, 3.0, "twin"))

    def test_what_is_known_better_and_other_makes_stay(self):
        measured = self.spool("Hatch 4", tare_method="measured", tare_g=178)
        self.archive(self.first, empty_g=182)
        self.assertEqual(self.tare(measured), (178.0, 0.5, "measured"))
        self.assertEqual(self.tare(self.second)[0], 180.0)  # the mean of both that were weighed
        gauge = self.tare(self.gauge)
        self.assertNotEqual(gauge[0], 182.0)

    def test_one_that_weighed_less_with_filament_is_of_another_make_and_stays(self):
        self.weigh(self.second, 230)
        before = self.tare(self.second)
        self.assertEqual(self.archive(self.first, empty_g=240).json()["corrected"], ["Hatch 3"])
        self.assertEqual(self.tare(self.second), before)

    def test_an_empty_spool_that_weighs_more_than_it_did_with_filament_is_refused_and_nothing_is_changed(self):
        self.weigh(self.first, 230)
        answer = self.archive(self.first, empty_g=240)
        self.assert_refused(
            answer, "more_than_with_filament", "empty_g", "more than Hatch 1 weighed with filament", 400
        )
        self.first.refresh_from_db()
        self.assertIsNone(self.first.archived_at)
