"""The reader of print files: what it finds in G-code, whole or in pieces, and what it refuses."""

import contextlib
import itertools
import math
import tracemalloc
from dataclasses import asdict
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from gcode.reader import GcodeReader, NotGcodeError, what_differs

START = "G21\nG90\nM82\nM190 S70\nM109 S238\nM106 S128\nG28\nG92 E0\nG1 Z0.3 F6000\n"


LAYERS = "".join(
    f"G1 Z{0.3 + 0.2 * n:.2f} F6000\nG1 X0 Y0 F3000\nG1 X100 Y0 E{4 * n + 4} F2400\nG1 E{4 * n + 3.2:.1f} F2700\n"
    f"G1 E{4 * n + 4} F2700\n"
    for n in range(5)
)


def read(text, cuts=()):
    reader, blob = GcodeReader(), text if isinstance(text, bytes) else text.encode()
    bounds = [0, *sorted(min(c, len(blob)) for c in cuts), len(blob)]
    for a, b in itertools.pairwise(bounds):
        reader.feed(blob[a:b])
    return reader.finish()


class Gcode(TestCase):
    def test_it_says_what_its_commands_say(self):
        summary = read(START + LAYERS).summary
        self.assertEqual(
            (
                summary.nozzle_c,
                summary.bed_c,
                summary.fan_pct,
                summary.layers,
                summary.layer_mm,
                summary.first_layer_mm,
            ),
            (238, 70, 50, 5, 0.2, 0.3),
        )
        self.assertEqual((summary.retraction_mm, summary.retraction_mm_s, summary.retractions), (0.8, 45.0, 5))
        self.assertAlmostEqual(summary.extruded_mm, 20.0)  # pulling back and forth adds nothing
        self.assertAlmostEqual(summary.speed_mm_s, 40.0)
        # five lines of 100 mm at 40 mm/s, four moves back at 50 mm/s, five retractions there and back at 45 mm/s, lifts
        self.assertAlmostEqual(summary.least_h * 3600, 12.5 + 8 + 10 * 0.8 / 45 + 0.3 / 100 + 4 * 0.2 / 100, delta=0.3)

    def test_the_same_print_said_in_other_ways_is_the_same(self):
        whole = read(START + LAYERS).summary
        relative = (START + LAYERS).replace("M82", "M83")
        for n in range(5):
            relative = relative.replace(f"E{4 * n + 4} F2400", "E4 F2400").replace(
                f"G1 E{4 * n + 3.2:.1f} F", "G1 E-0.8 F"
            )
            relative = relative.replace(f"G1 E{4 * n + 4} F2700", "G1 E0.8 F2700")
        cramped = (START + LAYERS).replace(" ", "")
        numbered = "".join(f"N{n} {line}*71\n" for n, line in enumerate((START + LAYERS).splitlines()))
        for name, text in (("relative E", relative), ("no spaces", cramped), ("numbered", numbered)):
            with self.subTest(name):
                self.assertEqual(what_differs(whole, read(text).summary), ())
        lower = read((START + LAYERS).lower()).summary
        self.assertEqual(what_differs(whole, lower), ())

    def test_inches_arcs_firmware_retraction_volumes_and_tools_are_understood(self):
        inch = read("G20\nG91\nG1 X1 E1 F60\n").summary
        self.assertAlmostEqual(inch.extruded_mm, 25.4)
        half = read("M83\nG1 X0 Y0 F600\nG2 X20 Y0 I10 J0 E5 F600\n").summary
        self.assertAlmostEqual(half.least_h * 3600, 10 * np.pi / 10, delta=0.2)
        self.assertEqual(
            read("M83\nG1 X0 Y0 F600\nG3 X0 Y0 I10 J0 E5\n").summary.least_h, round(20 * np.pi / 10 / 3600, 4)
        )
        firm = read("M83\nM207 S1.1 F2400\nG1 X9 E1 F600\nG10\nG11\nG1 X0 E1\nG10\n").summary
        self.assertEqual((firm.retraction_mm, firm.retractions), (1.1, 2))
        volume = read("M200 D1.75\nM83\nG1 X9 E24.0528 F600\n").summary  # 24.05 mm³ is 10 mm of 1.75 mm strand
        self.assertAlmostEqual(volume.extruded_mm, 10.0, places=2)
        two = read("M83\nT0\nG1 X9 E5 F600\nT1\nG1 X0 E7\n").summary
        self.assertEqual((two.tools, two.extruded_mm), (2, 12.0))

    @given(st.lists(st.integers(0, 900), max_size=12))
    @settings(max_examples=40)
    def test_where_the_stream_is_cut_changes_nothing(self, cuts):
        self.assertEqual(read(START + LAYERS, cuts), read(START + LAYERS))

    def test_comments_count_for_the_bytes_and_not_for_the_commands(self):
        plain = read(START + LAYERS)
        told = "; 999 mm of strand, nozzle 400\n" + (START + LAYERS).replace("M109 S238", "M109 S238 ; heat (slowly)")
        other = read(told.replace("\n", "\r\n"))
        self.assertNotEqual(plain.sha256, other.sha256)
        self.assertEqual(plain.summary, other.summary)
        self.assertEqual(
            read("; a\n" + START + LAYERS).commands_sha256, read("; bb\n" + START + LAYERS).commands_sha256
        )
        hotter = read((START + LAYERS).replace("S238", "S243"))
        self.assertEqual([d.name for d in what_differs(plain.summary, hotter.summary)], ["nozzle_c"])

    def test_memory_stays_flat_however_long_the_file_is(self):
        block, peaks = b"G1 X10.000 Y20.000 E0.01234 F1800\n" * 2000, []
        for times in (8, 32):
            tracemalloc.start()
            reader = GcodeReader()
            for _ in range(times):
                reader.feed(block)
            self.assertEqual(reader.finish().size, times * len(block))
            peaks.append(tracemalloc.get_traced_memory()[1])
            tracemalloc.stop()
        self.assertLess(peaks[1], 1.1 * peaks[0] + 20_000)
        self.assertLess(peaks[1], 1_000_000)

    def test_what_is_no_print_file_is_refused(self):
        for blob in (b"", b"hello\n" * 40, START.encode(), b"\x89PNG\0\0", b"G1 X" + b"1" * 200_000):
            with self.subTest(blob[:12]), self.assertRaises(NotGcodeError):
                read(blob)

    @given(st.binary(max_size=400))
    def test_any_bytes_are_read_or_refused_and_never_crash(self, blob):
        with contextlib.suppress(NotGcodeError):
            self.assertGreater(read(blob).summary.extruded_mm, 0)


