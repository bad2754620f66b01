"""Water in wound spools and coils: against the fine-grid reference, and the laws that any solution must keep."""

import csv
import io
import json
import math
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import replace
from itertools import groupby, pairwise
from pathlib import Path
from unittest import TestCase, mock

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import jn_zeros

from drying.air.psychrometrics import RoomAir, vapour_concentration_g_m3
from drying.cli.main import main
from drying.cli.segments import parse_segments
from drying.cli.transport import transport
from drying.dryers.shared_box import SharedState, shared_course
from drying.errors import OutOfRangeError
from drying.materials.properties import all_materials, material
from drying.materials.sorption import equilibrium_moisture_pct
from drying.planning.forecast import Asked, forecast_bands
from drying.quantity import Quantity
from drying.transport import linear
from drying.transport.heat import effective_temperature_c, warmed_up
from drying.transport.outer import outer_moisture_pct, ring_weights, turns_of
from drying.transport.solve import after_segment, course, courses, end_states, follow
from drying.transport.state import (
    REST_WEIGHT,
    STRAND_RATES,
    STRAND_WEIGHTS,
    Filament,
    Segment,
    even_state,
    face_conductance,
    local_moisture_pct,
    mean_moisture_pct,
    resumed,
    saved,
    water_kg_m3,
)
from drying.transport.strand import Conditions, forecast_loose_pct
from drying.transport.winding import DEFAULT_WINDING, Winding, grid, winding_of_mass

# Reference: fine-grid finite volumes of the same equations with a stiff integrator, rounded to 0.0001 %.
REFERENCE = Path(__file__).parent / "data" / "water_transport.csv"
ROOM = RoomAir(21, 60)
TIMES = np.array([0.2, 1.0, 4.0, 20.0])
START = {"pla": 0.48, "petg": 0.24, "pa6": 2.7, "pva": 3.0, "tpu": 0.66}
some_body = st.builds(
    Filament,
    st.sampled_from([material(m) for m in START]),
    st.sampled_from([1.75, 2.85]),
    st.sampled_from([None, DEFAULT_WINDING]),
)
some_segment = st.builds(
    Segment, st.floats(0.05, 60), st.floats(15, 80), st.builds(RoomAir, st.floats(10, 30), st.floats(5, 95)),
    st.sampled_from([None, 0.0, 0.005, 0.1]), st.booleans(),
)  # fmt: skip


class Reference(TestCase):
    def test_every_case_is_within_a_hundredth_by_henrys_law_and_three_with_the_cubic_isotherm(self):
        rows = list(csv.DictReader(io.StringIO(REFERENCE.read_text("utf-8"))))
        out, err = io.StringIO(), io.StringIO()
        self.assertEqual(transport(io.StringIO(REFERENCE.read_text("utf-8")), out, err), 0)
        got = list(csv.DictReader(io.StringIO(out.getvalue())))
        self.assertEqual(len(got), len(rows))
        for name, both in groupby(zip(rows, got, strict=True), key=lambda x: x[0]["case"]):
            want, mine = zip(*((float(a["moisture_pct"]), float(b["moisture_pct"])) for a, b in both), strict=True)
            allowed = 0.03 if name.startswith("pa6") else 0.01
            with self.subTest(name):
                self.assertLess(np.abs(np.subtract(want, mine)).max(), allowed * max(want[0], want[-1]))

    def test_a_coil_follows_crank_within_a_thousandth(self):
        hours = np.linspace(0.1, 48, 200)
        for m in all_materials().values():
            got = course(
                Filament(m, 1.75, None), even_state(Filament(m, 1.75, None), 1.0), [Segment(48, 60, ROOM)], hours
            )
            want = forecast_loose_pct(m, 1.75, 1.0, Conditions(60, ROOM.activity_at(60)), hours)
            self.assertLess(np.abs(got - want).max(), 0.001, m.id)


