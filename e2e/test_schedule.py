"""The schedule in a browser: by keyboard alone, on a phone, and when a wish makes no sense."""

import re
from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import expect

from darre.inventory.models import Spool
from darre.schedule.actions.wishes import add_wish
from darre.schedule.models import PlannedStart, Wish
from e2e.browser import BrowserCase

SOLVED = re.compile(r"ready|late")


class Planning(BrowserCase):
    def want(self, name, **more):
        return add_wish(Spool.objects.get(name=name), timezone.now() + timedelta(days=3), **more).record

    def solved(self):
        expect(self.page.get_by_role("heading", level=1)).to_have_text(SOLVED)

    def test_by_keyboard_a_spool_is_wanted_its_run_moved_and_put_back(self):
        self.open("/schedule")
        self.heading("Say which spools you want dry, and by when.")
        self.scan()
        self.tab_to("Add a spool")
        self.page.keyboard.press("Enter")
        slip = self.page.get_by_role("dialog")
        self.choose(slip.get_by_role("combobox"), "Roller")
        by = timezone.localtime() + timedelta(days=3)
        slip.get_by_label("Ready by").fill(f"{by:%Y-%m-%dT%H:%M}")
        self.page.keyboard.press("Enter")
        self.heading(re.compile("^Roller tyres is ready by .*, with (two|three) visits"))
        self.scan()
        bar = self.page.get_by_role("button", name=re.compile(r"^Roller tyres, \d+ °C, from"))
        bar.focus()
        was = PlannedStart.objects.get().starts_at
        for _ in range(8):
            self.page.keyboard.press("ArrowRight")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("the rest was worked out around it")).to_be_visible()
        self.assertEqual(PlannedStart.objects.get().starts_at - was, timedelta(hours=2))
        expect(self.page.get_by_role("row", name=re.compile("Roller tyres.*pinned there"))).to_be_visible()
        expect(self.page.get_by_text("Something changed since")).to_have_count(0)
        self.page.get_by_role("button", name="Undo").click()
        expect(self.page.get_by_text("Taken back.")).to_be_visible()
        expect(self.page.get_by_text("Something changed since")).to_be_visible()
        self.assertIsNone(Wish.objects.get().pinned_at)

    def test_what_is_late_is_said_first_and_what_would_help_can_be_tried(self):
        add_wish(Spool.objects.get(name="Hinge stock"), timezone.now() + timedelta(hours=3))
        self.want("Roller tyres", grams=120.0, note="rollers")
        self.open("/schedule")
        self.heading(re.compile("^One of two is ready in time"))
        expect(self.page.get_by_text(re.compile(r"^Hinge stock comes \d+ h.* late: it takes"))).to_be_visible()
        self.page.get_by_role("button", name="try: The late ones a day later").click()
        expect(self.page.get_by_text(re.compile("visits"), exact=False).last).to_be_visible()
        expect(self.page.get_by_role("row", name=re.compile("Roller tyres.*120 g, rollers"))).to_be_visible()

    def test_a_wish_that_makes_no_sense_is_named_and_nothing_typed_is_lost(self):
        self.expected_errors = "400"
        self.open("/schedule")
        self.page.get_by_role("button", name="Add a spool").click()
        slip = self.page.get_by_role("dialog")
        slip.get_by_label("What for").fill("straps")
        slip.get_by_role("button", name="Save").click()
        expect(slip.get_by_role("alert")).to_have_text("Needed: which spool.")
        self.choose(slip.get_by_role("combobox"), "Roller")
        slip.get_by_label("Ready by").fill("2024-01-01T10:00")
        slip.get_by_role("button", name="Save").click()
        expect(slip.get_by_role("alert")).to_contain_text("has passed")
        expect(slip.get_by_label("What for")).to_have_value("straps")

    def test_a_spool_is_wanted_each_week_for_a_print_whose_file_says_how_much(self):
        self.open("/schedule")
        self.page.get_by_role("button", name="Add a spool").click()
        slip = self.page.get_by_role("dialog")
        self.choose(slip.get_by_role("combobox"), "Window")
        slip.get_by_role("button", name="for a print whose file you have").click()
        commands = b"M83\n" + b"G1 X9 E600 F1200\n" * 100
        print_file = {"name": "bracket.gcode", "mimeType": "text/plain", "buffer": commands}
        slip.locator("input[type=file]").set_input_files(print_file)
        expect(slip.get_by_text(re.compile(r"^It takes 17\d ± \d+ g\. There are 699 g on it\.$"))).to_be_visible()
        slip.get_by_role("button", name="Wanted").click()
        self.page.get_by_role("option", name="every week").click()
        by = timezone.localtime() + timedelta(days=3)
        slip.get_by_label("Ready by, the first time").fill(f"{by:%Y-%m-%dT%H:%M}")
        self.scan()
        slip.get_by_role("button", name="Save").click()
        row = self.page.get_by_role("row", name=re.compile("^Window panel"))
        expect(row).to_contain_text("bracket.gcode")
        expect(row).to_contain_text("each week")
        self.assertEqual(Wish.objects.get().every_days, 7)
        self.assertAlmostEqual(Wish.objects.get().grams, 60.0 * 2.405 * 1.2, delta=5)  # polycarbonate at 1.2 g/cm³

    def test_a_day_when_nobody_is_at_home_moves_what_was_planned(self):
        self.want("Roller tyres")
        self.open("/schedule")
        self.solved()
        self.page.get_by_role("button", name="who is at home when").click()
        slip = self.page.get_by_role("dialog")
        slip.get_by_role("radio", name="not at home then").click()
        begin = timezone.localtime() - timedelta(minutes=5)
        slip.get_by_label("From, by").fill(f"{begin:%Y-%m-%dT%H:%M}")
        slip.get_by_label("To, by").fill(f"{begin + timedelta(hours=20):%Y-%m-%dT%H:%M}")
        slip.get_by_role("button", name="Save").click()
        expect(self.page.get_by_role("heading", name="Moved")).to_be_visible()
        self.assertGreater(PlannedStart.objects.get().starts_at, begin + timedelta(hours=19))


class OnAPhone(BrowserCase):
    size = (390, 844)

    def test_the_visits_stand_first_and_all_is_within_reach(self):
        add_wish(Spool.objects.get(name="Roller tyres"), timezone.now() + timedelta(days=3))
        self.open("/schedule")
        visits = self.page.get_by_role("heading", name="Visits", exact=True)
        expect(visits).to_be_visible()
        expect(self.page.get_by_role("listitem").filter(has_text="oad Roller tyres")).to_be_visible()
        self.assertEqual(self.cut_off(), [])
        self.assertEqual(self.too_small(), [])
        self.page.get_by_role("button", name="More").click()
        self.page.get_by_role("menuitem", name="Storage").click()
        expect(self.page.get_by_role("button", name="Storage")).to_be_visible()
