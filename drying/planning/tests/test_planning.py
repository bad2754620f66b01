"""Choosing a run: limits, map, ways to choose, tickets, company, dryers and what they cost."""

import math
from dataclasses import replace
from unittest import TestCase, mock

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st

from drying.air.psychrometrics import RoomAir, dew_point_c
from drying.dryers.calibration import LevelCalibration, display_calibration
from drying.dryers.dryer import Dryer, DryerKind
from drying.dryers.energy import mean_power_w
from drying.dryers.limits import LimitKind, broken_limits, limits
from drying.dryers.load import Load, MakersSheet
from drying.dryers.setup import Setup, hours_to
from drying.errors import OutOfRangeError, UnknownMaterialError
from drying.materials.empty_spools import empty_spool_kind, empty_spool_kinds
from drying.materials.own_values import OwnProgramme, with_own
from drying.materials.properties import STANDARD_METHODS, all_materials, material
from drying.planning import best
from drying.planning.alternatives import AlternativeKind, Risk, alternatives, can_reach, rings
from drying.planning.best import best_run_each
from drying.planning.choose import Choice, Goal, choose, hours_needed, kept_hours
from drying.planning.drying_map import axis_c, drying_map, horizon_h, map_to_show
from drying.planning.forecast import forecasts
from drying.planning.ticket import write_ticket
from drying.planning.weighing_times import best_times_h, variances_at_end
from drying.quantity import Quantity
from tools.bench_acceptance import acceptance

SHED = RoomAir(19.2, 66.0)
BOX = Dryer(
    35,
    65,
    calibration=display_calibration(5.0, 4.0),
    hot_side_excess_c=4,
    timer_max_h=8,
    vent_m3_h=0.08,
    swing_c=0,
    warm_up_h=0,
    heater_w=90,
)
LEVELS = replace(BOX, calibration=LevelCalibration((("low", 40.0), ("middle", 50.0), ("high", 60.0)), 3.0))
AIRY = replace(BOX, vent_m3_h=2.5, max_c=75)


def load(material_id="petg", start=0.24, sd=0.04, empty_spool="abs", **more):
    return Load(material(material_id), empty_spool_kind(empty_spool), 1.75, Quantity(start, sd), 640.0, **more)


def setup(*loads, dryer=BOX):
    return Setup(loads or (load(),), dryer, SHED)


def wet(material_id, empty_spool="abs", times=1.0):
    return load(material_id, material(material_id).trouble.value * times, empty_spool=empty_spool)


DRIED = [m for m in all_materials() if m != "pp"]


