"""Memory is given back now and then, and not at every page."""

from unittest import TestCase, mock

from darre.common.memory import EVERY_S, GivingBack, time


class Giving(TestCase):
    def test_it_is_due_once_in_a_while(self):
        with mock.patch.object(time, "monotonic") as clock:
            clock.return_value = 100.0
            giving, done = GivingBack(), []
            for later in (1.0, EVERY_S - 0.1, EVERY_S + 0.1, EVERY_S + 1.0, 2.0 * EVERY_S + 0.2):
                clock.return_value = 100.0 + later
                done.append(giving.now_and_then())
        self.assertEqual(done, [False, False, True, False, True])
