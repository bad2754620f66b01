"""Cases in a browser: a bad print from the key to the verdict, before and after, files, the table, practice."""

import io
import re
from pathlib import Path
from tempfile import TemporaryDirectory

from PIL import Image
from playwright.sync_api import expect

from darre.demo.cases import WORM, gcode_of
from darre.diagnosis.models import Case, PracticeRound, Print
from darre.diagnosis.practice import hidden
from darre.runs.actions.runs import end_run
from darre.runs.models import Run
from drying.diagnosis.evidence_table import WATER
from e2e.browser import BrowserCase


class BadPrint(BrowserCase):
    def test_a_key_pressed_before_the_page_has_loaded_means_the_spool_of_the_address(self):
        self.hold("**/api/preferences/", "**/api/spools/7/page/")
        self.page.goto(self.live_server_url + "/spools/7")
        expect(self.page.get_by_role("heading", level=1)).to_have_text("Loading")
        self.page.keyboard.press("b")
        expect(self.page.get_by_role("dialog").get_by_label("Off which spool")).to_have_value("Lens caps")

    def choose(self, sign, answer):
        within = self.page.get_by_role("radiogroup", name=sign)
        within.get_by_role("radio", name=answer, exact=True).click()

    def test_from_the_key_through_the_checks_to_a_verdict_that_moves_the_marks_and_back(self):
        self.open("/spools/7")
        self.page.keyboard.press("b")
        slip = self.page.get_by_role("dialog")
        expect(slip.get_by_label("Off which spool")).to_have_value("Lens caps")
        slip.get_by_label("What is wrong, in a few words").fill("Strings on the caps")
        slip.get_by_role("button", name="Look into it").click()
        self.heading(re.compile("^(More likely|Rather|It may|Probably|Almost)"))
        expect(self.page.get_by_text("Strings on the caps ·")).to_be_visible()
        self.page.get_by_role("button", name="Push filament through; listen and look").click()
        expect(slip.get_by_text("The nozzle and what comes out of it burn skin.")).to_be_visible()
        self.choose("Crackles or hisses on a slow push", "heard")
        self.choose("Steam at the nozzle", "seen")
        slip.get_by_role("button", name="Next: break the print").click()
        self.choose("Weak between layers", "parts along a layer")
        self.scan()
        slip.get_by_role("button", name="Save").click()
        self.heading(re.compile("Almost surely the water: (over )?99 chances in 100."))
        rows = self.page.get_by_role("region", name="Evidence").get_by_role("listitem")
        expect(rows).to_have_count(4)
        rows.nth(1).get_by_role("button").first.click()
        expect(rows.nth(1)).to_contain_text("Water boils in the melt")
        self.choose("Crackles or hisses on a slow push", "quiet")
        expect(self.page.get_by_role("heading", level=1)).not_to_have_text(re.compile("over 99"))
        expect(self.page.get_by_text("Changed: crackles or hisses on a slow push.")).to_be_visible()
        self.page.get_by_role("button", name="Undo").click()
        self.heading(re.compile("Almost surely the water: (over )?99 chances in 100."))
        self.scan()
        self.page.get_by_role("button", name="Close the case").click()
        expect(slip.get_by_text(re.compile(r"Trouble threshold of PLA: 0\.\d+ → 0\.\d+ %"))).to_be_visible()
        slip.get_by_role("radio", name=re.compile("^Something else")).click()
        expect(slip.get_by_text("What else")).to_be_visible()
        slip.get_by_role("radio", name=re.compile("^It was the water")).click()
        slip.get_by_role("button", name="Close the case").click()
        self.heading("It was the water.")
        expect(self.page.get_by_text("Closed. It was the water.")).to_be_visible()
        self.page.get_by_role("button", name="Undo").click()
        self.heading(re.compile("Almost surely the water: (over )?99 chances in 100."))

    def test_before_and_after_are_compared_by_keys_and_rated_without_knowing_which(self):
        case = Case.objects.get(title="Worm gear for the roof")
        self.open(f"/cases/{case.pk}")
        self.heading("It was the water.")
        divider = self.page.get_by_role("slider", name="Divider between before and after")
        divider.focus()
        for key, share in (("ArrowRight", "52"), ("Home", "0"), ("PageUp", "10"), ("End", "100")):
            self.page.keyboard.press(key)
            expect(divider).to_have_attribute("aria-valuenow", share)
        box = divider.locator("xpath=..").bounding_box()
        self.page.mouse.move(box["x"] + box["width"] * 0.9, box["y"] + 40)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + box["width"] * 0.25, box["y"] + 60, steps=4)
        self.page.mouse.up()
        expect(divider).to_have_attribute("aria-valuenow", "25")
        self.page.get_by_role("button", name="grid over").click()
        self.page.get_by_role("radio", name="side by side").click()
        expect(self.page.get_by_role("img", name=re.compile("The print after drying"))).to_have_count(2)
        self.page.get_by_role("button", name="Rate blind").click()
        slip = self.page.get_by_role("dialog")
        for picture in slip.get_by_role("img").all():
            self.assertNotRegex(picture.get_attribute("alt"), "before|after")
        slip.get_by_role("radiogroup", name="bridges, left").get_by_role("radio", name="2").click()
        slip.get_by_role("radiogroup", name="bridges, right").get_by_role("radio", name="5").click()
        slip.get_by_role("button", name="Save").click()
        expect(self.page.get_by_text(re.compile("The left print was the one (before|after) drying"))).to_be_visible()
        expect(self.page.get_by_role("row", name=re.compile("^bridges"))).to_be_visible()

    def test_a_dried_spool_asks_for_the_same_file_again_and_whether_the_fault_went(self):
        case = Case.objects.get(title="Rain funnel with strings")
        run = Run.objects.get(ended_at__isnull=True)
        run.spool = case.spool
        run.save()
        end_run(run, None)
        self.open(f"/runs/{run.pk}")
        self.page.get_by_role("link", name="Rain funnel with strings").click()
        expect(self.page.get_by_text("Print rain-funnel-03.gcode again")).to_be_visible()
        self.page.get_by_role("button", name="It is printed").click()
        slip = self.page.get_by_role("dialog")
        expect(slip.get_by_text("rain-funnel-03.gcode:")).to_be_visible()
        slip.get_by_label("What it is").fill("Rain funnel, dried")
        slip.get_by_role("button", name="Save").click()
        expect(self.page.get_by_role("heading", name="Dry it, then print the same file again")).to_be_visible()
        self.choose("After drying, same file: clean", "came out clean")
        slip.get_by_role("button", name="Save").click()
        self.heading(re.compile("^Almost surely the water"))
        expect(self.page.get_by_text("The same file, byte for byte")).to_be_visible()
        self.assertEqual(Case.objects.get(pk=case.pk).after, Print.objects.get(name="Rain funnel, dried"))

    def test_photos_and_print_files_are_taken_and_what_is_none_is_refused_where_it_was_chosen(self):
        self.expected_errors = "(Bad Request)"
        case = Case.objects.get(title="Rain funnel with strings")
        picture = io.BytesIO()
        Image.new("RGB", (300, 200), "white").save(picture, "PNG")
        self.open(f"/cases/{case.pk}")
        self.page.get_by_label("Photo after").set_input_files(
            {"name": "funnel.png", "mimeType": "image/png", "buffer": picture.getvalue()}
        )
        expect(self.page.get_by_text("after: funnel.png")).to_be_visible()
        self.page.get_by_label("Photo before").set_input_files(
            {"name": "notes.jpg", "mimeType": "image/jpeg", "buffer": b"no photo"}
        )
        expect(self.page.get_by_text("This is not a JPEG, PNG or WebP photo.")).to_be_visible()
        self.open("/cases/prints")
        self.page.get_by_role("button", name="Note a print").click()
        slip = self.page.get_by_role("dialog")
        with TemporaryDirectory() as folder:
            file = Path(folder) / "worm.gcode"
            file.write_bytes(b"".join(gcode_of(WORM)))
            slip.get_by_label("G-code file").set_input_files(file)
            expect(slip.get_by_text("21.5 m of filament")).to_be_visible()
            file.write_text("nothing printed here")
            slip.get_by_label("Another G-code file").set_input_files(file)
            expect(slip.get_by_text("No command in this file extrudes anything")).to_be_visible()
        slip.get_by_label("What it is").fill("Worm, third")
        self.scan()
        slip.get_by_role("button", name="Save").click()
        expect(self.page.get_by_role("listitem").first).to_contain_text("Worm, third")
        expect(self.page.get_by_role("listitem").first).to_contain_text("same file as")

    def test_a_verdict_is_handed_on_as_one_file_that_needs_nothing_else(self):
        case = Case.objects.get(title="Worm gear for the roof")
        self.open(f"/cases/{case.pk}/sheet")
        self.heading("It was the water.")
        with self.page.expect_download() as coming:
            self.page.get_by_role("button", name="Save as one file").click()
        self.assertEqual(coming.value.suggested_filename, "worm-gear-for-the-roof.html")
        text = Path(coming.value.path()).read_text("utf-8")
        self.assertEqual(text.count("data:image/jpeg;base64,"), 2)
        self.assertNotRegex(text, r"""(src|href)=["'](?!data:)|url\((?!["']?data:)|<script""")
        alone = self.new_page()
        alone.set_content(text)
        expect(alone.get_by_role("heading", level=1)).to_have_text("It was the water.")