class Choosing(TestCase):
    @given(
        st.lists(st.tuples(st.sampled_from(DRIED), st.sampled_from(list(empty_spool_kinds()))), min_size=1, max_size=2),
        st.sampled_from([*STANDARD_METHODS, *Goal]),
        st.floats(30, 60),
        st.floats(0, 60),
        st.floats(0, 15),
        st.booleans(),
        st.floats(2, 80),
    )
    def test_no_recommended_point_lies_in_a_no_go_zone(self, spools, method, least, span, excess, levels, ready_in):
        calibration = LevelCalibration(((("low"), least), ("high", least + span)), 3.0) if levels else BOX.calibration
        dryer = replace(
            AIRY, min_c=least, max_c=least + span, hot_side_excess_c=excess, calibration=calibration, slots=2
        )
        if method in list(Goal) and any(material(m).k3.value for m, _ in spools):
            spools = spools[:1]  # a cubic isotherm in company is dear, and its limits are those of any other
        planned = setup(*(wet(m, b, 0.9) for m, b in spools), dryer=dryer)
        try:
            choice = choose(method, planned, ready_in)
        except OutOfRangeError as refused:
            self.assertEqual(refused.name, "dryer")
            harmful = min((x for x in limits(planned) if x.kind is not LimitKind.DRYER_MIN), key=lambda x: x.temp_c)
            self.assertTrue(harmful.broken_by(least))
            self.assertTrue(any(not x.overridable for x in broken_limits(planned, least)))
            assume(False)
        broken = broken_limits(planned, choice.temp_c)
        if broken:  # a dryer whose least is past a limit is planned at its least, with the limit as a caution
            self.assertTrue(all(limit.overridable for limit in broken))
            self.assertEqual(choice.temp_c, least)

    def test_a_capped_school_names_what_held_it(self):
        choice = choose("brisk", setup(load("pla")))
        self.assertEqual((choice.temp_c, choice.held_by.kind), (46, LimitKind.FILAMENT_SOFT))
        self.assertEqual(choose("usual", setup(load("pa6", empty_spool="card"))).held_by.kind, LimitKind.DRYER_MAX)
        self.assertEqual(choose("usual", setup(load(empty_spool="recycled-pla"))).held_by.kind, LimitKind.SPOOL_SAG)

    def test_an_oven_is_planned_with_its_limit_as_a_caution_until_the_turns_would_stick_together(self):
        oven = Dryer(50, 120, DryerKind.OVEN, vent_m3_h=0.5, hot_side_excess_c=15, swing_c=0, warm_up_h=0)
        planned = setup(wet("pla"), dryer=oven)  # soft at 55 °C, fuses at 75: 50 + 15 lies between
        choice = choose("usual", planned)
        self.assertEqual(choice.temp_c, 50)
        self.assertIn("limit", {c.kind for c in write_ticket(planned, choice).cautions if c.serious})
        self.assertEqual(best_run_each([{1: planned}]), [None])  # nobody is sent past a limit who did not ask for it
        with self.assertRaisesRegex(OutOfRangeError, "stick the turns"):
            choose("usual", setup(wet("pla"), dryer=replace(oven, min_c=60)))

    def test_the_best_run_of_a_load_does_not_depend_on_what_is_worked_out_beside_it(self):
        cool = replace(AIRY, min_c=30, max_c=50)
        hot = Dryer(90, 120, DryerKind.OVEN, vent_m3_h=0.5, hot_side_excess_c=15, swing_c=0, warm_up_h=0)
        loads = [wet(name, times=times) for name in ("pla", "petg", "pa6") for times in (0.7, 1.5)]
        of_loads = [{1: setup(one, dryer=BOX), 2: setup(one, dryer=cool), 3: setup(one, dryer=hot)} for one in loads]
        of_loads += [{3: setup(wet("pla"), dryer=hot)}, {1: setup(wet("petg"), wet("pla"), dryer=AIRY)}]

        def asked(*these):
            best.kept_runs.cache_clear()
            kept_hours.cache_clear()
            return best_run_each(these)

        with mock.patch.object(best, "TOGETHER", 5):  # so that one load's dryers lie on both sides of a cut
            at_once = asked(*of_loads)
        self.assertIsNone(at_once[-2])  # that oven would fuse it
        self.assertGreater(len({run.dryer for run in at_once if run}), 1)
        for run, setups in zip(at_once, of_loads, strict=True):
            [alone] = asked(setups)
            if alone is not None:
                self.assertAlmostEqual(run.end_pct, alone.end_pct, delta=1e-10)
                run = replace(run, end_pct=alone.end_pct)
            self.assertEqual(run, alone)

    def test_a_hot_side_that_nobody_measured_does_not_forbid_the_usual_method_and_a_measured_one_may(self):
        common = replace(BOX, hot_side_excess_c=None)
        for name, polymer in all_materials().items():
            if name != "pp" and polymer.programmes["usual"].temp_c <= common.max_c:
                choice = choose("usual", setup(wet(name), dryer=common))
                self.assertEqual((choice.temp_c, choice.held_by), (polymer.programmes["usual"].temp_c, None), name)
        self.assertEqual(choose("usual", setup(wet("pla"), dryer=replace(BOX, hot_side_excess_c=12))).temp_c, 38)

    def test_a_common_box_in_a_common_room_can_reach_clean_by_the_usual_method_of_each_material(self):
        accepted = list(acceptance())
        self.assertGreaterEqual(len(accepted), 7)
        for one in accepted:
            self.assertLess(one.floor_pct, one.material.aim_pct, one.material.id)
            self.assertEqual(one.choice.temp_c, one.material.programmes["usual"].temp_c)
            self.assertTrue(one.choice.reaches or one.material.id == "pva")  # soaked through: over four days

    def test_the_delicate_spool_caps_the_company_and_is_named(self):
        together = choose("usual", setup(wet("petg"), wet("pla-filled")))
        self.assertEqual(
            (together.temp_c, together.held_by.kind, together.held_by.spool), (45, LimitKind.FILAMENT_SOFT, 1)
        )

    def test_melting_the_strand_is_the_one_limit_without_a_way_round(self):
        broken = broken_limits(setup(load("pla"), dryer=replace(BOX, max_c=120)), 90)
        self.assertEqual([x.kind for x in broken if not x.overridable], [LimitKind.FILAMENT_FUSE])
        self.assertFalse(broken[0].overridable)

    def test_what_cannot_be_chosen_by_is_refused_by_name(self):
        for method, dried, named in (
            ("usual", load("pp"), "too little water"),
            ("wild", load(), "wild.*gentle"),
            ("sheet", load(), "no programme"),
        ):
            with self.subTest(named), self.assertRaisesRegex(OutOfRangeError, named):
                choose(method, setup(dried))
        with self.assertRaisesRegex(UnknownMaterialError, "glass.*card"):
            empty_spool_kind("glass")
        with self.assertRaisesRegex(OutOfRangeError, "keeps a dry spool dry"):
            choose("usual", setup(dryer=Dryer(20, 20, DryerKind.VACUUM)))

    def test_a_school_gives_the_temperature_and_the_physics_the_hours(self):
        choice = choose("usual", setup(dryer=AIRY))
        self.assertEqual(choice.temp_c, 63)
        self.assertAlmostEqual(choice.duration_h, hours_needed(setup(dryer=AIRY), 63.0), delta=0.5)
        twice_as_wet = choose("usual", setup(load(start=0.48), dryer=AIRY))
        self.assertGreater(twice_as_wet.duration_h, choice.duration_h)

    def test_the_makers_sheet_and_the_own_programme_are_taken_as_they_stand(self):
        own = with_own(material("petg"), (), (OwnProgramme("own", 58, 11),))
        planned = setup(replace(load(sheet=MakersSheet(60, 6)), material=own))
        self.assertEqual(
            [(choose(w, planned).temp_c, choose(w, planned).duration_h) for w in ("sheet", "own")], [(60, 6), (58, 11)]
        )

    def test_each_goal_is_the_best_of_all_temperatures_at_what_it_is_best_at(self):
        planned = setup(dryer=AIRY)
        found = {goal: choose(goal, planned, 20.0) for goal in Goal}
        hours = {t: hours_needed(planned, float(t)) for t in range(35, 72)}
        top = max(t for t in hours if not broken_limits(planned, t))
        soonest = math.ceil(hours[top] * 2) / 2  # as a person sets it; of several degrees that do it, the coolest
        self.assertEqual(found[Goal.LEAST_TIME].duration_h, soonest)
        self.assertEqual(found[Goal.LEAST_TIME].temp_c, min(t for t, h in hours.items() if h and h <= soonest))
        for goal, patience in ((Goal.LEAST_HEAT, 24.0), (Goal.READY_BY, 20.0)):
            coolest = min(t for t, h in hours.items() if h is not None and math.ceil(h * 2) / 2 <= patience)
            self.assertEqual(found[goal].temp_c, coolest)
        energy = {t: mean_power_w(AIRY, 19.2, t).value * h for t, h in hours.items() if h and t <= top}
        chosen = found[Goal.LEAST_ENERGY].temp_c
        self.assertLess(energy[chosen], 1.05 * min(energy.values()))

    def test_what_cannot_be_ready_by_then_says_so_and_gives_the_soonest(self):
        late = choose("ready_by", setup(dryer=AIRY), 2.0)
        soonest = choose("least_time", setup(dryer=AIRY))
        self.assertEqual((late.in_time, late.duration_h), (False, soonest.duration_h))

    def test_a_dryer_with_levels_is_set_to_one_of_them(self):
        for method in (*STANDARD_METHODS, *Goal):
            self.assertIn(choose(method, setup(dryer=LEVELS)).temp_c, LEVELS.levels_c)
        ticket = write_ticket(setup(dryer=LEVELS), choose("usual", setup(dryer=LEVELS)))
        self.assertEqual((ticket.setting.level, ticket.setting.set_c), ("high", None))


