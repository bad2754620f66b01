"""Plan, Kit and Materials as they are used: the map, company, what could do it, own values, units, and paper."""

import re

from playwright.sync_api import expect

from darre.equipment.models import Dryer
from darre.inventory.models import OwnValue, Preferences
from darre.runs.models import Run
from e2e.browser import BrowserCase


class TheMap(BrowserCase):
    def pin(self):
        return self.page.get_by_role("slider", name="Pin: air temperature and hours")

    def test_the_pin_moves_by_arrow_keys_and_the_ticket_follows(self):
        self.open("/plan?spool=4&dryer=1")
        self.heading("Set Cellar box to 68 °C for 6 h 30 min.")
        pin = self.pin()
        for presses, told in (
            ("ArrowDown", "62 °C for 6.5 h"),
            ("ArrowRight", "62 °C for 7 h"),
            ("Shift+ArrowLeft", "62 °C for 4.5 h"),
        ):
            pin.press(presses)
            expect(pin).to_have_attribute("aria-valuetext", re.compile(f"^{told}: "))
        self.heading(
            re.compile(
                "Set Cellar box to 67 °C for 4 h 30 min. It brings Rain gauge to about 0.1[0-3] %; the aim is 0.08 %."
            )
        )
        expect(self.page.get_by_role("region", name="Run ticket")).to_contain_text("62°")
        self.scan()

    def test_a_drag_is_answered_by_the_map_alone_and_what_is_let_go_by_the_core(self):
        self.open("/plan?spool=4&dryer=2")
        pin, asked = self.pin(), []
        self.page.wait_for_load_state("networkidle")
        box = pin.bounding_box()
        self.page.on("request", lambda request: asked.append(request.url))
        self.page.mouse.move(box["x"] + 18, box["y"] + 18)
        self.page.mouse.down()
        seen = set()
        for step in range(1, 30):
            self.page.mouse.move(box["x"] + 18 - 6 * step, box["y"] + 18 + 3 * step)
            seen.add(pin.get_attribute("aria-valuetext"))
        self.assertEqual([url for url in asked if "/plan/" in url], [])
        self.assertGreater(len(seen), 12)
        shown = pin.get_attribute("aria-valuetext")
        self.page.mouse.up()
        temp, hours, left = re.match(r"([\d.]+) °C for ([\d.]+) h: ([\d.]+) % left", shown).groups()
        field = self.page.get_by_role("textbox", name="Air")
        expect(field).to_have_value(temp)
        expect(self.page.get_by_role("textbox", name="Heat for")).to_have_value(hours)
        self.heading(re.compile(rf"It brings Rain gauge to about {left} %; the aim is 0.08 %."))
        self.assertEqual([url for url in asked if "/map/" in url], [])

    def test_what_stands_while_another_plan_is_worked_out_stays_readable_and_cannot_be_started(self):
        self.open("/plan?spool=4&dryer=1")
        ticket = self.page.get_by_role("region", name="Run ticket")
        expect(ticket).to_be_visible()
        held = self.hold("**/api/plan/**")
        self.go("/plan?spool=4&dryer=2")
        expect(self.page.locator("[aria-busy=true]").filter(has=ticket)).to_be_visible()
        self.scan_at_once()
        expect(self.page.get_by_role("button", name="Weigh in and start")).to_be_disabled()
        self.assertGreater(len(held), 0)

    def test_the_map_is_read_as_a_table_and_the_run_over_time(self):
        self.open("/plan?spool=4&dryer=1")
        self.page.get_by_role("button", name="as a table").press("Enter")
        rows = self.page.get_by_role("table").get_by_role("row")
        expect(rows.first).to_contain_text("floor")
        self.assertGreater(rows.count(), 7)
        self.scan()
        self.page.get_by_role("button", name="this run over time").press("Enter")
        hand = self.page.get_by_role("slider", name="Read the curve: hours of heat")
        hand.press("End")
        expect(self.page.get_by_text(re.compile(r"\d+(\.\d)? h: 0\.\d+ % \(0\.\d+ to 0\.\d+\)"))).to_be_visible()

    def test_a_ring_sets_the_pin_and_one_past_a_limit_says_so(self):
        self.open("/plan?spool=4&dryer=1")
        rings = self.page.get_by_role("list", name="Programmes as they stand")
        expect(rings.get_by_role("listitem").filter(has_text="brisk")).to_contain_text("past a limit")
        rings.get_by_role("button", name="gentle").click()
        self.heading("Set Cellar box to 60 °C for 10 h.")