class Parts(TestCase):
    def test_slow_modes_stand_each_alone_and_quick_ones_in_bands_that_keep_their_mean_time(self):
        weight = 4.0 / jn_zeros(0, 80) ** 2
        ends = [*range(10), 13, 19, 29, 46, 80]
        lumps = [slice(a, b) for a, b in pairwise(ends)]
        np.testing.assert_allclose(STRAND_WEIGHTS, [weight[lump].sum() for lump in lumps], rtol=1e-12)
        times = [(weight[lump] ** 2 / 4.0).sum() / weight[lump].sum() for lump in lumps]
        np.testing.assert_allclose(1.0 / STRAND_RATES, times, rtol=1e-12)
        self.assertAlmostEqual(REST_WEIGHT, 1.0 - weight.sum(), places=12)

    def test_at_the_face_the_flow_carries_its_volume_times_what_full_air_holds(self):
        winding = Winding(90.0, 40.0, 60.0)  # 1.225 l
        full_kg_m3 = vapour_concentration_g_m3(60.0, 100.0) / 1000.0
        carried = 0.25 / 3600.0 * full_kg_m3 / (math.pi * (0.09**2 - 0.04**2) * 0.06)
        self.assertAlmostEqual(face_conductance(winding, 60.0, 0.25) / carried, 1.0, places=12)

    def test_a_winding_is_at_least_a_tenth_of_a_millimetre_thick_and_at_most_two_metres_wide(self):
        for outer in (40.1, 1000.0):
            Winding(outer, 40.0, 60.0)
        for outer in (40.09, 1000.5):
            with self.assertRaises(OutOfRangeError) as refused:
                Winding(outer, 40.0, 60.0)
            self.assertEqual(refused.exception.name, "outer_radius_mm")


class Laws(TestCase):
    @given(some_body, some_segment, some_segment, st.floats(0.01, 0.99))
    def test_a_segment_in_two_parts_is_the_same_as_whole(self, filament, before, segment, share):
        start = after_segment(filament, before, even_state(filament, START[filament.material.id]))
        first, second = (replace(segment, duration_h=segment.duration_h * s) for s in (share, 1.0 - share))
        whole, parts = follow(filament, start, [segment]), follow(filament, start, [first, second])
        np.testing.assert_allclose(parts.strand, whole.strand, rtol=1e-9, atol=1e-12)
        np.testing.assert_allclose(parts.gas, whole.gas, rtol=1e-9, atol=1e-12)
        times = np.linspace(0, first.duration_h + second.duration_h, 9)
        courses = [
            course(filament, start, s, np.minimum(times, segment.duration_h)) for s in ([segment], [first, second])
        ]
        np.testing.assert_allclose(courses[1], courses[0], rtol=1e-9, atol=1e-12)

    @given(st.sampled_from(list(START)), some_segment, st.lists(some_segment, min_size=1, max_size=3))
    def test_a_sealed_box_keeps_its_water_whatever_the_temperature_does(self, name, before, segments):
        filament = Filament(material(name))
        start = after_segment(filament, before, even_state(filament, START[name]))
        sealed = [replace(s, vent_m3_h=0.0) for s in segments]
        after = follow(filament, start, sealed)
        self.assertLess(abs(water_kg_m3(filament, after) / water_kg_m3(filament, start) - 1.0), 1e-11)

    @given(some_body, some_segment, some_segment)
    def test_a_state_saved_as_json_and_resumed_goes_on_as_if_nothing_had_been(self, filament, first, second):
        state = after_segment(filament, first, even_state(filament, START[filament.material.id]))
        again = resumed(json.loads(json.dumps(saved(state))))
        np.testing.assert_array_equal(
            follow(filament, again, [second]).strand, follow(filament, state, [second]).strand
        )
        with self.assertRaisesRegex(OutOfRangeError, "strand modes"):
            resumed({"gas": [0.1, 0.1], "strand": [[0.1]], "temp_c": 20})

    def test_what_a_vented_box_loses_is_what_its_flow_carries_away(self):
        # Ends at the moisture in equilibrium with the incoming air, from above and from below.
        for name in START:
            filament, segment = Filament(material(name)), Segment(20000, 70, ROOM, 0.1)
            want = equilibrium_moisture_pct(filament.material, segment.activity)
            for start in (0.0, START[name]):
                got = mean_moisture_pct(filament, follow(filament, even_state(filament, start), [segment]))
                self.assertAlmostEqual(got, want, delta=1e-3 * START[name])

    @given(st.sampled_from(list(START)), st.floats(1, 48))
    def test_packs_diameters_vents_and_damp_rooms_slow_the_drying_in_their_order(self, name, hours):
        filament, hot = Filament(material(name)), Segment(48, 60, ROOM, 0.1)
        slower = [
            (Filament(filament.material, 1.75, None), hot),
            (Filament(filament.material, 1.75, winding_of_mass(300, 1200)), hot),
            (filament, hot),
            (filament, replace(hot, vent_m3_h=0.01)),
            (filament, replace(hot, vent_m3_h=0.0)),
        ]
        left = [course(b, even_state(b, START[name]), [s], [hours])[0] for b, s in slower]
        self.assertTrue(np.all(np.diff(left) > -1e-9), left)
        thick = Filament(filament.material, 2.85)
        self.assertGreater(course(thick, even_state(thick, START[name]), [hot], [hours])[0], left[2])

    def test_the_discrete_pack_conserves_and_converges(self):
        cells = grid(DEFAULT_WINDING)
        self.assertLess(np.abs(cells.stiffness.sum(axis=1)).max(), 1e-9 * np.abs(cells.stiffness).max())
        self.assertAlmostEqual(cells.mass.sum(), 1.0, places=14)
        self.assertAlmostEqual(winding_of_mass(DEFAULT_WINDING.strand_kg(1240) * 1000, 1240).outer_radius_mm, 100.0)
        finer = np.linalg.eigvalsh(
            grid(DEFAULT_WINDING, 40).stiffness / np.sqrt(np.outer(*[grid(DEFAULT_WINDING, 40).mass] * 2))
        )
        mine = np.linalg.eigvalsh(cells.stiffness / np.sqrt(np.outer(cells.mass, cells.mass)))
        np.testing.assert_allclose(mine[1:7], finer[1:7], rtol=1e-6)