class Reach(TestCase):
    def test_each_lever_does_what_it_says(self):
        planned = setup(replace(wet("pla"), aim=0.10))
        self.assertFalse(can_reach(planned))
        found = {alternative.kind: alternative for alternative in alternatives(planned, {7: AIRY, 8: Dryer(70, 120)})}
        self.assertLessEqual({AlternativeKind.DESICCANT, AlternativeKind.DRIER_NIGHT}, set(found))
        night = found[AlternativeKind.DRIER_NIGHT]
        self.assertLess(night.dew_point_c, dew_point_c(SHED.temp_c, SHED.rh_pct))
        dry_room = RoomAir(19.2, 100 * 0.8 * 0.1 / 0.8 * 9.9 / 2.2)  # any air with at most that dew point
        while dew_point_c(19.2, dry_room.rh_pct) > night.dew_point_c:
            dry_room = RoomAir(19.2, dry_room.rh_pct - 0.5)
        self.assertLessEqual(hours_needed(replace(planned, room=dry_room), night.air_c), night.duration_h)

    def test_a_hotter_dryer_is_named_with_its_hours_and_one_that_harms_is_not(self):
        planned = setup(wet("pa6", empty_spool="card"), dryer=replace(BOX, max_c=45))
        found = [x for x in alternatives(planned, {7: replace(AIRY, max_c=80), 8: Dryer(190, 199)}) if x.dryer]
        self.assertEqual([x.dryer for x in found], [7])
        hotter = replace(planned, dryer=replace(AIRY, max_c=80))
        self.assertAlmostEqual(found[0].duration_h, hours_needed(hotter, found[0].air_c), delta=0.5)

    def test_rings_name_what_speaks_against_them(self):
        planned = setup(replace(wet("pla"), aim=0.10))
        found = {ring.name: ring for ring in rings(planned, map_to_show(planned))}
        self.assertEqual(found["gentle"].risk, Risk.FLOOR)
        self.assertEqual((found["brisk"].risk, found["brisk"].limit.kind), (Risk.LIMIT, LimitKind.FILAMENT_SOFT))
        dry = setup(load(start=0.05), dryer=AIRY)
        self.assertEqual([r.risk for r in rings(dry, map_to_show(dry))], [Risk.NONE, Risk.NONE, Risk.LIMIT])


