"""What a form asks for is said by its own name, in the person's units, all at once."""

import itertools
import json

from darre.demo.tests.fresh import load_demo_world
from e2e.parts import IMPERIAL, METRIC, PartsCase


class FormCase(PartsCase):
    def issues(self, shape, typed):
        """What the shape says against each field, by the field's name."""
        return self.js(
            f"""(() => {{
                const found = ({shape}).safeParse({json.dumps(typed)});
                const said = (found.error?.issues ?? []).map(it => [it.path.join('.'), it.message]);
                return Object.fromEntries(said);
            }})()"""
        )

    def sent(self, shape, typed):
        return self.js(f"({shape}).parse({json.dumps(typed)})")


class Shapes(FormCase):
    def test_what_is_missing_or_no_number_is_named_with_an_example_in_the_persons_units(self):
        room = "shape.quantity('temp', 'the room’s temperature', 21.5)"
        for units, example in ((METRIC, "21.5"), (IMPERIAL, "71")):
            self.in_units(units)
            needed = f"Needed: the room’s temperature, for example {example}."
            for typed, says in (
                ("", needed), ("   ", needed), ("warm", f"“warm” is not a number. {needed}"),
                ("1,2,3", f"“1,2,3” is not a number. {needed}"), ("1e3", f"“1e3” is not a number. {needed}"),
            ):  # fmt: skip
                self.assertEqual(self.issues(room, typed), {"": says}, typed)

    def test_a_number_is_sent_in_the_servers_unit_with_or_without_its_own_behind_it(self):
        for units, measure, typed, sent in (
            (METRIC, "temp", " 60,5 ", "60,5"), (METRIC, "temp", "60 °C", "60"), (METRIC, "mass", "798.8 g", "798.8"),
            (IMPERIAL, "temp", "140", "60"), (IMPERIAL, "temp", "140 °F", "60"), (IMPERIAL, "step", "9", "5"),
            (IMPERIAL, "mass", "1 oz", "28.3495"), (IMPERIAL, "size", "2.5", "63.5"),
            (IMPERIAL, "length", "10", "3.048"),
            (METRIC, "plain", "7,5", "7,5"), (METRIC, "scientific", "3e-12", "3e-12"),
        ):  # fmt: skip
            self.in_units(units)
            self.assertEqual(self.sent(f"shape.quantity('{measure}', 'x', 1)", typed), sent, (units, measure, typed))
        self.in_units(METRIC)
        self.assertIn("is not a number", self.issues("shape.quantity('temp', 'x', 1)", "60 g")[""])

    def test_what_may_be_left_out_is_sent_as_not_known_and_is_still_no_word(self):
        maybe = "shape.maybeQuantity('plain', 'what leaks in', 0.002)"
        self.assertIsNone(self.sent(maybe, "  "))
        self.assertEqual(self.sent(maybe, "0.3"), "0.3")
        self.assertIn("Needed: what leaks in, for example 0.002.", self.issues(maybe, "much")[""])
        self.assertEqual(self.sent("shape.maybeWords", "  a note "), "a note")
        self.assertEqual(
            self.issues("shape.words('a name', 'Hinge stock')", " "), {"": "Needed: a name, for example Hinge stock."}
        )

    def test_a_row_of_numbers_names_the_one_that_is_none(self):
        some = "shape.someNumbers('every diameter', '1.72 1.80')"
        self.assertEqual(self.sent(some, " 1.72  1,80;1.69 "), ["1.72", "1,80", "1.69"])
        for typed, says in (("", "Needed: every diameter"), ("1.72 thick", "“thick” is not a number")):
            self.assertIn(says, self.issues(some, typed)[""], typed)
        self.assertEqual(self.sent("shape.numbers('x', '1')", ""), [])

    def test_a_moment_is_sent_with_its_zone_and_half_a_date_is_refused(self):
        for typed in ("2026-11-26", "tomorrow", "2026-13-01T10:00"):
            self.assertIn("Needed: a date and a time", self.issues("shape.moment", typed)[""], typed)
        self.assertRegex(self.sent("shape.moment", "2026-11-26T10:30"), r"^2026-11-26T\d\d:\d\d:00.000Z$")
        self.assertIsNone(self.sent("shape.maybeMoment", ""))

    def test_everything_that_a_new_dryer_lacks_is_said_at_once(self):
        empty = self.js("fields.draftOf(undefined)")
        says = self.issues("fields.SHAPE", {**empty, "slots": "", "swing_c": "some"})
        self.assertEqual(set(says), {"name", "min_c", "max_c", "slots", "swing_c"})
        self.assertIn("the coolest air that it holds, for example 40", says["min_c"])


