"""The order in which classes of tests are handed to the processes that run them."""

import unittest

from darre.common.test_runner import Apart


def one_test_of(name, **more):
    case = type(name, (unittest.TestCase,), {"test": lambda self: None, **more})
    return unittest.TestSuite([case("test")])


class Order(unittest.TestCase):
    def test_what_takes_long_begins_first_and_all_else_stays_in_order(self):
        suites = [one_test_of("A"), one_test_of("Long", begins_first=True), one_test_of("B"), one_test_of("C")]
        apart = Apart(suites, processes=2)
        names = [type(next(iter(suite))).__name__ for suite in apart.subsuites]
        self.assertEqual(names, ["Long", "A", "B", "C"])
