"""When a spool comes to its aim: the chances of the hours, by a way of their own."""

import math
from dataclasses import replace
from statistics import NormalDist
from unittest import TestCase

import numpy as np

from drying.planning.choose import Choice
from drying.planning.forecast import BAND_SIGMAS, Forecast, forecasts
from drying.planning.ready import chance_at_aim, coming, far_times
from drying.planning.tests.test_planning import AIRY, load, setup
from drying.planning.ticket import write_ticket


def fading(sd):
    """A course that halves every hour, known to `sd` times itself."""
    hours = np.linspace(0.0, 8.0, 81)
    pct = 0.5**hours
    return Forecast(hours, pct, pct * (1 - BAND_SIGMAS * sd), pct * (1 + BAND_SIGMAS * sd), 0.0, "wound_spool")


class Chances(TestCase):
    def test_they_are_those_of_a_normal_doubt_about_the_middle(self):
        course = fading(0.2)
        told = chance_at_aim(0.25, course)
        for hour, chance in zip(course.time_h, told, strict=True):
            pct = 0.5**hour
            self.assertAlmostEqual(chance, NormalDist(pct, 0.2 * pct).cdf(0.25), places=9)

    def test_the_upper_end_is_followed_past_the_run_and_is_the_hour_at_which_19_in_20_are_there(self):
        one = setup(dryer=AIRY)
        [followed] = forecasts(one, 63.0, np.concatenate([np.linspace(0.0, 6.0, 40), far_times(6.0)]))
        found = coming(one.lead.aim_pct, followed, 5.0)
        self.assertGreater(found.late_h, 6.0)
        [there] = forecasts(one, 63.0, [found.late_h])
        self.assertAlmostEqual(float(chance_at_aim(one.lead.aim_pct, there)[0]), 0.95, delta=0.01)
        [end] = forecasts(one, 63.0, [5.0])
        self.assertAlmostEqual(found.chance_at_end, float(chance_at_aim(one.lead.aim_pct, end)[0]), delta=0.01)

    def test_never_is_said_only_where_for_ever_would_not_be_sure(self):
        for temp_c in (40.0, 48.0, 56.0, 63.0, 70.0):
            member = write_ticket(setup(dryer=AIRY), Choice(temp_c, 6.0)).members[0]
            self.assertEqual(member.ready_late_h is None, member.chance_ever < 0.95, temp_c)
            self.assertLessEqual(member.chance_at_end, member.chance_ever + 1e-9)

    def test_a_longer_run_is_surer_and_the_hours_do_not_hang_on_it(self):
        short, long = (write_ticket(setup(dryer=AIRY), Choice(63.0, h)).members[0] for h in (6.0, 12.0))
        self.assertLess(short.chance_at_end, long.chance_at_end)
        self.assertLess(math.log(short.ready_late_h / long.ready_late_h), 0.02)

    def test_the_turns_at_the_hub_stay_wetter_and_a_coil_has_none(self):
        nylon = load("pa6", 2.0)
        member = write_ticket(setup(nylon, dryer=AIRY), Choice(70.0, 12.0)).members[0]
        self.assertLess(member.turns.next_pct, member.end_pct)
        self.assertGreater(member.turns.hub_pct, member.end_pct)
        coil = write_ticket(setup(replace(nylon, form="loose"), dryer=AIRY), Choice(70.0, 12.0)).members[0]
        self.assertIsNone(coil.turns)
