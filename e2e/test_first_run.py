"""From an empty workshop to the first useful answer, with what a beginner has: a 1 g scale, and no idea of the tare."""

import re

from playwright.sync_api import expect

from darre.demo.tests.fresh import empty
from darre.runs.models import Weighing
from e2e.browser import BrowserCase

LIMIT_S = 110.0  # of two minutes; the rest is the app's
TYPING_S = 8.0  # to read a label, find the number and type it, unhurried
CHOOSING_S = 4.0  # to read a choice that stands as it should, and leave it


class FirstRun(BrowserCase):
    def setUp(self):
        super().setUp()
        empty()

    def test_the_first_answer_comes_in_under_two_minutes_and_few_fields(self):
        page = self.page
        self.open("/")
        self.heading("Describe one spool, and Darre plans how to dry it.")
        page.get_by_label("Air now").wait_for()
        fields = page.locator("form").get_by_role("textbox").count()
        choices = page.locator("form").get_by_role("combobox").count()
        typed = {
            "Air now": "20,5",
            "Relative humidity now": "55",
            "It weighs, with its filament": "1187",
            "Coolest air": "40",
            "Hottest air": "65",
        }
        for label, text in typed.items():
            page.get_by_label(label).fill(text)
        names = page.locator("form").get_by_label("Name", exact=True)
        names.nth(1).fill("Blue bracket")
        names.nth(2).fill("Grey box")
        page.get_by_role("button", name="Begin, and plan the first run").click()
        self.heading(re.compile(r"Set Grey box to .* for .* h|Grey box brings .* to about"))
        ticket = page.get_by_role("region", name="Run ticket")
        expect(ticket.get_by_text("Ends at").first).to_be_visible()
        self.scan()
        written = len(typed) + 2
        # Those that were left as they stood are read all the same.
        person_s = TYPING_S * written + CHOOSING_S * (fields + choices - written)
        self.assertLessEqual(written, 8)
        self.assertLess(person_s, LIMIT_S, (fields, choices, written))

    def test_who_has_neither_meter_nor_scale_gets_a_plan_and_weighs_once_there_is_one(self):
        page = self.page
        self.open("/")
        expect(page.get_by_text("No meter? Leave both empty: 20 °C and 60 % are assumed.")).to_be_visible()
        names = page.locator("form").get_by_label("Name", exact=True)
        names.nth(1).fill("Blue bracket")
        names.nth(2).fill("Grey box")
        page.get_by_label("Coolest air").fill("40")
        page.get_by_label("Hottest air").fill("65")
        page.get_by_label("Carries up to").fill("plenty")
        page.get_by_label("It weighs").fill("a lot")
        page.get_by_label("I have no scale yet").click()
        expect(page.get_by_label("It weighs, with its filament")).to_have_count(0)
        expect(page.get_by_text("Darre goes by the label and by the room’s air")).to_be_visible()
        self.scan()
        page.get_by_role("button", name="Begin, and plan the first run").click()
        self.heading(re.compile(r"Set Grey box to .* for .* h|Grey box brings .* to about"))
        self.scan()
        starts = page.get_by_role("region", name="Run ticket").get_by_role("button", name=re.compile("start", re.I))
        expect(starts).to_have_text(["Start without weighing", "weigh in and start"])
        page.keyboard.press("w")
        page.get_by_label("The scale reads").fill("1203")
        page.get_by_role("button", name="Save Enter").click()
        expect(page.get_by_text("Needed: the scale that it was weighed on.")).to_be_visible()
        page.get_by_role("button", name="add the one you use").click()
        self.scan()
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.get_by_role("heading", name="Add a scale")).to_have_count(0)
        expect(page.get_by_label("The scale reads")).to_have_value("1203")
        page.get_by_role("button", name="Save Enter").click()
        expect(page.get_by_text("Saved 1203 g for Blue bracket.")).to_be_visible()
        self.assertEqual([(w.gross_g, w.scale.max_g) for w in Weighing.objects.all()], [(1203.0, 5000.0)])
        expect(starts).to_have_text(["Weigh in and start", "start without weighing"])

    def test_it_fits_a_phone_also_where_the_air_is_assumed(self):
        self.page.set_viewport_size({"width": 390, "height": 844})
        self.open("/")
        air = self.page.get_by_text("assumed, not measured")
        expect(air).to_be_visible()
        self.assertEqual((self.too_small(), self.cut_off()), ([], []))
        self.assertLessEqual(self.page.evaluate("document.documentElement.scrollWidth"), 390)
        head, line = self.page.get_by_role("banner").bounding_box(), air.locator("..").bounding_box()
        self.assertGreaterEqual(line["y"], head["y"])
        self.assertLessEqual(line["y"] + line["height"], head["y"] + head["height"])
