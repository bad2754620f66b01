"""Take the pictures in docs/screenshots from the demo world. A folder given as argument receives them instead."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect, sync_playwright

from e2e.chromium import launch
from tools.house import free_port, server, wait_until_up
from tools.install import ROOT, VAR, say

PORT = 8651
DESK, PHONE, SHEET = (1280, 800), (390, 844), (794, 1123)


def settle(page: Page) -> None:
    page.wait_for_load_state("networkidle", timeout=60_000)
    expect(page.locator(".animate-pulse")).to_have_count(0, timeout=60_000)
    page.evaluate("Promise.allSettled(document.getAnimations().map(a => a.finished))")
    page.wait_for_timeout(150)


def nothing(page: Page) -> None:
    """The room as it opens."""


def weigh_phone(page: Page) -> None:
    page.get_by_role("button", name="Weigh", exact=True).click()
    page.get_by_role("dialog").get_by_label("The scale reads").fill("1017.6")


def worked_out(page: Page) -> None:
    expect(page.get_by_role("heading", name="Visits").or_(page.get_by_role("heading", name="This schedule")).first)\
        .to_be_visible(timeout=60_000)  # fmt: skip
    expect(page.get_by_role("heading", level=1)).not_to_contain_text("Working", timeout=60_000)
    page.mouse.move(0, 0)


def design_of(page: Page) -> None:
    page.get_by_role("combobox").fill("Hinge")
    page.keyboard.press("Enter")
    expect(page.get_by_role("columnheader", name="take it out after")).to_be_visible(timeout=30_000)


def compare(page: Page) -> None:
    page.locator("#compare").scroll_into_view_if_needed()
    page.evaluate("document.querySelector('#compare').scrollIntoView()")


def practise(page: Page) -> None:
    page.get_by_role("button", name="A case in 15 minutes").click()
    for check in ("Push filament through", "Look at the print closely"):
        page.get_by_role("button", name=check).click()
        page.wait_for_timeout(400)


def on_paper(page: Page) -> None:
    page.emulate_media(media="print")


Shot = tuple[str, str, tuple[int, int], str, Callable[[Page], None]]

SHOTS: list[Shot] = [
    ("rack", "/", DESK, "light", nothing),
    ("rack-phone", "/", PHONE, "light", nothing),
    ("plan", "/plan?spool=4", DESK, "light", nothing),
    ("schedule", "/schedule", DESK, "light", worked_out),
    ("schedule-phone", "/schedule", PHONE, "light", worked_out),
    ("trial", "/trials/1", DESK, "light", nothing),
    ("trial-new", "/trials/new?kind=drying", DESK, "light", design_of),
    ("spool", "/spools/3", DESK, "light", nothing),
    ("storage", "/storage?place=5", DESK, "light", nothing),
    ("case", "/cases/3", DESK, "light", nothing),
    ("case-compare", "/cases/1", DESK, "light", compare),
    ("practice", "/cases/practice", DESK, "light", practise),
    ("materials", "/materials", DESK, "light", nothing),
    ("kit", "/kit", DESK, "light", nothing),
    ("run", "/runs/3", DESK, "light", nothing),
    ("people", "/people", DESK, "light", nothing),
    ("run-report", "/runs/1", SHEET, "light", on_paper),
    ("weigh-phone", "/runs/3", PHONE, "light", weigh_phone),
]


EMPTY: list[Shot] = [("first-run", "/", DESK, "light", nothing)]


def take(shots: list[Shot], out: Path, database: str, *, demo: bool) -> None:
    """Take pictures of a server of its own."""
    free_port(PORT)
    process = server(database, PORT, demo=demo, started=time.time())
    try:
        wait_until_up(process, f"http://127.0.0.1:{PORT}")
        with sync_playwright() as playwright:
            browser = launch(playwright)
            for name, path, (width, height), theme, act in shots:
                page = browser.new_page(
                    viewport={"width": width, "height": height},
                    color_scheme="dark" if theme == "dark" else "light",
                    service_workers="block",
                )
                page.goto(f"http://127.0.0.1:{PORT}{path}")
                settle(page)
                act(page)
                settle(page)
                page.screenshot(path=out / f"{name}.png")
                page.close()
                say(f"took {name}.png")
            browser.close()
    finally:
        process.terminate()
        process.wait()


def main() -> None:
    out = Path(sys.argv[1]) if len(sys.argv) > 1 else ROOT / "docs/screenshots"
    only = set(sys.argv[2:])
    out.mkdir(parents=True, exist_ok=True)
    for shots, database, demo in ((SHOTS, "demo-shots.sqlite3", True), (EMPTY, "empty-shots.sqlite3", False)):
        wanted = [shot for shot in shots if not only or shot[0] in only]
        if wanted:
            if not demo:
                (VAR / database).unlink(missing_ok=True)
            take(wanted, out, database, demo=demo)


if __name__ == "__main__":
    main()
