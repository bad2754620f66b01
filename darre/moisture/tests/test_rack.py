"""The rack over time, spool pages, keeping and the first run, over the API: what they tell, and what they cost."""

from datetime import timedelta
from unittest import mock

import numpy as np
from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from darre.demo.tests.fresh import load_demo_world
from darre.equipment.models import Scale
from darre.history.models import HistoryEntry
from darre.inventory.material_book import material_book
from darre.inventory.models import EmptySpool, Spool
from darre.inventory.records import core_load
from darre.moisture.lanes import lane_of
from darre.places.actions.arrivals import NewSpool, add_spool
from darre.places.actions.places import add_place, fill_place
from darre.places.actions.room import add_room, note_room_air
from darre.places.models import Place, Room, RoomReading, Stay
from darre.runs.models import Run, Weighing
from darre.runs.tests.test_run_path import Shed
from drying.air import RoomAir
from drying.quantity import Quantity
from drying.weighing.tare import Tare, TareMethod

FIRST_RUN = {
    "room_name": "the attic", "room_temp_c": "18,5", "room_rh_pct": 62, "spool_name": "Blue", "material": "petg",
    "empty_spool_kind": "polystyrene", "gross_g": 1210, "tare_g": 212, "tare_method": "twin", "dryer_name": "Warm box",
    "dryer_kind": "heated_box", "dryer_min_c": 40, "dryer_max_c": 65, "scale_name": "Kitchen scale",
    "scale_max_g": 5000, "scale_step_g": 1,
}  # fmt: skip


