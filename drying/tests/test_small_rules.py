"""Coils, pauses, segments as text, the memo, JSON in and out of the command line, and where a new spool begins."""

import itertools
import math
import threading
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from drying.air.psychrometrics import RoomAir
from drying.cache import Cache
from drying.cli.json_input import answers, number, part
from drying.cli.segments import parse_segments
from drying.dryers.dryer import Dryer
from drying.errors import DryingError
from drying.materials.properties import all_materials, material
from drying.materials.sorption import equilibrium_moisture_pct
from drying.materials.thresholds import Standing, new_spool_moisture, standing
from drying.runs.interruptions import end_with_pauses_h, heated_h, segments_with_pauses, tidy
from drying.weighing.coil import coil_mass_g

ROOM = RoomAir(18.0, 65.0)
hours = st.floats(0, 60)
spans = st.lists(st.tuples(hours, hours).map(lambda pair: (min(pair), max(pair))), max_size=5)


class Coils(TestCase):
    def test_a_length_weighs_what_its_cylinder_does(self):
        # 10 m of 1.75 mm PETG at 1270 kg/m³: 10 · π/4 · 0.00175² m³
        self.assertAlmostEqual(coil_mass_g(material("petg"), 1.75, 10.0).value, 30.547, places=3)

    @given(st.sampled_from(list(all_materials())), st.floats(1, 3), st.floats(0.05, 500))
    def test_mass_goes_with_the_length_and_the_square_of_the_diameter(self, name, diameter, length):
        one, it = coil_mass_g(material(name), diameter, length), material(name)
        self.assertAlmostEqual(coil_mass_g(it, diameter, 2 * length).value, 2 * one.value, delta=1e-9 * one.value)
        self.assertAlmostEqual(coil_mass_g(it, diameter / 2, length).value, one.value / 4, delta=1e-9 * one.value)
        self.assertAlmostEqual(one.uncertainty / one.value, 2 * 0.03 / diameter)

    def test_a_length_that_no_coil_has_is_refused(self):
        for length in (0.0, -1.0, 6000.0, math.nan):
            with self.assertRaises(DryingError):
                coil_mass_g(material("petg"), 1.75, length)


class Pauses(TestCase):
    @given(spans)
    def test_they_are_put_in_order_joined_and_lose_no_minute(self, raw):
        found = tidy(raw)
        self.assertTrue(all(a < b for a, b in found))
        self.assertTrue(all(one[1] < other[0] for one, other in itertools.pairwise(found)))
        for at in (0.1, 7.3, 22.9, 59.9):
            self.assertEqual(any(a < at < b for a, b in raw), any(a < at < b for a, b in found), at)

    @given(spans, st.floats(0.1, 80))
    def test_heat_and_pauses_make_up_the_time_and_the_end_is_put_off_by_what_was_lost(self, raw, until):
        off = sum(min(b, until) - min(a, until) for a, b in tidy(raw))
        self.assertAlmostEqual(heated_h(raw, until) + off, until)
        end = end_with_pauses_h(raw, until)
        self.assertGreaterEqual(end, until)
        self.assertAlmostEqual(heated_h(raw, end), until, places=6)

    @given(spans, st.floats(0.5, 70))
    def test_the_segments_last_as_long_as_the_run_and_are_warm_only_while_the_heat_is_on(self, raw, until):
        dryer = Dryer(35.0, 65.0, vent_m3_h=0.1, warm_up_h=0.4, swing_c=0.0, hot_side_excess_c=0.0)
        found = segments_with_pauses(dryer, material("petg"), ROOM, 60.0, until, raw)
        self.assertAlmostEqual(sum(s.duration_h for s in found), until, places=6)
        cold = sum(s.duration_h for s in found if s.temp_c == ROOM.temp_c)
        self.assertAlmostEqual(cold, until - heated_h(raw, until), places=6)

    def test_one_that_ends_before_it_begins_is_refused(self):
        with self.assertRaises(DryingError):
            tidy([(3.0, 2.0)])


