"""Desiccant in a dryer: water is neither made nor lost, limits that are known, and a second way to compute it."""

from dataclasses import replace
from unittest import TestCase, mock

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.optimize import brentq
from scipy.special import jn_zeros

from drying.air import RoomAir
from drying.dryers import Dryer, DryerKind, Load, Setup, desiccated, dried
from drying.dryers.desiccated import BoxCourse, over_desiccant
from drying.dryers.load import Occupant
from drying.dryers.setup import kept_air
from drying.errors import OutOfRangeError
from drying.materials import activity_of_moisture, empty_spool_kind, equilibrium_moisture_pct, material
from drying.quantity import Quantity
from drying.storage import Charge, DesiccantKind
from drying.storage.desiccant import desiccant
from drying.transport import Filament, Segment, as_it_warms, course, even_state
from drying.transport.heat import effective_temperature_c

ROOM = RoomAir(21.0, 55.0)
BOX = Dryer(35, 75, vent_m3_h=0.0, warm_up_h=0.4, swing_c=2.0, fan=True)
GEL = Charge(DesiccantKind.SILICA_GEL, 150.0, 2.0)
KINDS = st.sampled_from(list(DesiccantKind))
FULL_G = 1489.0  # of PETG in the usual winding


def load(name="petg", start=0.35, grams=900.0, **more):
    return Load(material(name), empty_spool_kind("abs"), 1.75, Quantity(start, 0.03), grams, **more)


def setup(charge=GEL, loads=None, **dryer):
    return Setup(loads or (load(),), replace(BOX, desiccant=charge, **dryer), ROOM)


def strand_g(of):
    return of.net_g / (1.0 + of.start.value / 100.0)


class Balance(TestCase):
    @settings(max_examples=12, deadline=None)
    @given(KINDS, st.floats(20.0, 400.0), st.floats(2.0, 12.0), st.sampled_from([("petg", 0.35), ("pa6", 2.5)]))
    def test_what_the_spool_lost_is_what_the_desiccant_gained(self, kind, grams, held, spool):
        charge = Charge(kind, grams, held)
        run = setup(charge, (load(*spool),))
        [over] = dried([(run, 65.0)])
        ends = over.time_h[over.time_h < 200.0]
        [lost] = (run.lead.start.value - run.courses(65.0, ends)) / 100.0 * strand_g(run.lead)
        gained = (over.load_pct[: ends.size] - held) / 100.0 * grams
        water_g = run.lead.start.value / 100.0 * strand_g(run.lead)
        np.testing.assert_allclose(lost, gained, atol=0.022 * water_g)

    def test_in_the_end_filament_and_desiccant_are_equally_damp(self):
        for name, start in (("petg", 0.35), ("pa6", 2.5)):
            run = setup(loads=(load(name, start),))
            [over] = dried([(run, 65.0)])
            [end] = run.courses(65.0, [400.0])[0]
            over_gel = GEL.sorbent.activity_at(float(over.load_pct[-1]), 65.0)
            self.assertAlmostEqual(activity_of_moisture(run.lead.material, end), over_gel, delta=0.01 * over_gel)
            self.assertAlmostEqual(run.floor_pct(run.lead, 65.0), end, delta=0.01 * start)

    def test_where_it_ends_is_by_the_temperature_that_a_swing_counts_as(self):
        loads = load("petg", 0.35), load("pa6", 2.5)
        swings, steady = setup(loads=loads, swing_c=12.0), setup(loads=loads, swing_c=0.0)
        counts_as = effective_temperature_c(material("petg"), 65.0, 12.0)
        self.assertGreater(counts_as, 65.5)
        self.assertEqual(swings.floors_pct(65.0), steady.floors_pct(counts_as))
        self.assertEqual(swings.floors_pct(65.0), [swings.floor_pct(one, 65.0) for one in loads])


