"""A scale's lines: the mass, its unit, and whether it holds still, whatever way they are written."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from bridge.lines import LONGEST_LINE, LineReader


class Masses(TestCase):
    def test_a_mass_is_found_however_it_is_written(self):
        for line, grams in (
            (b"812.4 g", 812.4),
            (b"+  812.4g\r", 812.4),
            (b"ST,GS,+ 0812.40 g", 812.4),
            (b"-  12,5 g", -12.5),
            (b"N      812.4", 812.4),
            (b"0.8124 kg", 812.4),
            (b"812400 mg", 812.4),
            (b"2 oz", 56.699046),
            (b"No 3  812.4 g", 812.4),  # the number with a unit is meant
            (b"812.4 G", 812.4),
        ):
            with self.subTest(line=line):
                self.assertEqual(LineReader().read(line).mass_g, grams)

    def test_what_is_no_mass_or_could_be_two_is_none(self):
        for line in (
            b"",
            b"ERR",
            b"-----",
            b"OL",
            b"812.4 g 3.1 g",
            b"12 34",
            b"\xff\xfe",
            b"1" * 9 + b" g",
        ):
            with self.subTest(line=line):
                self.assertIsNone(LineReader().read(line))
        self.assertIsNone(LineReader().read(b"812.4 g" + b" " * LONGEST_LINE))

    def test_the_unit_that_is_said_counts_where_the_lines_say_none(self):
        self.assertEqual(LineReader("kg").read(b"0.8124").mass_g, 812.4)
        self.assertEqual(LineReader("kg").read(b"812.4 g").mass_g, 812.4)

    @given(st.binary(max_size=200))
    def test_any_bytes_are_read_without_a_fault(self, line):
        LineReader().read(line)


class Steady(TestCase):
    def steady(self, *lines):
        reader = LineReader()
        return [reader.read(line).steady for line in lines]

    def test_without_marks_three_equal_lines_are_steady(self):
        self.assertEqual(
            self.steady(b"10.1 g", b"10.1 g", b"10.1 g", b"10.2 g", b"10.2 g", b"10.2 g"),
            [False, False, True, False, False, True],
        )

    def test_marks_that_come_and_go_say_it(self):
        self.assertEqual(self.steady(b"US 10.1 g", b"ST 10.2 g", b"US 10.4 g"), [False, True, False])
        self.assertEqual(self.steady(b"10.1 g ?", b"10.2 g", b"10.3 g ?"), [False, True, False])
        self.assertEqual(self.steady(b"10.1 g", b"10.2 g *", b"10.3 g"), [False, True, False])

    def test_a_mark_in_every_line_says_nothing(self):
        self.assertEqual(self.steady(*[b"ST,%d.0 g" % n for n in range(5)]), [False] * 5)
        self.assertEqual(self.steady(*[b"ST,7.0 g"] * 3), [False, False, True])
