"""The whole path by keyboard alone, and what must never be lost on the way."""

import re

from playwright.sync_api import expect

from darre.demo.tests.fresh import empty
from darre.devices.tests.logs import hang
from darre.equipment.models import Dryer
from darre.runs.models import Run, RunEvent, Weighing
from e2e.browser import BrowserCase

STACKER = re.compile(r"^Set Tall stacker to 63 °C for (6 h( 30 min)?|7 h)\.$")


# Scrolling by keys and wheel begins a frame or two after them.
SCROLLED_AFTER_FRAMES = """async () => {
  for (let frame = 0; frame < 12; frame += 1) await new Promise(requestAnimationFrame);
  return scrollY;
}"""


class WholePath(BrowserCase):
    def test_by_keyboard_alone_from_the_rack_to_the_verdict(self):
        self.expected_errors = "400 (Bad Request)"
        self.choose_on_the_rack()
        self.choose_dryer_and_school()
        self.weigh_in_after_two_slips_of_the_finger()
        self.hours_pass(9.5)
        self.heading(re.compile(r"^The planned time is over: by the forecast \S+ to \S+ % is left\. Weigh it now\.$"))
        self.weigh_by_key("799.2")
        self.heading(re.compile("Keep going: about .* left|Perhaps there already"))
        self.hours_pass(6)
        self.weigh_out_and_hear_the_verdict()
        self.take_it_back()

    def choose_on_the_rack(self):
        keys = self.page.keyboard
        self.open("/")
        self.heading("Four spools print clean now. Hinge stock needs 36 h first.")
        self.scan()
        keys.press("/")
        keys.type("rain")
        expect(self.page.get_by_role("list", name="Spools").get_by_role("listitem")).to_have_count(1)
        keys.press("ArrowDown")
        keys.press("p")
        # The rack said so; it is the plan that opens, in the dryer that does it best.
        self.heading(STACKER)
        expect(self.page.get_by_role("region", name="Run ticket")).to_contain_text("63 °C")
        expect(self.page.get_by_text("computed through the winding")).to_be_visible()
        self.scan()

    def choose_dryer_and_school(self):
        keys = self.page.keyboard
        self.tab_to("Tall stacker")
        keys.press("ArrowUp")
        self.heading("Set Cellar box to 68 °C for 6 h 30 min.")
        keys.press("ArrowDown")
        self.heading(STACKER)
        self.tab_to("Choose by")
        self.choose_by_keys("ArrowDown")
        self.heading(re.compile(r"^Set Tall stacker to 68 °C for 5 h( 30 min)?\.$"))
        expect(self.page.get_by_role("list", name="Cautions")).to_contain_text("the empty spool sags above 68 °C")
        self.choose_by_keys("ArrowUp")
        self.heading(STACKER)

    def choose_by_keys(self, arrow):
        options = self.page.get_by_role("option")
        self.page.keyboard.press("Space")
        expect(options.first).to_be_visible()
        self.page.keyboard.press(arrow)
        self.page.keyboard.press("Enter")
        expect(options).to_have_count(0)

    def weigh_in_after_two_slips_of_the_finger(self):
        keys = self.page.keyboard
        self.tab_to("Weigh in and start")
        keys.press("Enter")
        expect(self.page.get_by_role("heading", name="Weigh in and start")).to_be_visible()
        self.scan()
        for typed, told in (("800;3", "“800;3” is not a number"), ("120", "less than the empty spool of Rain gauge")):
            keys.press("Control+a")
            keys.type(typed)
            keys.press("Enter")
            expect(self.page.get_by_text(told)).to_be_visible()
            expect(self.page.get_by_label("The scale reads")).to_have_value(typed)
        keys.press("Control+a")
        keys.type("800,3")
        keys.press("Enter")
        self.heading(re.compile("^Weighed in; about [67] h of the planned time left\\.$"))
        self.scan()

    def weigh_by_key(self, typed):
        self.page.keyboard.press("w")
        self.page.keyboard.type(typed)
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("status").filter(has_text=f"Saved {typed} g for Rain gauge.")).to_be_visible()

    def weigh_out_and_hear_the_verdict(self):
        self.tab_to("Weigh out and end")
        self.page.keyboard.press("Enter")
        self.page.keyboard.type("798,8")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("1.5 ± 0.2 g lost, 0.26 ± 0.03 % of the dry filament.")).to_be_visible()
        self.heading(re.compile(r"Not dry yet: .* % is left; it prints clean at 0.08 %."))
        self.scan()
        kept = Weighing.objects.filter(run__spool__name="Rain gauge").values_list("gross_g", flat=True)
        self.assertEqual(list(kept), [800.3, 799.2, 798.8])

    def take_it_back(self):
        self.tab_to("Undo")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("Taken back.")).to_be_visible()
        expect(self.page.get_by_role("button", name="Weigh out and end")).to_be_visible()

    def test_past_a_limit_asks_for_a_reason_and_never_melts_the_strand(self):
        page = self.page
        air = page.get_by_role("textbox", name="Air")
        self.open("/plan?spool=4&dryer=1")
        self.heading(re.compile("Set Cellar box to"))
        held = self.hold("**/api/plan/**")
        with page.expect_request("**/api/plan/**"):
            air.fill("64,5")
            air.press("Enter")
        page.keyboard.press("End")  # no longer selected when the answer puts its own number there
        for route in held:
            route.continue_()
        page.unroute("**/api/plan/**")
        self.heading("Set Cellar box to 70 °C for 6 h 30 min.")
        page.keyboard.type("70")
        page.keyboard.press("Enter")
        self.heading(re.compile("70 °C is past a limit: the empty spool sags above 66 °C."))
        start = page.get_by_role("button", name="Weigh in and start")
        expect(start).to_be_disabled()
        page.get_by_label("Why do you want it?").fill("checked with my own probe")
        expect(start).to_be_enabled()
        self.scan()
        air.fill("95")
        air.press("Enter")
        self.heading(re.compile("Not at 95 °C: the turns stick together at 91 °C."))
        expect(start).to_be_disabled()

    def test_bad_text_in_a_plan_stays_where_it_was_typed_with_its_error(self):
        self.expected_errors = "400 (Bad Request)"
        field = self.page.get_by_label("Heat for")
        self.open("/plan?spool=4&dryer=1")
        for typed, named in (("eight", "“eight” is not a number"), ("500", "at most 400 h")):
            field.fill(typed)
            field.press("Enter")
            expect(self.page.get_by_role("alert").filter(has_text=named)).to_be_visible()
            if typed == "eight":
                expect(field).to_have_value("eight")


