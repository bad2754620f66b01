"""What goes together."""

from unittest import TestCase

from drying.grouping import alike


class Alike(TestCase):
    def test_the_places_of_each_key_come_together_in_the_order_of_the_first(self):
        self.assertEqual(alike("cabcba"), [[0, 3], [1, 5], [2, 4]])
        self.assertEqual(alike([(1.0, None), b"1", (1.0, None)]), [[0, 2], [1]])
        self.assertEqual(alike(key for key in ()), [])
