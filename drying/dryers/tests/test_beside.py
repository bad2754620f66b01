"""A spool beside others, judged by itself: against the course of all together, by limits, and by its water."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from drying.air import RoomAir
from drying.dryers import Dryer, Load, Setup, Stay, air_beside, at_rate
from drying.materials import empty_spool_kind, material
from drying.quantity import Quantity
from drying.transport import Rate, course, even_state

ROOM = RoomAir(18.0, 65.0)
BOX = Dryer(35, 75, vent_m3_h=0.3, warm_up_h=0.5)
TIMES = np.linspace(0.0, 24.0, 25)


def load(name, start, net_g, rate=1.0):
    return Load(
        material(name), empty_spool_kind("polystyrene"), 1.75, Quantity(start, 0.1), net_g, rate=Rate(rate, 0.4)
    )


def moisture(one, segments, times=TIMES):
    k = one.rate.median
    return course(one.filament, even_state(one.filament, one.start.value), at_rate(segments, k), times * k)


PAIRS = (
    (load("petg", 0.35, 640), load("asa", 0.4, 900)),
    (load("pa6", 4.0, 900), load("petg", 0.3, 700)),
    (load("pla", 0.6, 900, 1.5), load("pla", 0.4, 300, 0.8)),
)


class Beside(TestCase):
    def test_in_the_air_beside_the_others_a_spool_dries_as_it_does_together_with_them(self):
        for pair in PAIRS:
            setup = Setup(pair, BOX, ROOM)
            together, box = setup.courses(55.0, TIMES), setup.segments(setup.lead, 55.0, 24.0)
            stays = [Stay(one, 0.0) for one in pair]
            for me, one in enumerate(pair):
                beside = moisture(one, air_beside(stays, me, box))
                self.assertLess(np.abs(beside - together[me]).max(), 0.01 * one.start.value, one.material.id)
        # The check can fail: without the other's water the dry one would be taken to dry far faster.
        petg = PAIRS[1][1]
        alone = moisture(petg, Setup((petg,), BOX, ROOM).segments(petg, 55.0, 24.0))
        self.assertGreater(np.abs(alone - together_of(1)[1]).max(), 0.03 * petg.start.value)

    def test_so_it_does_after_days_in_a_nearly_closed_box(self):
        loads = load("pva", 3.0, 800), load("petg", 0.3, 800), load("tpu", 0.5, 800)
        setup, times = Setup(loads, replace(BOX, vent_m3_h=0.05, slots=3), ROOM), np.linspace(0.0, 90.0, 91)
        together, box = setup.courses(55.0, times), setup.segments(setup.lead, 55.0, 90.0)
        for me, one in enumerate(loads):
            *met, last = air_beside([Stay(each, 0.0) for each in loads], me, box)
            beside = moisture(one, [*met, replace(last, duration_h=90.0)], times)
            self.assertLess(np.abs(beside - together[me]).max(), 0.012 * one.start.value, one.material.id)

    def test_a_coil_or_a_spool_that_has_left_wets_nothing(self):
        one = load("petg", 0.35, 640)
        plain = [s.room.activity_at(s.temp_c) for s in BOX.segments(one.material, ROOM, 55.0, 24.0)]
        coil = replace(load("pa6", 4.0, 900), form="loose")
        box = BOX.segments(one.material, ROOM, 55.0, 24.0)
        for stay in (Stay(coil, 0.0), Stay(load("pa6", 4.0, 900), 0.0, 0.01)):
            last = air_beside([Stay(one, 0.0), stay], 0, box)[-2:]
            for segment in last:
                self.assertAlmostEqual(segment.activity, plain[-1], places=9)

    def test_the_water_of_the_other_is_in_the_air_while_it_is_in_and_its_sum_is_what_it_lost(self):
        one, wet = load("petg", 0.06, 640), load("pa6", 4.0, 900)
        box = [BOX.segments(one.material, ROOM, 55.0, 400.0)[-1]]
        stays = [Stay(one, 0.0), Stay(wet, 6.0, 18.0)]
        found = air_beside(stays, 0, box)
        ends = np.cumsum([s.duration_h for s in found])
        steady = box[0].activity
        carried = 0.0
        for end, segment in zip(ends, found, strict=True):
            over = segment.activity - steady
            if end <= 6.0 or end > 18.0 + 1e-9:
                self.assertAlmostEqual(over, 0.0, places=9)
            carried += over * segment.duration_h
        # Q·Cs(55 °C)·∫(a - a_in)dt, with Cs from the tables of saturated steam: 104.3 g/m³ at 55 °C.
        lost_g = carried * 0.3 * 104.3
        dry_g = 900.0  # the winding is one of 900 g
        alone = course(wet.filament, even_state(wet.filament, 4.0), at_rate(box, 1.0), np.array([12.0]))
        self.assertAlmostEqual(lost_g, dry_g * (4.0 - float(alone[0])) / 100.0, delta=0.6)

    def test_its_air_jumps_when_another_comes_or_goes_and_only_goes_on_changing_between(self):
        one, other = PAIRS[1][1], PAIRS[1][0]
        box = Setup((one, other), BOX, ROOM).segments(one, 55.0, 24.0)[-1:]
        found = air_beside([Stay(one, 0.0), Stay(other, 2.0, 9.0)], 0, box)
        begins = np.cumsum([0.0, *(segment.duration_h for segment in found[:-1])])
        jumps = [float(begin) for begin, segment in zip(begins, found, strict=True) if not segment.goes_on]
        np.testing.assert_allclose(jumps, [0.0, 2.0, 9.0])
        self.assertGreater(len(found), 20)

    def test_a_spool_that_joins_later_begins_with_its_own_water_at_its_own_start(self):
        one, late = load("petg", 0.35, 640), load("asa", 0.4, 900)
        box = BOX.segments(one.material, ROOM, 55.0, 400.0)
        found = air_beside([Stay(one, 0.0), Stay(late, 4.0)], 1, box)
        self.assertAlmostEqual(sum(s.duration_h for s in found), 96.0, delta=0.02)
        self.assertGreater(found[0].activity, box[-1].activity)  # the first still gives off water


def together_of(pair):
    return Setup(PAIRS[pair], BOX, ROOM).courses(55.0, TIMES)


class SharedRates(TestCase):
    def test_spools_that_dry_alike_faster_stretch_time_together(self):
        slow = (load("petg", 0.35, 640), load("petg", 0.30, 500))
        fast = tuple(replace(one, rate=Rate(2.0, 0.4)) for one in slow)
        steady = replace(BOX, warm_up_h=0.0)
        at_one = Setup(slow, steady, ROOM, slower_warming=0.0).courses(55.0, TIMES * 2.0)
        at_two = Setup(fast, steady, ROOM, slower_warming=0.0).courses(55.0, TIMES)
        np.testing.assert_allclose(at_two, at_one, atol=2e-3)

    def test_what_earlier_runs_taught_counts_beside_others_as_it_does_alone(self):
        other = load("asa", 0.4, 900)
        ends = [
            Setup((load("petg", 0.35, 640, rate), other), BOX, ROOM).courses(55.0, TIMES)[0, 8]
            for rate in (0.5, 1.0, 2.0)
        ]
        self.assertEqual(ends, sorted(ends, reverse=True))
        self.assertGreater(ends[0] - ends[2], 0.02)
