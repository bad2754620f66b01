"""The cache: bounded, and safe between threads."""

import threading
from unittest import TestCase

from drying.cache import Cache, Turns


class Memos(TestCase):
    def test_a_result_is_made_once_and_the_one_not_asked_for_longest_goes_first(self):
        made, memo = [], Cache[int](2)

        def ask(key):
            return memo.get(key, lambda: made.append(key) or len(made))

        self.assertEqual([ask("a"), ask("b"), ask("a"), ask("c"), ask("a")], [1, 2, 1, 3, 1])
        self.assertIsNone(memo.peek("b"))
        self.assertEqual((ask("b"), made), (4, ["a", "b", "c", "b"]))

    def test_of_several_only_what_is_not_there_is_made_and_at_one_go(self):
        asked, memo = [], Cache[str](9)
        memo.put("b", "kept")

        def made(keys):
            asked.append(keys)
            return [key.upper() for key in keys]

        self.assertEqual(memo.get_each(["c", "b", "a", "c"], made), ["C", "kept", "A", "C"])
        self.assertEqual(memo.get_each(["a", "b"], made), ["A", "kept"])
        self.assertEqual(asked, [["c", "a"]])

    def test_heavy_results_take_the_room_of_several(self):
        memo = Cache[bytes](10, len)
        for key, length in (("a", 4), ("b", 4), ("c", 2)):
            memo.put(key, bytes(length))
        memo.put("d", bytes(5))
        self.assertEqual([key for key in "abcd" if memo.peek(key) is not None], ["c", "d"])
        memo.put("d", bytes(8))  # in place of the five that it was
        self.assertEqual([key for key in "abcd" if memo.peek(key) is not None], ["c", "d"])
        memo.put("e", bytes(11))
        self.assertEqual([key for key in "abcde" if memo.peek(key) is not None], [])

    def test_many_threads_may_ask_at_once(self):
        memo, wrong = Cache[int](8), []

        def ask(start):
            span = range(start, start + 400)
            wrong.extend(n for n in span if memo.get(n % 20, lambda n=n: n % 20) != n % 20)

        threads = [threading.Thread(target=ask, args=(k,)) for k in range(6)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(wrong, [])


class OneAtATime(TestCase):
    def test_who_comes_meanwhile_waits_and_nothing_stays_of_a_key_that_nobody_holds(self):
        turns, order, inside = Turns(), [], threading.Event()

        def second():
            inside.set()
            with turns.of("spool"):
                order.append("second")

        with turns.of("spool"), turns.of("another"):
            waiting = threading.Thread(target=second)
            waiting.start()
            inside.wait()
            order.append("first")
        waiting.join()
        self.assertEqual(order, ["first", "second"])
        self.assertEqual((len(turns._turns), len(turns._here)), (0, 0))