class Laying(BrowserCase):
    """What else is laid before a case, each with its error where it was typed, and its way back."""

    def open_funnel(self):
        case = Case.objects.get(title="Rain funnel with strings")
        self.open(f"/cases/{case.pk}")
        self.heading("Probably the water: 9 chances in 10.")
        return case, self.page.get_by_role("dialog")

    def test_an_observation_of_ones_own_counts_by_ones_own_odds_and_is_taken_off_again(self):
        self.expected_errors = "(Bad Request)"
        _, slip = self.open_funnel()
        self.page.get_by_role("button", name="something else that you saw").click()
        slip.get_by_role("button", name="Save").click()
        expect(slip.get_by_text("Needed: what you saw, for example it smelled sour.")).to_be_visible()
        slip.get_by_label("What it was").fill("Only the side by the door")
        slip.get_by_role("radio", name="when it is something else").click()
        slip.get_by_role("button", name="By how much").click()
        self.page.get_by_role("option", name="much likelier").click()
        slip.get_by_role("button", name="Save").click()
        self.heading(re.compile("^(It may|More likely)"))
        row = self.page.get_by_role("region", name="Evidence").get_by_role("listitem").last
        expect(row).to_contain_text("Only the side by the door")
        row.get_by_role("button").first.click()
        expect(row).to_contain_text("10.0 times likelier when it is something else")
        row.get_by_role("button", name="take it off").click()
        self.heading("Probably the water: 9 chances in 10.")

    def test_calipers_are_compared_by_their_spread_and_a_reading_that_is_none_is_named(self):
        self.expected_errors = "(Bad Request)"
        _, slip = self.open_funnel()
        self.page.get_by_role("button", name="measure ten points of purged filament").click()
        expect(slip.get_by_text("Too few readings to tell")).to_be_visible()
        suspect = slip.get_by_label("Suspect filament, mm")
        suspect.fill("1.62 1.88 thick 1.70")
        slip.get_by_role("button", name="Compare the spreads").click()
        expect(slip.get_by_text("“thick” is not a number")).to_be_visible()
        expect(suspect).to_have_value("1.62 1.88 thick 1.70")
        suspect.fill("1,62 1,88 1,70 1,95 1,60 1,85 1,72 1,90")
        slip.get_by_role("button", name="Compare the spreads").click()
        expect(slip.get_by_text("The suspect varies more: it counts as seen.")).to_be_visible()
        self.scan()
        slip.get_by_role("button", name="Done").click()
        rows = self.page.get_by_role("region", name="Evidence")
        expect(rows.get_by_role("button", name=re.compile("^Calipers: the diameter varies more"))).to_be_visible()

    def test_strengths_are_told_by_their_change_and_a_side_without_bars_is_refused(self):
        self.expected_errors = "(Bad Request)"
        _, slip = self.open_funnel()
        self.page.get_by_role("button", name="Strength").click()
        expect(slip.get_by_text("Bars break suddenly")).to_be_visible()
        slip.get_by_label("Before drying").fill("210 190 205")
        slip.get_by_role("button", name="Save").click()
        expect(slip.get_by_text("Needed: every bar’s value after drying, for example 402 395 411.")).to_be_visible()
        slip.get_by_label("After drying").fill("215 188 207")
        slip.get_by_role("button", name="Save").click()
        table = self.page.get_by_role("table", name="Strength")
        expect(table).to_contain_text("no finding")
        expect(table).to_contain_text("202 → 203 N")

    def test_a_case_is_renamed_given_another_print_and_removed_with_a_way_back(self):
        self.expected_errors = "(Not Found)"  # the room that is being left may ask once more
        case, slip = self.open_funnel()
        self.page.get_by_role("button", name="change", exact=True).click()
        slip.get_by_label("Title").fill("Strings on the funnel")
        slip.get_by_role("button", name="The bad print").click()
        self.page.get_by_role("option", name=re.compile("^Rain collar")).click()
        slip.get_by_role("button", name="Save").click()
        expect(self.page.get_by_text("Strings on the funnel ·")).to_be_visible()
        self.heading(re.compile("^(It may|More likely|Probably)"))  # that print was made from a dry spool
        self.page.get_by_role("button", name="change", exact=True).click()
        slip.get_by_role("button", name="remove the case").click()
        self.heading("No case is open.")
        expect(self.page.get_by_text("Removed Strings on the funnel.")).to_be_visible()
        self.page.get_by_role("button", name="Undo").click()
        self.heading(re.compile("^One case is open: Strings on the funnel."))
        self.assertEqual(Case.objects.get(pk=case.pk).before.name, "Rain collar")

    def test_a_print_that_came_out_badly_opens_its_case_from_the_list_of_prints(self):
        self.expected_errors = "(Conflict)"
        self.open("/cases/prints")
        row = self.page.get_by_role("listitem").filter(has_text="Rain collar")
        row.get_by_role("button", name="came out badly").click()
        slip = self.page.get_by_role("dialog")
        expect(slip.get_by_label("Off which spool")).to_have_value("Rain gauge")
        expect(slip.get_by_role("button", name="Which print")).to_contain_text("Rain collar")
        slip.get_by_role("button", name="Look into it").click()
        expect(self.page.get_by_text("Rain collar ·")).to_be_visible()
        self.page.go_back()
        self.page.get_by_role("button", name="Remove the print Rain collar").click()
        expect(self.page.get_by_text("rests on this print")).to_be_visible()

    def test_a_case_whose_server_is_away_says_so_and_keeps_what_was_answered(self):
        _, slip = self.open_funnel()
        self.page.get_by_role("button", name="Print the same file from a dry spool").click()
        within = slip.get_by_role("radiogroup", name="Same file from a dry spool: clean")
        within.get_by_role("radio", name="same fault").click()
        self.expected_errors = "ERR_"
        self.page.route("**/api/cases/*/signs/", lambda route: route.abort())
        slip.get_by_role("button", name="Save").click()
        expect(slip.get_by_text("Darre's server was not reached.")).to_be_visible()
        expect(within.get_by_role("radio", name="same fault")).to_be_checked()
        self.page.unroute("**/api/cases/*/signs/")
        slip.get_by_role("button", name="Save").click()
        self.heading(re.compile("^(It may|More likely)"))


