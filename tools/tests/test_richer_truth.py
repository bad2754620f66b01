"""The truths that do not share the core's assumptions: against both references, and the balance of water."""

import csv
from collections import defaultdict
from pathlib import Path
from unittest import TestCase

import numpy as np

import drying.transport.tests
from drying.air.psychrometrics import RoomAir
from drying.cli.segments import parse_segments
from drying.materials.properties import material
from drying.transport.state import Filament, Segment
from drying.transport.winding import DEFAULT_WINDING, winding_of_mass
from tools.richer_truth import Heat, Spool, at_once

DATA = Path(drying.transport.tests.__file__).parent / "data"


def cases(name):
    found = defaultdict(list)
    for row in csv.DictReader((DATA / name).open()):
        found[row["case"]].append(row)
    return found


class References(TestCase):
    def compare(self, rows, spool):
        found = spool.moisture_pct([float(r["time_h"]) for r in rows])
        wanted = np.array([float(r["moisture_pct"]) for r in rows])
        return np.abs(found - wanted).max() / wanted.max()

    def test_without_conduction_it_is_the_reference_of_the_transport(self):
        rows_of = cases("water_transport.csv")
        for name in ("pla-45-vented", "pa6-80-vented", "pc-80-open"):
            rows = rows_of[name]
            body = Filament(material(rows[0]["material"]), 1.75, DEFAULT_WINDING)
            spool = Spool(body, float(rows[0]["start_moisture_pct"]), 20.0, tuple(parse_segments(rows[0]["segments"])))
            self.assertLess(self.compare(rows, at_once(spool)), 0.004, name)

    def test_with_conduction_it_comes_near_the_cold_spools(self):
        # Its heat goes by the middle of the ranges for all polymers, the reference by its own values for each.
        rows_of = cases("cold_spool.csv")
        for name in ("petg-63-part", "asa-75-cellar"):
            rows = rows_of[name]
            polymer = material(rows[0]["material"])
            body = Filament(polymer, 1.75, winding_of_mass(float(rows[0]["net_g"]), polymer.density.value))
            segments = tuple(parse_segments(rows[0]["segments"]))
            spool = Spool(body, float(rows[0]["start_moisture_pct"]), float(rows[0]["start_temp_c"]), segments)
            self.assertLess(self.compare(rows, spool), 0.05, name)


class Richer(TestCase):
    def left(self, **more):
        body = Filament(material("pa6"), 1.75, DEFAULT_WINDING)
        segment = Segment(60.0, 72.0, RoomAir(21, 50), 0.3)
        return Spool(body, 2.0, 21.0, (segment,), Heat(), **more).moisture_pct([4.0, 12.0, 40.0])

    def test_what_rises_with_moisture_goes_fast_at_first_and_slow_at_last(self):
        steady, rising = self.left(), self.left(rise=6.0, rise_at_pct=2.0)
        drop = 2.0 - np.array([steady, rising])
        self.assertGreater(drop[1, 0] / drop[1, 2], drop[0, 0] / drop[0, 2])

    def test_open_flanges_let_more_out(self):
        self.assertTrue(np.all(self.left(open_flange=0.2) < self.left()))

    def test_in_a_closed_box_nothing_is_lost(self):
        body = Filament(material("petg"), 1.75, DEFAULT_WINDING)
        shut = Spool(body, 0.3, 21.0, (Segment(20.0, 63.0, RoomAir(21, 50), 0.0),))
        np.testing.assert_allclose(shut.moisture_pct([5.0, 20.0]), 0.3, atol=0.004)  # what the warm gaps hold