class Rack(Shed):
    def rack(self, span="weeks"):
        return self.client.get(f"/api/rack/?span={span}").json()

    def lane(self, name, span="weeks"):
        return next(row for row in self.rack(span)["lanes"] if row["lane"]["spool"]["name"] == name)

    def test_a_trace_comes_to_the_lanes_own_number_and_goes_on_where_it_stands(self):
        for span in ("day", "week", "weeks", "season"):
            rack = self.rack(span)
            self.assertLessEqual(rack["points"], 175)
            at = round((timezone.now().timestamp() - self.moment(rack["start"])) / 3600 / rack["step_h"])
            for row in rack["lanes"]:
                self.assertEqual((len(row["pct"]), len(row["sd"])), (rack["points"], rack["points"]))
                lane = row["lane"]
                near = [p for p in row["pct"][at - 1 : at + 2] if p is not None]
                # Between the points of a long span the room's day goes on: there a lane may stand a little beside them.
                spread = 0.05 * lane["trouble_pct"] * max(1.0, rack["step_h"] / 4) + (max(near) - min(near))
                self.assertLess(min(abs(p - lane["moisture"]["value"]) for p in near), spread, lane["spool"]["name"])
            self.assertEqual(len(rack["dew_point_c"]), rack["points"])
            self.assertTrue(rack["measured"][at - 2] and not rack["measured"][-1])

    def test_a_run_is_drawn_as_its_own_page_has_it_and_left_in_the_dryer_goes_on_as_its_lane(self):
        self.enterContext(mock.patch.object(timezone, "now", return_value=timezone.now()))
        run = self.started(at=self.ago(hours=3.3))["id"]
        self.post("weighings/", spool=self.gauge.id, **self.reading(799.6), at=self.ago(hours=1))
        sheet = self.client.get(f"/api/runs/{run}/").json()
        course = ([p["time_h"] for p in sheet["course"]], [p["mean"] for p in sheet["course"]])
        rack = self.rack("day")
        drawn = next(row["pct"] for row in rack["lanes"] if row["lane"]["spool"]["id"] == self.gauge.pk)
        since_h = (self.moment(rack["start"]) - self.moment(sheet["run"]["started_at"])) / 3600.0
        in_run = [(since_h + k, pct) for k, pct in enumerate(drawn) if 0.0 <= since_h + k <= sheet["end_h"]]
        self.assertGreaterEqual(len(in_run), 7)
        for at_h, pct in in_run:  # read between the points of its chart
            self.assertAlmostEqual(pct, np.interp(at_h, *course), delta=0.004, msg=at_h)
        page = self.client.get(f"/api/spools/{self.gauge.pk}/page/").json()
        outcomes = {line["name"]: line["pct"] for line in page["outcomes"]}
        held = round(page["traced"]["lane"]["moisture"]["value"], 3)
        self.assertEqual([pct[0] for pct in outcomes.values()], [held] * len(outcomes))
        self.assertAlmostEqual(outcomes["stay"][-1], np.interp(sheet["end_h"], *course), delta=0.004)
        self.assertLess(outcomes["stay"][-1], 0.7 * held)

    def test_a_run_that_has_just_begun_is_drawn_as_its_forecast_and_one_that_goes_on_never_rises(self):
        self.assertEqual(self.start().status_code, 201)
        now = timezone.now()
        for minutes in (0, 2, 20, 90):
            later = now + timedelta(minutes=minutes)
            with mock.patch.object(timezone, "now", return_value=later):
                rack = self.rack("day")
            row = next(row for row in rack["lanes"] if row["lane"]["spool"]["id"] == self.gauge.pk)
            at = round((later.timestamp() - self.moment(rack["start"])) / 3600 / rack["step_h"])
            ahead, held = row["pct"][at + 1 :], row["lane"]["moisture"]["value"]
            self.assertLess(max(ahead), 1.01 * held, minutes)
            self.assertLess(ahead[-1], 0.6 * held, minutes)  # five of its eight hours, and what comes after, are ahead

    def moment(self, text):
        return timezone.datetime.fromisoformat(text).timestamp()

    def test_a_move_bends_the_line_from_its_hour_on_and_only_that_line(self):
        # What is drying goes on as the clock does: here it stands still.
        self.enterContext(mock.patch.object(timezone, "now", return_value=timezone.now()))
        before = {row["lane"]["spool"]["name"]: row["pct"] for row in self.rack()["lanes"]}
        bag, week = Place.objects.get(name="Dry bin"), timezone.now() - timedelta(days=5)
        fill_place(bag, "sieve", 500, at=week)
        answer = self.post("stays/", spools=[self.tyres.id], place=bag.id, at=week.isoformat())
        self.assertEqual(answer.status_code, 201)
        after = {row["lane"]["spool"]["name"]: row["pct"] for row in self.rack()["lanes"]}
        changed = {name for name in before if before[name] != after[name]}
        self.assertEqual(changed, {"Roller tyres", "Rail support"})  # who was in that bin is in other company now
        self.assertLess(after["Roller tyres"][-1], 0.1)
        half = len(after["Roller tyres"]) // 2
        self.assertEqual(before["Roller tyres"][:half], after["Roller tyres"][:half])
        self.client.post(f"/api/history/{answer.json()['undo']}/undo/")
        self.assertEqual(
            before["Roller tyres"],
            {row["lane"]["spool"]["name"]: row["pct"] for row in self.rack()["lanes"]}["Roller tyres"],
        )

    def test_what_was_printed_leaves_less_strand_and_a_noted_moisture_begins_anew(self):
        left = lane_of(self.gauge.id, timezone.now()).net_g
        self.assertEqual(self.post(f"spools/{self.gauge.id}/uses/", mass_g="120,5").status_code, 201)
        self.assertAlmostEqual(lane_of(self.gauge.id, timezone.now()).net_g, left - 120.5)
        self.post(f"spools/{self.gauge.id}/moisture/", moisture_pct=0.04, plus_minus_pct=0.02)
        now = lane_of(self.gauge.id, timezone.now()).moisture
        self.assertAlmostEqual(now.value, 0.04, delta=0.01)

    def test_a_rack_of_any_size_takes_the_same_queries(self):
        # A minute that ends between two of them has the second worked out anew.
        self.enterContext(mock.patch.object(timezone, "now", return_value=timezone.now()))
        counts = []
        for more in range(2):
            body, place = EmptySpool.objects.first(), Place.objects.get(name="Shelf")
            for n in range(20 * more):
                tare = Tare(200, 3, TareMethod.TWIN)
                new = NewSpool(
                    name=f"Spare {n}",
                    material="pla",
                    empty_spool=body,
                    tare=tare,
                    place=place,
                    moisture=Quantity(0.2, 0.1),
                )
                add_spool(new, timezone.now() - timedelta(days=3))
            self.rack()
            with CaptureQueriesContext(
                connection,
            ) as seen:
                self.rack()
            counts.append(len(seen))
        self.assertEqual(counts[0], counts[1])
        self.assertLess(counts[0], 26)

    def test_a_page_tells_the_whole_story_and_the_next_two_weeks(self):
        page = self.client.get(f"/api/spools/{Run.objects.get(pk=1).spool_id}/page/").json()
        self.assertEqual({m["basis"] for m in page["moisture_readings"]}, {"typed", "run"})
        outcomes = {o["name"]: o["pct"] for o in page["outcomes"]}
        self.assertEqual(list(outcomes), ["stay", "out", "bag", "bin", "dry"])
        self.assertTrue(outcomes["dry"][-1] < outcomes["bin"][-1] < outcomes["bag"][-1] < outcomes["out"][-1])
        self.assertGreater(page["dries_h"], 20 * page["traced"]["heat"]["duration_h"] / 2)  # nylon: weeks against hours
        self.assertEqual(page["learned"][0]["dryer_name"], "Tall stacker")
        # The nylon shows its water already; of the dry ones a night adds what the line of the open says.
        self.assertIsNone(page["damp_night"])
        dry = self.client.get(f"/api/spools/{Spool.objects.get(name='Dome rail').pk}/page/").json()
        out = next(line["pct"] for line in dry["outcomes"] if line["name"] == "out")
        self.assertAlmostEqual(dry["damp_night"]["adds_pct"], out[2] - out[0], places=9)
        self.assertEqual(dry["damp_night"]["scale"], Scale.objects.get(name="Bench scale").pk)
        self.assertEqual(self.client.get("/api/spools/999/page/").status_code, 404)
        for spool in Spool.objects.values_list("id", flat=True):
            self.assertEqual(self.client.get(f"/api/spools/{spool}/page/").status_code, 200, spool)
        label = self.client.get("/api/spools/4/label/", headers={"host": "localhost"}).json()
        self.assertTrue(label["svg"].startswith("<svg") and "path" in label["svg"])

    def test_keeping_says_how_long_what_gets_in_and_how_to_dry_the_desiccant(self):
        holdings = {h["place"]["name"]: h for h in self.client.get("/api/storage/").json()}
        self.assertEqual(set(holdings), {"Bag 4", "Lidded bin B", "Dry bin"})
        spent = holdings["Dry bin"]
        self.assertTrue(spent["desiccant"]["spent"] and spent["fitted"]["value"] > spent["ingress"]["value"])
        guides = holdings["Bag 4"]["contents"][0]
        early = guides["clean"]["early_h"]
        self.assertTrue(24 < early < 18 * 24)
        self.assertTrue(holdings["Bag 4"]["desiccant"]["regeneration"]["too_cool"])
        fill_place(Place.objects.get(name="Bag 4"), "sieve", 300)
        fresh = {h["place"]["name"]: h for h in self.client.get("/api/storage/").json()}["Bag 4"]
        later = fresh["contents"][0]["clean"]["early_h"]
        self.assertTrue(later is None or later > early)
        open_ = self.post(f"places/{Place.objects.get(name='Shelf').id}/fills/", kind="clay", dry_g=50)
        self.assert_refused(open_, "open_place", None, "open to the room")
        self.assertEqual(len(fresh["at"]), len(fresh["rh_low"]))


