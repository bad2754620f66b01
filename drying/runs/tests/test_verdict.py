"""When is it done: hours to the aim, stalls, the plain rule, what runs teach, pauses, and the file of runs."""

import io
import json
import math
from dataclasses import replace
from unittest import TestCase, mock

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from drying.air.psychrometrics import RoomAir
from drying.cli.main import judged
from drying.dryers.dryer import Dryer
from drying.dryers.load import Load
from drying.dryers.pauses import end_with_pauses_h, heated_h, tidy
from drying.dryers.setup import Setup
from drying.errors import OutOfRangeError
from drying.materials.empty_spools import empty_spool_kind
from drying.materials.properties import material
from drying.planning.choose import Choice
from drying.planning.forecast import forecasts
from drying.planning.ticket import write_ticket
from drying.quantity import Quantity
from drying.runs.interruptions import segments_of_run
from drying.runs.next_grams import next_grams, next_ratio
from drying.runs.posterior import CourseCache, Estimate, Posterior, update_posterior
from drying.runs.rate import PastRun, rate_by_data_alone, rate_from
from drying.runs.record import RunSoFar, TimedWeighing
from drying.runs.verdict import Planned, RunState, constant_mass, judge
from drying.transport.solve import course
from drying.transport.state import even_state
from drying.transport.uncertainty import RATE_SIGMA, UNKNOWN_RATE, Rate
from drying.weighing.scale import Scale, Weighing
from drying.weighing.tare import Tare, TareMethod

SHED = RoomAir(19.2, 66.0)
BOX = Dryer(35, 75, hot_side_excess_c=4, vent_m3_h=0.3, swing_c=0, warm_up_h=0.3)
FINE, BENCH, COARSE = Scale(0.01, 0.005), Scale(0.1, 0.05), Scale(1.0, 0.5)
TARE = Tare(214.0, 0.5, TareMethod.MEASURED)
pauses = st.lists(st.tuples(st.floats(0, 30), st.floats(0, 30)).map(lambda p: (min(p), max(p))), max_size=5)


def load(material_id="petg", start=0.24, sd=0.05, **more):
    return Load(material(material_id), empty_spool_kind("abs"), 1.75, Quantity(start, sd), 640.0, **more)


def weighed(dried, hours, scale=BENCH, rate=1.0, start=None, air_c=63.0, room=SHED, aim=None):
    """A run that goes as computed from `start`, but `rate` times as fast, weighed without a slip."""
    segments = BOX.segments(dried.material, room, air_c, 200.0)
    real = [replace(s, duration_h=s.duration_h * rate, vent_m3_h=s.vent_m3_h * rate) for s in segments]
    begin = dried.start.value if start is None else start
    left = course(dried.filament, even_state(dried.filament, begin), real, np.array(hours) * rate)
    dry = 640.0 / (1 + begin / 100)
    seen = [TimedWeighing(t, Weighing(214.0 + dry * (1 + m / 100), scale)) for t, m in zip(hours, left, strict=True)]
    return RunSoFar(dried, segments, aim or dried.material.clean.value, TARE, seen), left


