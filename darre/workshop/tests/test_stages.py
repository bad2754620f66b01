"""From stays and room air to the stages that a spool went through."""

from datetime import UTC, datetime, timedelta
from types import SimpleNamespace

from django.test import SimpleTestCase, TestCase
from hypothesis import given
from hypothesis import strategies as st

from darre.common.errors import Refusal
from darre.demo.load import load_demo_world
from darre.ledger.models import Line
from darre.workshop.actions.spools import NewSpool, add_spool, move_spool
from darre.workshop.models import Place, PlaceKind, Spool, SpoolBody, Stay
from darre.workshop.selectors import stages_between
from drying.errors import UnknownMaterialError
from drying.humid_air import RoomAir
from drying.weighing import Tare, TareMethod

START = datetime(2026, 3, 28, 12, tzinfo=UTC)
hour_of_span = st.floats(0, 100)


def at(hours):
    return START + timedelta(hours=hours)


def stay(kind, since, until):
    return SimpleNamespace(place=SimpleNamespace(kind=kind), since=since, until=until)


class Stages(SimpleTestCase):
    @given(
        st.lists(hour_of_span, max_size=6), st.lists(st.tuples(hour_of_span, hour_of_span), max_size=3), hour_of_span
    )
    def test_stages_fill_the_span_and_are_sealed_just_as_long_as_the_places_were(self, readings, shut, end):
        air = sorted([(at(-1), RoomAir(15, 50)), *((at(h), RoomAir(20, 60)) for h in readings)], key=lambda x: x[0])
        stays = [stay(PlaceKind.SEALED, at(min(s)), at(max(s))) for s in shut]
        stages = stages_between(stays, air, START, at(end))
        self.assertAlmostEqual(sum(s.duration_h for s in stages), end, places=6)
        sealed = sum(s.duration_h for s in stages if s.activity is None)
        covered = [any(min(s) <= h < max(s) for s in shut) for h in (k / 50 for k in range(round(end * 50)))]
        self.assertAlmostEqual(sealed, sum(covered) / 50, delta=0.2)

    def test_each_stage_has_the_air_that_was_in_force_when_it_began(self):
        air = [(at(0), RoomAir(12, 80)), (at(5), RoomAir(22, 55))]
        stages = stages_between([stay(PlaceKind.SEALED, at(2), at(3))], air, START, at(8))
        got = [(round(s.duration_h, 9), s.temp_c, s.activity) for s in stages]
        self.assertEqual(got, [(2, 12, 0.8), (1, 12, None), (2, 12, 0.8), (3, 22, 0.55)])

    def test_a_place_that_is_open_ended_or_open_to_the_room_counts_up_to_now(self):
        air = [(at(0), RoomAir(20, 60))]
        for kind, activity in ((PlaceKind.SEALED, None), (PlaceKind.OPEN, 0.6)):
            stages = stages_between([stay(kind, at(-5), None)], air, START, at(4))
            self.assertEqual([(s.duration_h, s.activity) for s in stages], [(4, activity)])


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
