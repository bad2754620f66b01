"""Text and JSON of the command line: what is wrong is named."""

from unittest import TestCase

from drying.air.psychrometrics import RoomAir
from drying.cli.json_input import answers, number, part
from drying.cli.segments import parse_segments
from drying.errors import DryingError


class SegmentText(TestCase):
    def test_segments_are_read_as_they_are_written(self):
        found = parse_segments("48h@45C in 21C/60% vent 0.05; 2.5 h @ 20 C in 18 C / 70 % vent free")
        self.assertEqual([(s.duration_h, s.temp_c, s.vent_m3_h) for s in found], [(48, 45, 0.05), (2.5, 20, None)])
        self.assertEqual([s.room for s in found], [RoomAir(21, 60), RoomAir(18, 70)])

    def test_what_is_none_is_quoted(self):
        for text, quoted in (
            ("", "no segments"), ("48h", "“48h”"), ("48h@45C in 21C/60%", "“48h@45C in 21C/60%”"),
            ("2h@45C in 21C/60% vent free; soon", "“soon”"), ("2h@45C in 21C/600% vent free", "600"),
        ):  # fmt: skip
            with self.assertRaisesRegex(DryingError, quoted):
                parse_segments(text)


class JsonText(TestCase):
    def test_one_bad_entry_leaves_the_others_be_and_is_named_by_its_place(self):
        def double(given):
            return {"twice": 2 * number(given, "x")}

        self.assertEqual(answers('{"x": 2}', double, "case"), ({"twice": 4.0}, []))
        found, complaints = answers('[{"x": 1}, {"y": 1}, {"x": "1"}, {"x": true}, 5, {"x": 3}]', double, "case")
        self.assertEqual([value and value["twice"] for value in found], [2.0, None, None, None, None, 6.0])
        self.assertEqual([c.split(":")[0] for c in complaints], ["case 2", "case 3", "case 4", "case 5"])
        self.assertEqual(part({"a": None}, "a"), None)
        with self.assertRaisesRegex(DryingError, "not JSON"):
            answers("{x", double, "case")
