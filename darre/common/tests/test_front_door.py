"""Who may ask and who may write, on every address; and errors of every kind in the promised shape."""

import io
import json
from unittest import mock

from django.conf import settings
from django.test import Client, SimpleTestCase, TestCase
from PIL import Image

from darre.common.front_door import HEADERS
from darre.history.models import HistoryEntry
from darre.inventory.models import EmptySpool

ERROR_KEYS = {"code", "message", "parts", "field", "fields"}
NEW = {"name": "Grey ring", "kind": "petg"}


class AtTheFrontDoor(TestCase):
    def post(self, **headers):
        return self.client.post(
            "/api/empty-spools/", NEW, content_type="application/json", headers={"host": "127.0.0.1:8642", **headers}
        )

    def assert_error(self, answer, status, code):
        self.assertEqual(answer.status_code, status, answer.content[:300])
        self.assertEqual(answer["Content-Type"], "application/json")
        self.assertEqual((set(answer.json()), answer.json()["code"]), (ERROR_KEYS, code))


class Writing(AtTheFrontDoor):
    def test_the_page_itself_and_programs_of_this_machine_may_write(self):
        for headers in (
            {"sec-fetch-site": "same-origin", "origin": "http://127.0.0.1:8642"},
            {"origin": "http://127.0.0.1:8642"},
            {},
        ):
            self.assertEqual(self.post(**headers).status_code, 201, headers)
        self.assertEqual(EmptySpool.objects.count(), 3)

    def test_a_page_of_another_site_port_or_no_origin_at_all_may_not(self):
        for headers in (
            {"sec-fetch-site": "cross-site", "origin": "http://elsewhere.example"},
            {"sec-fetch-site": "same-site", "origin": "http://127.0.0.1:9999"},
            {"sec-fetch-site": "none"},
            {"sec-fetch-site": "cross-site"},
            {"origin": "http://127.0.0.1:9999"},
            {"origin": "https://127.0.0.1:8642"},
            {"origin": "http://localhost:8642"},
            {"origin": "null"},
        ):
            with self.subTest(headers):
                self.assert_error(self.post(**headers), 403, "other_origin")
        self.assertFalse(EmptySpool.objects.exists())
        self.assertFalse(HistoryEntry.objects.exists())

    def test_acts_without_a_body_are_no_way_round_it(self):
        made = self.post()
        entry = HistoryEntry.objects.get()
        for method in ("post", "put", "patch", "delete"):
            answer = getattr(self.client, method)(f"/api/history/{entry.pk}/undo/", headers={"origin": "null"})
            self.assert_error(answer, 403, "other_origin")
        entry.refresh_from_db()
        self.assertIsNone(entry.undone_at)
        self.assertEqual(made.status_code, 201)


class Installable(SimpleTestCase):
    """What a browser needs to keep the page as an app, and to open it without the server."""

    def answer(self, path):
        return b"".join(self.client.get(path).streaming_content)

    def test_the_manifest_names_icons_that_are_there_in_their_sizes(self):
        manifest = json.loads(self.answer("/manifest.webmanifest"))
        self.assertEqual((manifest["display"], manifest["start_url"]), ("standalone", "/"))
        drawn = [icon for icon in manifest["icons"] if icon["type"] == "image/png"]
        self.assertEqual({icon["purpose"] for icon in drawn}, {"any", "maskable"})
        for icon in drawn:
            with Image.open(io.BytesIO(self.answer(icon["src"]))) as image:
                self.assertEqual("{}x{}".format(*image.size), icon["sizes"])

    def test_the_worker_knows_every_file_of_the_page_and_is_asked_for_anew_each_time(self):
        worker = self.answer("/worker.js").decode()
        files = [p for p in settings.PAGE_DIR.rglob("*") if p.is_file() and p.suffix != ".gz" and p.name != "worker.js"]
        self.assertGreater(len(files), 20)
        for file in files:
            self.assertIn(f"/{file.relative_to(settings.PAGE_DIR)}", worker)
        self.assertNotIn("immutable", self.client.get("/worker.js")["Cache-Control"])


class EveryAnswer(AtTheFrontDoor):
    PATHS = ("/", "/index.html", "/plan", "/api/health/", "/api/photos/none/", "/api/nothing/", "/favicon.svg")

    def test_files_pages_the_api_and_errors_all_bear_the_headers_that_keep_other_sites_out(self):
        assets = [f"/assets/{file.name}" for file in (settings.PAGE_DIR / "assets").glob("*.js")][:1]
        self.assertTrue(assets)
        for path in (*self.PATHS, *assets):
            answer = self.client.get(path)
            told = {name: answer.headers.get(name) for name in HEADERS}
            self.assertEqual(told, HEADERS, path)
        for name, value in (
            ("Content-Security-Policy", "frame-ancestors 'none'"), ("X-Frame-Options", "DENY"),
            ("Cross-Origin-Resource-Policy", "same-origin"), ("X-Content-Type-Options", "nosniff"),
        ):  # fmt: skip
            self.assertIn(value, HEADERS[name])

    def test_no_address_answers_another_host_name(self):
        for path in self.PATHS:
            self.assert_error(self.client.get(path, headers={"host": "elsewhere.example"}), 400, "unknown_host")
        self.assertEqual(self.client.get("/api/health/", headers={"host": "localhost"}).json()["status"], "ok")

    def test_a_defect_is_answered_in_the_shape_of_every_error_and_tells_nothing_of_itself(self):
        client = Client(raise_request_exception=False)
        with (
            mock.patch("darre.common.api.connection.cursor", side_effect=ZeroDivisionError("inner workings")),
            self.assertLogs("django.request", "ERROR"),
        ):
            answer = client.get("/api/health/")
        self.assert_error(answer, 500, "defect")
        self.assertNotIn("inner workings", answer.content.decode())
