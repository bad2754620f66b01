"""A short run of what `make chaos` does at length, and that its counting finds what it is to find."""

from unittest import TestCase, mock

from tools import chaos


class Chaos(TestCase):
    def test_after_kills_nothing_is_lost_double_or_half_and_what_is_missing_would_be_counted(self):
        told = chaos.Told()
        with mock.patch.object(chaos, "Told", return_value=told):
            found = chaos.chaos(kills=3)
        self.assertEqual({name: found[name] for name in ("lost", "twice", "half", "faults")},
                         {"lost": 0, "twice": 0, "half": 0, "faults": 0})  # fmt: skip
        self.assertGreater(found["acts"], 20)
        for kind in chaos.FOUND_IN:
            told.note(kind, "never stored")
        self.assertEqual(chaos.counted(told)["lost"], len(chaos.FOUND_IN))
