"""The weigh slip: whose mass a reading fits, what water cannot explain, and weighings put right later."""

import re

from playwright.sync_api import expect

from darre.inventory.models import FilamentUse
from darre.runs.models import Run, Weighing
from e2e.browser import BrowserCase


class WeighSlip(BrowserCase):
    def slip(self):
        return self.page.get_by_role("dialog")

    def test_the_key_picks_the_spool_that_the_reading_fits_and_none_where_it_fits_two_or_none(self):
        self.open("/")
        self.page.keyboard.press("w")
        spool = self.slip().get_by_label("Spool", exact=True)
        expect(self.slip()).to_contain_text("the spool whose mass fits is chosen for you")
        for typed, name, told in (
            ("796", "Rain gauge", "of filament"), ("754", "Roller tyres", "of filament"),
            ("800,1", "", "fits Rain gauge and Gear stock: choose it below"),
            ("4500", "", "no spool weighed about that: choose it below"),
        ):  # fmt: skip
            self.page.get_by_label("The scale reads").fill(typed)
            expect(spool).to_have_value(name)
            expect(self.slip()).to_contain_text(told)
        before = Weighing.objects.count()
        self.page.keyboard.press("Enter")
        expect(self.slip().get_by_role("alert")).to_contain_text("Needed: which spool it was")
        self.scan()
        self.assertEqual(Weighing.objects.count(), before)

    def test_a_reading_that_water_cannot_explain_is_asked_about_and_each_answer_leads_on(self):
        self.expected_errors = "409 (Conflict)"
        self.open("/spools/4")
        self.page.keyboard.press("w")
        field = self.page.get_by_label("The scale reads")
        field.fill("754,2")
        self.page.keyboard.press("Enter")
        expect(self.slip()).to_contain_text("Water cannot explain this: Rain gauge would have lost 46.1 g since")
        expect(field).to_have_value("754,2")
        expect(self.slip().get_by_role("button", name="It was Roller tyres")).to_be_visible()
        self.scan()
        self.slip().get_by_label("Printed from it since").fill("46")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("Saved 754.2 g for Rain gauge.")).to_be_visible()
        self.assertEqual(FilamentUse.objects.filter(spool__name="Rain gauge").latest("at").mass_g, 46)

        self.page.keyboard.press("w")
        field.fill("2812")
        self.page.keyboard.press("Enter")
        self.slip().get_by_role("button", name="Save it as doubtful").click()
        expect(self.page.get_by_text("Saved 2812 g for Rain gauge.")).to_be_visible()
        self.assertTrue(Weighing.objects.get(gross_g=2812).doubtful)

    def test_a_run_is_made_longer_and_hotter_from_now_on_and_back(self):
        run = Run.objects.get(ended_at__isnull=True)
        self.open(f"/runs/{run.pk}")
        self.page.get_by_role("button", name="longer, hotter").click()
        self.slip().get_by_label("Heat for, in all").fill("10")
        self.slip().get_by_label("Air at the spool").fill("64")
        self.scan()
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("Changed the run of Vent louvre.")).to_be_visible()
        expect(self.page.get_by_text("plan changed, 64 °C, 10 h in all")).to_be_visible()
        expect(self.page.get_by_label("Amounts")).to_contain_text("of 10 h")
        self.page.get_by_role("button", name="Undo").click()
        expect(self.page.get_by_label("Amounts")).to_contain_text("of 8 h")

    def test_a_weighing_of_a_run_is_changed_and_removed_and_comes_back(self):
        run = Run.objects.get(ended_at__isnull=True)
        last = run.weighings.latest("at")
        self.open(f"/runs/{run.pk}")
        weighings = self.page.locator("section").filter(has=self.page.get_by_role("heading", name="Weighings"))
        count = run.weighings.count()
        weighings.get_by_role("button", name=re.compile("Change the weighing")).last.click()
        field = self.page.get_by_label("The scale read")
        expect(field).not_to_have_value("")
        field.fill(str(round(last.gross_g - 0.2, 1)))
        self.scan()
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("Corrected to")).to_be_visible()
        self.assertAlmostEqual(Weighing.objects.get(pk=last.pk).gross_g, last.gross_g - 0.2, places=6)
        weighings.get_by_role("button", name=re.compile("Remove the weighing")).last.click()
        expect(self.page.get_by_text("Removed the weighing")).to_be_visible()
        self.assertEqual(run.weighings.count(), count - 1)
        self.page.get_by_role("button", name="Undo").click()
        expect(self.page.get_by_text("Taken back.")).to_be_visible()
        self.assertEqual(run.weighings.count(), count)
