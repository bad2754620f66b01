"""The history is read and acted on; a timer that ran out is set again."""

import re
from datetime import timedelta

from django.db.models import F
from playwright.sync_api import expect

from darre.runs.models import Batch, Run, RunEvent, Weighing
from e2e.browser import BrowserCase


class History(BrowserCase):
    def test_who_did_what_is_read_with_before_and_after_and_taken_back(self):
        page = self.page
        before = Weighing.objects.count()
        self.open("/runs/3")
        page.get_by_role("button", name="Settings").click()
        page.get_by_role("menuitem", name=re.compile("your name")).click()
        page.get_by_label("Your name in the history").fill("Zoë")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("Saved the settings.")).to_be_visible()
        page.keyboard.press("w")
        page.get_by_label("The scale reads").fill("1017.6")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Saved 1017.6 g for Vent louvre.")).to_be_visible()
        page.get_by_role("button", name="Settings").click()
        page.get_by_role("menuitem", name="history").click()
        self.heading("What was done, newest first.")
        line = page.get_by_role("listitem").first
        expect(line).to_contain_text("Weighed Vent louvre: 1017.6 g")
        expect(line).to_contain_text("Zoë")
        line.get_by_role("button", name="What changed").click()
        expect(line.get_by_role("row", name=re.compile("gross nothing 1017.60 g"))).to_be_visible()
        self.scan()
        page.get_by_label("Find in the history").fill("weighed vent")
        expect(page.get_by_text("Saved the settings")).to_have_count(0)
        page.get_by_role("button", name="Undo: Weighed Vent louvre: 1017.6 g").click()
        expect(page.get_by_text("Undone: Weighed Vent louvre: 1017.6 g")).to_be_visible()
        self.assertEqual(Weighing.objects.count(), before)

    def test_what_was_noted_of_a_spool_is_put_right_and_removed_on_its_page(self):
        page = self.page
        self.open("/spools/4")
        page.get_by_role("button", name="note how wet it is").click()
        page.get_by_label("Water, of the dry filament").fill("0.3")
        page.get_by_label("Give or take").fill("0.1")
        page.get_by_role("button", name="Save", exact=True).click()
        noted = page.get_by_role("region", name="Moisture history").get_by_role("listitem").first
        expect(noted).to_contain_text("0.3")
        noted.get_by_role("button", name=re.compile("Correct")).click()
        page.get_by_label("Water, of the dry filament").fill("0.25")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(noted).to_contain_text("0.25")
        noted.get_by_role("button", name=re.compile("Correct")).click()
        page.get_by_role("button", name="remove it").click()
        expect(page.get_by_text("Removed; the moisture is recomputed.")).to_be_visible()
        expect(noted).not_to_contain_text("0.25")


class Timer(BrowserCase):
    def test_a_timer_that_ran_out_is_asked_for_and_set_again_by_one_key(self):
        page, back = self.page, timedelta(hours=5)
        run = Run.objects.get(pk=3)
        Batch.objects.filter(pk=run.batch_id).update(started_at=F("started_at") - back)
        Weighing.objects.filter(run=run).update(at=F("at") - back)
        Run.objects.filter(pk=3).update(started_at=F("started_at") - back, duration_h=12)
        self.open("/")
        self.heading("The timer of Cellar box has run out: set it again for 4 h.")
        self.open("/runs/3")
        self.heading(re.compile("The timer ran out at .*: set it again for 4 h."))
        expect(page.get_by_text(re.compile("The heat has been off for (1 h|5. min)"))).to_be_visible()
        self.scan()
        page.get_by_role("button", name="Timer set again").click()
        expect(page.get_by_text("Noted: timer set again.")).to_be_visible()
        expect(page.get_by_text("The heat has been off for")).to_have_count(0)
        self.assertEqual(RunEvent.objects.get(batch=run.batch_id, kind="timer").batch_id, run.batch_id)