class Choosing(BrowserCase):
    def test_a_dryer_that_cannot_says_what_could_and_leads_there(self):
        self.open("/plan?spool=1&dryer=3")
        self.heading(
            re.compile(
                r"Bed and lid brings Hinge stock from 3.[12] to about 1.\d % in 24 h; for 0.20 % see what could do it."
            )
        )
        could = self.page.get_by_role("region", name="What could do it")
        expect(could).to_contain_text("Tall stacker")
        expect(could).to_contain_text("desiccant")
        self.scan()
        could.get_by_role("button", name="plan it").first.click()
        self.heading(re.compile("Set Tall stacker to .* for .* h"))
        expect(could).to_have_count(0)

    def test_the_delicate_one_of_the_company_caps_the_run(self):
        self.open("/plan?spool=10&dryer=2")
        self.page.get_by_role("button", name="Together with").press("Space")
        self.page.get_by_role("option", name="Lens caps").click()
        self.page.keyboard.press("Escape")
        self.heading(
            re.compile(
                r"Tall stacker brings Window panel from 0.1\d to about 0.0[56] % in 6 h; "
                r"for 0.03 % see what could do it."
            )
        )
        ticket = self.page.get_by_role("region", name="Run ticket")
        expect(ticket).to_contain_text("48°")
        expect(ticket.get_by_role("list", name="Who goes in")).to_contain_text(
            "stays above its clean threshold of 0.03 %"
        )
        expect(self.page.get_by_role("list", name="Cautions")).to_contain_text("Lens caps")
        self.scan()

    def test_least_heat_and_ready_by_answer_with_their_reason(self):
        self.open("/plan?spool=4&dryer=1")
        for name, told in (("least heat", "the coolest run that gets there"), ("ready by", "done when you need it")):
            self.page.get_by_role("button", name="Choose by").click()
            self.page.get_by_role("option", name=name).click()
            expect(self.page.get_by_text(re.compile(told)).first).to_be_visible()
            self.heading(re.compile("Set Cellar box to .* for .* h"))
        expect(self.page.get_by_label("Ready by", exact=True)).not_to_have_value("")
        self.scan()

    def test_two_spools_are_weighed_and_started_as_one_act_and_a_wrong_mass_is_said_at_its_spool(self):
        self.expected_errors = "400 (Bad Request)"
        self.open("/plan?spool=4&with=9&dryer=2")
        self.page.get_by_role("button", name="Weigh in and start").click()
        self.page.get_by_label("The scale reads").fill("800.3")
        other = self.page.get_by_label("And for Star chart")
        other.fill("99,5")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("less than the empty spool of Star chart")).to_be_visible()
        expect(other).to_be_focused()
        began = Run.objects.filter(ended_at__isnull=True, batch__dryer_id=2)
        self.assertEqual(began.count(), 0)
        other.fill("1121")
        self.page.keyboard.press("Enter")
        self.page.wait_for_url("**/runs/**")
        expect(self.page.get_by_text("together with Star chart")).to_be_visible()
        self.assertEqual(sorted(began.values_list("spool__name", flat=True)), ["Rain gauge", "Star chart"])
        self.assertEqual({run.weighings.count() for run in began}, {1})

    def test_a_makers_sheet_is_noted_and_then_chosen_by(self):
        self.open("/plan?spool=5&dryer=2")
        self.page.get_by_role("button", name="note its maker").click()
        self.page.get_by_label("Dry at").fill("70")
        self.page.get_by_label("For", exact=False).last.fill("4")
        self.page.get_by_role("button", name="Save", exact=True).click()
        expect(self.page.get_by_role("button", name="maker’s sheet: 70 °C, 4 h")).to_be_visible()
        expect(self.page.get_by_role("dialog")).to_have_count(0)
        self.page.wait_for_load_state("networkidle")
        self.page.get_by_role("button", name="Choose by").click()
        self.page.get_by_role("option", name="maker’s sheet").click()
        expect(self.page.get_by_role("region", name="Run ticket")).to_contain_text("70°")

    def test_the_ticket_prints_on_paper_with_what_to_do_and_room_to_write(self):
        self.page = self.new_page(own=True)
        self.open("/plan?spool=4&dryer=1")
        self.heading("Set Cellar box to 68 °C for 6 h 30 min.")
        self.page.emulate_media(media="print")
        expect(self.page.get_by_role("heading", level=1)).to_be_hidden()
        for says in (
            re.compile(r"Weigh in\. Set 68 °C, timer \d.*\. Vent open\. Fan on\."),
            "Turn the spool over",
            "Stop. Weigh out",
        ):
            expect(self.page.get_by_text(says).last).to_be_visible()
        expect(self.page.get_by_text("Guidance, not approval")).to_be_visible()


