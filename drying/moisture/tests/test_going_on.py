"""What was computed before is gone on from: the same numbers as computed anew, and nothing computed twice."""

import tempfile
from dataclasses import replace
from pathlib import Path
from unittest import TestCase, mock

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from drying.moisture import history
from drying.moisture.code import code_digest
from drying.moisture.events import ContainerEvents, DesiccantFilled, KnownMoisture, SpoolEvents, SpoolStay
from drying.moisture.histories import MoistureHistory, Room
from drying.moisture.history import MoistureSimulator
from drying.moisture.tests.test_history import DRY_G, FIRST, filament, shed, told
from drying.moisture.timeline import BLOCK_H
from drying.quantity import Quantity
from drying.storage.container import Container, Fill
from drying.storage.desiccant import DesiccantKind

BIN = ContainerEvents(Container(0.03, 20.0), FIRST)


def spool(name="petg", pct=0.1, *stays):
    known = (KnownMoisture(FIRST, Quantity(pct, 0.02)),)
    return SpoolEvents(
        filament(name), DRY_G, known, stays=tuple(SpoolStay(FIRST + a, b and FIRST + b, at) for a, b, at in stays)
    )


class GoingOn(TestCase):
    def test_what_is_asked_again_goes_on_from_what_was_computed_and_takes_its_place(self):
        simulator, room = MoistureSimulator(), shed(24 * 8)
        story = SpoolEvents(filament("petg"), DRY_G, (KnownMoisture(FIRST, Quantity(0.1, 0.02)),))
        first = simulator.simulate([story], [], room, again=True)
        wetter = replace(story, known=(*story.known, KnownMoisture(FIRST + 100, Quantity(0.2, 0.02))))
        for _ in range(3):
            found = simulator.simulate([wetter], [], room, again=True)
        self.assertEqual(len(simulator._recent), 1)
        alone = told(wetter, room=room).spools[0].moisture_pct
        np.testing.assert_array_equal(found.spools[0].moisture_pct, alone)
        np.testing.assert_array_equal(first.spools[0].moisture_pct[:100], alone[:100])

    def test_the_same_question_is_not_followed_again_and_any_other_is(self):
        simulator, room = MoistureSimulator(), shed(24 * 8)
        spool = SpoolEvents(
            filament("petg"),
            DRY_G,
            (KnownMoisture(FIRST, Quantity(0.1, 0.02)),),
            stays=(SpoolStay(FIRST + 9, None, 0),),
        )
        box = ContainerEvents(Container(0.03, 20.0), FIRST)
        first = simulator.simulate([spool], [box], room, again=True)
        with mock.patch.object(history.Simulation, "_block", side_effect=AssertionError("followed again")):
            again = simulator.simulate([replace(spool)], [replace(box)], replace(room), again=True)
        np.testing.assert_array_equal(again.spools[0].moisture_pct, first.spools[0].moisture_pct)
        last = 24 * 8 - 1
        gel = DesiccantFilled(FIRST + last, Fill(DesiccantKind.SILICA_GEL, 200.0), 2.0)
        warmer = np.append(room.temp_c[:-1], room.temp_c[-1] + 4.0)
        others = {
            "moved": ([replace(spool, stays=(SpoolStay(FIRST + 9, FIRST + last, 0),))], [box], room),
            "noted": (
                [replace(spool, known=(*spool.known, KnownMoisture(FIRST + last, Quantity(0.3, 0.02))))],
                [box],
                room,
            ),
            "drier strand": ([replace(spool, dry_g=400.0)], [box], room),
            "another material": ([replace(spool, filament=filament("abs"))], [box], room),
            "a tighter box": ([spool], [ContainerEvents(Container(0.003, 20.0), FIRST)], room),
            "desiccant": ([spool], [replace(box, fills=(gel,))], room),
            "the last hour of the air": ([spool], [box], Room(FIRST, warmer, room.activity)),
        }
        for name, asked in others.items():
            found, alone = simulator.simulate(*asked, again=True), MoistureSimulator().simulate(*asked)
            np.testing.assert_allclose(found.spools[0].moisture_pct, alone.spools[0].moisture_pct, rtol=1e-12)
            changed = not np.array_equal(found.spools[0].moisture_pct, first.spools[0].moisture_pct)
            self.assertTrue(changed, name)

    def test_events_that_are_the_same_are_prepared_once_and_give_what_events_prepared_anew_give(self):
        simulator, room, later = MoistureSimulator(), shed(24 * 8), shed(24 * 8, first=FIRST + 24, seed=2)
        still = SpoolEvents(filament("petg"), DRY_G, (KnownMoisture(FIRST + 24, Quantity(0.1, 0.02)),))
        moved = replace(still, stays=(SpoolStay(FIRST + 90, None, 0),))
        box = [ContainerEvents(Container(0.03, 20.0), FIRST + 24)]
        prepared = history.prepared_for
        for other, air in ((moved, later), (still, room), (moved, room), (moved, later), (moved, room)):
            with mock.patch.object(history, "prepared_for", side_effect=prepared) as made:
                found = simulator.simulate([still, other], box, air, again=True)
                known = [call.args for call in made.call_args_list]
            alone = told(still, other, boxes=box, room=air)
            for line, expected in zip(found.spools, alone.spools, strict=True):
                np.testing.assert_allclose(line.moisture_pct, expected.moisture_pct, rtol=1e-12)
        self.assertEqual(known, [])  # both were prepared for this air before

    @given(st.lists(st.floats(0.0, 1.0) | st.just(np.nan), min_size=1, max_size=6), st.floats(-2.0, 8.0))
    def test_a_value_between_hours_lies_on_the_straight_line(self, values, at):
        row = np.array(values)
        line = MoistureHistory(FIRST, row, row / 2.0, row * 3.0)
        expected = float(np.interp((FIRST + at) - FIRST, np.arange(row.size), row))  # the least fractions are lost
        found = (line.at(FIRST + at).value, 2.0 * line.at(FIRST + at).uncertainty, line.next_at(FIRST + at) / 3.0)
        np.testing.assert_allclose(found, expected, atol=1e-9)

    def test_the_code_that_computes_has_a_name_of_sixteen_bytes(self):
        self.assertEqual(len(code_digest()), 16)
        self.assertEqual(code_digest(), code_digest.__wrapped__())

    def test_the_code_is_another_with_any_of_its_files_but_not_with_what_is_made_of_them(self):
        with tempfile.TemporaryDirectory() as folder:
            for name in ("rule.py", "data/values.toml", "__pycache__/rule.nbi", "tests/test_rule.py"):
                (Path(folder) / name).parent.mkdir(exist_ok=True)
                (Path(folder) / name).write_text("one")
            with mock.patch("drying.moisture.code.CORE", Path(folder)):
                began = code_digest.__wrapped__()
                for name, another in (("__pycache__/rule.nbi", False), ("tests/test_rule.py", False),
                                      ("data/values.toml", True), ("rule.py", True)):  # fmt: skip
                    with self.subTest(name):
                        (Path(folder) / name).write_text("two")
                        self.assertEqual(code_digest.__wrapped__() != began, another)
                        (Path(folder) / name).write_text("one")


