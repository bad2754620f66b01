"""What stood on a page, and what it had asked for, when its test failed: a failure that comes once in a hundred runs
must tell why the first time.
"""

import time
from collections.abc import Callable
from unittest import TestCase

from playwright.sync_api import Error, Page, Request


class Witness:
    """Watches a page's requests; `tell` says how each page ended that came to nothing."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.under_way: dict[Request, float] = {}
        self.failed: list[str] = []
        self.wrote: list[str] = []
        page.on("request", self._begun)
        page.on("requestfinished", self._finished)
        page.on("requestfailed", self._failed)

    def look_away(self) -> None:
        """Note no more of the page: another test has it next."""
        self.page.remove_listener("request", self._begun)
        self.page.remove_listener("requestfinished", self._finished)
        self.page.remove_listener("requestfailed", self._failed)

    def _begun(self, request: Request) -> None:
        self.under_way[request] = time.monotonic()

    def _finished(self, request: Request) -> None:
        self.under_way.pop(request, None)
        if request.method != "GET":
            self.wrote.append(f"{request.method} {request.url}")

    def _failed(self, request: Request) -> None:
        self.under_way.pop(request, None)
        self.failed.append(f"{request.method} {request.url}: {request.failure or 'failed'}")

    def tell(self) -> str:
        """The page's address and words, those of a slip first, the last writes that were answered, the requests that
        failed last, and those that nobody answered yet.
        """
        try:
            places = [*self.page.get_by_role("dialog").all(), self.page.locator("body")]
            shown = " || ".join(" | ".join(place.inner_text(timeout=2000).split("\n"))[:1500] for place in places)
        except Error as error:
            shown = f"nothing ({error.message})"
        waiting = [f"{r.method} {r.url} for {time.monotonic() - since:.0f} s" for r, since in self.under_way.items()]
        asked = f"wrote: {self.wrote[-5:]}\n  unanswered: {waiting[:10]}\n  failed: {self.failed[-10:]}"
        return f"{self.page.url} showed: {shown}\n  {asked}"


class Watched(TestCase):
    """A test that prints what its pages showed, where it fails."""

    def watched(self, page: Page) -> Page:
        """The page, which is told of, too."""
        witness = Witness(page)
        self.addCleanup(witness.look_away)
        self.__dict__.setdefault("witnesses", []).append(witness)
        return page

    def _callTestMethod(self, method: Callable[[], None]) -> None:  # noqa: N802  # unittest has no public word for it
        try:
            super()._callTestMethod(method)  # type: ignore[misc]  # nor does its stub know it
        except Exception:
            for witness in self.__dict__.get("witnesses", []):
                print(f"\n{self.id()}: {witness.tell()}", flush=True)  # noqa: T201
            raise