class Mapping(TestCase):
    def test_the_map_and_the_forecast_say_the_same(self):
        for planned in (
            setup(),
            setup(wet("pa6")),
            setup(wet("pc", times=2), dryer=AIRY),
            setup(wet("petg"), wet("asa"), dryer=replace(BOX, warm_up_h=0.4)),
        ):
            found = map_to_show(planned)
            for row in (7, 22, 33):
                exact = planned.courses(float(found.temps_c[row]), found.hours)
                start = np.array([x.start.value for x in planned.loads])[:, None]
                off = np.abs(found.moisture_pct[:, row] - exact) / start
                self.assertLess(off.max(), 0.003 if planned.shared else 0.0006, planned.lead.material.id)

    def test_hours_to_the_aim_fall_as_it_gets_hotter(self):
        planned = setup(wet("abs"), dryer=AIRY)
        found = drying_map(planned, np.linspace(45, 80, 36), np.linspace(0, 96, 193)).hours_to_aim(planned, 0)
        known = [h for h in found if h is not None]
        self.assertGreater(len(known), 10)
        self.assertEqual(known, sorted(known, reverse=True))
        self.assertEqual(found[-len(known) :], known)

    def test_a_spool_that_starts_on_its_floor_has_a_flat_map(self):
        planned = replace(setup(load("petg", start=setup().floor_pct(load(), 55.0))), slower_warming=0.0)
        row = drying_map(planned, [55.0, 60.0], [0.0, 12.0, 24.0]).moisture_pct[0, 0]
        self.assertLess(np.ptp(row), 2e-3 * row[0])


