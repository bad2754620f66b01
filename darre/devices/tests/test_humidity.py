"""A logger's humidity: checked over a salt or beside another, taken off in what is read, and how it says no."""

from datetime import timedelta

from django.utils import timezone

from darre.devices.actions.ingest import room_readings
from darre.devices.models import Device, DeviceKind, Sample
from darre.devices.selectors import air_series
from darre.places.models import Room
from darre.runs.tests.test_run_path import Shed


class Checked(Shed):
    def setUp(self):
        super().setUp()
        self.cheap, self.good = self.logger("Jar logger"), self.logger("Trusted logger")
        self.now = timezone.now()

    def logger(self, name, **more):
        return Device.objects.create(name=name, kind=DeviceKind.LOGGER, token_hash=name, **more)

    def hear(self, device, rh_pct, hours=8.0, temp_c=25.0):
        """Readings every quarter of an hour until now."""
        for back in range(int(4 * hours)):
            ms = round((self.now - timedelta(minutes=15 * back)).timestamp() * 1000)
            Sample.objects.create(device=device, own_ms=ms, at_ms=ms, temp_c=temp_c, rh_pct=rh_pct)

    def check(self, device=None, **asked):
        return self.client.get(f"/api/devices/{(device or self.cheap).pk}/humidity/", asked)

    def put(self, offset):
        return self.client.put(
            f"/api/devices/{self.cheap.pk}/humidity/", {"offset_pct": offset}, content_type="application/json"
        )

    def test_over_table_salt_it_says_by_how_much_it_is_off(self):
        self.hear(self.cheap, 79.8)
        found = self.check(salt="sodium_chloride").json()
        self.assertAlmostEqual(found["true_pct"], 75.29, delta=0.02)  # Greenspan 1977, table 2
        self.assertAlmostEqual(found["offset_pct"]["value"], 79.8 - 75.29, delta=0.02)
        self.assertTrue(found["settled"])
        self.assertTrue(found["tells"])

    def test_beside_another_its_readings_count_as_they_were_put_right(self):
        self.hear(self.cheap, 55.0)
        self.hear(self.good, 51.0)
        self.good.rh_offset_pct = 2.0
        self.good.save()
        found = self.check(beside=self.good.pk).json()
        self.assertAlmostEqual(found["offset_pct"]["value"], 6.0, places=6)

    def test_what_is_taken_off_counts_in_all_that_is_read_and_is_undone(self):
        self.hear(self.cheap, 2.0, hours=2.0)
        begin, end = (round(at.timestamp() * 1000) for at in (self.now - timedelta(hours=3), self.now))

        def read():
            return air_series(Device.objects.get(pk=self.cheap.pk), begin, end).rh_pct

        self.assertEqual(set(read()), {2.0})
        undo = self.put("-4,5").json()["undo"]
        self.assertEqual(set(read()), {6.5})
        self.assertEqual(self.post(f"history/{undo}/undo/").status_code, 200)
        self.assertEqual(set(read()), {2.0})
        self.assertEqual(self.put("4.5").status_code, 200)
        self.assertEqual(set(read()), {0.0})  # no air is drier than dry
        self.assertEqual(Sample.objects.filter(device=self.cheap).first().rh_pct, 2.0)  # as it was sent
        self.assertEqual(self.client.get("/api/devices/").json()[-2]["rh_offset_pct"], 4.5)

    def test_the_rooms_air_is_stored_put_right(self):
        self.assertIsNotNone(Room.objects.first())
        self.cheap.rh_offset_pct = 3.0
        sample = Sample(device=self.cheap, own_ms=0, at_ms=0, temp_c=21.0, rh_pct=50.0)
        [stored] = room_readings(self.cheap, [sample])
        self.assertEqual((stored.temp_c, stored.rh_pct), (21.0, 47.0))

    def test_refusals_say_what_is_missing(self):
        scale = Device.objects.create(name="Sending scale", kind=DeviceKind.SCALE, token_hash="s")
        typed = self.logger("Typed", by_hand=True, dryer=self.stacker)
        self.hear(self.good, 50.0, temp_c=62.0)
        for device, asked, says in (
            (self.cheap, {"salt": "sodium_chloride"}, "has sent no humidity in the last day"),
            (scale, {"salt": "sodium_chloride"}, "measures no humidity"),
            (typed, {"salt": "sodium_chloride"}, "measures no humidity"),
            (self.good, {}, "the salt it was over, or the logger it lay beside"),
            (self.good, {"beside": self.good.pk}, "the salt it was over"),
            (self.good, {"beside": self.cheap.pk}, "has sent no humidity"),
            (self.good, {"salt": "sugar"}, "salt"),
            (self.good, {"salt": "sodium_chloride"}, "0 to 30 °C"),
        ):
            answer = self.check(device, **asked)
            self.assertIn(answer.status_code, (400, 409), (asked, answer.content[:200]))
            self.assertIn(says, answer.content.decode(), asked)
        self.assertEqual(self.put("70").status_code, 400)
