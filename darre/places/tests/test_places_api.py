"""Spools, places, desiccant and room air over the API: a bad value is named by its field, an act can be taken back."""

from datetime import timedelta
from unittest import mock

from django.utils import timezone

from darre.common.test_runner import forget
from darre.history.models import HistoryEntry
from darre.inventory.models import EmptySpool, MoistureReading, Spool
from darre.moisture.apps import simulator
from darre.moisture.lanes import lane_of
from darre.places.models import DesiccantFill, Place, RoomMonth, RoomReading
from darre.places.room_air import hour_of, hours_of_room
from darre.runs.tests.test_run_path import Shed
from drying.cache import Cache
from drying.moisture import history
from drying.moisture.block import BlockSimulation

block_run = BlockSimulation.run


class Writing(Shed):
    def setUp(self):
        self.bag = Place.objects.get(name="Bag 4")
        self.empty_spool = EmptySpool.objects.first()

    def put(self, path, **body):
        return self.client.put(f"/api/{path}", body, content_type="application/json")

    def spool(self, **other):
        shelf = Place.objects.get(name="Shelf").id
        return {
            "name": "Hatch stock",
            "material": "petg",
            "empty_spool": self.empty_spool.id,
            "tare_g": "212,5",
            "tare_method": "twin",
            "place": shelf,
            **other,
        }

    def test_each_bad_value_is_named_by_its_field_and_stores_nothing(self):
        lines, ahead = HistoryEntry.objects.count(), (timezone.now() + timedelta(days=2)).isoformat()
        gauge, bag = f"spools/{self.gauge.id}", f"places/{self.bag.id}"
        fill = f"fills/{self.bag.fills.first().id}/weighings/"
        for path, body, field, says in (
            ("spools/", self.spool(name="Rain gauge"), "name", "already a spool named Rain gauge"),
            ("spools/", self.spool(material="cheese"), "material", "no material 'cheese'"),
            ("spools/", self.spool(tare_g="light"), "tare_g", "“light” is not a number"),
            ("spools/", self.spool(tare_method="guess"), "tare_method", "guess"),
            ("spools/", self.spool(empty_spool=99), "empty_spool", "99"),
            ("spools/", self.spool(moisture_pct=80), "moisture_pct", "at most 50 %"),
            ("spools/", self.spool(strand_diameter_mm=9), "strand_diameter_mm", "at most 5 mm"),
            ("spools/", self.spool(at=ahead), "at", "Give the time it was put there"),
            (f"{gauge}/moisture/", {"moisture_pct": -1, "plus_minus_pct": 0.1}, "moisture_pct", "at least 0"),
            (f"{gauge}/moisture/", {"moisture_pct": 1}, "plus_minus_pct", "required"),
            (f"{gauge}/moisture/", {"moisture_pct": 1, "plus_minus_pct": 1, "at": ahead}, "at", "not come yet"),
            (f"{gauge}/uses/", {"mass_g": 0}, "mass_g", "more than 0"),
            (f"{gauge}/uses/", {"mass_g": 5, "at": ahead}, "at", "not come yet"),
            ("stays/", {"spools": [], "place": self.bag.id}, "spools", "empty"),
            ("stays/", {"spools": [self.gauge.id], "place": 99}, "place", "99"),
            ("stays/", {"spools": [self.gauge.id], "place": self.bag.id, "at": ahead}, "at", "not come yet"),
            ("places/", {"name": "Bag 4", "kind": "zip_bag"}, "name", "already a place named Bag 4"),
            ("places/", {"name": "Loft", "kind": "drawer"}, "kind", "drawer"),
            ("places/", {"name": "Loft", "kind": "dry_box", "ingress_m3_day": -1}, "ingress_m3_day", "at least 0"),
            ("places/", {"name": "Loft", "kind": "warm_box", "warm_c": 90}, "warm_c", "at most 80"),
            (f"{bag}/fills/", {"kind": "silica_gel"}, "dry_g", "how much desiccant"),
            (f"{bag}/fills/", {"kind": "salt", "dry_g": 50}, "kind", "salt"),
            (f"{bag}/fills/", {"kind": "clay", "dry_g": 50, "load_pct": 120}, "load_pct", "at most 100"),
            (fill, {"mass_g": 0}, "mass_g", "more than 0"),
            (fill, {"mass_g": 60, "at": self.ago(days=300)}, "at", "put in later"),
            ("room/readings/", {"temp_c": 20, "rh_pct": 101}, "rh_pct", "at most 100 %"),
            ("room/readings/", {"temp_c": "warm", "rh_pct": 50}, "temp_c", "“warm” is not a number"),
            ("room/readings/", {"temp_c": 20, "rh_pct": 50, "at": ahead}, "at", "not come yet"),
            ("scales/", {"name": "Bench scale", "max_g": 100, "resolution_g": 1}, "name", "already a scale"),
            ("scales/", {"name": "New", "max_g": 100, "resolution_g": 0}, "resolution_g", "more than 0"),
        ):
            answer = self.post(path, **body)
            told = answer.json()
            self.assertIn(answer.status_code, (400, 409), (path, body, told))
            self.assertEqual(told["field"], field, (path, body, told))
            self.assertIn(says, told["message"], (path, body))
        self.assertEqual(HistoryEntry.objects.count(), lines)

    def test_every_act_is_taken_back_by_its_line(self):
        def picture():
            models = (Spool, Place, DesiccantFill, RoomReading, RoomMonth)
            return [list(model.objects.order_by("pk").values()) for model in models]

        gauge = self.client.get(f"/api/spools/{self.gauge.id}/page/").json()["traced"]["lane"]["spool"]
        summary = {
            "material": gauge["material"],
            "empty_spool": self.empty_spool.id,
            "tare_g": 220,
            "tare_method": "measured",
        }
        place = {"name": "Bag four", "kind": "vacuum_bag", "air_l": "0,5"}
        months = [{"month": m, "temp_c": 12, "rh_pct": 80} for m in (1, 2, 12)]
        for act in (
            lambda: self.post("spools/", **self.spool()),
            lambda: self.put(f"spools/{self.gauge.id}/", name="Gauge", **summary),
            lambda: self.post(f"spools/{self.gauge.id}/uses/", mass_g=12, plus_minus_g=1),
            lambda: self.post("places/", name="Loft", kind="dry_box"),
            lambda: self.put(f"places/{self.bag.id}/", **place),
            lambda: self.post(f"places/{self.bag.id}/fills/", kind="", dry_g=0),
            lambda: self.post("room/readings/", temp_c=11, rh_pct=70),
            lambda: self.put("room/months/", months=months),
            lambda: self.post("scales/", name="New", max_g=200, resolution_g="0,01"),
        ):
            before = picture()
            done = act()
            self.assertIn(done.status_code, (200, 201), done.content)
            self.assertEqual(self.client.post(f"/api/history/{done.json()['undo']}/undo/").status_code, 200)
            self.assertEqual(picture(), before)

    def test_a_move_that_is_told_late_says_that_a_later_one_stands(self):
        dry = Place.objects.get(name="Dry bin").id
        now, late = ({"spools": [self.gauge.id], "place": self.bag.id}, {"spools": [self.gauge.id], "place": dry})
        self.assertEqual(self.post("stays/", **now).json()["moved_on"], [])
        told = self.post("stays/", **late, at=self.ago(hours=2)).json()
        self.assertEqual(told["moved_on"], [self.gauge.name])
        self.assertEqual(self.gauge.stays.get(until=None).place, self.bag)

    def test_a_changed_tare_leaves_what_was_weighed_as_it_was(self):
        before = lane_of(self.gauge.id, timezone.now())
        summary = {"material": "petg", "empty_spool": self.gauge.empty_spool_id, "tare_method": "measured"}
        self.put(f"spools/{self.gauge.id}/", name="Rain gauge", tare_g=230, **summary)
        after = lane_of(self.gauge.id, timezone.now())
        self.assertEqual((after.net_g, after.spool.tare_g), (before.net_g, 230))
        self.assertAlmostEqual(after.moisture.value, before.moisture.value, delta=1e-6)

    def test_what_a_scale_repeats_within_is_half_a_step_until_it_is_known(self):
        added = self.post("scales/", name="New", max_g=200, resolution_g=0.02).json()["scale"]
        self.assertEqual(added["repeatability_g"], 0.01)
        self.assertEqual(self.client.delete(f"/api/scales/{added['id']}/").status_code, 200)
        self.assert_refused(self.client.delete(f"/api/scales/{self.bench.id}/"), "in_use", None, "were weighed on")

    def test_the_rooms_year_fills_what_no_one_measured(self):
        now = timezone.now()
        long_ago = now - timedelta(days=400)
        months = [{"month": m, "temp_c": 8, "rh_pct": 85} for m in range(1, 13)]
        self.put("room/months/", months=months)
        hours = hours_of_room(hour_of(long_ago), hour_of(now), now)
        self.assertEqual((hours.temp_c[0], hours.activity[0], bool(hours.measured[0])), (8, 0.85, False))
        self.assertTrue(hours.measured[-5])
        self.post("room/readings/", temp_c=15, rh_pct=50, at=long_ago.isoformat())
        again = hours_of_room(hour_of(long_ago), hour_of(now), now)
        self.assertEqual((again.temp_c[1], bool(again.measured[1])), (15, True))

    def test_a_place_with_desiccant_goes_only_where_nothing_ever_stood(self):
        self.assert_refused(self.client.delete(f"/api/places/{self.bag.id}/"), "in_use", None, "stood in Bag 4")
        loft = self.post("places/", name="Loft", kind="gasket_bin").json()["place"]["id"]
        self.post(f"places/{loft}/fills/", kind="clay", dry_g=100)
        self.post(f"fills/{DesiccantFill.objects.get(place=loft).id}/weighings/", mass_g=104)
        undo = self.client.delete(f"/api/places/{loft}/").json()["undo"]
        self.assertFalse(Place.objects.filter(pk=loft).exists())
        self.client.post(f"/api/history/{undo}/undo/")
        self.assertEqual(DesiccantFill.objects.get(place=loft).weighings.count(), 1)


