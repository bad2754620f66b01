"""Scales, devices and their files, reminders, and units in the rooms around the plan, in a browser."""

import json
import re
from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import expect

from darre.devices.models import Device
from darre.equipment.models import Scale
from darre.inventory.models import Workshop
from darre.places.models import RoomReading
from darre.runs.models import Run
from e2e.browser import BrowserCase


class Kit(BrowserCase):
    def test_a_device_gets_a_token_that_is_shown_once_and_its_readings_are_taken_with_it(self):
        self.open("/kit")
        self.page.get_by_role("button", name="add a device").click()
        slip = self.page.get_by_role("dialog")
        slip.get_by_label("Name").fill("Rafter logger")
        slip.get_by_role("button", name="Add it and show its token").click()
        expect(self.page.get_by_role("heading", name="The token of Rafter logger")).to_be_visible()
        self.scan()
        token = slip.locator(".select-all").text_content()
        slip.get_by_role("button", name="I have it").click()
        expect(self.page.get_by_text(token)).to_have_count(0)
        sent = self.page.request.post(
            self.live_server_url + "/api/ingest/",
            headers={"Authorization": f"Bearer {token}", "Content-Type": "application/json"},
            data=json.dumps({"readings": [
                {"at": (timezone.now() - timedelta(minutes=15 * n)).isoformat(), "temp_c": 20, "rh_pct": 79.5}
                for n in range(30)
            ]}),
        )  # fmt: skip
        self.assertEqual((sent.status, sent.json()["stored"]), (200, 30), sent.text())
        self.page.get_by_role("button", name="Check humidity of Rafter logger").click()
        expect(slip.get_by_role("status")).to_contain_text("It shows 79.5 % where 75.5 % is true: 4.0 ± ")
        self.scan()
        slip.get_by_role("button", name="Take that off from now on").click()
        expect(self.page.get_by_text("shows 4.0 % too much humidity, taken off")).to_be_visible()
        self.assertEqual(Device.objects.get(name="Rafter logger").rh_offset_pct, 4.0)
        self.expected_errors = "(Conflict)"
        self.page.get_by_role("button", name="Remove Rafter logger").click()
        expect(self.page.get_by_text("Rafter logger has sent readings, so it stays.")).to_be_visible()

    def test_desiccant_in_a_dryer_is_told_and_its_plan_says_what_it_takes_up(self):
        self.expected_errors = "400 (Bad Request)"
        self.open("/kit?dryer=1")
        form = self.page.get_by_role("form", name="Cellar box")
        form.get_by_label("Vent flow").fill("0")
        expect(form.get_by_label("How much, dry")).to_have_count(0)
        form.get_by_label("Kind of desiccant").click()
        self.page.get_by_role("option", name="silica gel").click()
        expect(form.get_by_text("fresh out of the oven")).to_be_visible()
        form.get_by_role("button", name="Save").click()
        expect(form.get_by_role("alert")).to_have_text("Say how much desiccant there is, dry, in g.")
        form.get_by_label("How much, dry").fill("150")
        form.get_by_role("button", name="Save").click()
        expect(self.page.get_by_text("Saved Cellar box.")).to_be_visible()
        expect(form.get_by_label("Water in it")).to_have_value("2")
        self.scan()
        self.go("/plan?spool=4&dryer=1")
        ticket = self.page.get_by_role("region", name="Run ticket")
        expect(ticket).to_contain_text(re.compile(r"Silica geltakes up [\d.]+ g"))
        expect(ticket).to_contain_text("Its own water2.0 → ")

    def test_dryers_stand_side_by_side_and_another_is_tried_against_them(self):
        self.expected_errors = "400 (Bad Request)"
        self.open("/kit")
        self.page.get_by_role("link", name="Side by side, and what another would save").click()
        self.heading("Tall stacker gets all ten spools clean, Cellar box nine, Bed and lid seven, Old oven six.")
        row = self.page.get_by_role("row").filter(has_text="Hinge stock")
        expect(row).to_contain_text("36 h")
        expect(row).to_contain_text("stays damp")
        self.scan()
        form = self.page.get_by_role("form", name="Another dryer")
        self.page.get_by_role("button", name="Work it out").click()
        expect(form.get_by_role("alert")).to_have_text("Needed: its hottest air, for example 90.")
        form.get_by_label("Its hottest air").fill("600")
        self.page.keyboard.press("Enter")
        expect(form.get_by_role("alert")).to_contain_text("200")
        form.get_by_label("Its hottest air").fill("80")
        form.get_by_label("Air it exchanges").fill("2,5")
        form.get_by_label("What it costs").fill("90")
        self.page.keyboard.press("Enter")
        self.heading(re.compile("^It would save "))
        expect(self.page.get_by_role("main")).to_contain_text("kWh")
        expect(self.page.get_by_role("columnheader", name="the new one")).to_be_visible()
        self.page.reload()
        self.heading(re.compile("^It would save "))
        self.scan()

    def test_a_loggers_file_is_shown_before_it_is_stored_and_its_bad_rows_are_named(self):
        self.open("/kit")
        self.page.get_by_role("button", name="add a device").click()
        slip = self.page.get_by_role("dialog")
        slip.get_by_label("Name").fill("Rafter logger")
        slip.get_by_role("button", name="Add it and show its token").click()
        slip.get_by_role("button", name="I have it").click()
        now = timezone.now().replace(microsecond=0)
        rows = [f"{now - timedelta(hours=n):%Y-%m-%d %H:%M:%S},{15 + n},{60 + n}" for n in range(5, 1, -1)]
        rows.insert(2, "2026-02-31 10:00:00,15,60")
        self.page.get_by_role("button", name="read a logger’s file").click()
        slip.get_by_label("Table as text (CSV), up to 20 MB").set_input_files(
            {"name": "rafter.csv", "mimeType": "text/csv", "buffer": ("time,temp,rh\n" + "\n".join(rows)).encode()}
        )
        expect(slip.get_by_role("button", name="Store 4 rows")).to_be_visible()
        expect(slip.get_by_text(re.compile("1 bad row|1 row"))).to_be_visible()
        self.scan()
        before = RoomReading.objects.count()
        slip.get_by_label("They are readings of").click()
        self.page.get_by_role("option", name="Rafter logger").click()
        with self.page.expect_request(lambda sent: sent.method == "PUT" and "device=" in sent.url) as file:
            slip.get_by_role("button", name="Store 4 rows").click()
        # A file bears what every write bears: the workshop it is meant for.
        self.assertEqual(file.value.headers["x-darre-workshop"], str(Workshop.objects.get().key))
        expect(self.page.get_by_text("Stored 4 rows of rafter.csv.")).to_be_visible()
        self.assertEqual(RoomReading.objects.count(), before + 4)
        self.assertTrue(Device.objects.filter(name="Rafter logger").exists())

    def test_a_scale_is_added_with_an_error_at_its_field_and_taken_back(self):
        self.expected_errors = "(Bad Request)"
        self.open("/kit")
        self.page.get_by_role("button", name="add a scale").click()
        slip = self.page.get_by_role("dialog")
        slip.get_by_label("Name").fill("Post scale")
        slip.get_by_label("Carries up to").fill("2000")
        slip.get_by_label("Shows steps of").fill("none")
        slip.locator("button[type=submit]").click()
        expect(slip.get_by_text("“none” is not a number")).to_be_visible()
        slip.get_by_label("Shows steps of").fill("0,5")
        slip.locator("button[type=submit]").click()
        expect(self.page.get_by_text("Added Post scale.")).to_be_visible()
        self.assertEqual(Scale.objects.get(name="Post scale").resolution_g, 0.5)
        self.page.get_by_role("button", name="Undo").click()
        expect(self.page.get_by_role("button", name="Remove Post scale")).to_have_count(0)


