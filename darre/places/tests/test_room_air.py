"""The room's air by the hour: a correction is seen at once, whatever was computed before."""

from datetime import UTC, datetime, timedelta

from django.test import TestCase

from darre.history.recorder import undo
from darre.places.actions.room import add_room, note_room_air, record_room_air, set_months
from darre.places.models import RoomReading
from darre.places.room_air import hour_of, hours_of_room
from drying.air import RoomAir

START = datetime(2026, 5, 4, 6, tzinfo=UTC)
NOW = START + timedelta(hours=12)


class RoomAirByTheHour(TestCase):
    def setUp(self):
        self.room = add_room("the shed").record
        readings = [(START + timedelta(hours=n), RoomAir(15.0 + n, 60.0)) for n in range(12)]
        record_room_air(self.room, readings)

    def temps(self):
        return hours_of_room(hour_of(START), hour_of(NOW), NOW).temp_c.tolist()

    def test_each_hour_has_the_reading_in_force_when_it_begins(self):
        self.assertEqual(self.temps(), [15.0 + n for n in range(12)])

    def test_correcting_a_reading_in_place_changes_the_air(self):
        before = self.temps()
        note_room_air(START + timedelta(hours=3), RoomAir(30.0, 60.0))
        self.assertEqual(RoomReading.objects.count(), 12)
        after = self.temps()
        self.assertEqual((before[3], after[3]), (18.0, 30.0))

    def test_undoing_the_correction_brings_the_old_air_back(self):
        before = self.temps()
        undo(note_room_air(START + timedelta(hours=3), RoomAir(30.0, 60.0)).undo)
        self.assertEqual(self.temps(), before)

    def test_two_corrections_that_cancel_out_in_the_sum_are_both_seen(self):
        self.temps()
        note_room_air(START + timedelta(hours=2), RoomAir(27.0, 60.0))
        note_room_air(START + timedelta(hours=8), RoomAir(13.0, 60.0))
        after = self.temps()
        self.assertEqual((after[2], after[8]), (27.0, 13.0))

    def test_a_reading_of_the_future_does_not_count_yet(self):
        ahead = NOW + timedelta(hours=2)
        RoomReading.objects.create(room=self.room, at=ahead, temp_c=40.0, rh_pct=10.0)
        self.assertNotIn(40.0, self.temps())

    def test_a_described_year_fills_only_what_was_not_measured(self):
        set_months({4: RoomAir(9.0, 80.0), 5: RoomAir(9.0, 80.0)})
        long_ago = START - timedelta(days=20)
        found = hours_of_room(hour_of(long_ago), hour_of(NOW), NOW)
        self.assertAlmostEqual(float(found.temp_c[0]), 9.0)
        self.assertFalse(bool(found.measured[0]))
        self.assertTrue(bool(found.measured[-1]))
        self.assertEqual(found.temp_c[-12:].tolist(), self.temps())

    def test_an_empty_room_is_assumed_and_says_so(self):
        RoomReading.objects.all().delete()
        found = hours_of_room(hour_of(START), hour_of(NOW), NOW)
        self.assertFalse(found.measured.any())
        self.assertEqual(set(found.temp_c.tolist()), {20.0})