class Hostile(TestCase):
    """What someone could send on purpose. Each is long enough that anything but one pass would not come to an end."""

    PRINTS = b"G1 X1 Y1 F1200\nG1 X9 E3\n"

    def read(self, *blocks):
        reader = GcodeReader()
        for block in blocks:
            reader.feed(block)
        return reader.finish().summary

    def test_brackets_that_are_never_closed_cost_no_more_than_their_length(self):
        for line in (b"(" * 60_000, b"(;" * 30_000, b"( a" * 20_000, b"G1 " + b"(x" * 30_000, b";" * 60_000):
            lines = (line + b"\n") * 40
            self.assertEqual(self.read(self.PRINTS, lines).extruded_mm, 3.0)

    def test_numbers_without_an_end_infinity_and_no_number_are_left_out(self):
        wild = (b"nan", b"inf", b"-inf", b"1e400", b"9" * 400, b"1_000", b"1e30", b"--1", b".")
        text = b"".join(b"G1 X%s Y%s E%s F%s\nM104 S%s\nG92 E0\n" % ((value,) * 5) for value in wild)
        codes = b"G" + b"9" * 5000 + b" X1\nM" + b"1" * 400 + b"\nT" + b"7" * 9000 + b"\nN" + b"1" * 9000 + b" G1 X2\n"
        summary = self.read(codes, text, b"G92 E0\n", self.PRINTS)
        for value in asdict(summary).values():
            self.assertTrue(value is None or math.isfinite(value), summary)
        self.assertTrue(0.0 < summary.extruded_mm < 2000.0, summary)

    def test_a_line_that_is_too_long_is_refused_wherever_its_end_lies(self):
        for block in (b"G1 X" + b"1" * 70_000 + b"\n" + self.PRINTS, b"G1 X" + b"1" * 70_000):
            with self.assertRaisesRegex(NotGcodeError, "over 64 kB"):
                self.read(block)

    def test_kinds_without_number_fill_no_memory(self):
        reader = GcodeReader()
        reader.feed(b"M83\n")
        for at in range(20):
            reader.feed(b"".join(b"M104 S%d.%d\nG1 E-0.%05d F%d\nG1 X%d E1 Z%d\n"
                                 % (at, n, n, n, n % 9, at * 2000 + n) for n in range(2000)))  # fmt: skip
        kinds = [reader._back, reader._back_speed, reader._steps, *reader._by_heat.values()]
        self.assertLessEqual(max(map(len, kinds)), 4096)
        self.assertGreater(reader.finish().summary.extruded_mm, 0.0)