class InParts(TestCase):
    """Only as far as it is asked for, and the rest when it is."""

    def test_two_parts_are_the_whole_and_the_rest_is_not_known_before(self):
        room, asked = shed(24 * 12), [spool("petg", 0.1, (9, None, 0)), spool("pa6", 0.8)]
        whole, near = (
            told(*asked, boxes=[BIN], room=room),
            MoistureSimulator().simulate(asked, [BIN], room, until=FIRST + 80),
        )
        done = 2 * BLOCK_H
        for line, expected in zip(near.spools, whole.spools, strict=True):
            np.testing.assert_array_equal(line.moisture_pct[:done], expected.moisture_pct[:done])
            self.assertTrue(np.isnan(line.moisture_pct[done + 1 :]).all())
        far = near.further()
        for line, expected in zip(far.spools, whole.spools, strict=True):
            np.testing.assert_array_equal(line.moisture_pct, expected.moisture_pct)
            np.testing.assert_array_equal(line.next_pct, expected.next_pct)
        np.testing.assert_array_equal(far.activity, whole.activity)

    def test_another_goes_on_from_one_that_was_left_at_a_part(self):
        room, still = shed(24 * 12), spool("petg", 0.1, (9, None, 0))
        for moved_at in (5, 100, 200):
            simulator, moved = MoistureSimulator(), spool("pla", 0.3, (moved_at, None, 0))
            near = simulator.simulate([still, spool("pla", 0.3)], [BIN], room, again=True, until=FIRST + 80)
            found = simulator.simulate([still, moved], [BIN], room, again=True)
            near.further()
            alone = told(still, moved, boxes=[BIN], room=room)
            for line, expected in zip(found.spools, alone.spools, strict=True):
                np.testing.assert_allclose(line.moisture_pct, expected.moisture_pct, rtol=1e-12)


