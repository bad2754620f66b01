"""What people really type, and two tabs at once: no blank page, no lost field, no wrong record."""

import re

from playwright.sync_api import expect

from darre.inventory.models import Spool
from darre.places.models import Place
from darre.runs.models import Run, Weighing
from e2e.browser import BrowserCase
from e2e.test_path import EveryScreen

UNBROKEN = "Hinge-stock_" * 5
EMOJI = "🌧️ Regenmesser für’s Dach <b>&amp; ‘Tor’ 雨量計 🧪"


class LongNames(BrowserCase):
    size = (390, 844)

    def test_names_without_a_break_emoji_and_other_scripts_fit_every_screen_of_a_phone(self):
        Spool.objects.filter(name="Hinge stock").update(name=UNBROKEN[:60])
        Spool.objects.filter(name="Rain gauge").update(name=EMOJI)
        Place.objects.filter(name="Shelf").update(name=UNBROKEN[:60].upper())
        self.open("/")
        for path in EveryScreen.PATHS:
            self.go(path)
            expect(self.page.get_by_role("status", name="Loading")).to_have_count(0)
            expect(self.page.locator("[aria-busy=true]")).to_have_count(0)
            self.assertLessEqual(self.page.evaluate("document.documentElement.scrollWidth"), 390, path)
            self.assertEqual(self.cut_off(), [], path)
        self.go("/spools/4")
        self.heading(re.compile("🌧️ Regenmesser für’s Dach <b>&amp; ‘Tor’ 雨量計 🧪"))


class Weighings(BrowserCase):
    def test_no_mass_a_word_and_a_time_to_come_are_named_at_their_fields_and_nothing_is_lost(self):
        self.expected_errors = "400 (Bad Request)"
        before = Weighing.objects.count()
        self.open("/spools/4")
        self.page.keyboard.press("w")
        field = self.page.get_by_label("The scale reads")
        slip = self.page.get_by_role("dialog")
        slip.get_by_role("button", name=re.compile("more: a coil")).click()
        slip.get_by_label("Note: clip, bag, pouch on it").fill("clip on it 📎")
        for typed, at, says in (
            ("0", None, "give more than 0 g"), ("heavy", None, "for example"),
            ("-3", None, "give more than 0 g"), ("", None, "Needed"),
            ("799,3", "2031-01-05T10:00", "has not come yet"), ("799,3", "1999-01-05T10:00", "more than 5 years ago"),
        ):  # fmt: skip
            field.fill(typed)
            if at is not None:
                slip.get_by_label(re.compile("Weighed at")).fill(at)
            self.page.keyboard.press("Enter")
            expect(slip.get_by_role("alert").first).to_contain_text(says)
            expect(field).to_have_value(typed)
            expect(slip.get_by_label("Note: clip, bag, pouch on it")).to_have_value("clip on it 📎")
        self.assertEqual(Weighing.objects.count(), before)


class TwoTabs(BrowserCase):
    def test_what_another_tab_ended_or_removed_is_said_and_stays_as_that_tab_left_it(self):
        self.expected_errors = "(Conflict)"
        run = Run.objects.get(ended_at__isnull=True)
        other = self.page.context.new_page()
        for page in (self.page, other):
            page.goto(f"{self.live_server_url}/runs/{run.pk}")
            expect(page.get_by_role("button", name="end without weighing")).to_be_visible()
        other.get_by_role("button", name="end without weighing").click()
        expect(other.get_by_text("Ended drying Vent louvre without a weigh-out.")).to_be_visible()
        ended = Run.objects.get(pk=run.pk).ended_at
        self.page.get_by_role("button", name="end without weighing").click()
        expect(self.page.get_by_role("alert").first).to_contain_text("has ended already")
        run.refresh_from_db()
        self.assertEqual(run.ended_at, ended)

    def test_a_name_that_another_tab_took_is_refused_at_its_field_with_all_that_was_typed(self):
        self.expected_errors = "(Conflict)"
        self.open("/")
        self.page.get_by_role("button", name="Add a spool").click()
        slip = self.page.get_by_role("dialog")
        slip.get_by_label("Name").fill("Weather vane")
        slip.get_by_label("Colour").fill("petrol")
        Spool.objects.filter(name="Lens caps").update(name="Weather vane")
        slip.get_by_role("button", name="Add it").click()
        expect(slip.get_by_role("alert")).to_contain_text("already a spool named Weather vane")
        expect(slip.get_by_label("Colour")).to_have_value("petrol")
        slip.get_by_label("Name").fill("Weather vane, petrol")
        slip.get_by_role("button", name="Add it").dblclick()
        expect(self.page.get_by_text("Added Weather vane, petrol.")).to_be_visible()
        self.assertEqual(Spool.objects.filter(name__startswith="Weather vane").count(), 2)
