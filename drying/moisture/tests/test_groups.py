"""Spools are computed together where they share air, directly or through others, and only there."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from drying.moisture.groups import groups_of

BOXES = 5
VISITED = st.lists(st.lists(st.integers(0, BOXES - 1), max_size=3, unique=True), max_size=7)


class Groups(TestCase):
    @given(VISITED)
    def test_who_can_reach_whom_through_containers_is_in_one_group_and_nobody_else(self, visited):
        size = BOXES + len(visited)
        joined = np.eye(size, dtype=int)
        for n, boxes in enumerate(visited):
            for box in boxes:
                joined[box, BOXES + n] = joined[BOXES + n, box] = 1
        reached = np.linalg.matrix_power(joined, size) > 0
        expected = {frozenset(np.flatnonzero(row).tolist()) for row in reached}
        found = groups_of(visited, BOXES)
        self.assertEqual({frozenset([*g.boxes, *(BOXES + n for n in g.spools)]) for g in found}, expected)
        self.assertEqual(sum(len(g.boxes) + len(g.spools) for g in found), size)
