"""Rack, spool page, Keep, labels and the first run in a browser."""

import re
from datetime import datetime, timedelta

from django.utils import timezone
from playwright.sync_api import expect

from darre.demo.tests.fresh import empty
from darre.inventory.models import EmptySpool, Spool
from darre.places.actions.arrivals import NewSpool, add_spool
from darre.places.models import DesiccantFill, Place, Stay
from darre.runs.models import Run
from drying.quantity import Quantity
from drying.weighing.tare import Tare, TareMethod
from e2e.browser import BrowserCase


class OnTheRack(BrowserCase):
    def lane(self, name):
        return self.page.get_by_role("listitem").filter(has=self.page.get_by_role("link", name=name, exact=True))

    def test_a_spool_is_moved_in_two_keystrokes_and_its_lane_follows(self):
        self.open("/")
        expect(self.lane("Roller tyres")).to_contain_text("Shelf, 10 d")
        self.page.get_by_role("link", name="Roller tyres", exact=True).focus()
        self.page.keyboard.press("m")
        expect(self.page.get_by_role("heading", name="Where did Roller tyres go?")).to_be_visible()
        expect(self.page.get_by_role("list", name="Places").get_by_role("button").first).to_be_focused()
        self.scan()
        self.page.keyboard.press("4")
        expect(self.page.get_by_text("Roller tyres: now in Lidded bin B.")).to_be_visible()
        expect(self.lane("Roller tyres")).to_contain_text("Lidded bin B, 0 min")
        self.page.get_by_role("button", name="Undo").click()
        expect(self.lane("Roller tyres")).to_contain_text("Shelf, 10 d")

    def test_time_is_zoomed_lanes_are_sorted_and_a_wanted_time_gives_the_latest_start(self):
        self.open("/")
        for span, tick in (("day", "6 h"), ("season", "12 wk"), ("week", "7 d")):
            self.page.get_by_role("radio", name=span, exact=True).click()
            expect(self.page.get_by_text(tick, exact=True)).to_be_visible()
        self.page.get_by_role("button", name="Order").click()
        self.page.get_by_role("option", name="by name").click()
        names = self.page.get_by_role("list", name="Spools").locator("a[data-lane]")
        expect(names.first).to_have_text("Cable guides")
        self.page.get_by_label("Wanted by").fill("2030-06-01T18:00")
        rack = self.page.request.get(f"{self.live_server_url}/api/rack/?span=week").json()
        heat = next(row["heat"] for row in rack["lanes"] if row["lane"]["spool"]["name"] == "Rain gauge")
        start = datetime(2030, 6, 1, 18) - timedelta(hours=heat["duration_h"])
        expect(self.lane("Rain gauge")).to_contain_text(f"start by 1 Jun {start:%H:%M}")

    def test_a_long_rack_draws_only_what_is_seen(self):
        body, place = EmptySpool.objects.first(), Place.objects.get(name="Shelf")
        for n in range(140):
            tare = Tare(200, 3, TareMethod.TWIN)
            new = NewSpool(f"Spare {n:03}", "pla", body, tare, place, Quantity(0.2, 0.1))
            add_spool(new, timezone.now() - timedelta(days=2))
        self.open("/")
        self.page.get_by_label("Find a spool").fill("spare")
        rows = self.page.get_by_role("list", name="Spools").get_by_role("listitem")
        expect(rows.first).to_contain_text("Spare")
        self.assertLess(rows.count(), 45)
        self.page.mouse.wheel(0, 20_000)
        expect(self.page.get_by_text(re.compile(r"Spare 1[34]\d")).first).to_be_visible()
        self.assertLess(rows.count(), 45)

    def test_a_spool_is_added_and_its_page_takes_what_is_known_of_it(self):
        self.expected_errors = "(Bad Request)"
        self.open("/")
        self.page.get_by_role("button", name="add a spool").click()
        slip = self.page.get_by_role("dialog")
        slip.get_by_label("Name").fill("Hatch stock")
        slip.get_by_role("button", name="Empty mass").click()
        self.page.get_by_role("option", name="weighed empty").click()
        slip.get_by_label("Empty it weighs").fill("a lot")
        slip.get_by_role("button", name="Add it").click()
        expect(slip.get_by_text("“a lot” is not a number")).to_be_visible()
        expect(slip.get_by_label("Name")).to_have_value("Hatch stock")
        slip.get_by_label("Empty it weighs").fill("212,5")
        slip.get_by_role("button", name="Add it").click()
        expect(self.page.get_by_text("Added Hatch stock.")).to_be_visible()
        self.page.get_by_role("link", name="Hatch stock", exact=True).click()
        self.heading(re.compile("^Hatch stock is"))
        self.page.get_by_role("button", name="note how wet it is").click()
        slip.get_by_label("Water, of the dry filament").fill("0.05")
        slip.get_by_label("Give or take").fill("0.02")
        slip.get_by_role("button", name="Save").click()
        self.heading(re.compile("^Hatch stock prints clean"))

    def test_an_old_stay_is_corrected_where_it_does_no_harm_and_refused_where_it_would(self):
        self.expected_errors = "(Conflict)"
        self.open(f"/spools/{Spool.objects.get(name='Rain gauge').id}")
        story = self.page.get_by_role("region", name="Moisture history")
        story.get_by_role("button", name="Correct: to Lidded bin B").click()
        slip = self.page.get_by_role("dialog")
        slip.get_by_label("Until").fill("")
        slip.get_by_role("button", name="Save").click()
        expect(slip.get_by_role("alert")).to_contain_text("cannot be in two places")
        slip.get_by_role("button", name="Cancel").click()
        story.get_by_role("button", name="Correct: to On the printer").click()
        slip.get_by_role("button", name="It stood in").click()
        self.page.get_by_role("option", name="Bag 4").click()
        slip.get_by_role("button", name="Save").click()
        self.heading(re.compile("^Rain gauge prints clean"))


