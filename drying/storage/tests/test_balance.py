"""Containers hour by hour: water is neither made nor lost, and everything comes to rest where physics says."""

from dataclasses import replace
from unittest import TestCase, mock

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from drying.air.psychrometrics import vapour_concentration_g_m3
from drying.errors import OutOfRangeError
from drying.materials import material
from drying.moisture.tests.test_history import DRY_G, kept
from drying.storage import balance, hourly
from drying.storage.balance import Hours, HourSteps, Inside, follow_hours
from drying.storage.container import AWAY, INGRESS, OPEN, OPEN_KINDS, Container, Fill, PlaceKind
from drying.storage.desiccant import DesiccantKind, desiccant
from drying.transport import GROUPS, SIZE

TEMP_C = 20.0
FULL = vapour_concentration_g_m3(TEMP_C, 100.0)
GEL = Fill(DesiccantKind.SILICA_GEL, 150.0)


def still(hours, activity=0.6):
    return Hours(np.full(hours, TEMP_C), np.full(hours, activity))


def inside_box(spools, hours):
    return np.zeros((len(spools), hours), dtype=int)


def water_in(spool, pct):
    """g of water in a spool that holds `pct` % of its dry mass."""
    return spool.dry_g * pct / 100.0


def water_held(fill, activity):
    return fill.dry_g * float(np.interp(activity, np.linspace(0, 1, 101), desiccant(fill.kind).table)) / 100.0


class Conservation(TestCase):
    @settings(max_examples=15)
    @given(
        st.sampled_from(["petg", "abs", "pa6"]), st.floats(0.02, 0.9), st.floats(0.0, 0.3), st.floats(1.0, 60.0),
        st.none() | st.floats(20.0, 800.0), st.floats(0.05, 0.6), st.integers(5, 24 * 20), st.sampled_from([0.0, 12.5]),
    )  # fmt: skip
    def test_what_came_through_the_walls_is_in_spools_desiccant_or_air(
        self, name, wet, ingress, litres, grams, begin, hours, warm_c
    ):
        fill = None if grams is None else replace(GEL, dry_g=grams)
        box, full = Container(ingress, litres, warm_c, fill), vapour_concentration_g_m3(TEMP_C + warm_c, 100.0)
        spool = kept(name, wet)
        found = follow_hours([spool], inside_box([spool], hours), [box], [Inside(begin)], still(hours))
        air = found.activity[0]
        came = ingress / 24.0 * float((0.6 * FULL - air * full).sum())
        gained = water_in(spool, found.moisture_pct[0, -1] - wet) + litres / 1000.0 * full * (air[-1] - begin)
        if fill:
            gained += water_held(fill, air[-1]) - water_held(fill, begin)
        self.assertAlmostEqual(gained, came - found.inside[0].debt_g, delta=2e-3)

    def test_a_tight_box_keeps_its_water_whatever_moves_inside(self):
        spools = [kept("petg", 0.4), kept("pla", 0.05)]
        hours = 24 * 60
        found = follow_hours(spools, inside_box(spools, hours), [Container(0.0, 20.0)], [Inside(0.3)], still(hours))
        before = sum(water_in(s, pct) for s, pct in zip(spools, (0.4, 0.05), strict=True)) + 0.02 * FULL * 0.3
        after = sum(water_in(s, pct) for s, pct in zip(spools, found.moisture_pct[:, -1], strict=True))
        after += 0.02 * FULL * found.activity[0, -1] + found.inside[0].debt_g
        self.assertAlmostEqual(after, before, delta=1e-3 * before)
        self.assertLess(found.moisture_pct[0, -1], 0.4)
        self.assertGreater(found.moisture_pct[1, -1], 0.05)