class Tickets(TestCase):
    @given(st.sampled_from(DRIED), st.sampled_from(STANDARD_METHODS), st.sampled_from(("wound", "loose")))
    def test_the_ticket_ends_where_the_core_forecasts_to_the_digit(self, material_id, method, form):
        planned = setup(replace(wet(material_id), form=form), dryer=AIRY)
        try:
            choice = choose(method, planned)
        except OutOfRangeError:
            assume(False)
        member = write_ticket(planned, choice).members[0]
        course = forecasts(planned, choice.temp_c, [choice.duration_h])[0]
        for of_ticket, of_core in zip(
            (member.end_pct, member.end_low_pct, member.end_high_pct),
            (course.moisture_pct[-1], course.low_pct[-1], course.high_pct[-1]),
            strict=True,
        ):
            self.assertAlmostEqual(of_ticket, of_core, places=9)
        self.assertGreaterEqual(member.end_pct, member.floor_pct - 1e-9)
        self.assertAlmostEqual(
            member.water_out_g,
            640 / (1 + planned.lead.start.value / 100) * (planned.lead.start.value - member.end_pct) / 100,
        )

    def test_ready_lies_inside_its_band_and_the_band_is_wider_with_a_doubtful_display(self):
        sure = write_ticket(setup(dryer=AIRY), Choice(63, 12)).members[0]
        self.assertLess(sure.ready_early_h, sure.ready_h)
        self.assertTrue(sure.ready_late_h is None or sure.ready_late_h > sure.ready_h)
        doubtful = replace(AIRY, calibration=display_calibration(None, 6.0))
        unsure = write_ticket(setup(dryer=doubtful), Choice(63, 12)).members[0]
        self.assertGreater(unsure.end_high_pct, sure.end_high_pct)

    def test_a_ticket_carries_its_cautions_and_a_plain_run_but_the_one_that_all_have(self):
        plain = {c.kind for c in write_ticket(setup(dryer=replace(BOX, hot_side_excess_c=0)), Choice(62, 60)).cautions}
        self.assertEqual(plain, {"heat_unattended"})
        told = {c.kind for c in write_ticket(setup(load(start=0.01), dryer=Dryer(35, 65)), Choice(60, 10)).cautions}
        self.assertLessEqual({"wets", "already_clean", "assumed"}, told)

    def test_the_last_of_the_company_is_named_and_shares_slow_it_down(self):
        together = write_ticket(setup(wet("petg"), wet("abs"), dryer=replace(BOX, max_c=60)), Choice(60, 40))
        ready = [m.ready_h for m in together.members]
        self.assertEqual(together.last, int(np.argmax([math.inf if h is None else h for h in ready])))
        alone = write_ticket(setup(wet("abs"), dryer=replace(BOX, max_c=60)), Choice(60, 40)).members[0]
        self.assertGreater(together.members[1].end_pct, alone.end_pct)

    def test_the_weigh_ins_named_leave_less_doubt_than_evenly_spaced_ones(self):
        times = np.linspace(0, 14, 97)
        wetted = wet("petg")
        course = setup(wetted, dryer=AIRY).courses(63.0, times)[0]
        found = best_times_h(wetted, times, course, 10.0)
        self.assertTrue(0.75 <= found[0] < found[1] <= 8.5)
        asked = found, (10 / 3, 20 / 3), ()
        least, even, never = (variances_at_end(wetted, times, course, 10.0, np.array([at]))[0] for at in asked)
        self.assertLess(least, even)
        self.assertLess(least, 0.8 * never)
        self.assertEqual(best_times_h(wetted, times, course, 0.8), ())

    @given(st.sampled_from(DRIED), st.floats(0, 2), st.floats(0.5, 96))
    def test_weigh_in_times_lie_inside_any_run_also_one_that_wets_a_dry_spool(self, material_id, of_trouble, hours):
        planned = setup(wet(material_id, times=of_trouble), dryer=AIRY)
        ticket = write_ticket(planned, Choice(AIRY.min_c, hours))
        self.assertEqual(sorted(ticket.weigh_at_h), list(ticket.weigh_at_h))
        self.assertTrue(all(0 < at < hours for at in ticket.weigh_at_h))
        if hours > 2:
            self.assertTrue(ticket.weigh_at_h)

    def test_the_band_holds_the_forecast_and_starts_as_wide_as_what_is_known(self):
        course = forecasts(setup(), 63, np.linspace(0, 48, 97))[0]
        self.assertTrue(np.all((course.low_pct <= course.moisture_pct) & (course.moisture_pct <= course.high_pct)))
        self.assertAlmostEqual(course.high_pct[0] - course.low_pct[0], 2 * 1.645 * 0.04)


