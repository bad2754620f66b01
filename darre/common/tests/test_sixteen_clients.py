"""Sixteen clients do the same at the same moment: it is done once, the others are told, and nobody meets a fault."""

import io
import json
from collections import Counter
from datetime import timedelta
from urllib.parse import urlencode
from uuid import uuid4

from django.test import Client, TransactionTestCase
from django.utils import timezone
from PIL import Image

from darre.common.tests.at_once import at_once
from darre.demo.tests.fresh import load_demo_world
from darre.devices.actions.devices import add_device
from darre.devices.models import Device, DeviceKind, Sample
from darre.diagnosis.models import Case, Photo, PracticeRound, PrintFile, Verdict
from darre.equipment.models import Dryer, Scale
from darre.history.models import HistoryEntry
from darre.inventory.models import FilamentUse, MoistureReading, Spool
from darre.places.models import Place, RoomReading, Stay
from darre.runs.models import Run, Weighing
from darre.schedule.models import Answer, PlannedStart, Wish
from darre.trials.models import Sample as Coil

CLIENTS = 16
GCODE = b"G1 X1 Y1 E1 F1200\nG1 X9 Y9 E3\n"


class AtOnce(TransactionTestCase):
    def setUp(self):
        load_demo_world(self)
        self.gauge, self.caps = Spool.objects.get(name="Rain gauge"), Spool.objects.get(name="Lens caps")
        self.run_id = Run.objects.get(ended_at__isnull=True).pk
        self.case = Case.objects.filter(is_open=True).first()

    def together(self, method, path, body=None):
        """How often each status was answered to all of them; a fault of the server is none of these."""
        kind = "application/octet-stream" if isinstance(body, bytes) else "application/json"

        def one():
            return getattr(Client(raise_request_exception=False), method)(f"/api/{path}", body or {}, content_type=kind)

        found = at_once(one, CLIENTS)
        for answer in found:
            self.assertLess(answer.status_code, 500, answer.content[:300])
            if answer.status_code >= 400:
                self.assertTrue(answer.json()["code"] and answer.json()["message"], answer.content)
        return Counter(answer.status_code for answer in found)

    def assert_once(self, found, success=200, refused=409):
        self.assertEqual(found, Counter({success: 1, refused: CLIENTS - 1}))

    def test_a_run_ends_once_and_leaves_one_moisture(self):
        before = MoistureReading.objects.count()
        self.assert_once(self.together("post", f"runs/{self.run_id}/end/"))
        self.assertEqual(MoistureReading.objects.count(), before + 1)

    def test_a_case_closes_once_with_one_verdict(self):
        before = Verdict.objects.count()
        self.assert_once(self.together("post", f"cases/{self.case.pk}/verdict/", {"kind": "wet_not_cause"}))
        self.assertEqual(Verdict.objects.count(), before + 1)

    def test_a_practice_round_is_answered_once(self):
        body = {"budget_min": 30}
        self.client.post("/api/practice/", body, content_type="application/json")
        opened = PracticeRound.objects.get(ended_at=None)
        found = self.together("post", f"practice/{opened.pk}/answer/", {"chance_pct": 40})
        self.assert_once(found)

    def test_one_entry_is_undone_once(self):
        lines = HistoryEntry.objects.count()
        body = {"moisture_pct": 0.1, "plus_minus_pct": 0.05}
        made = self.client.post(f"/api/spools/{self.gauge.pk}/moisture/", body, content_type="application/json")
        self.together("post", f"history/{made.json()['undo']}/undo/")
        self.assertEqual(HistoryEntry.objects.count(), lines + 2)

    def test_what_has_a_key_or_a_name_is_stored_once(self):
        key, scale = str(uuid4()), Scale.objects.get(name="Bench scale").pk
        before = Weighing.objects.count()
        body = {"spool": self.gauge.pk, "scale": scale, "gross_g": 800.1, "client_key": key}
        found = self.together("post", "weighings/", body)
        self.assertEqual(found, Counter({201: 1, 200: CLIENTS - 1}))
        self.assertEqual(Weighing.objects.count(), before + 1)
        for path, named, model in (
            ("places/", {"name": "Loft", "kind": "shelf"}, Place),
            ("dryers/", {"name": "Loft box", "kind": "heated_box", "min_c": 35, "max_c": 65}, Dryer),
            ("scales/", {"name": "Loft scale", "max_g": 3000, "resolution_g": 0.1}, Scale),
            ("devices/", {"name": "Loft logger", "kind": "logger"}, Device),
        ):
            with self.subTest(path):
                found = self.together("post", path, named)
                self.assertEqual((found[201], sum(found.values())), (1, CLIENTS))
                self.assertEqual(model.objects.filter(name=named["name"]).count(), 1)

    def test_the_same_moment_of_the_room_the_same_photo_and_file_are_no_fault(self):
        at = timezone.now().isoformat()
        self.together("post", "room/readings/", {"at": at, "temp_c": 19, "rh_pct": 55})
        self.assertEqual(RoomReading.objects.filter(at=at).count(), 1)
        picture = io.BytesIO()
        Image.new("RGB", (40, 30), "olive").save(picture, "PNG")
        self.together("put", "print-files/?name=loft.gcode", GCODE)
        self.assertEqual(PrintFile.objects.filter(name="loft.gcode").count(), 1)
        before = Photo.objects.count()
        found = self.together("put", f"cases/{self.case.pk}/photos/?side=before&name=a.png", picture.getvalue())
        self.assertEqual((found[201], Photo.objects.count()), (CLIENTS, before + CLIENTS))

    def test_a_loggers_file_that_is_sent_by_all_is_stored_once(self):
        logger = add_device("Loft logger", DeviceKind.LOGGER)[0]
        day = timezone.now() - timedelta(days=30)
        rows = "".join(f"{day + timedelta(hours=h):%Y-%m-%d %H:%M:%S},20.{h},50\n" for h in range(7))
        text, octets = f"time,temp,rh\n{rows}".encode(), "application/octet-stream"
        looked = self.client.put("/api/logger-files/look/?zone=UTC", text, content_type=octets).json()
        asked = {"zone": "UTC", "layout": json.dumps(looked["layout"]), "name": "a.csv", "device": logger.pk}
        before = Sample.objects.count()
        found = self.together("put", f"logger-files/?{urlencode(asked)}", text)
        self.assertEqual((found[201], Sample.objects.count()), (CLIENTS, before + 7))

    def test_a_wish_a_reading_of_a_coil_and_a_table_of_spools_are_stored_once(self):
        self.assert_once(self.together("post", "schedule/wishes/", {"spool": self.gauge.pk}), 201)
        self.assertEqual(Wish.objects.filter(spool=self.gauge).count(), 1)
        self.assert_once(self.together("post", "schedule/helpers/", {"name": "Robin", "weekdays": "9-12"}), 201)
        begun = {"kind": "twin", "spool": self.gauge.pk, "scale": Scale.objects.first().pk, "temp_c": 60,
                 "samples": [{"start_g": 20}]}  # fmt: skip
        trial = self.client.post("/api/trials/", begun, content_type="application/json").json()["trial"]
        sample = Coil.objects.get(trial=trial)
        reading = {"gross_g": 19.9, "client_key": str(uuid4())}
        found = self.together("post", f"samples/{sample.pk}/readings/", reading)
        self.assertEqual((found, sample.readings.count()), (Counter({201: 1, 200: CLIENTS - 1}), 1))
        self.assert_once(self.together("post", f"trials/{trial}/end/"))
        table = {"text": "Name,Material\nLoft one,pla\n", "place": Place.objects.first().pk}
        found = self.together("post", "spools/table/", table)  # the others find it there, before or while they write
        self.assertEqual((found[201], found[400] + found[409]), (1, CLIENTS - 1))
        self.assertEqual(Spool.objects.filter(name="Loft one").count(), 1)

    def test_a_schedule_that_all_work_out_at_once_is_whole(self):
        self.client.post("/api/schedule/wishes/", {"spool": self.gauge.pk}, content_type="application/json")
        found = self.together("post", "schedule/", {"zone": "Europe/London"})
        self.assertGreaterEqual(found[200], 1)
        self.assertEqual(set(found) - {200, 409}, set())
        self.assertEqual((PlannedStart.objects.count(), Answer.objects.count()), (1, 1))

    def test_a_spool_leaves_the_rack_once_and_comes_back_once(self):
        self.assert_once(self.together("post", f"spools/{self.caps.pk}/archive/"))
        self.assertEqual(Stay.objects.filter(spool=self.caps, until=None).count(), 0)
        self.assert_once(self.together("delete", f"spools/{self.caps.pk}/archive/"))

    def test_what_is_changed_or_removed_by_all_is_so_once_and_undone_whole(self):
        use = FilamentUse.objects.filter(print=None).first() or FilamentUse.objects.create(
            spool=self.gauge, at=timezone.now(), mass_g=5, sd_g=1
        )
        lines = HistoryEntry.objects.count()
        found = self.together("delete", f"uses/{use.pk}/")
        self.assertEqual((found[200], HistoryEntry.objects.count()), (1, lines + 1))
        entry = HistoryEntry.objects.first()
        self.client.post(f"/api/history/{entry.pk}/undo/")
        self.assertEqual(FilamentUse.objects.get(pk=use.pk).mass_g, use.mass_g)