class Rest(TestCase):
    def test_shut_in_with_desiccant_they_come_to_one_activity(self):
        spool, hours = kept("petg", 0.3), 24 * 200
        found = follow_hours(
            [spool], inside_box([spool], hours), [Container(0.0, 10.0, fill=GEL)], [Inside(0.1)], still(hours)
        )
        air = float(found.activity[0, -1])
        polymer = material("petg")
        rest = polymer.k1.value * air + polymer.k3.value * air**3
        self.assertAlmostEqual(found.moisture_pct[0, -1], rest, delta=0.02 * rest)

    def test_who_is_in_other_places_changes_nothing(self):
        """Boxes, a warm one among them, the room and nowhere, all at once and each for itself."""
        boxes = [Container(0.05, 12.0, fill=GEL), Container(0.2, 3.0, 14.0), Container(None), Container(0.01, 30.0)]
        inside = [Inside(begin) for begin in (0.1, 0.3, 0.5, 0.6)]
        names, places = ("petg", "pa6", "abs", "pla", "tpu", "pa6", "petg"), (0, 1, OPEN, 0, 2, AWAY, 3)
        spools = [kept(name, 0.1 + 0.05 * n) for n, name in enumerate(names)]
        clock = np.arange(72)
        hours = Hours(19.0 + 3.0 * np.sin(clock / 4.0), 0.55 + 0.1 * np.sin(clock / 9.0))
        whole = follow_hours(spools, np.repeat([places], 72, axis=0).T, boxes, inside, hours)
        for place in set(places):
            here = [n for n, where in enumerate(places) if where == place]
            box = slice(place, place + 1) if place >= 0 else slice(0)
            where = np.full((len(here), 72), min(place, 0))
            alone = follow_hours([spools[n] for n in here], where, boxes[box], inside[box], hours)
            for name in ("moisture_pct", "next_pct", "memory"):
                np.testing.assert_allclose(getattr(whole, name)[here], getattr(alone, name), rtol=1e-12, err_msg=name)
            np.testing.assert_allclose(whole.activity[box], alone.activity, rtol=1e-12)

    def test_the_loops_count_as_many_numbers_of_a_spool_as_it_has(self):
        self.assertEqual((hourly.GROUPS, hourly.SIZE), (GROUPS, SIZE))

    def test_a_leaky_empty_box_becomes_the_room(self):
        found = follow_hours(
            [], np.zeros((0, 24 * 30), dtype=int), [Container(0.3, 5.0)], [Inside(0.1)], still(24 * 30)
        )
        self.assertAlmostEqual(float(found.activity[0, -1]), 0.6, delta=1e-3)
        self.assertTrue(np.all(np.diff(found.activity[0]) >= -1e-9))

    def test_an_open_place_is_the_room_at_once_and_a_warm_one_is_drier(self):
        for warm, want in ((0.0, 0.6), (15.0, 0.6 * FULL / vapour_concentration_g_m3(TEMP_C + 15.0, 100.0))):
            found = follow_hours(
                [], np.zeros((0, 3), dtype=int), [Container(None, 10.0, warm)], [Inside(0.2)], still(3)
            )
            np.testing.assert_allclose(found.activity[0], want, atol=1e-12)

    def test_a_spool_that_is_away_does_not_change_and_one_in_the_open_follows_the_room(self):
        spools, hours = [kept("petg", 0.1), kept("petg", 0.1)], 24 * 10
        where = np.array([[AWAY] * hours, [OPEN] * hours])
        found = follow_hours(spools, where, [], [], still(hours, 0.8))
        np.testing.assert_array_equal(found.moisture_pct[0], np.full(hours, found.moisture_pct[0, 0]))
        self.assertAlmostEqual(found.moisture_pct[0, 0], 0.1)
        self.assertGreater(found.moisture_pct[1, -1], 0.15)

    def test_more_desiccant_keeps_the_air_drier_and_a_leakier_wall_wetter(self):
        spool, hours = kept("petg", 0.3), 24 * 30

        def air(grams=150.0, leak=0.03):
            box = Container(leak, 20.0, fill=replace(GEL, dry_g=grams))
            found = follow_hours([spool], inside_box([spool], hours), [box], [Inside(0.1)], still(hours))
            return float(found.activity[0, -1])

        self.assertTrue(air(400.0) < air(150.0) < air(40.0))
        self.assertTrue(air(leak=0.0) < air(leak=0.03) < air(leak=0.3))

    def test_two_stretches_are_one(self):
        spool, box = kept("abs", 0.3), Container(0.05, 15.0, fill=GEL)
        whole = follow_hours([spool], inside_box([spool], 96), [box], [Inside(0.2)], still(96))
        first = follow_hours([spool], inside_box([spool], 40), [box], [Inside(0.2)], still(40))
        between = replace(spool, pct=first.kept[0])
        second = follow_hours([between], inside_box([spool], 56), [box], first.inside, still(56))
        np.testing.assert_allclose(np.hstack([first.moisture_pct, second.moisture_pct]), whole.moisture_pct, atol=1e-9)
        np.testing.assert_allclose(np.hstack([first.memory, second.memory]), whole.memory, atol=1e-9)
        np.testing.assert_allclose(np.hstack([first.activity, second.activity]), whole.activity, atol=1e-9)

    def test_how_the_mean_answers_to_the_start_is_what_another_start_gives(self):
        box, hours, step = Container(0.02, 4.0), 24 * 20, 1e-4

        def mean(shift):
            spool = kept("petg", 0.2)
            spool.pct[..., 0] += shift  # the secant stays the one that was taken
            return follow_hours([spool], inside_box([spool], hours), [box], [Inside(0.3)], still(hours))

        np.testing.assert_allclose(
            (mean(step).moisture_pct - mean(-step).moisture_pct) / (2 * step), mean(0.0).memory, atol=2e-3
        )

    def test_prepared_hours_that_are_used_again_change_nothing(self):
        steps, spool = HourSteps(4), kept("pa6", 1.0)
        fresh = follow_hours([spool], inside_box([spool], 48), [Container(0.05, 15.0)], [Inside(0.2)], still(48))
        for _ in range(2):
            again = follow_hours(
                [spool], inside_box([spool], 48), [Container(0.05, 15.0)], [Inside(0.2)], still(48), steps
            )
            np.testing.assert_array_equal(again.moisture_pct, fresh.moisture_pct)

    def test_another_thread_may_add_to_prepared_hours_while_others_are_made_from_them(self):
        steps, spool, hours = HourSteps(4), kept("pa6", 1.0), still(8)

        def follow(one, steps, hours=hours):
            return follow_hours([one], np.full((1, 8), OPEN), [], [], hours, steps).moisture_pct

        other = replace(spool, taken=replace(spool.taken, slope=1.1 * spool.taken.slope))
        expected = follow(other, None)
        follow(spool, steps)
        matrix = balance.hour_matrices

        def meanwhile(*of):
            with mock.patch.object(balance, "hour_matrices", matrix):
                follow(spool, steps, Hours(np.arange(8.0), np.full(8, 0.5)))  # another thread meets other warmth
            return matrix(*of)

        with mock.patch.object(balance, "hour_matrices", side_effect=meanwhile):
            np.testing.assert_array_equal(follow(other, steps), expected)


