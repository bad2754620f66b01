"""Memory is given back now and then, and not at every page."""

import gc
import weakref
from unittest import TestCase, mock

from darre.common.memory import EVERY_S, GivingBack, collect_later, collect_rarely, time


class Circle:
    """Refers to itself."""


class Giving(TestCase):
    def test_it_is_due_once_in_a_while(self):
        with mock.patch.object(time, "monotonic") as clock:
            clock.return_value = 100.0
            giving, done = GivingBack(), []
            for later in (1.0, EVERY_S - 0.1, EVERY_S + 0.1, EVERY_S + 1.0, 2.0 * EVERY_S + 0.2):
                clock.return_value = 100.0 + later
                done.append(giving.now_and_then())
        self.assertEqual(done, [False, False, True, False, True])


class Collecting(TestCase):
    def test_what_a_server_began_with_is_not_looked_through_again_and_new_circles_still_go(self):
        self.addCleanup(gc.set_threshold, *gc.get_threshold())
        self.addCleanup(gc.unfreeze)
        self.addCleanup(gc.enable)
        collect_later()
        self.assertFalse(gc.isenabled())
        kept = [[] for _ in range(1000)]
        collect_rarely()
        self.assertTrue(gc.isenabled())
        self.assertGreater(gc.get_freeze_count(), len(kept))
        self.assertGreater(gc.get_threshold()[0], 10_000)
        circle = Circle()
        circle.itself = circle
        gone = weakref.ref(circle)
        del circle
        gc.collect()
        self.assertIsNone(gone())