class Reading(BrowserCase):
    def test_arrows_move_from_lane_to_lane_and_enter_opens_the_one_in_hand(self):
        self.open("/")
        lanes = self.page.get_by_role("list", name="Spools").locator("a[data-lane]")
        self.page.get_by_label("Find a spool").focus()
        for press, at in (("ArrowDown", 0), ("ArrowDown", 1), ("ArrowDown", 2), ("ArrowUp", 1)):
            self.page.keyboard.press(press)
            expect(lanes.nth(at)).to_be_focused()
        self.page.keyboard.press("Enter")
        self.heading(re.compile("^Roller tyres is wet enough to show"))
        self.page.keyboard.press("p")
        expect(self.page.get_by_role("combobox", name="Drying", exact=True)).to_have_value("Roller tyres")

    def test_find_narrows_the_rack_and_says_when_nothing_answers(self):
        self.open("/")
        lanes = self.page.get_by_role("list", name="Spools").get_by_role("listitem")
        expect(lanes).to_have_count(11)
        for typed, count in (("nylon", 2), ("lidded bin", 3), ("zebra", 0)):
            self.page.get_by_label("Find a spool").fill(typed)
            expect(lanes).to_have_count(count)
        expect(self.page.get_by_text("No spool matches “zebra”.")).to_be_visible()
        self.page.get_by_label("Find a spool").press("Escape")
        expect(lanes).to_have_count(11)

    def test_a_spool_is_picked_by_a_part_of_its_name(self):
        self.open("/plan?dryer=1")
        picker = self.page.get_by_role("combobox", name="Drying", exact=True)
        picker.fill("lens")
        picker.press("Enter")
        self.heading("Set Cellar box to 51 °C for 4 h 30 min.")
        cautions = self.page.get_by_role("list", name="Cautions")
        for says in (
            "Limited to 46 °C: the filament softens above 46 °C",
            "The hottest spot in this dryer reaches 50 °C",
            "A card spool gives off several grams",
        ):
            expect(cautions).to_contain_text(says)

    def test_a_run_started_and_ended_without_the_scale_goes_by_the_forecast_and_says_so(self):
        self.open("/plan?spool=4&dryer=1")
        self.page.get_by_role("button", name="start without weighing").click()
        self.heading(re.compile(r"^Not weighed yet: by the forecast 0\.\d+ to 0\.\d+ % is left\. Weigh it now"))
        self.page.get_by_role("button", name="Weigh out and end").click()
        self.page.get_by_label("The scale reads").fill("858")
        self.expected_errors = "409 (Conflict)"
        self.page.get_by_role("button", name="Save and end").click()
        expect(self.page.get_by_text("was not weighed at the start")).to_be_visible()
        self.page.get_by_role("button", name="Cancel").click()
        self.page.get_by_role("button", name="end without weighing").click()
        self.heading(re.compile(r"^Ended without a weighing: by the forecast 0\.\d+ to 0\.\d+ % is left\.$"))

    def test_a_rack_whose_server_went_away_keeps_what_it_shows_and_says_so(self):
        self.expected_errors = "ERR_"
        self.open("/")
        lanes = self.page.get_by_role("list", name="Spools").get_by_role("listitem")
        alert = self.page.get_by_role("alert").first
        expect(lanes).to_have_count(11)
        self.page.route("**/api/**", lambda route: route.abort())
        self.page.keyboard.press("p")
        expect(alert).to_contain_text("was not reached", timeout=15_000)
        self.page.get_by_role("link", name="Rack").first.click()
        expect(lanes).to_have_count(11)
        expect(alert).to_contain_text("was not reached", timeout=15_000)
        self.page.unroute("**/api/**")
        self.page.get_by_role("button", name="Try again").first.click()
        expect(self.page.get_by_role("alert")).to_have_count(0)