class Kit(BrowserCase):
    def test_probe_pairs_correct_the_dial_and_can_be_taken_back(self):
        self.open("/kit?dryer=2")
        for set_c, air_c in (("50", "46"), ("70", "64")):
            self.page.get_by_label("Set, °C").fill(set_c)
            self.page.get_by_label("Air, °C", exact=True).fill(air_c)
            self.page.get_by_role("button", name="Note the pair").click()
            expect(self.page.get_by_label("Set, °C")).to_have_value("")
        self.heading(re.compile("Tall stacker reads .* too high"))
        self.scan()
        self.open("/plan?spool=4&dryer=2")
        self.heading(re.compile(r"Set Tall stacker to 6[89](\.\d)? °C for"))

    def test_a_new_dryer_with_little_known_of_it_plans_and_says_what_it_assumes(self):
        self.expected_errors = "400 (Bad Request)"
        self.open("/kit")
        self.page.get_by_role("button", name="Add a dryer").click()
        self.page.get_by_label("Name").fill("Loft box")
        self.page.get_by_label("Coolest air").fill("35")
        self.page.get_by_label("Hottest air").fill("seventy")
        self.page.get_by_role("button", name="Add it").click()
        expect(self.page.get_by_role("alert")).to_contain_text("not a number")
        expect(self.page.get_by_label("Name")).to_have_value("Loft box")
        self.page.get_by_label("Hottest air").fill("70")
        self.page.get_by_role("button", name="Add it").click()
        self.heading(re.compile("Loft box"))
        self.open(f"/plan?spool=4&dryer={Dryer.objects.get(name='Loft box').id}")
        told = self.page.get_by_role("list", name="Cautions")
        expect(told).to_contain_text("We assume typical values for this dryer:")
        expect(told).to_contain_text("of vent flow")
        expect(told).to_contain_text("If you have measured them, enter them in Kit.")


class OwnFacts(BrowserCase):
    def test_an_own_value_stands_over_the_built_in_one_with_a_way_back(self):
        self.open("/materials")
        self.page.get_by_role("button", name="PETG", exact=True).click()
        self.page.get_by_role("button", name="Change Clean threshold").click()
        self.page.get_by_label("Value").fill("0,1")
        self.page.get_by_label("Where it comes from").fill("twelve prints side by side")
        self.scan()
        self.page.get_by_role("button", name="Save", exact=True).click()
        self.heading(re.compile("PETG prints clean below 0.10 %"))
        expect(self.page.get_by_text("built in: 0.08")).to_be_visible()
        self.page.get_by_role("button", name="Go back to the built-in Clean threshold").click()
        self.heading(re.compile("PETG prints clean below 0.08 %"))
        self.assertFalse(OwnValue.objects.filter(origin="typed").exists())

    def test_units_change_everything_shown_and_typed_and_nothing_stored(self):
        self.open("/plan?spool=4&dryer=1")
        self.heading("Set Cellar box to 68 °C for 6 h 30 min.")
        self.page.get_by_role("button", name="Settings").click()
        self.page.get_by_role("menuitem", name="units").click()
        for name in ("°F", "oz", "am, pm"):
            self.page.get_by_role("radio", name=name).click()
        self.scan()
        self.page.get_by_role("button", name="Save", exact=True).click()
        self.heading("Set Cellar box to 154 °F for 6 h 30 min.")
        self.page.get_by_role("textbox", name="Air").fill("140")
        self.page.get_by_role("textbox", name="Air").press("Enter")
        expect(self.page).to_have_url(re.compile(r"temp_c=60(\D|$)"))
        expect(self.page.get_by_role("region", name="Run ticket")).to_contain_text("140°")
        expect(self.page.get_by_text(re.compile("20.5 oz left"))).to_be_visible()
        self.assertEqual(Preferences.objects.get().temp_unit, "F")
