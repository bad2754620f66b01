"""Debian's Chromium, closed to every network but this machine's own."""

import shutil
from functools import cache

from playwright.sync_api import Browser, Playwright, sync_playwright

FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync", "--hide-scrollbars",
]  # fmt: skip


def launch(playwright: Playwright) -> Browser:
    """Start the browser. Says what to do where it is missing."""
    if path := shutil.which("chromium-headless-shell"):
        return playwright.chromium.launch(executable_path=path, args=FLAGS)
    if path := shutil.which("chromium"):
        return playwright.chromium.launch(executable_path=path, args=["--headless=new", *FLAGS])
    raise RuntimeError("Debian's headless chromium is missing; `make test` installs it.")


@cache
def shared_browser() -> Browser:
    """The one browser of this process: it goes with it."""
    return launch(sync_playwright().start())