class Reminders(BrowserCase):
    def test_the_end_of_a_run_is_told_in_whatever_room_one_is(self):
        run = Run.objects.get(ended_at__isnull=True)
        run.started_at = timezone.now() - timedelta(hours=run.duration_h) + timedelta(minutes=10)
        run.save()
        self.page = self.new_page(own=True)
        self.page.clock.install(time=timezone.now())
        self.open("/materials")
        over = self.page.get_by_text(re.compile("Vent louvre: the planned time in Cellar box is over"))
        # It comes due before the page has asked which runs go on, and is told all the same.
        self.page.clock.fast_forward("12:00")
        expect(over).to_be_visible()
        # A reminder waits for whoever is out at the dryer.
        self.page.clock.fast_forward("02:00")
        self.page.get_by_role("button", name="Begin your own").click()
        expect(over).to_be_visible()
        # Nor does what is done meanwhile take its place: both are said.
        self.page.get_by_label("Name", exact=True).fill("Tolvan nylon")
        self.page.get_by_role("button", name="Begin", exact=True).click()
        expect(self.page.get_by_role("button", name="Undo")).to_be_visible()
        expect(over).to_be_visible()
        self.page.get_by_role("status").filter(has=over).get_by_role("button", name="Dismiss").click()
        expect(over).to_have_count(0)
        expect(self.page.get_by_role("button", name="Undo")).to_be_visible()


class Units(BrowserCase):
    def in_other_units(self):
        self.client.put(
            "/api/preferences/",
            {**self.client.get("/api/preferences/").json(), "temp_unit": "F", "mass_unit": "oz", "length_unit": "ft"},
            content_type="application/json",
        )

    def test_a_dryer_that_is_thought_of_keeps_the_degrees_that_were_typed(self):
        self.in_other_units()
        self.open("/kit/dryers")
        hottest = self.page.get_by_label("Its hottest air, °F")
        hottest.fill("176")
        self.page.get_by_label("Air it exchanges").fill("2.5")
        for _ in range(2):  # asked again as it stands, it is the same dryer
            self.page.keyboard.press("Enter")
            self.heading(re.compile("^It would save "))
            expect(hottest).to_have_value("176")
            panel = self.page.get_by_role("row").filter(has_text="Window panel").get_by_role("cell")
            expect(panel.first).to_contain_text("at 176 °F")
            hottest.focus()

    def test_other_units_stand_in_every_room_around_the_plan(self):
        self.in_other_units()
        for path, shown in (
            ("/", "Dry 36 h at 161.5 °F|Dry 36 h at 162 °F"),
            ("/storage?place=5", r"\d oz"),
            ("/spools/4", r"\d oz"),
            ("/cases/1", r"504 °F"),
            ("/cases/prints", r"\d oz"),
            ("/kit", "°F"),
        ):
            self.open(path)
            expect(self.page.get_by_role("main")).to_contain_text(re.compile(shown))
            self.assertNotRegex(self.page.get_by_role("main").inner_text(), r"\d °C|\d g\b", path)
