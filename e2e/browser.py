"""What every browser test stands on: the demo world, a fresh page, and checks that hold on every screen."""

import re
from collections.abc import Callable
from contextlib import suppress
from datetime import timedelta
from functools import cache
from typing import Any
from urllib.parse import urlsplit

from django.conf import settings
from django.db.models import F
from django.test import LiveServerTestCase
from playwright.sync_api import Browser, BrowserContext, Error, Locator, Page, Route, expect

from darre.common.test_runner import forget
from darre.demo.tests.fresh import SHELF, WorldInEveryTest
from darre.runs.models import Run, Weighing
from e2e.chromium import shared_browser
from e2e.witness import Watched

expect.set_options(timeout=30_000)  # a busy machine is slow and no fault


@cache
def axe_source() -> str:
    """The accessibility scanner, from the page's own packages."""
    return (settings.BASE_DIR / "web/node_modules/axe-core/axe.min.js").read_text("utf-8")


# A page that is still loading has no such control yet: a person waits for it, and so does a test.
TAB_STOPS = "button:enabled, a[href], input:enabled, textarea:enabled, [tabindex]"
NAMED = (
    "function (e) { return (e.getAttribute('aria-label') ?? e.labels?.[0]?.textContent ?? e.textContent)"
    ".trim().startsWith(this.name) }"
)


# What is pressed and answers to a finger on less than 44 px, up and down or across: measured by what lies under points
# around its middle. Links in the line of a sentence are as high as the line; the skip link is for keyboards.
TOO_SMALL = """() => [
        ...document.querySelectorAll("button:enabled, a[href], input, select, [role=radio], [role=slider]")]
    .filter((e) => e.checkVisibility({ visibilityProperty: true }) && e.getBoundingClientRect().width > 2)
    .filter((e) => !e.closest(".sr-only") && e.getAttribute("href") !== "#page")
    .filter((e) => e.tagName !== "A" || getComputedStyle(e).display !== "inline" || e.dataset.lane)
    .filter((e) => {
        if (!e.closest(".fixed")) e.scrollIntoView({ block: "center", inline: "center" });
        const box = e.getBoundingClientRect(), x = box.x + box.width / 2, y = box.y + box.height / 2;
        const hit = (dx, dy) => {
            const there = document.elementFromPoint(x + dx, y + dy);
            return there !== null && (e.contains(there) || e.labels?.[0]?.contains(there));
        };
        const reach = (dx, dy) => { let n = 0; while (n < 60 && hit(n * dx, n * dy)) n += 1; return n; };
        return reach(0, 1) + reach(0, -1) < 44 || reach(1, 0) + reach(-1, 0) < 44;
    })
    .map((e) => (e.ariaLabel ?? e.textContent ?? e.name).trim().slice(0, 40))"""


# Words that the edge of the screen cuts off. What scrolls or is cut by an ellipsis may go on past it.
CUT_OFF = """() => [...document.querySelectorAll("body *")]
    .filter((e) => [...e.childNodes].some((n) => n.nodeType === 3 && n.data.trim()) && e.checkVisibility())
    .filter((e) => !e.closest(".sr-only") && e.getAttribute("href") !== "#page")
    .filter((e) => {
        for (let up = e; up; up = up.parentElement)
            if (up !== document.body && /auto|scroll|hidden/.test(getComputedStyle(up).overflowX)) return false;
        const box = e.getBoundingClientRect();
        return box.width > 0 && (box.left < -1 || box.right > innerWidth + 1);
    })
    .map((e) => e.textContent.trim().slice(0, 40))"""

LOADING = re.compile("loading$", re.IGNORECASE)

# The browser's clock goes with the app's, which is put back with the demo world.
CLOCK = """
    (lag) => {
        const real = globalThis.itsOwnDate ??= Date;
        Date = class extends real {
            constructor(...told) { super(...(told.length ? told : [real.now() - lag])) }
            static now() { return real.now() - lag }
        }
    }
"""