class MistypedYears(Writing):
    OLD = "2006-03-05T10:00:00+00:00"

    def acts(self):
        gauge, bag = f"spools/{self.gauge.id}", f"places/{self.bag.id}"
        yield "spools/", self.spool(at=self.OLD), "at"
        yield f"{gauge}/moisture/", {"moisture_pct": 0.1, "plus_minus_pct": 0.1, "at": self.OLD}, "at"
        yield f"{gauge}/uses/", {"mass_g": 5, "at": self.OLD}, "at"
        yield "stays/", {"spools": [self.gauge.id], "place": self.bag.id, "at": self.OLD}, "at"
        yield "weighings/", {"spool": self.gauge.id, **self.reading("800,3"), "at": self.OLD}, "at"
        yield "room/readings/", {"temp_c": 20, "rh_pct": 50, "at": self.OLD}, "at"
        yield f"{bag}/fills/", {"kind": "silica_gel", "dry_g": 50, "at": self.OLD}, "at"
        yield f"fills/{self.bag.fills.last().id}/weighings/", {"mass_g": 50, "plus_minus_g": 1, "at": self.OLD}, "at"

    def test_a_year_that_is_a_slip_is_named_with_the_way_out_wherever_a_time_is_typed(self):
        lines = HistoryEntry.objects.count()
        for path, body, field in self.acts():
            with self.subTest(path):
                self.assert_refused(self.post(path, **body), "too_long_ago", field, "more than 5 years ago", 400)
        self.assertEqual(HistoryEntry.objects.count(), lines)

    def test_older_times_are_let_in_on_purpose(self):
        self.assertEqual(self.put("preferences/", years_back=30).status_code, 200)
        noted = {"moisture_pct": 0.1, "plus_minus_pct": 0.1, "at": self.OLD}
        self.assertEqual(self.post(f"spools/{self.gauge.id}/moisture/", **noted).status_code, 201)

    def test_a_fact_older_than_what_a_spool_remembers_adds_no_blocks_to_what_is_computed(self):
        counted = {}
        for years in (1, 3, 5):
            forget()
            with mock.patch.object(history.BlockSimulation, "run", autospec=True, side_effect=block_run) as ran:
                simulator()._blocks = Cache(10_000)
                simulator()._recent.clear()
                at = timezone.now() - timedelta(days=365 * years - 2)
                MoistureReading.objects.create(
                    spool=self.gauge, at=at, moisture_pct=0.1, sd_pct=0.02, basis=MoistureReading.Basis.TYPED
                )
                lane_of(self.gauge.id, timezone.now())
                counted[years] = ran.call_count
        self.assertGreater(counted[3], counted[1])
        self.assertEqual(counted[5], counted[3])