class Stopping(TestCase):
    def test_hours_to_the_aim_close_in_on_the_truth_as_weigh_ins_come(self):
        hours = [0, 1, 2, 4, 6]
        truth, _ = weighed(load(), [0.0, *np.linspace(0.1, 60, 600)], FINE, rate=0.8, aim=0.06)
        grosses = np.array([w.weighing.gross_g for w in truth.weighings])
        aim_g = 214 + 640 / 1.0024 * (1 + 0.06 / 100)
        done = float(np.interp(-aim_g, -grosses, [w.time_h for w in truth.weighings]))
        widths = []
        for n in (1, 3, 5):
            run, _ = weighed(load(), hours[:n], FINE, rate=0.8, aim=0.06)
            left = judge(run, hours[n - 1]).to_aim
            self.assertTrue(left.p05 <= done - hours[n - 1] <= left.p95, (n, left, done))
            widths.append(left.p95 - left.p05)
        self.assertEqual(widths, sorted(widths, reverse=True))

    def test_an_aim_under_the_floor_is_never_reached_and_a_run_that_rests_there_has_stalled(self):
        damp = RoomAir(22, 85)
        going, _ = weighed(load(), [0, 1, 2], FINE, room=damp, air_c=45, aim=0.06)
        resting, left = weighed(load(), [0, 10, 30, 60, 90], FINE, room=damp, air_c=45, aim=0.06)
        self.assertEqual((judge(going, 2).to_aim.p95, judge(resting, 90).to_aim.p50), (None, None))
        self.assertEqual((judge(going, 2).state, judge(resting, 90).state), (RunState.GOING, RunState.STALLED))
        self.assertAlmostEqual(left[-1], resting.floor_pct, delta=0.003)

    def test_a_coarse_scale_is_told_how_much_finer_it_would_have_to_be(self):
        run, _ = weighed(load(start=0.1, sd=0.02), [0, 3], COARSE)
        verdict = judge(run, 3)
        self.assertEqual(verdict.state, RunState.NO_FINDING)
        self.assertGreater(verdict.finer_by, 3)
        finer, _ = weighed(load(start=0.1, sd=0.02), [0, 3], Scale(1.0 / verdict.finer_by, 0.5 / verdict.finer_by))
        self.assertLessEqual(judge(finer, 3).finer_by, 1.001)

    def test_the_next_weigh_in_is_sought_anew_every_few_minutes_and_not_at_every_look(self):
        """Also while a pause moves the planned end; and it never lies after that."""
        run, _ = weighed(load(), [0, 2], BENCH)
        courses, seek = CourseCache(4), Posterior.losses_against
        with mock.patch.object(Posterior, "losses_against", autospec=True, side_effect=seek) as sought:
            looks = [judge(run, 2.01 + n * 0.002, Planned(4.01 + n * 0.002), courses).next_weigh_h for n in range(15)]
            self.assertEqual((len(set(looks)), sought.call_count), (1, 1))
            self.assertLessEqual(looks[0], 4.01)
            judge(run, 2.06, Planned(4.02), courses)
            self.assertEqual(sought.call_count, 2)

    def test_the_next_weigh_in_lies_ahead_and_tells_more_than_one_right_away(self):
        run, _ = weighed(load(), [0, 2], BENCH)
        at = judge(run, 2, Planned(9)).next_weigh_h
        self.assertLessEqual(judge(run, 2, Planned(4)).next_weigh_h, 4)
        self.assertLessEqual(judge(run, 2, Planned(2.5)).next_weigh_h, 3)  # soon, where the plan ends at once
        self.assertTrue(2.5 <= at <= 50)

        def width_after(time_h):
            seen, _ = weighed(load(), [0, 2, time_h], BENCH)
            left = judge(seen, time_h).to_aim
            return left.p95 - left.p05

        self.assertLess(width_after(at), width_after(2.25))

    def test_constant_mass_looks_at_weighings_an_hour_apart_and_at_what_the_scale_can_tell(self):
        def rule(*rows):
            seen = [TimedWeighing(t, Weighing(g, BENCH)) for t, g in rows]
            return constant_mass(RunSoFar(load(), BOX.segments(material("petg"), SHED, 63, 9), 0.06, TARE, seen))

        self.assertIsNone(rule((0, 854)))
        self.assertIsNone(rule((0, 854), (0.5, 853)))
        steady, moved = rule((0, 854), (4, 853), (6, 852.9), (6.5, 852.9)), rule((0, 854), (4, 853))
        self.assertEqual((steady.steady, steady.hours, moved.steady), (True, 2.5, False))

    @settings(max_examples=20)
    @given(st.sampled_from(("pla", "petg", "pa12")), st.floats(0.3, 1.5), st.floats(0.6, 1.6), st.floats(1, 20))
    def test_believed_numbers_are_in_order_whatever_the_run(self, material_id, of_trouble, rate, hours):
        dried = load(material_id, material(material_id).trouble.value * of_trouble)
        run, _ = weighed(dried, [0, hours], rate=rate)
        verdict = judge(run, hours, Planned(hours))
        now, left = verdict.moisture, [math.inf if x is None else x for x in vars(verdict.to_aim).values()]
        self.assertTrue(0 <= now.p05 <= now.p50 <= now.p95)
        self.assertEqual(left, sorted(left))
        self.assertTrue(0 <= verdict.p_dry <= 1 and 0 <= verdict.p_never <= 1.000001)
        self.assertEqual(left[0] == 0 and left[1] == 0, verdict.p_dry > 0.5)

    def test_a_belief_sums_to_one_and_its_rate_follows_the_truth(self):
        for rate in (0.6, 1.5):
            run, _ = weighed(load(sd=0.01), [0, 1, 2, 4], FINE, rate=rate)
            posterior = update_posterior(run, 4)
            self.assertAlmostEqual(posterior.chances.sum(), 1)
            self.assertAlmostEqual(posterior.log_rate.value, math.log(rate), delta=0.25)