class Pieces(TestCase):
    def test_from_an_hour_on_the_rest_of_its_piece_and_all_after_it_are_met(self):
        [over] = dried([(setup(), 65.0)])
        ends = np.cumsum([piece.duration_h for piece in over.pieces])
        for hour in (0.0, 0.3, float(ends[2]), float(ends[2]) + 0.01):
            found = over.from_h(hour)
            self.assertAlmostEqual(sum(piece.duration_h for piece in found), ends[-1] - hour, places=6)
            left = [piece for piece, end in zip(over.pieces, ends, strict=True) if end > hour + 1e-6]
            self.assertEqual([piece.room for piece in found], [piece.room for piece in left])
            self.assertEqual([piece.goes_on for piece in found], [False, *(piece.goes_on for piece in left[1:])])
        self.assertEqual(over.from_h(float(ends[-1]) + 5.0), [over.pieces[-1]])

    def test_at_rest_the_air_is_that_over_all_the_water_there_is(self):
        run = setup()
        [over] = dried([(run, 65.0)])
        water_g = 0.35 / 100.0 * strand_g(run.lead) + 2.0 / 100.0 * 150.0

        def held_g(activity):
            strand = equilibrium_moisture_pct(material("petg"), activity) * strand_g(run.lead)
            return (strand + 150.0 * GEL.sorbent.held_pct(activity, 65.0)) / 100.0

        rest = brentq(lambda a: held_g(a) - water_g, 0.0, 1.0, xtol=1e-12)
        self.assertAlmostEqual(over.pieces[-1].activity / rest, 1.0, delta=0.002)


class Limits(TestCase):
    def test_plenty_of_desiccant_is_free_air_as_dry_as_it_keeps_it(self):
        run = setup(replace(GEL, dry_g=90_000.0), swing_c=0.0)
        hours = np.array([1.0, 3.0, 8.0, 20.0])
        dry = RoomAir(65.0, 100.0 * GEL.sorbent.activity_at(2.0, 65.0))
        box = [replace(s, room=dry, vent_m3_h=None) for s in run.dryer.segments(run.lead.material, ROOM, 65.0, 20.0)]
        met = as_it_warms(run.lead.filament, box, ROOM.temp_c, True)
        want = course(run.lead.filament, even_state(run.lead.filament, 0.35), met, hours)
        np.testing.assert_allclose(run.courses(65.0, hours)[0], want, atol=0.01 * 0.35)

    def test_a_coil_gives_what_a_stiff_integrator_says_that_it_gives(self):
        # Crank's modes of a cylinder, each an equation of its own beside that of the gel; no steps in common.
        grams, start, temp, polymer = 400.0, 0.6, 60.0, material("petg")
        rate = jn_zeros(0, 60) ** 2 * polymer.diffusivity_m2_s(temp) / 0.875e-3**2 * 3600.0
        weight = 4.0 / jn_zeros(0, 60) ** 2
        sorbent = desiccant(DesiccantKind.SILICA_GEL)

        def change(_, modes):
            gained = grams * (start - weight @ modes / weight.sum()) / 100.0
            surface = equilibrium_moisture_pct(polymer, sorbent.activity_at(4.0 + gained * 100.0 / 60.0, temp))
            return rate * (surface - modes)

        hours = [0.5, 2.0, 6.0, 20.0]
        found = solve_ivp(change, (0.0, 20.0), np.full(60, start), "BDF", hours, rtol=1e-7, atol=1e-9)
        want = weight @ found.y / weight.sum()
        free = Occupant(Filament(polymer, 1.75, None), start, grams)
        box = (Segment(1.0, temp, ROOM, 0.0),)
        [over] = over_desiccant([([free], BoxCourse(box, ((0.0, replace(GEL, dry_g=60.0, load_pct=4.0)),)))])
        got = course(free.filament, even_state(free.filament, start), over.pieces, hours)
        np.testing.assert_allclose(got, want, atol=0.01 * start)

    def test_full_desiccant_wets_what_is_drier_than_it(self):
        dry = load(start=0.05)
        run = setup(Charge(DesiccantKind.SILICA_GEL, 300.0, 30.0), (dry,))
        self.assertGreater(run.courses(65.0, [12.0])[0, 0], 0.1)
        [over] = dried([(run, 65.0)])
        self.assertLess(over.load_pct[-1], 30.0)

    def test_a_vent_brings_the_desiccant_to_the_rooms_air(self):
        vented = setup(replace(GEL, dry_g=30.0), vent_m3_h=1.0)
        plain = setup(None, vent_m3_h=1.0)
        self.assertEqual(vented.floor_pct(vented.lead, 65.0), plain.floor_pct(plain.lead, 65.0))
        self.assertAlmostEqual(vented.courses(65.0, [300.0])[0, 0], plain.courses(65.0, [300.0])[0, 0], delta=0.002)


