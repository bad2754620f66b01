"""What stands on a ticket follows from the choice and the dryer, by sums done by hand."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from drying.dryers import Attended, Metered
from drying.errors import OutOfRangeError
from drying.planning.choose import Choice
from drying.planning.tests.test_planning import AIRY, BOX, load, setup, wet
from drying.planning.ticket import write_ticket


class Tickets(TestCase):
    @settings(max_examples=20)
    @given(
        st.sampled_from(["petg", "abs", "pc"]), st.sampled_from([50.0, 58.0, 63.0]), st.sampled_from([4.0, 9.0, 22.0])
    )
    def test_its_parts_agree_with_one_another(self, name, temp, hours):
        ticket = write_ticket(setup(wet(name), dryer=BOX), Choice(temp, hours))
        for course in ticket.forecasts:  # from the start to some time past the planned end, which is one of its points
            self.assertAlmostEqual(course.time_h[-1], 1.4 * hours)
            self.assertIn(hours, course.time_h)
        self.assertEqual((ticket.air_c, ticket.duration_h), (temp, hours))
        self.assertAlmostEqual(sum(turn.runs_h for turn in ticket.turns), hours)
        self.assertEqual(ticket.turn_over_h, hours / 2)
        for at in ticket.weigh_at_h:
            self.assertEqual(at * 4, round(at * 4))
            self.assertTrue(0 < at < hours)
        member = ticket.members[0]
        self.assertTrue(member.end_low_pct <= member.end_pct <= member.end_high_pct)
        course = ticket.forecasts[0]
        self.assertAlmostEqual(float(np.interp(hours, course.time_h, course.moisture_pct)), member.end_pct, places=3)

    def test_what_somebody_must_do_is_planned_for_when_somebody_is_there(self):
        dryer = replace(BOX, timer_max_h=4.0, timer_choices_h=())
        # Up to 2 h after the start, away until 9 h: the timer is set at 2 h, runs out at 6 h, is set again at 9 h.
        ticket = write_ticket(setup(wet("petg"), dryer=dryer), Choice(63.0, 10.0), Attended(((0.0, 2.0), (9.0, 40.0))))
        self.assertEqual((ticket.off, ticket.end_h, ticket.duration_h), (((6.0, 9.0),), 13.0, 10.0))
        self.assertEqual((ticket.turn_over_h, ticket.turn_over_attended), (2.0, True))  # half of the heat is at 5 h
        for at in ticket.weigh_at_h:
            self.assertTrue(at <= 2.0 or at >= 9.0)
        course = ticket.forecasts[0]
        self.assertAlmostEqual(
            float(np.interp(13.0, course.time_h, course.moisture_pct)), ticket.members[0].end_pct, places=3
        )

    def test_turning_over_that_nobody_can_do_is_said(self):
        ticket = write_ticket(setup(wet("petg"), dryer=AIRY), Choice(63.0, 12.0), Attended(((0.0, 1.0), (12.0, 40.0))))
        self.assertEqual((ticket.turn_over_h, ticket.turn_over_attended), (6.0, False))

    def test_energy_is_power_over_the_hours_and_as_sure_as_it(self):
        # 0.6 kWh in 10 h with air at 50 °C is 2 W for each degree over the room.
        dryer = replace(AIRY, metered=Metered(0.6, 10.0, 50.0))
        made = setup(wet("petg"), dryer=dryer)
        watts = 2.0 * (60.0 - made.room.temp_c)
        for hours in (5.0, 12.5):
            ticket = write_ticket(made, Choice(60.0, hours))
            self.assertAlmostEqual(ticket.power_w.value, watts)
            self.assertAlmostEqual(ticket.energy_kwh.value, watts * hours / 1000.0)
            self.assertAlmostEqual(ticket.energy_kwh.uncertainty / ticket.energy_kwh.value, 0.1)

    def test_the_last_to_be_clean_is_the_wettest_of_two_that_are_alike(self):
        made = setup(wet("petg", times=1.2), wet("petg", times=2.5), dryer=AIRY)
        ticket = write_ticket(made, Choice(63.0, 40.0))
        self.assertEqual(ticket.last, 1)
        ready = [member.ready_h for member in ticket.members]
        self.assertLess(ready[0], ready[1])

    def test_the_water_that_leaves_is_that_of_the_dry_mass(self):
        given_load = load("petg", start=0.4)
        member = write_ticket(setup(given_load, dryer=AIRY), Choice(63.0, 20.0)).members[0]
        self.assertAlmostEqual(member.water_out_g, given_load.dry_mass_g * (0.4 - member.end_pct) / 100.0)

    def test_hours_that_no_run_lasts_are_refused(self):
        for hours in (0.09, 400.1, float("nan")):
            with self.assertRaisesRegex(OutOfRangeError, "duration_h"):
                write_ticket(setup(wet("petg"), dryer=AIRY), Choice(60.0, hours))