class Containers(TestCase):
    def test_numbers_that_no_container_has_are_refused_by_name(self):
        for values, named in (
            ({"ingress_m3_day": -0.1}, "ingress_m3_day"),
            ({"ingress_m3_day": 101.0}, "ingress_m3_day"),
            ({"ingress_m3_day": 0.1, "air_l": -1.0}, "air_l"),
            ({"ingress_m3_day": None, "warm_c": 81.0}, "warm_c"),
        ):
            with self.subTest(values), self.assertRaisesRegex(OutOfRangeError, named):
                Container(**values)
        for grams in (0.0, 100001.0, float("nan")):
            with self.assertRaisesRegex(OutOfRangeError, "dry_g"):
                Fill(DesiccantKind.CLAY, grams)

    def test_every_kind_that_is_not_open_has_its_usual_ingress(self):
        self.assertEqual(set(INGRESS) | set(OPEN_KINDS), set(PlaceKind))
        self.assertFalse(set(INGRESS) & set(OPEN_KINDS))
        for kind, (ingress, factor, litres) in INGRESS.items():
            self.assertTrue(0 < ingress < 1 and factor >= 1.5 and litres > 0, kind)

    def test_the_dry_mass_of_a_spool_scales_what_it_hands_over(self):
        light, heavy = kept("petg", 0.4), replace(kept("petg", 0.4), dry_g=3 * DRY_G)
        ends = [
            float(
                follow_hours([s], inside_box([s], 240), [Container(0.0, 20.0)], [Inside(0.1)], still(240)).activity[
                    0, 4
                ]
            )
            for s in (light, heavy)
        ]
        self.assertLess(ends[0], ends[1])


class Cut(TestCase):
    def test_a_stretch_cut_where_a_spool_is_moved_comes_to_the_same(self):
        spools, boxes = [kept("pa6", 2.0), kept("petg", 0.1)], [Container(0.03, 20.0, fill=GEL), Container(0.1, 5.0)]
        clock = np.arange(48)
        hours = Hours(np.rint(19.0 + 2.0 * np.sin(clock / 4.0)), 0.55 + 0.1 * np.sin(clock / 9.0))
        for cut, there in ((20, 0), (31, 1), (7, AWAY)):
            where = np.array([[OPEN] * cut + [there] * (48 - cut), [1] * 48])
            whole = follow_hours(spools, where, boxes, [Inside(0.2), Inside(0.5)], hours)
            first = Hours(hours.temp_c[:cut], hours.activity[:cut])
            rest = Hours(hours.temp_c[cut:], hours.activity[cut:])
            before = follow_hours(spools, where[:, :cut], boxes, [Inside(0.2), Inside(0.5)], first)
            moved = [replace(spool, pct=pct) for spool, pct in zip(spools, before.kept, strict=True)]
            after = follow_hours(moved, where[:, cut:], boxes, before.inside, rest)
            for name in ("moisture_pct", "next_pct", "memory", "activity"):
                parts = np.hstack([getattr(before, name), getattr(after, name)])
                np.testing.assert_allclose(getattr(whole, name), parts, rtol=1e-11, err_msg=f"{name} {cut}")
