"""Figures beside their goals: which are met, what stood before, and what the table marks."""

from unittest import TestCase

from tools.measured import is_met, noted, table


class Figures(TestCase):
    def test_a_figure_keeps_its_goal_up_to_the_goal_itself(self):
        for value, at_most, at_least, met in (
            (200.0, 200.0, None, True), (200.1, 200.0, None, False), (200.0, None, 200.0, True),
            (199.0, None, 200.0, False), (90.0, 94.0, 86.0, True), (95.0, 94.0, 86.0, False), (1.0, None, None, None),
        ):  # fmt: skip
            self.assertIs(is_met(value, at_most, at_least), met, (value, at_most, at_least))

    def test_the_value_before_stays_beside_the_new_one_and_others_are_left_alone(self):
        first = noted({}, "rack", 812.34, "ms", 500.0, None)
        other = noted(first, "page", 12.0, "kB", None, None)
        again = noted(other, "rack", 431.0, "ms", 500.0, None)
        self.assertEqual([again["rack"][k] for k in ("value", "before", "met")], [431.0, 812.3, True])
        self.assertEqual(again["page"], other["page"])
        self.assertEqual(list(again), ["page", "rack"])

    def test_the_table_marks_what_misses_its_goal_and_nothing_else(self):
        figures = noted(noted({}, "rack", 812.0, "ms", 500.0, None), "ratio", 300.0, "times", None, 200.0)
        of_rack, of_ratio = (
            next(row for row in table(figures).splitlines() if name in row) for name in ("rack", "ratio")
        )
        self.assertIn("MISSED", of_rack)
        self.assertIn("500 at most", of_rack)
        self.assertNotIn("MISSED", of_ratio)

    def test_beside_a_time_stands_how_long_the_machine_took_then_and_before(self):
        first = noted({}, "rack", 800.0, "ms", 500.0, None, 10.0)
        again = noted(first, "rack", 430.0, "ms", 500.0, None, 5.0)
        of_first, of_again = (table(figures).splitlines()[1] for figures in (first, again))
        self.assertTrue(of_again.endswith(" x0.50"), of_again)
        self.assertNotIn("x", of_first.split("rack")[1])