class EveryScreen(BrowserCase):
    PATHS = (
        "/",
        "/plan?spool=3",
        "/plan?spool=4&co_dried=10&dryer=2",
        "/schedule",
        "/trials",
        "/trials/1",
        "/trials/2",
        "/trials/new?kind=uptake",
        "/trials/new?kind=sponge",
        "/runs",
        "/runs/1",
        "/runs/3",
        "/spools/1",
        "/storage",
        "/labels",
        "/people",
        "/scan",
        "/programs",
        "/spools/import",
        "/kit",
        "/materials",
        "/cases",
        "/cases/1",
        "/cases/3",
        "/cases/1/sheet",
        "/cases/table",
        "/cases/practice",
        "/cases/prints",
    )

    def test_dark_theme_chosen_by_keyboard_has_no_violation_on_any_screen(self):
        self.open("/")
        self.tab_to("Settings")
        self.page.keyboard.press("Enter")
        self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("Enter")
        expect(self.page.locator("html")).to_have_attribute("data-theme", "dark")
        for path in self.PATHS:
            self.go(path)
            expect(self.page.get_by_role("status", name="Loading")).to_have_count(0)
            self.scan()

    def test_a_page_that_is_still_loading_has_its_heading_and_no_violation(self):
        held = self.hold("**/api/**")
        self.page.route("**/api/preferences/", lambda route: route.continue_())  # nothing at all is shown before
        self.page.goto(self.live_server_url)
        for path in self.PATHS:
            self.go(path)
            heading = self.page.get_by_role("heading", level=1)
            expect(heading).not_to_have_text("Loading")  # its script is there, and its records are not
            expect(heading).to_have_count(1)
            self.scan_at_once()
        self.assertGreater(len(held), 10)  # pages that ask for the same wait for the same answer

    def test_the_keys_help_opens_and_closes_by_key(self):
        self.open("/")
        self.page.keyboard.press("?")
        expect(self.page.get_by_role("heading", name="Keys")).to_be_visible()
        self.scan()
        self.page.keyboard.press("Escape")
        expect(self.page.get_by_role("heading", name="Keys")).to_have_count(0)

    def test_the_page_behind_a_slip_stays_where_it_is(self):
        self.page.set_viewport_size({"width": 1280, "height": 400})
        self.open("/")
        for key in ("?", "m"):
            self.page.keyboard.press(key)
            expect(self.page.get_by_role("dialog").get_by_role("heading")).to_be_visible()
            self.page.evaluate("() => document.activeElement.blur()")  # the first key may come before the focus
            self.page.keyboard.press("PageDown")
            self.page.mouse.move(20, 200)
            self.page.mouse.wheel(0, 300)
            self.assertEqual(self.page.evaluate(SCROLLED_AFTER_FRAMES), 0)
            self.page.keyboard.press("Escape")
            expect(self.page.get_by_role("dialog")).to_have_count(0)
        self.page.keyboard.press("PageDown")
        self.page.wait_for_function("() => scrollY > 0")  # it is long enough to scroll, and can

    def test_an_empty_workshop_and_a_run_that_is_not_there_say_what_to_do(self):
        self.expected_errors = "404 (Not Found)"
        empty()
        for path, says in (
            ("/", "Describe one spool"),
            ("/plan", "Nothing to plan yet"),
            ("/runs", "No runs yet."),
        ):
            self.open(path)
            self.heading(re.compile(says))
            self.scan()
        self.page.goto(f"{self.live_server_url}/runs/77")
        expect(self.page.get_by_role("alert")).to_contain_text("There is nothing at this address")


