"""An old fact costs nothing and changes nothing: what is left out tells no more by then."""

from unittest import TestCase

import numpy as np

from drying.materials.properties import all_materials, material
from drying.moisture.events import FilamentUsed, KnownMoisture, SpoolEvents, SpoolStay, SpoolWeighed
from drying.moisture.forget import FORGET_H, as_needed, first_hour
from drying.moisture.histories import Room
from drying.moisture.tests.test_history import DRY_G, FIRST, shed, told
from drying.moisture.timeline import BLOCK_H
from drying.quantity import Quantity
from drying.transport.state import Filament
from drying.transport.winding import winding_of_mass

YEAR_H = 366 * 24


def spool(name, known, net_g=DRY_G, **more):
    filament = Filament(material(name), 1.75, winding_of_mass(net_g, material(name).density.value))
    known = tuple(KnownMoisture(hour, Quantity(pct, 0.1 * pct)) for hour, pct in known)
    return SpoolEvents(filament, net_g, known, **more)


class LongInTheOpen(TestCase):
    def ends(self, events, room):
        history = told(events, room=room).spools[0]
        return history.moisture_pct[-1], history.sd_pct[-1]

    def test_what_a_spool_held_over_a_year_ago_is_forgotten_even_by_the_slowest_and_largest(self):
        room = shed(5 * YEAR_H // 2)
        shown = FIRST + room.temp_c.size - 1
        for name, net_g in (("pa6", 3000.0), ("pva", 3000.0), ("petg", 1000.0)):
            whole = spool(name, [(FIRST, 0.02)], net_g)
            short = as_needed(whole, shown)
            self.assertGreater(short.known[0].hour, FIRST + YEAR_H)
            cut = short.known[0].hour - FIRST
            rest = Room(short.known[0].hour, room.temp_c[cut:], room.activity[cut:])
            (want, sd), (got, got_sd) = self.ends(whole, room), self.ends(short, rest)
            self.assertAlmostEqual(got / want, 1.0, delta=0.002, msg=(name, net_g))
            self.assertAlmostEqual(got_sd / sd, 1.0, delta=0.02, msg=(name, net_g))

    def test_where_it_begins_stays_for_months_so_that_what_was_computed_is_kept(self):
        events = spool("petg", [(FIRST, 0.1)])
        begins = {as_needed(events, FIRST + 4 * YEAR_H + h).known[0].hour for h in range(0, 60 * 24, 7)}
        self.assertLessEqual(len(begins), 2)

    def test_one_in_a_container_or_known_within_the_year_is_followed_from_its_own_first_fact(self):
        shown = FIRST + 3 * YEAR_H
        kept = spool("petg", [(FIRST, 0.1)], stays=(SpoolStay(FIRST + 50, None, 0),))
        self.assertEqual(as_needed(kept, shown), kept)
        late = spool("petg", [(shown - FORGET_H + 1000, 0.1)])
        self.assertEqual(as_needed(late, shown), late)

    def test_every_material_that_takes_up_water_can_be_begun_anew(self):
        for name in all_materials():
            events = as_needed(spool(name, [(FIRST, 0.02)]), FIRST + 5 * YEAR_H)
            self.assertTrue(0.0 <= events.known[0].moisture.value < 100.0, name)


class KnownSince(TestCase):
    def test_what_was_known_last_stands_for_all_before_it(self):
        room = shed(24 * 60)
        later = FIRST + 24 * 40
        others = {
            "weighed": tuple(SpoolWeighed(FIRST + 24 * d, Quantity(850.0 + 0.1 * d, 0.1)) for d in (3, 20, 40, 50)),
            "used": (FilamentUsed(FIRST + 24 * 10, Quantity(50.0, 2.0)),),
        }
        whole = spool("petg", [(FIRST, 0.05), (later, 0.08)], **others)
        short = as_needed(whole, later + 5)
        self.assertEqual([fact.hour for fact in short.known], [later])
        self.assertEqual([fact.hour for fact in short.weighed], [later, FIRST + 24 * 50])
        self.assertEqual(short.used, ())
        want, got = (told(events, room=room).spools[0].moisture_pct[later - FIRST :] for events in (whole, short))
        np.testing.assert_allclose(got, want, rtol=1e-9)

    def test_one_that_shared_a_container_before_is_kept_whole_for_the_others_in_it(self):
        later = FIRST + 24 * 40
        whole = spool("petg", [(FIRST, 0.05), (later, 0.08)], stays=(SpoolStay(FIRST + 24, FIRST + 240, 1),))
        self.assertEqual(as_needed(whole, later + 5), whole)

    def test_nothing_is_left_out_that_is_still_to_come(self):
        whole = spool("petg", [(FIRST, 0.05), (FIRST + 500, 0.08)])
        self.assertEqual(as_needed(whole, FIRST + 400), whole)


class FirstHour(TestCase):
    def test_it_is_the_first_known_moisture_on_the_grid_of_blocks(self):
        spools = [spool("petg", [(FIRST + 100, 0.1)]), spool("pla", [(FIRST + 500, 0.1)])]
        self.assertEqual(first_hour(spools, [], FIRST + 900), (FIRST + 100) // BLOCK_H * BLOCK_H)
        self.assertEqual(first_hour([], [], FIRST + 900), (FIRST + 900) // BLOCK_H * BLOCK_H)

    def test_a_container_that_was_filled_before_is_followed_from_its_last_fill_before(self):
        spools = [spool("petg", [(FIRST + 900, 0.1)])]
        fills = [[FIRST + 100, FIRST + 300, FIRST + 950], []]
        self.assertEqual(first_hour(spools, fills, FIRST + 2000), (FIRST + 300) // BLOCK_H * BLOCK_H)
