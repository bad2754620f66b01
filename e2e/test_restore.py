"""A backup put back from the page: the server starts again with it, and what was there is kept."""

from playwright.sync_api import expect

from e2e.browser import violations
from e2e.real_server import RealServer


class Restored(RealServer):
    def test_one_that_is_there_is_put_back_and_what_was_there_is_kept(self):
        page = self.page()
        while not page.request.get(f"http://127.0.0.1:{self.port}/api/backups/").json():
            pass  # the one that a new server makes by itself
        page.goto(f"http://127.0.0.1:{self.port}/")
        page.get_by_role("button", name="Settings").click()
        page.get_by_role("menuitem", name="backups and your data").click()
        restore = page.get_by_role("button", name="restore that of")
        expect(restore).to_have_count(1)
        with page.expect_response(lambda r: r.request.method == "GET" and r.url.endswith("/api/backups/")):
            page.get_by_role("button", name="Back up now").click()
        expect(restore).to_have_count(1)  # the later one of the day is kept
        before = self.rows("SELECT COUNT(*) FROM inventory_spool WHERE archived_at IS NULL")
        answer = page.request.post(f"http://127.0.0.1:{self.port}/api/spools/1/archive/", data={})
        self.assertEqual(answer.status, 200)
        self.assertNotEqual(self.rows("SELECT COUNT(*) FROM inventory_spool WHERE archived_at IS NULL"), before)
        restore.click()
        expect(page.get_by_role("alert")).to_contain_text("The present ones are kept")
        self.assertEqual(violations(page), [])
        page.get_by_role("button", name="no", exact=True).click()
        expect(page.get_by_role("alert")).to_have_count(0)
        restore.click()
        page.get_by_role("button", name="yes, restore it").click()
        self.assertIn("in your browser", self.server.stdout.readline())
        expect(page.get_by_role("heading", level=1)).to_contain_text("print clean now")
        self.assertEqual(self.rows("SELECT COUNT(*) FROM inventory_spool WHERE archived_at IS NULL"), before)
        self.assertEqual(len(list(self.folder.glob("kept-demo-*.sqlite3"))), 1)

    def test_a_file_that_is_none_is_refused_in_words(self):
        page = self.page()
        page.goto(f"http://127.0.0.1:{self.port}/")
        page.get_by_role("button", name="Settings").click()
        page.get_by_role("menuitem", name="backups and your data").click()
        bad = self.folder / "holiday.zip"
        bad.write_bytes(b"no backup at all")
        page.get_by_label("Restore from a file").set_input_files(bad)
        expect(page.get_by_role("alert")).to_contain_text("This is no backup of Darre")
        self.assertFalse((self.folder / "demo.sqlite3.restore.zip").exists())