class Phone(BrowserCase):
    size = (390, 844)

    def test_every_screen_fits_a_phone_and_weighing_works_by_thumb(self):
        self.open("/")
        for path in EveryScreen.PATHS:
            self.go(path)
            self.scan()
            width = self.page.evaluate("document.documentElement.scrollWidth")
            self.assertLessEqual(width, 390, path)
            self.assertEqual(self.too_small(), [], path)
            self.assertEqual(self.cut_off(), [], path)
        self.page.get_by_role("button", name="Weigh", exact=True).last.click()
        self.page.get_by_label("The scale reads").fill("1017,5")
        self.scan()
        self.page.get_by_role("button", name="Save").click()
        expect(self.page.get_by_text("Saved 1017.5 g for Vent louvre.")).to_be_visible()
        self.assertEqual(Run.objects.get(spool__name="Vent louvre").weighings.count(), 4)


class WhatHappens(BrowserCase):
    def test_a_pause_a_power_cut_and_the_meter_are_noted_shown_and_taken_back(self):
        self.expected_errors = "400 (Bad Request)"
        self.open("/runs/3")
        happens = self.page.get_by_role("region", name="What happens")
        happens.get_by_role("button", name="Pause").click()
        expect(happens.get_by_role("button", name="Resume")).to_be_visible()
        happens.get_by_role("button", name="Resume").click()
        expect(happens.get_by_text("resumed")).to_be_visible()
        happens.get_by_role("button", name="more …").click()
        slip = self.page.get_by_role("dialog")
        slip.get_by_role("button", name="What happened").click()
        self.page.get_by_role("option", name="power cut").click()
        slip.get_by_role("button", name="Note it").click()
        expect(slip.get_by_text("Say for how many minutes the power was away.")).to_be_visible()
        self.scan()
        slip.get_by_label("Power was away for").fill("20")
        slip.get_by_role("button", name="Note it").click()
        expect(happens.get_by_text("power cut, 20 min")).to_be_visible()
        happens.get_by_role("button", name="Remove power cut").click()
        expect(happens.get_by_text("power cut, 20 min")).to_have_count(0)
        happens.get_by_role("button", name="more …").click()
        slip.get_by_label("At the start").fill("100,0")
        slip.get_by_label("Now", exact=False).fill("100,6")
        slip.get_by_role("button", name="Save the readings").click()
        expect(self.page.get_by_text("0.60 ± 0.02 kWh")).to_be_visible()
        self.scan()

    def test_the_air_is_read_off_a_meter_drawn_and_taken_over_for_the_dryer(self):
        run = Run.objects.get(pk=3)
        RunEvent.objects.filter(batch=run.batch).delete()
        hang(run, "Box logger", hours=4.0)
        self.open("/runs/3")
        air = self.page.get_by_role("region", name="Box air")
        air.get_by_role("button", name="note a reading by hand").click()
        slip = self.page.get_by_role("dialog")
        slip.get_by_role("button", name="Save").click()
        expect(slip.get_by_text(re.compile("^Needed: the temperature in the dryer"))).to_be_visible()
        slip.get_by_label("Temperature").fill("61,5")
        slip.get_by_label("Relative humidity").fill("9")
        slip.get_by_role("button", name="Save").click()
        expect(air.get_by_text("61.5 °C, 9 %")).to_be_visible()
        self.scan()
        air.get_by_role("button", name=re.compile("^Remove the reading")).click()
        expect(air.get_by_text("61.5 °C, 9 %")).to_have_count(0)
        expect(
            air.get_by_text(re.compile(r"^By this log Cellar box, .* swinging by ± 2[.]4 °C every 12 min"))
        ).to_be_visible()
        air.get_by_role("button", name="use it for Cellar box").click()
        expect(self.page.get_by_text("Plans in Cellar box count with it from now on.")).to_be_visible()
        self.assertAlmostEqual(Dryer.objects.get(name="Cellar box").swing_c, 2.4, delta=0.1)
