"""When a baked coil pays: only where the doubt of the start is what the hours hang on, and a scale at hand can tell."""

from dataclasses import replace
from unittest import TestCase

from drying.planning.choose import Choice
from drying.planning.tells import OwnScale
from drying.planning.tests.test_planning import AIRY, load, setup
from drying.planning.ticket import write_ticket
from drying.planning.twin_offer import twin_offer
from drying.quantity import Quantity
from drying.weighing import Scale

HOT = replace(AIRY, max_c=90.0)
FINE, COARSE = OwnScale(1, Scale(0.01), 200.0), OwnScale(2, Scale(1.0), 5000.0)


def offered(start, scales, **changes):
    one = setup(replace(load("pa6", start.value), start=start, **changes), dryer=HOT)
    ticket = write_ticket(one, Choice(85.0, 16.0))
    return twin_offer(one, ticket, scales), one


class Offers(TestCase):
    def test_it_is_offered_where_the_start_is_hardly_known_and_a_fine_scale_is_there(self):
        found, _ = offered(Quantity(2.0, 1.0), [FINE, COARSE])
        self.assertEqual(found.scale, 1)
        self.assertLess(found.late_h - found.early_h, 0.8 * (found.without_late_h - found.without_early_h))
        self.assertLess(found.without_early_h, found.early_h)
        self.assertGreater(found.without_late_h, found.late_h)

    def test_it_is_baked_as_hot_as_the_material_and_the_dryer_allow(self):
        for most, hours, by_hand in ((90.0, 16.0, 85.0), (82.0, 18.0, 82.0)):  # brisk for this nylon is 85 °C
            one = setup(replace(load("pa6", 2.0), start=Quantity(2.0, 1.0)), dryer=replace(AIRY, max_c=most))
            found = twin_offer(one, write_ticket(one, Choice(min(85.0, most), hours)), [FINE])
            self.assertEqual(found.bake_c, by_hand)

    def test_what_it_promises_is_what_a_plan_from_such_a_start_says(self):
        found, one = offered(Quantity(2.0, 1.0), [FINE])
        sure = replace(one, loads=(replace(one.lead, start=Quantity(2.0, 0.02)),))
        member = write_ticket(sure, Choice(85.0, 16.0)).members[0]
        self.assertAlmostEqual(found.early_h, member.ready_early_h, delta=0.06 * member.ready_early_h)
        self.assertAlmostEqual(found.late_h, member.ready_late_h, delta=0.06 * member.ready_late_h)

    def test_it_is_not_where_it_would_tell_little_or_nothing(self):
        for why, start, scales, changes in (
            ("the start is known", Quantity(2.0, 0.05), [FINE], {}),
            ("no scale is fine enough", Quantity(2.0, 0.3), [COARSE], {}),
            ("there is no scale", Quantity(2.0, 1.0), [], {}),
            ("too little is left to cut one off", Quantity(2.0, 1.0), [FINE], {"net_g": 20.0}),
            ("a coil dries already", Quantity(2.0, 1.0), [FINE], {"form": "loose"}),
        ):
            with self.subTest(why):
                self.assertIsNone(offered(start, scales, **changes)[0])
