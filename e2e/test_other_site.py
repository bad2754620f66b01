"""A page of another origin, open in the same browser, tries what such pages can."""

import threading
from http.server import BaseHTTPRequestHandler, HTTPServer

from playwright.sync_api import expect

from darre.diagnosis.models import Photo
from darre.history.models import HistoryEntry
from darre.runs.models import Run
from e2e.browser import BrowserCase

PAGE = b"<!doctype html><title>Another page</title><body></body>"


class Elsewhere(BaseHTTPRequestHandler):
    def do_GET(self):
        self.send_response(200)
        self.send_header("Content-Type", "text/html")
        self.end_headers()
        self.wfile.write(PAGE)

    def log_message(self, format, *args):
        """A test is quiet."""


class AnotherPage(BrowserCase):
    def setUp(self):
        super().setUp()
        self.open("/materials")
        site = HTTPServer(("127.0.0.1", 0), Elsewhere)
        threading.Thread(target=site.serve_forever, daemon=True).start()
        self.addCleanup(site.server_close)
        self.addCleanup(site.shutdown)
        self.other = self.page.context.browser.new_page()
        self.addCleanup(self.other.close)
        self.other.goto(f"http://localhost:{site.server_port}/")

    def sent(self, path, how):
        """What a fetch of the other page came to: the kind of answer that it is let see, or that it failed."""
        return self.other.evaluate(
            "([url, how]) => fetch(url, how).then((answer) => answer.type, () => 'failed')",
            [self.live_server_url + path, how],
        )

    def test_it_can_neither_end_a_run_nor_undo_nor_send_a_form(self):
        run, lines = Run.objects.get(ended_at__isnull=True), HistoryEntry.objects.count()
        last = HistoryEntry.objects.first()
        for path in (f"/api/runs/{run.pk}/end/", f"/api/history/{last.pk}/undo/"):
            self.sent(path, {"method": "POST", "mode": "no-cors"})
            self.sent(path, {"method": "POST", "mode": "no-cors", "referrerPolicy": "no-referrer"})
            self.sent(path, {"method": "POST", "mode": "cors", "body": "{}"})
            self.sent(path, {"method": "DELETE", "mode": "cors"})
            with self.other.expect_response(lambda answer: "/api/" in answer.url) as answered:
                self.other.evaluate(
                    """url => { const form = document.createElement("form"); form.method = "post"; form.action = url;
                    form.target = "_blank"; document.body.append(form);
                    const frame = document.createElement("iframe"); frame.name = "f"; document.body.append(frame);
                    form.target = "f"; form.submit(); }""",
                    self.live_server_url + path,
                )
            self.assertEqual(answered.value.status, 403)
        run.refresh_from_db()
        self.assertIsNone(run.ended_at)
        self.assertEqual(HistoryEntry.objects.count(), lines)

    def test_it_can_neither_read_nor_show_a_photo_nor_frame_the_page(self):
        photo = f"/api/photos/{Photo.objects.first().pk}/small.jpg"
        self.assertEqual(self.sent(photo, {"mode": "no-cors"}), "failed")
        self.assertEqual(self.sent("/api/rack/?span=week", {"mode": "cors"}), "failed")
        shown = self.other.evaluate(
            """url => new Promise((done) => { const image = new Image(); image.src = url;
            image.onload = () => done("shown"); image.onerror = () => done("not shown"); })""",
            self.live_server_url + photo,
        )
        self.assertEqual(shown, "not shown")
        for path in ("/", "/index.html"):
            self.other.evaluate(
                """url => new Promise((done) => { const frame = document.createElement("iframe"); frame.src = url;
                frame.onload = done; document.body.append(frame); })""",
                self.live_server_url + path,
            )
            held = self.other.frames[-1]
            self.assertNotIn("darre", held.locator("body").inner_text(), path)

    def test_darres_own_page_writes_as_before(self):
        run = Run.objects.get(ended_at__isnull=True)
        self.open(f"/runs/{run.pk}")
        self.page.get_by_role("button", name="end without weighing").click()
        expect(self.page.get_by_text("Ended drying Vent louvre without a weigh-out.")).to_be_visible()