class SideBySide(TestCase):
    @given(st.lists(st.tuples(st.floats(0.5, 9.0), st.floats(20, 85), st.floats(0.0, 1.0)), min_size=2, max_size=5))
    def test_a_course_does_not_depend_on_what_is_computed_beside_it(self, cases):
        for free in (True, False):
            asked = []
            for start, temp_c, other in cases:
                air = Segment(20.0, temp_c, RoomAir(temp_c if free else 21.0, 70.0 * other), None if free else 0.2)
                polymer = Filament(material("pa6"), 1.75, winding_of_mass(300.0 + 700.0 * other, 1200.0))
                after = replace(air, room=RoomAir(air.room.temp_c, 60.0 * other), goes_on=True)
                asked.append((polymer, even_state(polymer, start), [replace(air, duration_h=1.0 + 9.0 * other), after]))
            together, ends = courses(asked, [TIMES] * len(asked)), end_states(asked)
            for (polymer, state, segments), found, end in zip(asked, together, ends, strict=True):
                np.testing.assert_allclose(found, course(polymer, state, segments, TIMES), rtol=1e-11)
                np.testing.assert_allclose(end.strand, follow(polymer, state, segments).strand, rtol=1e-11)


class Unasked(TestCase):
    def test_a_segment_after_the_last_time_that_is_asked_for_costs_nothing(self):
        linear.kept_modes.cache_clear()
        steps = [Segment(2.0, temp_c, ROOM, 0.08) for temp_c in (30.0, 40.0, 50.0, 60.0)]
        cases = [(f, even_state(f, 0.3), steps) for f in (Filament(material("petg")), Filament(material("pla")))]
        with mock.patch.object(linear, "_diagonalised", wraps=linear._diagonalised) as worked:
            courses(cases, [np.array([1.0, 3.0]), np.array([5.0])])
        met = [each for call in worked.call_args_list for each in call.args[0]]
        self.assertEqual(
            sorted((f.material.name, temp_c) for f, temp_c, _ in met),
            sorted([("PETG", 30.0), ("PETG", 40.0), ("PLA", 30.0), ("PLA", 40.0), ("PLA", 50.0)]),
        )