class Begin(TestCase):
    def begin(self, **other):
        return self.client.post("/api/first-workshop/", {**FIRST_RUN, **other}, content_type="application/json")

    def test_an_empty_workshop_begins_at_once_and_leads_to_a_plan(self):
        begun = self.begin().json()
        plan = self.client.get(f"/api/plan/?spool={begun['spool']}&dryer={begun['dryer']}")
        self.assertEqual(plan.status_code, 200)
        self.assertEqual(plan.json()["lanes"][0]["net_g"], 998)
        self.assertEqual(self.begin().json()["code"], "already_begun")

    def test_without_a_meter_and_a_scale_it_begins_too_and_both_can_follow(self):
        nothing = {"room_temp_c": None, "room_rh_pct": None, "gross_g": None, "scale_name": ""}
        nothing |= {"scale_max_g": None, "scale_step_g": None}
        begun = self.begin(**nothing, tare_method="unknown", nominal_g=250).json()
        self.assertEqual((RoomReading.objects.count(), Scale.objects.count(), Weighing.objects.count()), (0, 0, 0))
        self.assertIsNone(self.client.get("/api/room/").json()["measured_at"])
        plan = self.client.get(f"/api/plan/?spool={begun['spool']}&dryer={begun['dryer']}")
        self.assertEqual(plan.status_code, 200)
        spool = Spool.objects.get()
        load = core_load(spool, material_book()[spool.material], Quantity(0.3, 0.1), None)
        self.assertAlmostEqual(load.assumed_net_g, 250.0)  # full, as its label says

    def test_a_scale_that_has_weighed_nothing_yet_is_kept(self):
        self.begin(gross_g=None)
        self.assertEqual((Scale.objects.count(), Weighing.objects.count()), (1, 0))

    def test_what_is_wrong_is_named_by_its_field_and_nothing_is_left_behind(self):
        wrongs = [("room_rh_pct", 130), ("gross_g", "a lot"), ("dryer_max_c", 30), ("gross_g", 100)]
        wrongs += [("room_rh_pct", None), ("room_temp_c", None), ("scale_name", "")]  # half a reading, weighed on none
        wrongs += [("scale_max_g", None), ("scale_step_g", None)]
        for field, wrong in wrongs:
            answer = self.begin(**{field: wrong})
            self.assertEqual((answer.status_code, answer.json()["field"]), (400, field))
        self.assertEqual(
            (Room.objects.count(), Spool.objects.count(), Stay.objects.count(), HistoryEntry.objects.count()),
            (0, 0, 0, 0),
        )