class Learning(TestCase):
    def past(self, log_rate, material_id="petg", spool=1, dryer=1, u=0.1):
        return PastRun(material_id, spool, dryer, log_rate, u, 0.5)

    def test_nothing_learned_is_the_wide_prior_and_each_run_narrows_it(self):
        self.assertEqual(rate_from([], "petg", 1, 1, 0.5), UNKNOWN_RATE)
        sigmas = [rate_from([self.past(0.3)] * n, "petg", 1, 1, 0.5).sigma for n in range(5)]
        self.assertEqual(sigmas, sorted(sigmas, reverse=True))
        self.assertLess(sigmas[4], 0.6 * RATE_SIGMA)

    def test_the_more_a_run_shares_the_more_it_teaches_and_a_stranger_teaches_nothing(self):
        past = [self.past(0.5)]
        same = rate_from(past, "petg", 1, 1, 0.5)
        other_spool, other_dryer = rate_from(past, "petg", 2, 1, 0.5), rate_from(past, "petg", 2, 2, 0.5)
        stranger = rate_from(past, "pla", 2, 2, 0.5)
        medians = [r.median for r in (stranger, other_dryer, other_spool, same)]
        self.assertEqual(medians, sorted(medians))
        self.assertEqual((stranger.median, stranger.sigma), (1.0, RATE_SIGMA))
        self.assertLess(same.median, math.exp(0.5))

    def test_what_weigh_ins_tell_alone_put_back_gives_what_was_believed(self):
        before = Rate(1.2, 0.4)
        mean, sd = rate_by_data_alone(before, 0.3, 0.15)
        precision = 1 / sd**2 + 1 / before.sigma**2
        self.assertAlmostEqual((mean / sd**2 + math.log(1.2) / before.sigma**2) / precision, 0.3)
        self.assertAlmostEqual(precision**-0.5, 0.15)
        self.assertIsNone(rate_by_data_alone(before, 0.2, 0.39))

    def test_a_learned_rate_narrows_the_band_and_moves_the_hours(self):
        plain = Setup((load(),), BOX, SHED)
        quick = Setup((load(rate=Rate(1.5, 0.2)),), BOX, SHED)
        one, other = (forecasts(s, 63, [4.0])[0] for s in (plain, quick))
        self.assertLess(other.moisture_pct[0], one.moisture_pct[0])
        self.assertLess(
            (other.high_pct - other.low_pct)[0] / other.moisture_pct[0],
            (one.high_pct - one.low_pct)[0] / one.moisture_pct[0],
        )
        ready = [write_ticket(s, Choice(63, 14)).members[0].ready_h for s in (plain, quick)]
        self.assertLess(ready[1], ready[0])


class Pauses(TestCase):
    @given(pauses, st.floats(0.1, 40))
    def test_heated_hours_and_the_end_are_each_others_inverse(self, off, hours):
        end = end_with_pauses_h(off, hours)
        self.assertAlmostEqual(heated_h(off, end), hours)
        self.assertGreaterEqual(end, hours)

    @given(pauses, st.floats(0.1, 40))
    def test_segments_add_up_and_are_hot_just_while_the_heat_was_on(self, off, until):
        found = segments_of_run(BOX, material("petg"), SHED, [(0.0, 63.0)], until, off)
        self.assertAlmostEqual(sum(s.duration_h for s in found), until)
        cool = sum(s.duration_h for s in found if s.temp_c == SHED.temp_c)
        self.assertAlmostEqual(until - cool, heated_h(off, until))

    def test_pauses_that_touch_are_one_and_a_backward_one_is_refused(self):
        self.assertEqual(tidy([(3, 5), (1, 2), (4, 7), (9, 9)]), [(1, 2), (3, 7)])
        with self.assertRaisesRegex(OutOfRangeError, "cannot end at 2 h"):
            tidy([(3, 2)])

    def test_a_pause_puts_the_end_off(self):
        dried = load()
        weigh_in = [TimedWeighing(0, Weighing(854, BENCH))]
        through, broken = (
            judge(
                RunSoFar(
                    dried, segments_of_run(BOX, dried.material, SHED, [(0.0, 63.0)], 6, off), 0.06, TARE, weigh_in
                ),
                6,
            ).to_aim.p50
            for off in ([], [(2, 5)])
        )
        self.assertGreater(broken - through, 2)