class Symmetry(TestCase):
    def test_two_spools_beside_twice_the_desiccant_dry_as_one_beside_it(self):
        hours = [1.0, 5.0, 20.0]
        both = setup(replace(GEL, dry_g=300.0), (load(), load())).courses(62.0, hours)
        np.testing.assert_allclose(both, setup().courses(62.0, hours).repeat(2, axis=0), rtol=1e-6)

    def test_the_order_of_the_spools_does_not_matter(self):
        loads = (load("petg", 0.3), load("pa6", 2.0), load("petg", 0.3, 20.0, form="loose"))
        one, other = (setup(loads=order).courses(62.0, [2.0, 12.0]) for order in (loads, loads[1::-1] + loads[2:]))
        np.testing.assert_allclose(one[:2], other[1::-1], rtol=2e-3)

    def test_boxes_side_by_side_are_each_as_alone(self):
        for name, start, more in (("petg", 0.35, {}), ("pa6", 2.0, {}), ("pa6", 2.0, {"grams": 60.0, "form": "loose"})):
            runs = [(setup(loads=(load(name, start, **more),)), temp_c) for temp_c in (48.0, 57.5, 66.0)]
            runs.append((setup(loads=(load(name, start / 2.0, **more),)), 57.5))  # drier as it comes in
            runs += [(replace(runs[0][0], slower_warming=factor), 57.5) for factor in (0.7, 1.4)]
            kept_air.cache_clear()
            with mock.patch.object(desiccated, "_side_by_side", wraps=desiccated._side_by_side) as once:
                together = dried(runs)
            once.assert_called_once()
            for run, over in zip(runs, together, strict=True):
                kept_air.cache_clear()
                [alone] = dried([run])
                # One that warms longer begins stretches anew, and with them a search to within Newton's tolerance.
                np.testing.assert_allclose(over.load_pct, alone.load_pct, rtol=1e-7, err_msg=f"{name} {more}")

    def test_an_hour_is_the_same_however_many_are_asked_for(self):
        # A heavy spool in still air, which is long about its warming, over little gel: its air changes with each piece.
        for name, start in (("petg", 0.35), ("pc", 0.3), ("pa6", 2.0)):
            slow = setup(replace(GEL, dry_g=40.0), (load(name, start, 1800.0),), fan=False)
            for hour in (0.3, 0.75, 1.9, 5.0):
                [[short]] = slow.courses(65.0, [hour])
                [[long, _]] = slow.courses(65.0, [hour, 60.0])
                self.assertAlmostEqual(short, long, delta=1e-9 * start, msg=(name, hour))

    def test_more_desiccant_and_drier_desiccant_end_drier(self):
        ends = [setup(replace(GEL, dry_g=g)).courses(65.0, [24.0])[0, 0] for g in (20.0, 60.0, 200.0)]
        self.assertEqual(ends, sorted(ends, reverse=True))
        loads = [setup(replace(GEL, load_pct=p)).courses(65.0, [24.0])[0, 0] for p in (1.0, 8.0, 20.0)]
        self.assertEqual(loads, sorted(loads))

    def test_turns_that_lie_free_give_their_water_too(self):
        blown = setup(replace(GEL, dry_g=20.0), kind=DryerKind.FORCED_AIR)
        [over] = dried([(blown, 65.0)])
        gained = (over.load_pct[-1] - 2.0) / 100.0 * 20.0
        lost = (0.35 - blown.courses(65.0, [400.0])[0, 0]) / 100.0 * strand_g(blown.lead)
        self.assertAlmostEqual(gained, lost, delta=0.02)
        self.assertGreater(gained, 1.0)


