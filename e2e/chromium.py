"""Debian's Chromium, closed to every network but this machine's own."""

import shutil
from functools import cache

from playwright.sync_api import Browser, Playwright, sync_playwright

FLAGS = [
    "--headless=new", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync", "--hide-scrollbars",
]  # fmt: skip


def launch(playwright: Playwright) -> Browser:
    """Start the browser. Says what to do where it is missing."""
    path = shutil.which("chromium")
    if path is None:
        raise RuntimeError("Debian's chromium is missing; `make test` installs it.")
    return playwright.chromium.launch(executable_path=path, args=FLAGS)


@cache
def shared_browser() -> Browser:
    """The one browser of this process: it goes with it."""
    return launch(sync_playwright().start())