class Digests(TestCase):
    """The same digest, the same history; and the same history has the same digest, whatever its neighbours do."""

    def setUp(self):
        self.simulator, self.room = MoistureSimulator(), shed(24 * 9)
        self.bins = [BIN, replace(BIN, container=Container(0.01, 12.0))]
        self.still, self.alone = spool("petg", 0.1, (9, None, 0)), spool("pa6", 0.5)
        self.other = spool("pla", 0.3, (0, 30, 1), (30, None, 0))

    def simulate(self, *last):
        return self.simulator.simulate([self.still, self.other, self.alone, *last], self.bins, self.room)

    def test_a_digest_moves_with_the_hour_from_which_a_history_does(self):
        first, later = (self.simulate(spool("abs", 0.4, (at, None, 1))) for at in (BLOCK_H + 20, BLOCK_H + 50))
        for n, touched in ((3, True), (2, False)):
            for hour in (0, BLOCK_H - 1, BLOCK_H, BLOCK_H + 60, 3 * BLOCK_H - 1):
                same = np.array_equal(
                    first.spools[n].moisture_pct[: (hour // BLOCK_H + 1) * BLOCK_H + 1],
                    later.spools[n].moisture_pct[: (hour // BLOCK_H + 1) * BLOCK_H + 1],
                )
                self.assertEqual(same, not touched or hour < BLOCK_H, (n, hour))
                self.assertEqual(first.digest(n, FIRST + hour) == later.digest(n, FIRST + hour), same, (n, hour))

    def test_blocks_to_come_are_taken_over_where_a_neighbour_left_all_as_it_was(self):
        # The second spool ties both bins together in its first block, in which it moves from one to the other.
        self.simulate(spool("abs", 0.4, (40, None, 1)))
        computed = []
        real = history.Simulation._compute
        spy = lambda its, groups, begin, end: computed.append((begin, groups)) or real(its, groups, begin, end)  # noqa: E731
        with mock.patch.object(history.Simulation, "_compute", spy):
            found = self.simulate(spool("abs", 0.4, (50, None, 1)))
        self.assertEqual(
            {n for begin, groups in computed for g in groups if begin == FIRST for n in g.spools}, {0, 1, 3}
        )
        self.assertEqual({n for begin, groups in computed for g in groups if begin > FIRST for n in g.spools}, {3})
        everyone = self.still, self.other, self.alone, spool("abs", 0.4, (50, None, 1))
        anew = told(*everyone, boxes=self.bins, room=self.room)
        for line, expected in zip(found.spools, anew.spools, strict=True):
            np.testing.assert_allclose(line.moisture_pct, expected.moisture_pct, rtol=1e-12)
