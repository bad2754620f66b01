"""The grams that are printed next, through the weeks: against the transport of the same history, and what they mean for
the next act.
"""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from drying.air.psychrometrics import RoomAir
from drying.materials.properties import material
from drying.moisture.events import KnownMoisture, SpoolEvents
from drying.moisture.next_action import Action, Ahead, next_action
from drying.moisture.tests.test_history import DRY_G, FIRST, filament, shed, told
from drying.quantity import Quantity
from drying.transport import NEXT_G, Segment, after_segment, even_state, mean_moisture_pct, outer_moisture_pct
from drying.transport.reduced_modes import outer_reader, profiled, shape_of

SHARE = NEXT_G / DRY_G


def story(name, pct, next_pct=None, dry_g=DRY_G):
    known = KnownMoisture(FIRST, Quantity(pct, 0.0), next_pct)
    return SpoolEvents(filament(name), dry_g, (known,))


class Agreement(TestCase):
    def test_two_weeks_in_the_open_agrees_with_the_transport_of_the_same_history(self):
        # Allowed, of the largest: what six modes of the pack leave out; for cubic isotherms the secant's error too.
        room = shed(24 * 14)
        for name, allowed in (("petg", 0.02), ("pla-filled", 0.02), ("pa6", 0.08)):
            events = story(name, 0.05)
            state, want = even_state(events.filament, 0.05), []
            for temp, air in zip(room.temp_c, room.activity, strict=True):
                segment = Segment(1, float(temp), RoomAir(float(temp), 100 * float(air)))
                state = replace(after_segment(events.filament, segment, state), since=None)
                want.append(outer_moisture_pct(events.filament, state, SHARE))
            line = told(events, room=room).spools[0]
            self.assertLess(np.abs(line.next_pct[1:] - want).max(), allowed * max(want), name)
            if name == "pa6":  # and it matters
                self.assertGreater((line.next_pct / line.moisture_pct)[1:120].max(), 1.4)

    def test_of_a_spool_with_less_left_than_a_print_takes_all_is_printed_next(self):
        line = told(story("pa6", 0.1, dry_g=40.0), room=shed(24 * 9)).spools[0]
        np.testing.assert_allclose(line.next_pct, line.moisture_pct, rtol=1e-6)  # kept in single precision

    def test_what_a_run_left_deep_in_the_winding_comes_out_as_the_transport_has_it(self):
        strand = filament("pla")
        state = after_segment(strand, Segment(10.0, 45.0, RoomAir(21, 40)), even_state(strand, 0.5))
        mean, outer = mean_moisture_pct(strand, state), outer_moisture_pct(strand, state, SHARE)
        self.assertLess(outer, 0.8 * mean)
        room = shed(24 * 6)
        line = told(story("pla", mean, outer), room=room).spools[0]
        even = told(story("pla", mean), room=room).spools[0]
        self.assertAlmostEqual(line.next_pct[0], outer, places=7)
        self.assertAlmostEqual(line.moisture_pct[0], mean, places=9)
        want = []
        for temp, air in zip(room.temp_c, room.activity, strict=True):
            state = after_segment(strand, Segment(1, float(temp), RoomAir(float(temp), 100 * float(air))), state)
            want.append((mean_moisture_pct(strand, state), outer_moisture_pct(strand, state, SHARE)))
        means, outers = np.array(want).T
        self.assertLess(np.abs(line.next_pct[1:] - outers).max(), 0.12 * mean)
        for hour in (12, 24, 48):  # and better than taking it for even
            self.assertLess(abs(line.next_pct[hour] - outers[hour - 1]), abs(even.next_pct[hour] - outers[hour - 1]))
            self.assertLess(abs(line.moisture_pct[hour] - means[hour - 1]), 0.05 * mean)


class Profiles(TestCase):
    @settings(max_examples=60, deadline=None)
    @given(st.sampled_from(["petg", "pa6", "pla"]), st.floats(0.01, 5.0), st.floats(0.0, 4.0), st.floats(0.02, 0.9))
    def test_a_profile_holds_the_mean_whatever_is_asked_of_its_outer_turns(self, name, mean, ratio, share):
        body = filament(name)
        found = profiled(body, mean, ratio * mean, share)
        self.assertAlmostEqual(float((shape_of(body).reader * found).sum()), mean, places=9)
        self.assertGreaterEqual(found.min(), -1e-12)
        outer = float((outer_reader(body, share) * found).sum())
        if found.min() > 1e-9:  # nothing had to give
            self.assertAlmostEqual(outer, ratio * mean, places=8)

    def test_a_coil_is_the_same_all_through(self):
        coil = replace(filament("pla"), winding=None)
        np.testing.assert_array_equal(profiled(coil, 0.4, 0.1, 0.2), np.full_like(profiled(coil, 0.4, 0.1, 0.2), 0.4))


class NextActs(TestCase):
    def test_each_state_of_a_spool_has_its_act(self):
        petg = material("petg")  # thresholds 0.08 and 0.22
        flat, rising, falling = np.full(97, 0.05), np.linspace(0.05, 0.2, 97), np.linspace(0.15, 0.01, 97)
        for moisture, of_next, in_run, act, over_trouble in (
            (flat, flat, False, Action.READY, False),
            (rising, rising, False, Action.PUT_AWAY, False),
            (flat, rising, False, Action.PUT_AWAY, False),
            (flat + 0.3, flat + 0.3, True, Action.DRYING, False),
            (falling, falling, False, Action.DRIES_HERE, False),
            (flat + 0.3, flat + 0.3, False, Action.DRY, True),
            (flat + 0.3, flat, False, Action.DRY, False),
            (flat, falling, False, Action.OUTER_DAMP, False),
            (flat, flat + 0.3, False, Action.OUTER_DAMP, True),
        ):
            found = next_action(petg, Ahead(moisture, of_next), in_run)
            self.assertEqual((found.act, found.over_trouble), (act, over_trouble))

    def test_the_hours_are_those_until_the_threshold_is_passed(self):
        petg, hours = material("petg"), np.arange(97.0)
        rising = 0.05 + 0.03 * hours / 20.5  # over 0.08 between the 20th hour and the 21st
        dry = np.full(97, 0.05)
        self.assertEqual(next_action(petg, Ahead(rising, rising), False).within_h, 20.0)
        self.assertEqual(next_action(petg, Ahead(dry, rising), False).within_h, 20.0)
        falling = 0.11 - 0.03 * hours / 20.5  # under it then
        self.assertEqual(next_action(petg, Ahead(falling, falling), False).within_h, 21.0)
        self.assertEqual(next_action(petg, Ahead(dry, falling), False).within_h, 21.0)
        self.assertIsNone(next_action(petg, Ahead(dry, np.full(97, 0.1)), False).within_h)

    def test_what_comes_after_a_week_is_no_reason_to_act_today(self):
        late = np.where(np.arange(300) > 200, 0.2, 0.05)
        self.assertEqual(next_action(material("petg"), Ahead(late, late), False).act, Action.READY)

    def test_what_takes_up_too_little_never_matters(self):
        wet = np.full(10, 0.5)
        self.assertEqual(next_action(material("pp"), Ahead(wet, wet), False).act, Action.NO_MATTER)