class Uses(TestCase):
    def test_equal_spools_share_the_flow_evenly_and_a_wet_one_slows_the_other(self):
        gauge, hinge, box = Filament(material("petg")), Filament(material("pa6")), Segment(24, 65, ROOM, 0.08)
        dry = even_state(gauge, 0.24)
        hours = [0.5, 2, 6, 12, 24]
        rows, _ = shared_course([gauge, gauge], SharedState((dry, dry)), box, hours)
        want = course(gauge, dry, [replace(box, vent_m3_h=0.04)], hours)
        np.testing.assert_allclose(rows, [want, want], atol=0.005 * 0.24)
        both = SharedState((dry, even_state(hinge, 2.0)))
        mixed, end = shared_course([gauge, hinge], both, box, hours)
        self.assertTrue(np.all(mixed[0] > course(gauge, dry, [box], hours)))
        _, noon = shared_course([gauge, hinge], both, replace(box, duration_h=9), [])
        later, evening = shared_course([gauge, hinge], noon, replace(box, duration_h=15), [3, 15])
        np.testing.assert_allclose(later, mixed[:, -2:], rtol=1e-9)
        np.testing.assert_allclose(evening.spools[1].strand, end.spools[1].strand, rtol=1e-9)

    def test_the_band_holds_what_other_draws_of_the_data_would_have_given(self):
        filament, run, rng = Filament(material("petg")), [Segment(24, 63, ROOM, 0.08)], np.random.default_rng(3)
        [band], inside = forecast_bands([Asked(filament, Quantity(0.24, 0.04), run, [4, 12])]), 0
        self.assertTrue(np.all((band.low_pct < band.moisture_pct) & (band.moisture_pct < band.high_pct)))
        draw = lambda p: replace(p, value=p.value * p.spread ** rng.normal())  # noqa: E731
        for _ in range(200):
            drawn = replace(
                filament.material, d23=draw(filament.material.d23), k1=draw(filament.material.k1),
                ea=replace(filament.material.ea, value=rng.normal(45, 4)),
            )  # fmt: skip
            one = Filament(drawn, 1.75, Winding(tortuosity=max(1.0, 1.6 * 1.4 ** rng.normal())))
            truth = course(one, even_state(one, max(0.0, rng.normal(0.24, 0.04))), run, [4, 12])
            inside += int(np.sum((band.low_pct <= truth) & (truth <= band.high_pct)))
        self.assertTrue(0.84 * 400 <= inside <= 0.96 * 400, inside)

    def test_swing_raises_the_effective_temperature_and_warm_up_costs_time(self):
        petg, run = material("petg"), Segment(8, 63, ROOM, 0.1)
        self.assertEqual(round(effective_temperature_c(petg, 63, 0.0), 9), 63.0)
        self.assertTrue(63.05 < effective_temperature_c(petg, 63, 5.0) < 64)
        filament = Filament(petg)
        slow = warmed_up(run, 19, 1.0)
        self.assertAlmostEqual(sum(s.duration_h for s in slow), 8.0)
        start = even_state(filament, 0.24)
        self.assertGreater(course(filament, start, slow, [8])[0], course(filament, start, [run], [8])[0])


class BadInput(TestCase):
    def test_each_bad_value_is_named_with_its_range(self):
        filament = Filament(material("pla"))
        cases = (
            (lambda: Filament(material("pla"), -1.0), "strand_diameter_mm is -1"),
            (lambda: Winding(outer_radius_mm=-5), "outer_radius_mm is -5"),
            (lambda: Segment(5, 250, ROOM), "temp_c is 250 .*-40 °C and 200 °C"),
            (lambda: Segment(5, -60, ROOM), "temp_c is -60"),
            (lambda: Segment(5, 45, RoomAir(21, 120)), "rh_pct is 120 .*0 % and 100 %"),
            (lambda: Segment(-5, 45, ROOM), "duration_h is -5"),
            (lambda: course(filament, even_state(filament, 0.4), [], [1.0]), "no segments"),
            (
                lambda: course(filament, even_state(filament, 0.4), [Segment(5, 45, ROOM)], [6.0]),
                "outside the segments",
            ),
            (lambda: parse_segments(" "), "no segments"),
            (lambda: parse_segments("48h@45C in 21C/60% vent open"), "“48h@45C in 21C/60% vent open” is not a segment"),
        )
        for act, named in cases:
            with self.subTest(named), self.assertRaisesRegex(OutOfRangeError, named):
                act()

    def test_the_command_names_bad_rows_by_line_and_column_and_solves_the_others(self):
        head = "case,material,form,strand_diameter_mm,start_moisture_pct,segments,time_h\n"
        good = "a,pla,wound,1.75,0.48,48h@45C in 21C/60% vent free,2\n"
        for line, column in (
            ("b,cheese,wound,1.75,0.48,48h@45C in 21C/60% vent free,2", "material"),
            ("b,pla,flat,1.75,0.48,48h@45C in 21C/60% vent free,2", "form"),
            ("b,pla,wound,x,0.48,48h@45C in 21C/60% vent free,2", "strand_diameter_mm"),
            ("b,pla,wound,1.75,148,48h@45C in 21C/60% vent free,2", "start_moisture_pct"),
            ("b,pla,wound,1.75,0.48,48h@450C in 21C/60% vent free,2", "segments"),
            ("b,pla,wound,1.75,0.48,48h@45C in 21C/60% vent free,99", "time_h"),
            ("b,pla", "form"),
        ):
            out, err = io.StringIO(), io.StringIO()
            self.assertEqual(transport(io.StringIO(head + good + line + "\n"), out, err), 1)
            self.assertRegex(err.getvalue(), f"^line 3, column {column}: ")
            self.assertEqual(out.getvalue().splitlines()[1:], [good.strip() + ",0.3849"])
        out, err = io.StringIO(), io.StringIO()
        self.assertEqual(transport(io.StringIO("case,material\n"), out, err), 2)
        self.assertIn("the columns form", err.getvalue())
        with redirect_stderr(err), redirect_stdout(out):
            self.assertEqual((main([]), main(["fly"]), main(["transport", "/no/such/file.csv"])), (0, 2, 2))
        self.assertIn("/no/such/file.csv cannot be read", err.getvalue())