class ARoomThatCannotBeLoaded(BrowserCase):
    def test_it_says_so_and_leaves_the_header_and_weighing_in_reach(self):
        self.expected_errors = "Failed to"
        self.page.route(re.compile(r"/assets/rest-"), lambda route: route.abort())
        self.page.goto(self.live_server_url + "/cases/practice")
        expect(self.page.get_by_text("This page could not be loaded")).to_be_visible()
        self.errors = [e for e in self.errors if "net::ERR_FAILED" not in e and "/assets/rest-" not in e]
        self.page.keyboard.press("w")
        expect(self.page.get_by_role("dialog").get_by_label("The scale reads")).to_be_visible()


class Table(BrowserCase):
    def test_an_estimate_is_changed_and_gone_back_from_where_it_stands(self):
        self.expected_errors = "(Bad Request)"
        self.open("/cases/table?material=petg")
        self.heading("Every number here is an estimate.")
        self.page.get_by_role("button", name="Fine strings").click()
        tuning = self.page.get_by_label("tuning, of 100")
        tuning.fill("100")
        tuning.press("Enter")
        expect(self.page.get_by_text("100 % is out of range")).to_be_visible()
        tuning.fill("30")
        tuning.press("Enter")
        self.heading("1 of these numbers is yours.")
        self.scan()
        self.page.get_by_role("button", name="back to 60").click()
        self.heading("Every number here is an estimate.")


class Practice(BrowserCase):
    def test_a_round_is_played_and_its_truth_is_told_with_the_answer(self):
        self.open("/cases/practice")
        self.page.get_by_role("button", name="A case in 8 minutes").click()
        self.heading(re.compile("^Was it the water"))
        self.page.get_by_role("button", name="Push filament through").click()
        shown = self.page.get_by_role("list", name="What was seen")
        expect(shown.get_by_role("listitem")).to_have_count(4)
        expect(self.page.get_by_role("button", name="Print the same file from a dry spool")).to_have_count(0)
        self.page.get_by_role("slider").fill("90")
        self.page.get_by_role("button", name="That is my answer").click()
        case = hidden(PracticeRound.objects.get().seed)
        self.heading(re.compile("^It was the water" if case.cause == WATER else "^It was not the water"))
        expect(self.page.get_by_text("You said 9 in 10")).to_be_visible()
        expect(self.page.get_by_role("img", name="What you said against what happened")).to_be_visible()
        self.scan()