class Comings(TestCase):
    def test_fresh_desiccant_put_in_later_dries_on(self):
        petg = material("petg")
        spool, box = Occupant(Filament(petg), 0.35, FULL_G), (Segment(1.0, 62.0, ROOM, 0.0),)
        few = replace(GEL, dry_g=15.0)
        [late] = over_desiccant([([spool], BoxCourse(box, ((0.0, few), (24.0, GEL))))])
        self.assertGreater(float(late.load_pct[np.searchsorted(late.time_h, 24.0)]), 10.0)
        hours = [23.9, 60.0]
        before, after = course(spool.filament, even_state(spool.filament, 0.35), late.pieces, hours)
        self.assertGreater(before, 0.15)
        self.assertLess(after, 0.06)

    def test_a_spool_that_is_taken_out_gives_no_more(self):
        petg, box = material("petg"), (Segment(1.0, 62.0, ROOM, 0.0),)
        stays, leaves = Occupant(Filament(petg), 0.3, FULL_G), Occupant(Filament(petg), 0.3, FULL_G, 0.0, 3.0)
        ends = []
        for occupants in ([stays], [stays, leaves], [stays, replace(leaves, to_h=None)]):
            [over] = over_desiccant([(occupants, BoxCourse(box, ((0.0, GEL),)))])
            ends.append(float(over.load_pct[-1]))
        self.assertEqual(ends, sorted(ends))
        self.assertGreater(ends[2] - ends[1], 0.5)

    def test_what_changes_nearly_at_once_changes_at_once(self):
        """Hours are sums and differences of moments: the same one comes out a last digit apart."""
        petg, a_bit = material("petg"), 3e-10
        box = (Segment(0.4, 40.0, ROOM, 0.0), Segment(1.0, 62.0, ROOM, 0.0))
        found = []
        for apart in (-a_bit, 0.0, a_bit):
            spools = [Occupant(Filament(petg), 0.3, FULL_G), Occupant(Filament(petg), 0.3, FULL_G, 0.4 + apart)]
            charges = ((0.0, GEL), (0.4 - apart, replace(GEL, dry_g=90.0)))
            [over] = over_desiccant([(spools, BoxCourse(box, charges))])
            found.append((over.load_pct, [piece.activity for piece in over.pieces]))
        for loads, activities in found:
            np.testing.assert_allclose(loads, found[1][0], rtol=1e-6)
            np.testing.assert_allclose(activities, found[1][1], rtol=1e-6)


class Warm(TestCase):
    def test_warm_beads_hold_less_at_the_same_humidity(self):
        # By hand: 0.2 at 65 °C is 0.2 ** (338.15 / 298.15) = 0.1611 at 25 °C, between the table's 6 and 12 %.
        gel = desiccant(DesiccantKind.SILICA_GEL)
        self.assertAlmostEqual(gel.held_pct(0.2, 65.0), 9.67, places=2)
        self.assertAlmostEqual(gel.held_pct(0.2), 12.0)

    @given(KINDS, st.floats(0.02, 0.98), st.floats(0.0, 120.0))
    def test_at_every_temperature_it_is_read_both_ways(self, kind, activity, temp_c):
        sorbent = desiccant(kind)
        self.assertAlmostEqual(sorbent.activity_at(sorbent.held_pct(activity, temp_c), temp_c), activity, places=6)

    def test_what_no_desiccant_has_is_refused_by_name(self):
        for change, field in (({"dry_g": 0.0}, "desiccant_g"), ({"load_pct": 101.0}, "desiccant_load_pct")):
            with self.assertRaisesRegex(OutOfRangeError, field):
                replace(GEL, **change)