class DryerForm(FormCase):
    """What the form shows and sends: nothing is lost or turned on the way, in either units."""

    @classmethod
    def setUpTestData(cls):
        load_demo_world(cls)

    def test_a_dryer_goes_through_its_form_unchanged_in_either_units(self):
        numbers = ("min_c", "max_c", "vent_m3_h", "swing_c", "hot_side_excess_c", "warm_up_h", "max_diameter_mm")
        for units, dryer in itertools.product((METRIC, IMPERIAL), self.client.get("/api/dryers/").json()):
            self.in_units(units)
            body = self.js("fields.bodyOf(fields.SHAPE.parse(fields.draftOf(d)))", d=dryer)
            self.assertEqual((body["name"], body["kind"], body["fan"]), (dryer["name"], dryer["kind"], dryer["fan"]))
            for name in numbers:
                if dryer[name] is None:
                    self.assertIsNone(body[name], name)
                else:
                    self.assertAlmostEqual(float(body[name]), dryer[name], delta=0.3, msg=name)
            kept = self.client.put(f"/api/dryers/{dryer['id']}/", body, content_type="application/json")
            self.assertEqual(kept.status_code, 200, kept.content)

    def test_levels_and_timer_settings_are_read_as_people_write_them(self):
        draft = self.js("fields.draftOf(undefined)") | {
            "name": "Box",
            "kind": "lamp",
            "fan": "no",
            "min_c": "40",
            "max_c": "56",
            "levels": "mild 40; very high 55.5",
            "timer_choices_h": "2, 4; 8",
        }
        body = self.js("fields.bodyOf(fields.SHAPE.parse(d))", d=draft)
        self.assertEqual(body["timer_choices_h"], ["2", "4", "8"])
        self.assertEqual(body["levels"], [{"name": "mild", "air_c": "40"}, {"name": "very high", "air_c": "55.5"}])
        self.assertEqual((body["slots"], body["fan"], body["vent_m3_h"]), (1, False, None))

    def test_levels_are_told_apart_with_and_without_commas_and_what_is_none_is_said(self):
        for typed, levels in (
            ("mild 42, full 58", [("mild", "42"), ("full", "58")]),
            ("mild 42 full 58", [("mild", "42"), ("full", "58")]),
            ("mild 42; full 58.5", [("mild", "42"), ("full", "58.5")]),
            ("mild: 42,5 full = 58 °C", [("mild", "42,5"), ("full", "58")]),
            ("very mild 42 °C, step two 58", [("very mild", "42"), ("step two", "58")]),
            ("", []),
        ):
            found = self.js("fields.levelsOf(x)", x=typed)
            self.assertEqual([(level["name"], level["air_c"]) for level in found], levels, typed)
        for typed in ("mild", "42", "42 mild", "mild 42, full", "mild 42 58", "a 1 2 b 3"):
            self.assertIsNone(self.js("fields.levelsOf(x)", x=typed), typed)
            says = self.issues("fields.SHAPE", {**self.js("fields.draftOf(undefined)"), "levels": typed})["levels"]
            self.assertEqual(says, "Needed: each level’s name and its air in °C, for example mild 42, full 58.")