class TheFile(TestCase):
    RUN = {
        "material": "petg", "form": "wound", "strand_diameter_mm": 1.75, "tare_g": 214, "tare_sd_g": 1,
        "start_moisture_pct": {"mean": 0.24, "sd": 0.05},
        "segments": [{"hours": 12, "temp_c": 63, "inlet_temp_c": 19, "inlet_rh_pct": 66, "vent_m3_h": 0.3}],
        "scale": {"resolution_g": 0.1, "repeatability_g": 0.05}, "aim_pct": 0.06,
        "weighings": [{"time_h": 0, "gross_g": 854}, {"time_h": 3, "gross_g": 853.4}, {"time_h": 6, "gross_g": 853.1}],
    }  # fmt: skip

    def ask(self, asked):
        out, err = io.StringIO(), io.StringIO()
        status = judged("endpoint", asked if isinstance(asked, str) else json.dumps(asked), out, err)
        return status, json.loads(out.getvalue() or "null"), err.getvalue()

    def test_one_run_or_a_list_answers_in_the_same_shape(self):
        status, one, _ = self.ask(self.RUN)
        self.assertEqual((status, one["state"]), (0, "going"))
        self.assertEqual(set(one), {"state", "moisture_now_pct", "time_to_aim_h", "p_dry"})
        self.assertEqual(self.ask([self.RUN, self.RUN])[1], [one, one])
        under = self.ask(self.RUN | {"aim_pct": 0.001})[1]
        self.assertEqual(under["time_to_aim_h"], {"p05": None, "p50": None, "p95": None})
        self.assertEqual(self.ask(self.RUN | {"weighings": []})[1]["state"], "no_finding")

    def test_a_bad_run_is_named_and_the_others_are_answered(self):
        for wrong, named in (
            ({"material": "cheese"}, "cheese"), ({"form": "knitted"}, "wound or loose"), ({"tare_g": "x"}, "tare_g"),
            ({"tare_g": float("nan")}, "tare_g"), ({"segments": []}, "stretch"), ({"segments": 5}, "must be a list"),
            ({"scale": {}}, "resolution_g"), ({"weighings": [{"time_h": 0, "gross_g": 100}]}, "tare"),
            ({"weighings": [{"time_h": 3, "gross_g": 854}, {"time_h": 1, "gross_g": 853}]}, "before the weigh-in"),
        ):  # fmt: skip
            status, found, err = self.ask([self.RUN | wrong, self.RUN])
            self.assertEqual((status, found[0], found[1]["state"]), (1, None, "going"), named)
            self.assertRegex(err, f"run 1: .*{named}")
        self.assertEqual(self.ask("{half")[0], 2)


class OfTheRecord(TestCase):
    def run_(self, **more):
        seen = [TimedWeighing(0.0, Weighing(854.0, BENCH)), TimedWeighing(4.0, Weighing(853.4, BENCH))]
        spool = load(start=0.6, sd=0.1)
        return RunSoFar(spool, BOX.segments(spool.material, SHED, 63.0, 24.0), 0.08, TARE, seen, **more)

    def test_the_dry_mass_is_the_net_mass_without_its_water(self):
        self.assertAlmostEqual(self.run_().dry_g, (854.0 - 214.0) / 1.006)

    def test_the_next_weighing_of_a_ticket_is_the_first_that_is_still_to_come(self):
        plan = Planned(9.0, (2.0, 5.0, 9.0))
        self.assertEqual([plan.next_weigh_h(h) for h in (0.0, 2.0, 4.9, 8.0, 9.0)], [2.0, 5.0, 5.0, 9.0, None])

    def test_a_wet_spool_would_have_lost_what_the_transport_says_of_one_at_the_trouble_threshold(self):
        run = self.run_(rate=Rate(1.5, 0.3))
        slow = 1.5 * math.exp(-0.3)
        filament = run.load.filament
        trouble = run.load.material.trouble.value
        stretched = [replace(s, duration_h=s.duration_h * slow) for s in run.segments]
        left = course(filament, even_state(filament, trouble), stretched, np.array([4.0 * slow]))[0]
        self.assertAlmostEqual(judge(run, 4.0).wet_loss_g, run.dry_g * (trouble - left) / 100.0, delta=0.01)

    def test_the_next_grams_hold_their_share_of_each_point_and_a_dry_spool_has_none(self):
        run = self.run_()
        ratio = next_ratio(run, 4.0)
        self.assertLess(ratio, 0.95)  # the outer turns dry first
        found = next_grams(run, 4.0, Estimate(0.3, 0.05, 0.2, 0.3, 0.4))
        self.assertEqual((found.p05, found.p50, found.p95), (0.2 * ratio, 0.3 * ratio, 0.4 * ratio))
        self.assertIsNone(next_grams(run, 4.0, Estimate(0.0, 0.0, 0.0, 0.0, 0.0)))