class SegmentText(TestCase):
    def test_segments_are_read_as_they_are_written(self):
        found = parse_segments("48h@45C in 21C/60% vent 0.05; 2.5 h @ 20 C in 18 C / 70 % vent free")
        self.assertEqual([(s.duration_h, s.temp_c, s.vent_m3_h) for s in found], [(48, 45, 0.05), (2.5, 20, None)])
        self.assertEqual([s.room for s in found], [RoomAir(21, 60), RoomAir(18, 70)])

    def test_what_is_none_is_quoted(self):
        for text, quoted in (
            ("", "no segments"), ("48h", "“48h”"), ("48h@45C in 21C/60%", "“48h@45C in 21C/60%”"),
            ("2h@45C in 21C/60% vent free; soon", "“soon”"), ("2h@45C in 21C/600% vent free", "600"),
        ):  # fmt: skip
            with self.assertRaisesRegex(DryingError, quoted):
                parse_segments(text)


class Memos(TestCase):
    def test_a_result_is_made_once_and_the_one_not_asked_for_longest_goes_first(self):
        made, memo = [], Cache[int](2)

        def ask(key):
            return memo.get(key, lambda: made.append(key) or len(made))

        self.assertEqual([ask("a"), ask("b"), ask("a"), ask("c"), ask("a")], [1, 2, 1, 3, 1])
        self.assertIsNone(memo.peek("b"))
        self.assertEqual((ask("b"), made), (4, ["a", "b", "c", "b"]))

    def test_many_threads_may_ask_at_once(self):
        memo, wrong = Cache[int](8), []

        def ask(start):
            span = range(start, start + 400)
            wrong.extend(n for n in span if memo.get(n % 20, lambda n=n: n % 20) != n % 20)

        threads = [threading.Thread(target=ask, args=(k,)) for k in range(6)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(wrong, [])


class JsonText(TestCase):
    def test_one_bad_entry_leaves_the_others_be_and_is_named_by_its_place(self):
        def double(it):
            return {"twice": 2 * number(it, "x")}

        self.assertEqual(answers('{"x": 2}', double, "case"), ({"twice": 4.0}, []))
        found, complaints = answers('[{"x": 1}, {"y": 1}, {"x": "1"}, {"x": true}, 5, {"x": 3}]', double, "case")
        self.assertEqual([it and it["twice"] for it in found], [2.0, None, None, None, None, 6.0])
        self.assertEqual([c.split(":")[0] for c in complaints], ["case 2", "case 3", "case 4", "case 5"])
        self.assertEqual(part({"a": None}, "a"), None)
        with self.assertRaisesRegex(DryingError, "not JSON"):
            answers("{x", double, "case")


class NewSpools(TestCase):
    def test_fresh_strand_is_believed_to_hold_what_half_humid_air_gives_it_give_or_take(self):
        for it in all_materials().values():
            fresh = new_spool_moisture(it)
            low, high = (equilibrium_moisture_pct(it, a) for a in (0.3, 0.7))
            self.assertAlmostEqual(fresh.value, equilibrium_moisture_pct(it, 0.5))
            self.assertTrue(low < fresh.value < high)
            self.assertLess(abs(fresh.uncertainty - (high - low) / 2), 0.15 * fresh.uncertainty + 1e-9, it.id)

    def test_the_marks_themselves_count_as_below(self):
        petg = material("petg")
        for moisture, want in (
            (0.0, Standing.CLEAN), (petg.clean.value, Standing.CLEAN), (petg.clean.value + 1e-9, Standing.BETWEEN),
            (petg.trouble.value, Standing.BETWEEN), (petg.trouble.value + 1e-9, Standing.TROUBLE),
        ):  # fmt: skip
            self.assertIs(standing(petg, moisture), want)
        self.assertIs(standing(material("pp"), 0.5), Standing.NO_MATTER)
