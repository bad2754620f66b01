"""The commands as a shell sees them: what they print, what they complain of, and how they end."""

import contextlib
import csv
import io
import json
import tempfile
from pathlib import Path
from unittest import TestCase

from drying.cli.main import OFFER, main
from drying.cli.transport import transport
from drying.diagnosis.evidence_table import evidence_table

HEAD = "case,material,form,strand_diameter_mm,start_moisture_pct,segments,time_h"
DRYING = "6h@65C in 20C/50% vent free"


class Commands(TestCase):
    def ask(self, command, content):
        """Exit status, what was printed and what was complained of."""
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "given"
            path.write_text(content, "utf-8")
            return self.run_words(command, str(path))

    def run_words(self, *words):
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            status = main(words)
        return status, out.getvalue(), err.getvalue()


class Offer(Commands):
    def test_without_words_it_says_what_there_is_and_ends_well(self):
        self.assertEqual(self.run_words(), (0, OFFER, ""))
        for sign in evidence_table().signs:
            self.assertIn(sign, OFFER)

    def test_an_unknown_command_or_a_missing_file_ends_with_two(self):
        for words in (("dry",), ("transport",), ("evidence", "a", "b")):
            status, out, err = self.run_words(*words)
            self.assertEqual((status, out, err), (2, "", OFFER), words)
        status, out, err = self.run_words("transport", "there/is/no/such.csv")
        self.assertEqual((status, out), (2, ""))
        self.assertIn("cannot be read", err)

    def test_a_file_that_is_no_text_is_said_to_be_none(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "photo"
            path.write_bytes(b"\xff\xfe\x00\x81")
            self.assertEqual(self.run_words("transport", str(path))[0], 2)


class Transport(Commands):
    def rows(self, text):
        return list(csv.DictReader(io.StringIO(text)))

    def test_rows_come_back_in_their_order_with_a_moisture_each(self):
        lines = [f"one,petg,wound,1.75,0.4,{DRYING},{time}" for time in (6, 0, 3)]
        lines.insert(1, f"two,pa6,loose,1.75,2.0,{DRYING},2")
        status, out, err = self.ask("transport", "\n".join([HEAD, *lines]))
        self.assertEqual((status, err), (0, ""))
        rows = self.rows(out)
        self.assertEqual(
            [(row["case"], row["time_h"]) for row in rows], [("one", "6"), ("two", "2"), ("one", "0"), ("one", "3")]
        )
        end, _, start, middle = (float(row["moisture_pct"]) for row in rows)
        self.assertEqual(start, 0.4)
        self.assertTrue(end < middle < start)

    def test_a_file_with_a_mark_at_its_start_is_read_like_any_other(self):
        plain = f"{HEAD}\none,petg,wound,1.75,0.4,{DRYING},3\n"
        self.assertEqual(self.ask("transport", plain), self.ask("transport", "\ufeff" + plain))

    def test_a_row_is_computed_the_same_alone_and_among_others(self):
        lines = [
            f"c,{name},{form},1.75,0.3,{DRYING},4" for name in ("petg", "pla", "abs") for form in ("wound", "loose")
        ]
        together = [row["moisture_pct"] for row in self.rows(self.ask("transport", "\n".join([HEAD, *lines]))[1])]
        for line, moisture in zip(lines, together, strict=True):
            self.assertEqual(self.rows(self.ask("transport", f"{HEAD}\n{line}\n")[1])[0]["moisture_pct"], moisture)

    def test_each_bad_row_is_named_by_line_and_column_and_the_others_are_computed(self):
        bad = (
            ("x,glass,wound,1.75,0.3,6h@65C in 20C/50% vent free,1", "material"),
            ("x,petg,tangled,1.75,0.3,6h@65C in 20C/50% vent free,1", "form"),
            ("x,petg,wound,thick,0.3,6h@65C in 20C/50% vent free,1", "strand_diameter_mm"),
            ("x,petg,wound,1.75,wet,6h@65C in 20C/50% vent free,1", "start_moisture_pct"),
            ("x,petg,wound,1.75,120,6h@65C in 20C/50% vent free,1", "start_moisture_pct"),
            ("x,petg,wound,1.75,0.3,six hours,1", "segments"),
            ("x,petg,wound,1.75,0.3,6h@650C in 20C/50% vent free,1", "segments"),
            ("x,petg,wound,1.75,0.3,6h@65C in 20C/500% vent free,1", "segments"),
            ("x,petg,wound,1.75,0.3,6h@65C in 20C/50% vent free,7", "time_h"),
            ("x,petg,wound,1.75,0.3,6h@65C in 20C/50% vent free,-1", "time_h"),
            ("x,petg,wound,1.75,0.3,6h@65C in 20C/50% vent free,noon", "time_h"),
        )
        good = f"y,petg,wound,1.75,0.4,{DRYING},3"
        status, out, err = self.ask("transport", "\n".join([HEAD, *(line for line, _ in bad), good]))
        self.assertEqual(status, 1)
        self.assertEqual([row["case"] for row in self.rows(out)], ["y"])
        told = err.splitlines()
        self.assertEqual(len(told), len(bad))
        for number, (complaint, (line, column)) in enumerate(zip(told, bad, strict=True), 2):
            self.assertTrue(complaint.startswith(f"line {number}, column {column}: "), (line, complaint))

    def test_columns_that_are_missing_are_all_named(self):
        out, err = io.StringIO(), io.StringIO()
        self.assertEqual(transport(io.StringIO("case,material\na,petg\n"), out, err), 2)
        self.assertEqual(out.getvalue(), "")
        for column in ("form", "strand_diameter_mm", "start_moisture_pct", "segments", "time_h"):
            self.assertIn(column, err.getvalue())


RUN = {
    "material": "petg",
    "form": "wound",
    "strand_diameter_mm": 1.75,
    "tare_g": 200.0,
    "tare_sd_g": 1.0,
    "start_moisture_pct": {"mean": 0.3, "sd": 0.1},
    "segments": [{"hours": 12, "temp_c": 63, "inlet_temp_c": 20, "inlet_rh_pct": 50, "vent_m3_h": 0.3}],
    "scale": {"resolution_g": 0.1, "repeatability_g": 0.05},
    "weighings": [{"time_h": 0, "gross_g": 1000.0}, {"time_h": 6, "gross_g": 998.1}],
    "aim_pct": 0.06,
}


class Endpoint(Commands):
    def judged(self, asked):
        status, out, err = self.ask("endpoint", json.dumps(asked))
        return status, json.loads(out) if out else None, err

    def test_one_run_answers_one_and_a_list_a_list(self):
        status, found, _ = self.judged(RUN)
        self.assertEqual(status, 0)
        self.assertEqual(set(found), {"state", "moisture_now_pct", "time_to_aim_h", "p_dry"})
        self.assertEqual(self.judged([RUN, RUN])[1], [found, found])

    def test_what_is_left_lies_between_its_bounds_and_under_the_start(self):
        _, found, _ = self.judged(RUN)
        now = found["moisture_now_pct"]
        self.assertTrue(0 <= now["p05"] <= now["p50"] <= now["p95"] < 0.3)
        self.assertTrue(0 <= found["p_dry"] <= 1)

    def test_a_run_that_was_not_weighed_twice_is_no_finding(self):
        for weighings in ([], RUN["weighings"][:1]):
            self.assertEqual(self.judged({**RUN, "weighings": weighings})[1]["state"], "no_finding")

    def test_each_fault_is_named_and_leaves_the_other_runs_be(self):
        faults = (
            ({"form": "tangled"}, "form"),
            ({"material": "glass"}, "glass"),
            ({"tare_g": 1001.0}, "not over the tare"),
            ({"segments": {}}, "segments"),
            ({"aim_pct": None}, "aim_pct"),
            ({"scale": {"resolution_g": 0.1}}, "repeatability_g"),
            ({"start_moisture_pct": {"mean": 0.3}}, "sd"),
            ({"weighings": [{"time_h": 0}]}, "gross_g"),
        )
        for change, named in faults:
            status, found, err = self.judged([{**RUN, **change}, RUN])
            self.assertEqual((status, found[0]), (1, None), change)
            self.assertIsNotNone(found[1])
            self.assertRegex(err, f"run 1: .*{named}")

    def test_a_file_that_is_no_json_ends_with_two(self):
        status, out, err = self.ask("endpoint", "{")
        self.assertEqual((status, out), (2, ""))
        self.assertIn("not JSON", err)


class Evidence(Commands):
    CASE = {"material": "petg", "moisture_pct": {"mean": 0.5, "sd": 0.1}, "observations": {"pops": True}}

    def judged(self, **change):
        status, out, err = self.ask("evidence", json.dumps({**self.CASE, **change}))
        return status, json.loads(out) if out else None, err

    def setUp(self):
        self.sign = next(iter(evidence_table().signs))
        self.CASE = {**self.CASE, "observations": {self.sign: True}}

    def test_the_chances_of_the_causes_add_up_and_the_waters_is_one_of_them(self):
        status, found, _ = self.judged()
        self.assertEqual(status, 0)
        self.assertAlmostEqual(sum(found["causes"].values()), 1.0, delta=1e-3)
        self.assertEqual(found["p_water"], found["causes"]["water"])

    def test_the_wetter_the_likelier_and_nothing_known_lies_between(self):
        wet, dry = (self.judged(moisture_pct={"mean": m, "sd": 0.02})[1]["p_water"] for m in (0.8, 0.02))
        unknown = self.judged(moisture_pct=None)[1]["p_water"]
        self.assertTrue(dry < unknown < wet)

    def test_what_to_look_for_next_comes_best_a_minute_first_and_leaves_out_what_was_seen(self):
        _, found, _ = self.judged()
        worth = [check["bits"] / check["minutes"] for check in found["next"]]
        self.assertEqual(worth, sorted(worth, reverse=True))
        seen = dict.fromkeys(evidence_table().signs, True)
        left = self.judged(observations=seen)[1]["next"]
        self.assertEqual({check["bits"] for check in left} - {0.0}, set())

    def test_signs_that_are_not_true_or_false_or_not_known_are_refused(self):
        for observations in ({self.sign: 1}, [self.sign], {"lightning": True}):
            status, found, err = self.judged(observations=observations)
            self.assertEqual((status, found), (1, None), observations)
            self.assertIn("case 1: ", err)


class Trials(Commands):
    def test_sponges_tell_unless_desiccant_lay_beside_them(self):
        room = {"temp_c": 20, "rh_pct": 50}
        wet = {"start_g": 80, "end_g": 60, "dry_g": 10, "hours": 2, "room": room, "air": None}
        scale = {"resolution_g": 0.1, "repeatability_g": 0.05}
        for more, told in (({}, True), ({"desiccant": True}, False)):
            asked = {
                "kind": "sponge",
                "scale": scale,
                "dryers": [{"name": "one", **wet}, {"name": "two", **wet, **more}],
            }
            status, out, _ = self.ask("trial", json.dumps(asked))
            self.assertEqual(status, 0)
            second = json.loads(out)["dryers"][1]
            self.assertEqual(second["g_per_h"] is not None, told, second)
