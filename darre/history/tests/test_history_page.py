"""The history as it is read: who did what, what stood there before and after; imports are undone as a whole."""

import json
from datetime import timedelta
from urllib.parse import quote, urlencode

from django.utils import timezone

from darre.devices.actions.devices import add_device
from darre.devices.models import DeviceKind, Sample
from darre.history.models import HistoryEntry
from darre.inventory.models import FilamentUse, MoistureReading
from darre.places.models import RoomReading
from darre.runs.tests.test_run_path import Shed


class Reading(Shed):
    def entries(self, **asked):
        return self.client.get("/api/history/", asked).json()

    def changes(self, entry):
        return self.client.get(f"/api/history/{entry}/").json()

    def put(self, path, body, **headers):
        return self.client.put(f"/api/{path}", body, content_type="application/json", headers=headers)

    def test_it_says_who_acted_where_a_name_was_sent(self):
        hours = {"home_weekdays": "7-9"}
        self.put("preferences/", hours, **{"X-Darre-By": quote("Zoë at the bench")})
        self.assertEqual(self.entries()[0]["by"], "Zoë at the bench")
        self.put("preferences/", {"home_weekdays": "8-9"})
        self.assertEqual(self.entries()[0]["by"], "")
        self.put("preferences/", hours, **{"X-Darre-By": "x" * 400 + "%0A"})
        self.assertEqual(self.entries()[0]["by"], "x" * 60)

    def test_what_changed_is_told_field_by_field_with_names_for_references(self):
        saved = self.post("weighings/", spool=self.gauge.id, **self.reading("800.3")).json()
        corrected = {**self.reading("800.1"), "at": saved["weighing"]["at"]}
        undo = self.put(f"weighings/{saved['weighing']['id']}/", corrected).json()["undo"]
        [record] = self.changes(undo)
        self.assertEqual((record["record"], record["created"], record["removed"]), ("runs.weighing", False, False))
        self.assertEqual(record["fields_changed"], [{"field": "gross_g", "before": 800.3, "after": 800.1}])
        [made] = self.changes(saved["undo"])
        told = {change["field"]: change["after"] for change in made["fields_changed"]}
        self.assertTrue(made["created"])
        self.assertEqual((told["spool_id"], told["scale_id"], told["gross_g"]), ("Rain gauge", "Bench scale", 800.3))
        self.assertNotIn("client_key", told)

    def test_it_is_read_page_by_page_and_found_by_its_words(self):
        for n in range(65):
            HistoryEntry.objects.create(kind="test", summary=f"Act {n}", changes=[])
        first = self.entries()
        older = self.entries(before=first[-1]["id"])
        self.assertEqual([e["summary"] for e in first[:2]], ["Act 64", "Act 63"])
        self.assertEqual((len(first), older[0]["summary"]), (60, "Act 4"))
        self.assertEqual([e["summary"] for e in self.entries(find="act 12")], ["Act 12"])
        self.assertEqual(self.client.get("/api/history/999999/").status_code, 404)

    def test_an_import_is_undone_as_a_whole_and_can_be_made_again(self):
        device, _ = add_device("Cellar logger", DeviceKind.LOGGER)
        start = timezone.now() - timedelta(days=2)
        rows = [f"{(start + timedelta(minutes=10 * n)).isoformat()},{17 + n % 3},{50 + n % 5}\n" for n in range(40)]
        text = ("when,temp °C,rh\n" + "".join(rows)).encode()

        def send(path, **asked):
            address = f"/api/{path}?{urlencode({'zone': 'UTC', **asked})}"
            return self.client.put(address, text, content_type="application/octet-stream").json()

        layout = json.dumps(send("logger-files/look/")["layout"])
        asked = {"layout": layout, "device": device.id, "name": "cellar.csv"}
        air_before = RoomReading.objects.count()
        stored = send("logger-files/", **asked)
        self.assertEqual(stored["stored"], 40)
        self.assertEqual(Sample.objects.filter(device=device).count(), 40)
        records = {change["record"]: change["rows"] for change in self.changes(stored["undo"])}
        self.assertEqual(records["devices.sample"], 40)
        self.assertEqual(self.post(f"history/{stored['undo']}/undo/").status_code, 200)
        self.assertEqual(Sample.objects.filter(device=device).count(), 0)
        self.assertEqual(RoomReading.objects.count(), air_before)
        undone = self.entries()[0]
        self.assert_refused(self.post(f"history/{undone['id']}/undo/"), "rows_gone", None, "Import the file again", 409)
        self.assertEqual(send("logger-files/", **asked)["stored"], 40)


class Mending(Shed):
    def put(self, path, **body):
        return self.client.put(f"/api/{path}", body, content_type="application/json")

    def delete(self, path):
        return self.client.delete(f"/api/{path}")

    def test_a_moisture_can_be_put_right_and_removed_but_for_the_first(self):
        first = self.gauge.moisture_readings.earliest("at")
        self.post(f"spools/{self.gauge.id}/moisture/", moisture_pct="0,5", plus_minus_pct="0,1")
        noted = self.gauge.moisture_readings.latest("at")
        answer = self.put(f"moisture-readings/{noted.id}/", moisture_pct="0.4", plus_minus_pct="0.2")
        noted.refresh_from_db()
        self.assertEqual((noted.moisture_pct, noted.sd_pct), (0.4, 0.1))
        self.assertEqual(self.post(f"history/{answer.json()['undo']}/undo/").status_code, 200)
        noted.refresh_from_db()
        self.assertEqual(noted.moisture_pct, 0.5)
        self.assertEqual(self.delete(f"moisture-readings/{noted.id}/").status_code, 200)
        self.assertFalse(MoistureReading.objects.filter(pk=noted.id).exists())
        refused = self.delete(f"moisture-readings/{first.id}/")
        self.assert_refused(refused, "first_reading", None, "begins with this", 409)

    def test_what_was_printed_can_be_put_right_and_removed_unless_a_print_says_it(self):
        self.post(f"spools/{self.gauge.id}/uses/", mass_g="30")
        use = self.gauge.uses.latest("id")
        self.put(f"uses/{use.id}/", mass_g="31,5", note="a bracket")
        use.refresh_from_db()
        self.assertEqual((use.mass_g, use.note), (31.5, "a bracket"))
        self.assertEqual(self.delete(f"uses/{use.id}/").status_code, 200)
        of_print = FilamentUse.objects.filter(print__isnull=False).first()
        self.assert_refused(self.delete(f"uses/{of_print.id}/"), "of_a_print", None, "Remove the print", 409)

    def test_a_reading_with_more_digits_than_the_scale_has_is_asked_about(self):
        too_fine = self.post("weighings/", spool=self.gauge.id, **self.reading("800.37"))
        self.assert_refused(too_fine, "too_fine", "scale", "steps of 0.1 g.*Which scale was it", 400)
        self.put("preferences/", mass_unit="oz")  # typed in ounces, grams have other digits
        self.assertEqual(self.post("weighings/", spool=self.gauge.id, **self.reading("800.37")).status_code, 201)

    def test_every_weighing_stands_on_the_spools_page(self):
        self.post("weighings/", spool=self.gauge.id, **self.reading("800.3"))
        weighings = self.client.get(f"/api/spools/{self.gauge.id}/page/").json()["weighings"]
        self.assertEqual(weighings[-1]["gross_g"], 800.3)
        self.assertEqual(len(weighings), self.gauge.weighings.count())