class OuterTurns(TestCase):
    """The grams that are printed next."""

    FILAMENT = Filament(material("pa6"))

    def after(self, start_pct, hours, room, temp_c):
        segment = Segment(hours, temp_c, room)
        return after_segment(self.FILAMENT, segment, even_state(self.FILAMENT, start_pct))

    @given(some_body, st.floats(0.05, 1.0))
    def test_an_even_spool_is_the_same_all_through(self, filament, share):
        self.assertAlmostEqual(outer_moisture_pct(filament, even_state(filament, 0.2), share), 0.2)

    def test_all_of_the_strand_holds_the_mean(self):
        state = self.after(0.5, 24.0, RoomAir(21, 60), 21)
        whole = outer_moisture_pct(self.FILAMENT, state, 1.0)
        self.assertAlmostEqual(whole, mean_moisture_pct(self.FILAMENT, state), places=9)

    def test_after_a_day_on_the_shelf_a_nylons_outer_tenth_holds_nearly_twice_the_mean(self):
        state = self.after(0.4, 24.0, RoomAir(21, 60), 21)
        ratio = outer_moisture_pct(self.FILAMENT, state, 0.1) / mean_moisture_pct(self.FILAMENT, state)
        self.assertTrue(1.5 < ratio < 2.5, ratio)

    def test_after_drying_the_outer_turns_are_the_driest_and_what_lies_deeper_is_wetter(self):
        state = self.after(2.0, 12.0, RoomAir(21, 45), 75)
        held = [outer_moisture_pct(self.FILAMENT, state, share) for share in (0.05, 0.2, 0.5, 1.0)]
        self.assertEqual(held, sorted(held))
        self.assertGreater(held[-1], 1.5 * held[0])

    def test_a_ring_and_what_lies_under_it_hold_together_what_all_holds(self):
        # The mean of a ring between two shares, by difference, against the profile at the nodes that lie in it.
        state = self.after(2.0, 12.0, RoomAir(21, 45), 75)
        local = local_moisture_pct(self.FILAMENT, state)
        mass = grid(self.FILAMENT.winding).mass
        depth = 1.0 - np.cumsum(mass) + mass / 2.0  # of each node, as a share of the strand from the face
        for node in range(4, local.size - 4):
            near, far = depth[node] - 0.01, depth[node] + 0.01
            ring = (
                outer_moisture_pct(self.FILAMENT, state, far) * far
                - outer_moisture_pct(self.FILAMENT, state, near) * near
            )
            self.assertAlmostEqual(ring / 0.02, local[node], delta=0.02 * local.max())

    def test_the_outer_turns_and_all_others_are_together_all_the_strand(self):
        mass = grid(self.FILAMENT.winding).mass
        for share in (0.05, 0.3, 0.7):
            outer = ring_weights(self.FILAMENT.winding, share)
            others = ring_weights(self.FILAMENT.winding, 1.0 - share, inner=True)
            np.testing.assert_allclose(share * outer + (1.0 - share) * others, mass, atol=1e-9)

    def test_a_full_spool_tells_fifty_grams_and_a_rest_of_thirty_tells_itself(self):
        state = self.after(2.0, 12.0, RoomAir(21, 45), 75)
        full, rest = turns_of(self.FILAMENT, state, 1000.0), turns_of(self.FILAMENT, state, 30.0)
        self.assertEqual((full.mass_g, rest.mass_g), (50.0, 30.0))
        self.assertLess(full.next_pct, 0.5 * full.hub_pct)
        self.assertAlmostEqual(rest.next_pct, rest.hub_pct, places=9)
        self.assertAlmostEqual(rest.hub_pct, mean_moisture_pct(self.FILAMENT, state), places=9)

    def test_no_turns_at_all_are_refused(self):
        with self.assertRaises(OutOfRangeError):
            outer_moisture_pct(self.FILAMENT, even_state(self.FILAMENT, 0.2), 0.0)