class Demo(TestCase):
    def test_the_demo_has_room_for_every_state_of_a_lane(self):
        load_demo_world(self)
        acts = {row["next"]["act"] for row in self.client.get("/api/rack/").json()["lanes"]}
        self.assertLessEqual({"dry", "drying", "ready"}, acts)


class FilledBefore(TestCase):
    def test_desiccant_that_was_put_in_before_anything_is_known_of_a_spool_keeps_it_dry(self):
        now = timezone.now()
        add_room("Shed")
        note_room_air(now - timedelta(days=30), RoomAir(20.0, 70.0))
        make = EmptySpool.objects.create(name="Grey ring", kind="polystyrene")
        ends = {}
        for name, grams in (("Dry bin", 500.0), ("Bare bin", 0.0)):
            bin_ = add_place(name, "gasket_bin", since=now - timedelta(days=30)).record
            fill_place(bin_, "silica_gel" if grams else "", grams, at=now - timedelta(days=20))
            tare = Tare(200.0, 3.0, TareMethod.TWIN)
            spool = add_spool(
                NewSpool(name, "pa6", make, tare, bin_, Quantity(0.5, 0.05)), now - timedelta(days=10)
            ).record
            ends[name] = lane_of(spool.pk, now).moisture.value
        self.assertLess(ends["Dry bin"], 0.9 * ends["Bare bin"])
