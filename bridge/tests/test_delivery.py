"""What was not taken is sent again, in its order, and nothing twice that was."""

from unittest import TestCase, mock

from bridge import delivery
from bridge.delivery import Outbox


class Sending(TestCase):
    def setUp(self):
        self.outbox, self.taken = Outbox("http://127.0.0.1:1"), []

    def answer(self, *statuses):
        """The app's answers, one after the other; what it took is kept."""
        left = list(statuses)

        def deliver(address, token, rows):
            status = left.pop(0)
            if status == 200:
                self.taken += [(token, row["mass_g"]) for row in rows]
            return status

        return mock.patch.object(delivery, "deliver", side_effect=deliver)

    def test_what_was_not_reached_is_sent_again_in_its_order(self):
        for mass in (1.0, 2.0):
            self.outbox.put("T", {"mass_g": mass})
        with self.answer(0, 429, 503, 200):
            self.assertEqual([self.outbox.send() for _ in range(3)], [0, 0, 0])
            self.outbox.put("T", {"mass_g": 3.0})
            self.assertEqual((self.outbox.send(), self.outbox.send()), (3, 0))
        self.assertEqual(self.taken, [("T", 1.0), ("T", 2.0), ("T", 3.0)])

    def test_what_is_refused_for_good_is_let_go_and_an_unknown_token_is_told(self):
        self.outbox.put("T", {"mass_g": 1.0})
        self.outbox.put("U", {"mass_g": 2.0})
        with self.answer(400, 401):
            self.outbox.send()
            self.assertEqual(self.outbox.send(), 0)
        self.assertEqual(self.outbox.unknown, {"U"})

    def test_a_full_outbox_lets_the_oldest_go_also_while_it_sends(self):
        with mock.patch.object(delivery, "MOST_WAITING", 3):
            for mass in (1.0, 2.0, 3.0, 4.0):
                self.outbox.put("T", {"mass_g": mass})

            def deliver(address, token, rows):
                self.taken += [row["mass_g"] for row in rows]
                if len(self.taken) == 3:
                    self.outbox.put("T", {"mass_g": 5.0})
                return 200

            with mock.patch.object(delivery, "deliver", side_effect=deliver):
                self.outbox.send()
                self.outbox.send()
        self.assertEqual(self.taken, [2.0, 3.0, 4.0, 5.0])

    def test_a_server_that_is_not_there_is_status_0(self):
        self.assertEqual(delivery.deliver("http://127.0.0.1:1", "T", []), 0)
