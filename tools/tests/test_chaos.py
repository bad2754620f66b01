"""A short run of what `make chaos` does at length, and that its counting finds what it is to find."""

from unittest import TestCase, mock

from tools import chaos


class Chaos(TestCase):
    def test_after_kills_nothing_is_lost_double_or_half_and_what_is_missing_would_be_counted(self):
        told = chaos.Told()
        with mock.patch.object(chaos, "Told", return_value=told):
            found = chaos.chaos(kills=3)
        self.assertEqual({name: found[name] for name, _ in chaos.WRONG if found[name]}, {})
        self.assertGreater(found["acts"], 20)
        self.assertGreater(found["kinds"], 5)
        standing = next(what for what in told.acknowledged["weigh"] if what not in told.taken_back["weigh"])
        told.taken_back["weigh"].add(standing)
        for kind in chaos.FOUND_IN:
            told.note(kind, "never stored")
        again = chaos.counted(told)
        self.assertEqual((again["lost"], again["there"]), (len(chaos.FOUND_IN), 1))
