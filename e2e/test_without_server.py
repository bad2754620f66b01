"""The page without its server: it opens with what was last known, and what is done meanwhile is sent once."""

from playwright.sync_api import expect

from e2e.browser import violations
from e2e.real_server import RealServer

KNOWN = """async (parts) => {
    const known = async () => {
        const kept = (await (await caches.open("last-known")).keys()).map((request) => request.url);
        return parts.every((part) => kept.some((url) => url.includes(part)));
    };
    while (!navigator.serviceWorker.controller || !(await known())) await new Promise(requestAnimationFrame);
}"""


class WithoutItsServer(RealServer):
    def known(self, page, *parts):
        """Wait until the worker is there, and knows the answers of these addresses."""
        page.evaluate(KNOWN, list(parts))

    def counts(self):
        return self.rows("SELECT (SELECT COUNT(*) FROM runs_weighing), (SELECT COUNT(*) FROM places_stay)")[0]

    def heaviest(self):
        """What the heaviest spool weighed last: no other fits it."""
        return self.rows("SELECT MAX(gross_g) FROM (SELECT gross_g, MAX(at) FROM runs_weighing GROUP BY spool_id)")[0][
            0
        ]

    def test_it_opens_with_what_was_known_and_what_is_done_meanwhile_is_sent_once_from_two_tabs(self):
        page = self.page(service_workers="allow")
        address = f"http://127.0.0.1:{self.port}"
        page.goto(f"{address}/")
        self.known(page)
        page.goto(f"{address}/history")
        act = page.get_by_role("main").get_by_role("listitem").first
        expect(act).to_be_visible()
        newest = act.inner_text()
        self.known(page, "/api/history/")
        page.goto(f"{address}/")
        heading = page.get_by_role("heading", level=1)
        expect(heading).to_contain_text("print clean now")
        known = heading.inner_text()
        page.keyboard.press("m")
        expect(page.get_by_role("list", name="Places")).to_be_visible()
        page.keyboard.press("Escape")
        self.known(
            page, "/api/rack/", "/api/lanes/", "/api/scales/", "/api/places/", "/api/preferences/", "/api/history/"
        )
        before = self.counts()
        self.stop()

        page.close()
        tab = self.watched(page.context.new_page())
        tab.goto(f"{address}/history")
        expect(tab.get_by_role("main").get_by_role("listitem").first).to_have_text(newest, use_inner_text=True)
        other = self.watched(page.context.new_page())
        other.goto(f"{address}/")
        stale = other.get_by_text("Darre does not answer.")
        expect(stale).to_be_visible()
        expect(other.get_by_role("heading", level=1)).to_have_text(known)
        self.assertEqual(violations(other), [])
        other.keyboard.press("m")
        expect(other.get_by_role("list", name="Places")).to_be_visible()
        other.keyboard.press("1")
        waits = other.get_by_role("status", name="Saved in this browser")
        expect(waits).to_contain_text("to Shelf at")
        expect(other.get_by_role("list", name="Places")).to_have_count(0)
        other.keyboard.press("w")
        other.get_by_label("The scale reads").fill(f"{self.heaviest():.1f}")
        other.keyboard.press("Enter")
        expect(waits.get_by_role("listitem")).to_have_count(2)
        self.assertEqual(violations(other), [])

        tab.goto(f"{address}/materials")
        expect(tab.get_by_role("alert")).to_contain_text("was not opened here before")
        self.start()
        expect(waits).to_have_count(0)
        expect(tab.get_by_role("status", name="Saved in this browser")).to_have_count(0)
        expect(stale).to_have_count(0)
        self.assertEqual(self.counts(), (before[0] + 1, before[1] + 1))