def violations(page: Page) -> list[str]:
    """What a page shows now that is not as accessible as WCAG 2.2 AA and good practice ask."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(axe_source())
    # The size of targets is WCAG 2.2's own rule and off unless it is asked for. Only what is wrong is handed over: all
    # that is right is a long list.
    options = "{preload: false, resultTypes: ['violations'], rules: {'target-size': {enabled: true}}}"
    found = page.evaluate(f"axe.run({options}).then(told => told.violations)")
    return [f"{v['id']}: {v['nodes'][0]['html'][:160]} {v['nodes'][0]['failureSummary']}" for v in found]


class BrowserCase(Watched, WorldInEveryTest, LiveServerTestCase):
    """After each test: no script error was seen, and no request went to any other host."""

    size = (1280, 800)
    browser: Browser
    context: BrowserContext
    left: Page | None = None
    """What the last test of the class left for the next: a new page needs a process of its own and compiles all scripts
    anew."""

    @classmethod
    def setUpClass(cls):
        cls.browser = shared_browser()  # before the database is touched: Django holds a connection for each event loop
        super().setUpClass()
        cls.context = cls.new_context()
        cls.addClassCleanup(cls.context.close)

    @classmethod
    def new_context(cls, **options: Any) -> BrowserContext:
        width, height = cls.size
        return cls.browser.new_context(viewport={"width": width, "height": height}, service_workers="block", **options)

    def setUp(self):
        super().setUp()
        self.errors: list[str] = []
        self.hosts: set[str] = set()
        self.held: list[Route] = []
        self.expected_errors = ""
        page = type(self).left
        if page is None or page.is_closed():
            page = self.context.new_page()
        self.page = self._shown(page)
        self.addCleanup(self._leave, page)

    def new_page(self, *, own: bool = False, **options: Any) -> Page:
        """A further page of a browser that has kept nothing; with options, of one of its own. A test whose page goes by
        a clock or a medium of its own asks for one that no other test is given: `new_page(own=True)`.
        """
        if not (own or options):
            page = self.context.new_page()
            self.addCleanup(page.close)
            return self._shown(page)
        context = self.new_context(**options)
        self.addCleanup(context.close)
        return self._shown(context.new_page())

    def _shown(self, page: Page) -> Page:
        """The page with the app's clock, and nothing that a test before it had stored; what it does is noted."""
        page.context.add_init_script(f"({CLOCK})({1000 * SHELF.lag.total_seconds():.0f})")
        told = {"origin": self.live_server_url, "storageTypes": "all"}
        session = page.context.new_cdp_session(page)
        session.send("Storage.clearDataForOrigin", told)
        session.detach()
        page.context.clear_cookies()
        self._hear(page, "pageerror", lambda error: self.errors.append(str(error)))
        self._hear(page, "console", lambda said: self.errors.append(said.text) if said.type == "error" else None)
        self._hear(page, "request", lambda request: self.hosts.add(urlsplit(request.url).hostname or ""))
        return self.watched(page)

    def _hear(self, page: Page, event: Any, heard: Callable[[Any], None]) -> None:
        """Listen to a page for as long as the test lasts."""
        page.on(event, heard)
        self.addCleanup(page.remove_listener, event, heard)

    def _leave(self, page: Page) -> None:
        """Leave the page to the next test, on an address of the app's that has no script."""
        page.mouse.move(0, 0)
        page.goto(f"{self.live_server_url}/api/health/")
        type(self).left = page

    def tearDown(self):
        self.addCleanup(self.page.unroute_all, behavior="ignoreErrors")
        self.addCleanup(self.let_go)
        # A refusal is logged by the browser as a failed load; a test that asks for refusals says so.
        unexpected = [e for e in self.errors if not (self.expected_errors and self.expected_errors in e)]
        self.assertEqual(unexpected, [])
        self.assertEqual(self.hosts - {""}, {urlsplit(self.live_server_url).hostname})

    def hold(self, *patterns: str) -> list[Route]:
        """Leave unanswered what the page asks of these addresses from now on; at the end what is left is dropped."""
        for pattern in patterns:
            self.page.route(pattern, lambda route: self.held.append(route))
        return self.held

    def let_go(self) -> None:
        """Drop what is still held."""
        for route in self.held:
            with suppress(Error):  # answered already
                route.abort()

    def open(self, path: str) -> None:
        forget()  # tests write records without their actions
        self.page.goto(self.live_server_url + path)
        # Whoever presses a key looks at the page first: its script and its records come after the first heading.
        expect(self.page.get_by_role("heading", level=1)).not_to_have_text(LOADING)

    def go(self, path: str) -> None:
        """As `open`, as a link within the page does: nothing is loaded anew but what the address asks for."""
        self.page.evaluate(
            "path => { history.pushState(null, '', path); dispatchEvent(new PopStateEvent('popstate')) }", path
        )
        expect(self.page.get_by_role("heading", level=1)).to_be_visible()

    def heading(self, text: Any) -> None:
        expect(self.page.get_by_role("heading", level=1)).to_have_text(text)

    def tab_to(self, name: str) -> None:
        """Press Tab until the control with this accessible name has the focus, as a person would who sees it there."""
        self.page.wait_for_function(
            f"name => [...document.querySelectorAll('{TAB_STOPS}')].some({NAMED}, {{name}})", arg=name
        )
        for _ in range(80):
            self.page.keyboard.press("Tab")
            if self.page.evaluate(f"name => [document.activeElement].some({NAMED}, {{name}})", name):
                return
        raise AssertionError(f"Tab never reached “{name}”.")

    def choose(self, field: Locator, words: str) -> None:
        """Type into a combobox and take what it offers: a person sees it there before Enter is pressed, as the spools
        that are offered come after the field.
        """
        field.fill(words)
        expect(self.page.get_by_role("option").first).to_be_visible()
        self.page.keyboard.press("Enter")

    def too_small(self) -> list[str]:
        """What is too small for a thumb on what is shown now."""
        found: list[str] = self.page.evaluate(TOO_SMALL)
        return found

    def cut_off(self) -> list[str]:
        """The words that the edge of the screen cuts off now."""
        found: list[str] = self.page.evaluate(CUT_OFF)
        return found

    def scan(self) -> None:
        """No accessibility violation on what is shown now, once it has come to rest: WCAG 2.2 AA and good practice."""
        # What was just asked for is drawn first: only then does it say that it is being worked out. Another address is
        # drawn in slices, which on a busy machine take more than a frame or two: nothing is left to do once it idles.
        self.page.evaluate("new Promise((done) => requestAnimationFrame(() => requestIdleCallback(done)))")
        expect(self.page.get_by_text("Loading", exact=True)).to_have_count(0)
        expect(self.page.locator("[aria-busy=true]")).to_have_count(0)
        self.page.evaluate("Promise.allSettled(document.getAnimations().map(a => a.finished))")
        self.scan_at_once()

    def scan_at_once(self) -> None:
        """As `scan`, of what stands there in this moment: a page that is still loading too."""
        self.assertEqual(violations(self.page), [], self.page.url)

    def hours_pass(self, hours: float) -> None:
        """As if a run had been started that many hours earlier."""
        span = timedelta(hours=hours)
        running = Run.objects.filter(ended_at__isnull=True, spool__name="Rain gauge")
        Weighing.objects.filter(run__in=running).update(at=F("at") - span)
        running.update(started_at=F("started_at") - span)
        forget()
        self.page.reload()