class Others(TestCase):
    def test_a_dryer_with_fewer_places_than_spools_is_not_offered(self):
        together = setup(wet("pa6", "card"), wet("pa6", "card"), dryer=replace(BOX, max_c=45, slots=2))
        others = {slots: replace(AIRY, max_c=80, slots=slots) for slots in (1, 2, 3)}
        self.assertEqual({found.dryer for found in alternatives(together, others) if found.dryer}, {2, 3})


class AtTheAim(TestCase):
    def test_a_course_comes_to_its_aim_between_two_points(self):
        times = np.array([0.0, 1.0, 3.0])
        self.assertAlmostEqual(hours_to(0.25, times, np.array([1.0, 0.5, 0.0])), 2.0)
        self.assertIsNone(hours_to(0.25, times, np.array([1.0, 0.5, 0.3])))

    def test_what_begins_at_its_aim_is_there_unless_the_air_wets_it_in_the_end(self):
        times = np.array([2.0, 3.0, 4.0])
        self.assertEqual(hours_to(0.25, times, np.array([0.2, 0.3, 0.1])), 2.0)
        self.assertIsNone(hours_to(0.25, times, np.array([0.2, 0.1, 0.3])))


class Axis(TestCase):
    def test_it_ends_at_whole_fives_beyond_the_dryers_range_and_all_that_is_wanted(self):
        low, high = axis_c(setup(dryer=AIRY), ())
        self.assertEqual((low % 5.0, high % 5.0), (0.0, 0.0))
        self.assertLessEqual(low, AIRY.min_c - 2.0)
        self.assertGreater(high, AIRY.max_c)
        self.assertGreaterEqual(axis_c(setup(dryer=AIRY), (97.0,))[1], 98.0)
        self.assertLess(high, AIRY.max_c + 10.0)


class Horizon(TestCase):
    def test_a_map_shows_the_usual_method_and_what_is_wanted_with_a_third_more(self):
        nylon = setup(wet("pa6"), dryer=AIRY)  # usual: 24 h
        self.assertGreaterEqual(horizon_h(nylon, ()), 24.0 * 1.3)
        self.assertGreaterEqual(horizon_h(nylon, (50.0,)), 50.0 * 1.3)
        petg = setup(dryer=AIRY)  # usual: 8 h, brisk 5 h
        self.assertTrue(8.0 * 1.3 <= horizon_h(petg, ()) < 24.0)