class InKeep(BrowserCase):
    def test_fresh_desiccant_answers_for_how_long_and_its_weighings_for_what_gets_in(self):
        self.open("/storage")
        self.heading(
            re.compile(
                "(Cable guides|Gear stock) will be too wet to print clean in about 1[0-9] d, in (Bag 4|Lidded bin B)"
            )
        )
        self.page.get_by_role("radio", name="Dry bin").click()
        self.page.get_by_role("button", name="use this").click()
        expect(self.page.get_by_text("Dry bin now uses its own measurement.")).to_be_visible()
        # By hand: 3.8 g in 18 days of a room at about 10 g/m³ and an inside at about 3: 3.8 / (18 x 7) = 0.03.
        self.assertAlmostEqual(Place.objects.get(name="Dry bin").ingress_m3_day, 0.03, delta=0.005)
        self.page.get_by_role("radio", name="Bag 4").click()
        self.page.get_by_role("button", name="Put fresh in").click()
        slip = self.page.get_by_role("dialog")
        slip.get_by_role("button", name="It shows by").click()
        self.page.get_by_role("option", name="blue beads").click()
        expect(slip.get_by_text("cobalt salts")).to_be_visible()
        self.scan()
        slip.get_by_label("How much, dry").fill("400")
        slip.get_by_role("button", name="It is in").click()
        expect(self.page.get_by_text("Put silica gel into Bag 4.")).to_be_visible()
        self.assertEqual(DesiccantFill.objects.filter(place__name="Bag 4").count(), 2)
        expect(self.page.get_by_text("Blue beads may contain cobalt")).to_be_visible()

    def test_a_place_is_added_changed_and_refused_to_vanish_while_it_was_used(self):
        self.expected_errors = "(Conflict)"
        self.open("/storage")
        self.page.get_by_role("button", name="Add a place").click()
        slip = self.page.get_by_role("dialog")
        slip.get_by_label("Name").fill("Window box")
        slip.get_by_role("button", name="It is").click()
        self.page.get_by_role("option", name="dry box that feeds the printer").click()
        slip.get_by_role("button", name="Save").click()
        self.page.get_by_role("radio", name="Window box").click()
        self.page.get_by_role("radio", name="Dry bin").click()
        self.page.get_by_role("button", name="edit", exact=True).click()
        slip.get_by_role("button", name="remove it").click()
        expect(slip.get_by_role("alert")).to_contain_text("so it stays as part of its history")


class FirstDay(BrowserCase):
    def test_all_that_is_missing_is_said_at_once_and_the_first_of_it_is_focused(self):
        empty()
        self.open("/")
        self.heading("Describe one spool, and Darre plans how to dry it.")
        self.page.get_by_label("Carries up to").fill("plenty")
        self.page.get_by_role("button", name="Begin").click()
        alerts = self.page.get_by_role("alert")
        expect(alerts).to_have_count(5)
        expect(alerts.first).to_have_text("Needed: a name for the spool, for example Hinge stock.")
        expect(alerts.last).to_contain_text("“plenty” is not a number")
        name = self.page.get_by_label("Name", exact=True).nth(1)
        expect(name).to_be_focused()
        expect(self.page.get_by_label("Carries up to")).to_have_value("plenty")
        name.fill("Blue")
        expect(alerts).to_have_count(4)

    def test_an_empty_workshop_comes_to_its_first_plan(self):
        self.expected_errors = "(Bad Request)"
        empty()
        self.open("/")
        self.heading("Describe one spool, and Darre plans how to dry it.")
        self.scan()
        page, filled = self.page, {
            "Air now": "18,5", "Relative humidity now": "62", "It weighs": "1210",
            "Coolest air": "40", "Hottest air": "65", "Carries up to": "5000",
        }  # fmt: skip
        for name, value in filled.items():
            page.get_by_label(name).first.fill(value)
        names = page.get_by_label("Name", exact=True)
        for n, name in ((1, "Blue"), (2, "Warm box")):
            names.nth(n).fill(name)
        page.get_by_label("Relative humidity now").fill("162")
        page.get_by_role("button", name="Begin").click()
        expect(page.get_by_text("162 % is out of range")).to_be_visible()
        expect(names.nth(1)).to_have_value("Blue")
        page.get_by_label("Relative humidity now").fill("")
        page.get_by_role("button", name="Begin").click()
        expect(page.get_by_text("Needed with the temperature, or leave both empty.")).to_be_visible()
        page.get_by_label("Relative humidity now").fill("62")
        page.get_by_role("button", name="Begin").click()
        self.heading(re.compile("Warm box"))
        self.assertEqual((Stay.objects.count(), Run.objects.count()), (1, 0))
