"""What was typed is stored once, by the right clock, in the right workshop; and what a browser cannot keep is said."""

import re
from datetime import UTC, datetime
from uuid import uuid4

from playwright.sync_api import expect

from darre.inventory.models import MoistureReading, Spool, Workshop
from darre.places.actions.stays import move_spools
from darre.places.models import Place, Stay
from darre.runs.models import RunEvent, Weighing
from darre.trials.models import SampleReading, Trial
from e2e.browser import BrowserCase, violations

NO_STORAGE = """Object.defineProperty(window, "localStorage", {
    get() { throw new DOMException("denied", "SecurityError") }
})"""


class NothingLost(BrowserCase):
    def test_a_double_click_on_keep_is_one_weigh_in(self):
        self.open("/runs/3")
        before = Weighing.objects.count()
        self.page.keyboard.press("w")
        self.page.get_by_label("The scale reads").fill("1017.6")
        self.page.get_by_role("button", name="Save").dblclick()
        expect(self.page.get_by_text("Saved 1017.6 g for Vent louvre.")).to_be_visible()
        self.assertEqual(Weighing.objects.count(), before + 1)

    def test_a_weigh_in_typed_while_the_server_is_away_waits_in_the_browser_and_is_kept_once(self):
        kept, before = self.away()
        self.scan()
        self.page.reload()
        expect(kept).to_contain_text("will be sent as soon as Darre answers")
        self.assertEqual(Weighing.objects.count(), before)
        self.page.unroute("**/api/weighings/")
        expect(self.page.get_by_text("Darre is back: saved Vent louvre, 1017.6 g")).to_be_visible()
        expect(kept).to_have_count(0)
        self.assertEqual(Weighing.objects.count(), before + 1)

    def away(self):
        """The server does not take weighings, as if it were away; one is typed and waits in the browser."""
        self.expected_errors = "ERR_CONNECTION_REFUSED"
        self.open("/runs/3")
        self.page.route("**/api/weighings/", lambda route: route.abort("connectionrefused"))
        self.page.keyboard.press("w")
        self.page.keyboard.type("1017.6")
        self.page.keyboard.press("Enter")
        kept = self.page.get_by_role("status", name="Saved in this browser")
        expect(kept).to_contain_text("Vent louvre, 1017.6 g")
        return kept, Weighing.objects.count()

    def test_a_note_a_move_and_a_reading_wait_too_and_a_later_move_of_another_stands(self):
        self.expected_errors = "ERR_CONNECTION_REFUSED"
        begun = {"kind": "twin", "spool": 1, "scale": 1, "temp_c": 60, "samples": [{"start_g": 20}]}
        self.client.post("/api/trials/", begun, content_type="application/json")
        self.open(f"/trials/{Trial.objects.get(kind='twin', closed_at=None).pk}")
        self.page.route(re.compile("/api/.*"), self.reads_alone)
        waits = self.page.get_by_role("status", name="Saved in this browser")
        self.page.get_by_label(re.compile("weighs$|weighs,")).fill("19.98")
        self.page.keyboard.press("Enter")
        expect(waits).to_contain_text("19.98 g at")
        self.page.get_by_role("link", name="Runs", exact=True).click()
        self.page.get_by_role("main").get_by_role("link", name="Vent louvre").first.click()
        self.page.get_by_role("button", name="Lid opened").click()
        expect(waits).to_contain_text("Vent louvre: lid opened at")
        self.page.keyboard.press("m")
        self.page.get_by_role("list", name="Places").get_by_role("button", name="Shelf").click()
        expect(waits.get_by_role("listitem")).to_have_count(3)
        self.assertEqual(violations(self.page), [])
        louvre, later = Spool.objects.get(name="Vent louvre"), Place.objects.get(name="Dry bin")
        move_spools([louvre], later)  # by another person, meanwhile
        before = self.counts()
        self.page.unroute_all(behavior="ignoreErrors")
        expect(
            self.page.get_by_text("Vent louvre was moved again after that, and that later move stands.")
        ).to_be_visible()
        expect(waits).to_have_count(0)
        self.assertEqual(self.counts(), tuple(n + 1 for n in before))
        self.assertEqual(louvre.stays.get(until=None).place, later)

    @staticmethod
    def reads_alone(route):
        """The server as it is for a page that reads, and as if it were away for one that writes."""
        if route.request.method == "GET":
            route.fallback()
        else:
            route.abort("connectionrefused")

    @staticmethod
    def counts():
        return SampleReading.objects.count(), RunEvent.objects.count(), Stay.objects.count()

    def test_what_waits_in_a_browser_goes_to_its_own_workshop_alone(self):
        kept, before = self.away()
        own = Workshop.objects.get().key
        Workshop.objects.update(key=uuid4())  # another database is started on the same port
        self.page.unroute("**/api/weighings/")
        self.page.reload()
        expect(kept).to_contain_text("belongs to another workshop, and waits in this browser until that one is open")
        expect(kept.get_by_role("button", name="Discard it")).to_be_visible()
        self.assertEqual(Weighing.objects.count(), before)
        Workshop.objects.update(key=own)
        self.page.reload()
        expect(self.page.get_by_text("Darre is back: saved Vent louvre, 1017.6 g")).to_be_visible()
        self.assertEqual(Weighing.objects.count(), before + 1)

    def test_a_browser_that_stores_nothing_shows_the_page_and_says_what_is_not_kept(self):
        self.page = self.new_page(own=True)
        self.page.add_init_script(NO_STORAGE)
        _, before = self.away()
        expect(self.page.get_by_text(re.compile("kept only while this page is open.*note it down"))).to_be_visible()
        self.page.unroute("**/api/weighings/")
        expect(self.page.get_by_text("Darre is back: saved Vent louvre, 1017.6 g")).to_be_visible()
        self.assertEqual(Weighing.objects.count(), before + 1)

    def test_a_time_is_meant_by_the_persons_own_clock_and_stored_as_the_one_instant(self):
        MoistureReading.objects.filter(spool__name="Vent louvre").update(at=datetime(2025, 12, 1, tzinfo=UTC))
        for zone, hours in (("Pacific/Auckland", 12), ("America/St_Johns", -3.5)):
            page = self.page = self.new_page(timezone_id=zone)
            self.open("/runs/3")
            page.keyboard.press("w")
            page.get_by_label("The scale reads").fill("1018")
            page.get_by_role("button", name="more: a coil").click()
            page.get_by_label("Weighed at").fill("2026-01-15T09:30" if hours < 0 else "2026-07-15T09:30")
            page.get_by_role("button", name="Save").click()
            expect(page.get_by_text("Saved 1018 g for Vent louvre.")).to_be_visible()
            at = Weighing.objects.order_by("-id")[0].at
            self.assertEqual(at.hour + at.minute / 60, (9.5 - hours) % 24, zone)
