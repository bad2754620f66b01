"""What the scale cannot tell carries no numbers: gains, misfits, water that is not in the strand, closed boxes."""

import json
from dataclasses import replace
from unittest import TestCase

from drying.cli.endpoint import answer_of
from drying.materials.empty_spools import empty_spool_kind
from drying.runs.record import TimedWeighing
from drying.runs.tests.test_verdict import BENCH, FINE, load, weighed
from drying.runs.verdict import RunState, judge
from drying.transport.state import Segment
from drying.weighing.film import film_water_g
from drying.weighing.scale import Weighing

RUN = {
    "material": "petg", "form": "wound", "strand_diameter_mm": 1.75, "tare_g": 214, "tare_sd_g": 0.5,
    "start_moisture_pct": {"mean": 0.24, "sd": 0.05}, "aim_pct": 0.08,
    "segments": [{"hours": 20, "temp_c": 63, "inlet_temp_c": 20, "inlet_rh_pct": 55, "vent_m3_h": 0.3}],
    "scale": {"resolution_g": 0.1, "repeatability_g": 0.05},
    "weighings": [{"time_h": 0, "gross_g": 854.0}, {"time_h": 4, "gross_g": 853.4}],
}  # fmt: skip


def read(run, *pairs, scale=BENCH):
    return replace(run, weighings=[TimedWeighing(t, Weighing(g, scale)) for t, g in pairs])


class Untold(TestCase):
    def test_a_gain_a_misfit_and_more_than_the_polymer_holds_carry_no_numbers(self):
        run, _ = weighed(load(), [0.0])
        for weighings, state in (
            (((0, 854.0), (3, 856.0)), RunState.GAINED),
            (((0, 854.0), (3, 840.0)), RunState.NOT_WATER),
            (((0, 854.0), (1, 853.0), (2, 853.9), (3, 852.9)), RunState.NO_FIT),
        ):
            with self.subTest(state):
                found = judge(read(run, *weighings), 3.0)
                self.assertEqual((found.state, found.told), (state, False))
                self.assertEqual((found.to_aim.p05, found.to_aim.p50, found.to_aim.p95), (None, None, None))
                self.assertEqual(found.p_dry, 0.0)
                forecast = judge(read(run, weighings[0]), 3.0)
                self.assertAlmostEqual(found.moisture.mean, forecast.moisture.mean)

    def test_the_command_line_prints_null_for_them(self):
        gained = {**RUN, "weighings": [{"time_h": 0, "gross_g": 854.0}, {"time_h": 4, "gross_g": 858.0}]}
        self.assertEqual(
            answer_of(gained), {"state": "gained", "moisture_now_pct": None, "time_to_aim_h": None, "p_dry": None}
        )
        self.assertLess(answer_of(RUN)["moisture_now_pct"]["p05"], answer_of(RUN)["moisture_now_pct"]["p95"])


class NotInTheStrand(TestCase):
    def test_a_film_is_sixteen_milligrams_a_metre_two_thirds_of_it_unwiped_and_as_uncertain_as_itself(self):
        # 4 g of PETG strand of 1.75 mm: 4 / (pi/4·1.75²·1.27e-3) = 1309 mm... in metres 1.309; 0.016·2/3 g each.
        coil = replace(load(), form="loose", soaked=True)
        film = film_water_g(coil.filament, 4.0, 48.0)
        self.assertAlmostEqual(film.value, 1.309 * 0.016 * 2 / 3, delta=2e-4)
        self.assertEqual(film.quantity.uncertainty, film.value)  # all of it is gone: the pace is no matter any more
        run, _ = weighed(coil, [0.0])
        self.assertGreater(run.beside_strand_g(12.0).value, 0.0)
        self.assertEqual(replace(run, load=replace(coil, soaked=False)).beside_strand_g(12.0).value, 0.0)

    def test_a_soaked_spool_that_loses_too_much_lets_go_of_water_between_its_turns_first(self):
        run, _ = weighed(load(), [0.0])
        soaked = replace(run, load=replace(run.load, soaked=True))
        lost = ((0, 900.0), (3, 820.0))
        self.assertEqual(judge(read(run, *lost), 3.0).state, RunState.NOT_WATER)
        self.assertNotIn(judge(read(soaked, *lost), 3.0).state, (RunState.NOT_WATER, RunState.DRY))

    def test_a_card_spool_is_given_its_own_water_and_no_less_the_same_day(self):
        plastic, _ = weighed(load(), [0.0])
        card = replace(plastic, load=replace(plastic.load, empty_spool=empty_spool_kind("card")))
        fresh = card.beside_strand_g(12.0).value
        again = replace(card, body_activity=0.1).beside_strand_g(12.0).value
        self.assertTrue(8.0 < fresh < 20.0)  # 214 g from 66 % relative humidity: (9.6 - 2.2) % and a little more
        self.assertLess(again, 4.0)
        self.assertEqual(plastic.beside_strand_g(12.0).value, 0.0)


class Closed(TestCase):
    def test_a_closed_box_ends_where_it_begins_and_never_dries(self):
        run, _ = weighed(load(), [0.0])
        shut = replace(run, segments=[replace(s, vent_m3_h=0.0) for s in run.segments])
        found = judge(read(shut, (0, 854.0), (6, 854.0), scale=FINE), 6.0)
        self.assertAlmostEqual(found.floor_pct, found.moisture.p50)
        self.assertGreater(found.p_never, 0.9)
        self.assertIsNone(found.to_aim.p50)

    def test_strand_that_this_air_wets_is_not_on_its_way_to_the_aim(self):
        run, _ = weighed(load(start=0.05, sd=0.005), [0.0], air_c=20.0, aim=0.08)
        self.assertIsNone(judge(run, 0.0).to_aim.p50)
        self.assertIsInstance(run.segments[0], Segment)


class UnknownNames(TestCase):
    def test_each_unknown_key_is_refused_by_name_wherever_it_stands(self):
        for place, name in ((RUN, "colour"), (RUN["scale"], "drift"), (RUN["segments"][0], "fan")):
            text = json.loads(json.dumps(RUN))
            target = text if place is RUN else text["scale"] if place is RUN["scale"] else text["segments"][0]
            target[name] = 1
            with self.subTest(name), self.assertRaisesRegex(ValueError, name):
                answer_of(text)
