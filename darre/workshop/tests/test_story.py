"""From stays and room air to what a spool met, hour by hour."""

from datetime import UTC, datetime, timedelta
from types import SimpleNamespace

import numpy as np
from django.test import SimpleTestCase, TestCase
from hypothesis import given
from hypothesis import strategies as st

from darre.common.errors import Refusal
from darre.demo.load import load_demo_world
from darre.ledger.models import Line
from darre.workshop.actions.spools import NewSpool, add_spool, move_spool
from darre.workshop.models import Place, PlaceKind, Spool, SpoolBody, Stay
from darre.workshop.selectors import hours_between, met_by_spool
from drying.errors import UnknownMaterialError
from drying.humid_air import RoomAir
from drying.weighing import Tare, TareMethod

START = datetime(2026, 3, 28, 12, tzinfo=UTC)
hour_of_span = st.floats(0, 100)


def at(hours):
    return START + timedelta(hours=hours)


def stay(kind, since, until):
    return SimpleNamespace(place=SimpleNamespace(kind=kind), since=since, until=until)


class Hours(SimpleTestCase):
    @given(
        st.lists(hour_of_span, max_size=6),
        st.lists(st.tuples(hour_of_span, hour_of_span), max_size=3),
        st.integers(0, 100),
    )
    def test_each_hour_is_sealed_just_where_its_middle_lay_in_a_sealed_place(self, readings, shut, count):
        air = sorted([(at(-1), RoomAir(15, 50)), *((at(h), RoomAir(20, 60)) for h in readings)], key=lambda x: x[0])
        temps, activity = hours_between(air, START, at(count))
        self.assertEqual((temps.size, activity.size), (count, count))
        met = met_by_spool([stay(PlaceKind.SEALED, at(min(s)), at(max(s))) for s in shut], activity, START, at(count))
        want = [any(min(s) <= h + 0.5 < max(s) for s in shut) for h in range(count)]
        self.assertEqual(list(np.isnan(met)), want)

    def test_each_hour_has_the_air_that_was_in_force_when_it_began(self):
        air = [(at(0), RoomAir(12, 80)), (at(2.5), RoomAir(22, 55))]
        temps, activity = hours_between(air, START, at(5))
        self.assertEqual((list(temps), list(activity)), ([12, 12, 12, 22, 22], [0.8, 0.8, 0.8, 0.55, 0.55]))

    def test_a_place_still_stood_in_counts_up_to_now_and_nothing_counts_before_it_was_known(self):
        activity = np.full(4, 0.6)
        for kind, want in ((PlaceKind.SEALED, [True] * 4), (PlaceKind.OPEN, [True, True, False, False])):
            met = met_by_spool([stay(kind, at(-5), None)], activity, at(2), at(4))
            self.assertEqual(list(np.isnan(met)), want)


class Spools(TestCase):
    @classmethod
    def setUpTestData(cls):
        load_demo_world()

    def new(self, **other):
        return NewSpool(
            **{
                "name": "Bench spare", "material": "petg", "body": SpoolBody.objects.first(),
                "tare": Tare(200, 3, TareMethod.TWIN), "place": Place.objects.get(name="Shelf"), **other,
            }
        )  # fmt: skip

    def test_a_new_spool_starts_with_the_honest_prior_of_factory_strand(self):
        mark = add_spool(self.new()).marks.get()
        self.assertEqual((mark.basis, mark.moisture_pct, round(mark.sd_pct, 9)), ("new", 0.2, 0.08))

    def test_a_name_twice_and_an_unknown_material_are_refused_and_leave_no_line(self):
        lines = Line.objects.count()
        with self.assertRaisesRegex(Refusal, "already a spool named Rain gauge"):
            add_spool(self.new(name="Rain gauge"))
        with self.assertRaisesRegex(UnknownMaterialError, "no material 'cheese'"):
            add_spool(self.new(material="cheese"))
        self.assertEqual((Line.objects.count(), Spool.objects.filter(name="Bench spare").count()), (lines, 0))

    def test_a_move_ends_the_present_stay_and_cannot_come_before_it(self):
        gauge, shelf = Spool.objects.get(name="Rain gauge"), Place.objects.get(name="Shelf")
        before = Stay.objects.get(spool=gauge, until__isnull=True)
        with self.assertRaisesRegex(Refusal, "give a later time"):
            move_spool(gauge, shelf, before.since)
        now = move_spool(gauge, shelf)
        before.refresh_from_db()
        self.assertEqual((before.until, now.until), (now.since, None))
