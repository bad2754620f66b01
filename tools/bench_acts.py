"""What a person waits for in a full workshop, 150 spools with a year behind them.

From the key to the changed screen in a real browser, pages, the poll of a running run, the first load, and how soon the
page answers on a slow machine.
"""

from __future__ import annotations

import gzip
import json
import re
import time
import urllib.request
from uuid import uuid4

import numpy as np
from playwright.sync_api import Locator, Page, sync_playwright

from e2e.chromium import launch
from tools.house import ROOT, free_port, server, wait_until_up
from tools.load import ADDRESS, HEADERS, NAME, PORT, set_up
from tools.measured import note

TURNS, SLOWED, SPOOL = 12, 4, 7
# From the key or click on to the end of the frame in which the condition holds.
WATCH = """(condition) => {
  window.took = null;
  let began = null;
  const begin = (event) => { began ??= event.timeStamp };
  for (const kind of ["keydown", "pointerdown"]) addEventListener(kind, begin, { capture: true, once: true });
  const holds = new Function("return " + condition);
  const look = () => {
    if (began === null || !holds()) return requestAnimationFrame(look);
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => { window.took = performance.now() - began };
    port2.postMessage(null);
  };
  requestAnimationFrame(look);
}"""
OBSERVE = """() => {
  window.answered = {};
  new PerformanceObserver((list) => {
    for (const { interactionId: id, duration } of list.getEntries())
      if (id) window.answered[id] = Math.max(window.answered[id] ?? 0, duration);
  }).observe({ type: "event", durationThreshold: 16 });
}"""


def told(name: str, times: list[float], goal: float) -> None:
    middle, late = np.percentile(times, (50, 95))
    print(f"  {name:44} median {middle:5.0f} ms, p95 {late:5.0f} (goal {goal:.0f}), most {max(times):5.0f}")
    note(f"{name}, p95", late, "ms", at_most=goal)


def post(path: str, body: object) -> dict[str, object]:
    asked = urllib.request.Request(ADDRESS + path, json.dumps(body).encode(), HEADERS)
    with urllib.request.urlopen(asked, timeout=120) as answer:
        found: dict[str, object] = json.load(answer)
    return found


def get_ms(path: str) -> float:
    start = time.perf_counter()
    with urllib.request.urlopen(ADDRESS + path, timeout=120) as answer:
        answer.read()
    return 1000.0 * (time.perf_counter() - start)


class Acts:
    """Acts on a page, each from the key or click to the screen that shows it."""

    def __init__(self, page: Page) -> None:
        self.page = page

    def timed(self, condition: str, key: str = "", on: Locator | None = None) -> float:
        """Milliseconds from a key, or a click on something, until the condition holds."""
        self.page.evaluate(WATCH, condition)
        if on is None:
            self.page.keyboard.press(key)
        else:
            on.click()
        self.page.wait_for_function("window.took !== null")
        return float(self.page.evaluate("window.took"))

    def weigh(self, turn: int) -> float:
        self.page.goto(f"{ADDRESS}/spools/{SPOOL + 1}")
        self.page.wait_for_load_state("networkidle")
        self.page.keyboard.press("w")
        reading = f"{1200.1 + turn % 2 / 10:.1f}"
        self.page.get_by_label("The scale reads").fill(reading)
        self.page.wait_for_timeout(400)
        shown = f"document.body.textContent.includes('Saved {reading}')"
        return self.timed(f"!document.querySelector('[role=dialog]') && {shown}", key="Enter")

    def move(self, turn: int) -> float:
        self.page.wait_for_timeout(1500)
        links = self.page.get_by_role("list", name="Spools").get_by_role("link", name=re.compile(r"^Spool \d+$"))
        link = links.nth(turn % 8)
        spool = link.text_content()
        link.focus()
        self.page.keyboard.press("m")
        self.page.get_by_role("heading", name=f"Where did {spool} go?").wait_for()
        self.page.wait_for_timeout(200)
        shown = f"document.body.textContent.includes('{spool}: now in ')"
        return self.timed(f"!document.querySelector('[role=dialog]') && {shown}", key=str(2 + turn % 5))

    def sign(self, turn: int) -> float:
        self.page.wait_for_timeout(1500)
        slip = self.page.get_by_role("dialog")
        self.page.get_by_role("button", name="Push filament through; listen and look").first.click()
        choice = "seen" if turn % 2 == 0 else "none"
        radios = slip.get_by_role("radiogroup", name="Steam at the nozzle")
        radios.get_by_role("radio", name=choice, exact=True).click()
        row = "[...document.querySelectorAll('li')].find((li) => li.textContent.startsWith('Steam at the nozzle'))"
        shown = f"!document.querySelector('[role=dialog]') && {row}?.textContent.includes('{choice}')"
        return self.timed(shown, on=slip.get_by_role("button", name="Save", exact=True))

    def event(self, turn: int) -> float:
        now, then = ("Pause", "Resume") if turn % 2 == 0 else ("Resume", "Pause")
        there = f"[...document.querySelectorAll('button')].some((b) => b.textContent.trim() === '{then}')"
        self.page.wait_for_timeout(1500)
        return self.timed(there, on=self.page.get_by_role("button", name=now, exact=True).first)


def scripts_kb() -> float:
    """What the first page needs of scripts, kB, gzip'd: what its HTML names. The other rooms follow by themselves."""
    html = (ROOT / "web/dist/index.html").read_text("utf-8")
    files = [ROOT / "web/dist" / name for name in re.findall(r'(?:src|href)="/(assets/[^"]+\.js)"', html)]
    return sum(len(gzip.compress(file.read_bytes())) for file in files) / 1000.0


def answers_ms(page: Page) -> list[float]:
    """How long the rack takes to paint what a key or click did, on a processor that is four times slower."""
    page.goto(f"{ADDRESS}/")
    page.wait_for_load_state("networkidle")
    page.evaluate(OBSERVE)
    page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": SLOWED})
    page.get_by_role("list", name="Spools").get_by_role("link").first.focus()
    for key in ["ArrowDown"] * 8 + ["ArrowUp"] * 4 + ["m", "Escape", "w", "Escape"]:
        page.keyboard.press(key)
        page.wait_for_timeout(500)
    for span in ("week", "3 weeks"):
        page.get_by_role("radio", name=span).first.click()
        page.wait_for_timeout(800)
    found: list[float] = page.evaluate("Object.values(window.answered)")
    return found


def main() -> None:
    set_up()
    free_port(PORT)
    process = server(NAME, PORT, demo=False, started=time.time())
    try:
        wait_until_up(process, ADDRESS)
        for path in ("/api/rack/?span=week", "/api/storage/", f"/api/spools/{SPOOL}/page/"):
            get_ms(path)
        body = {"spool": SPOOL, "dryer": 1, "temp_c": 50, "duration_h": 4, "client_key": str(uuid4())}
        run = post("/api/plan/start/", {**body, "override_reason": "to measure it"})["runs"][0]["id"]  # type: ignore[index]  # JSON
        case = post("/api/cases/", {"spool": SPOOL + 2, "title": "Strings"})["case"]["id"]  # type: ignore[index]  # JSON
        print("\nA full workshop, 150 spools x a year (no peer)")
        for name, path, goal in (
            ("page: rack", "/api/rack/?span=week", 300.0),
            ("page: storage", "/api/storage/", 300.0),
            ("page: a spool", f"/api/spools/{SPOOL + 1}/page/", 300.0),
            ("page: runs", "/api/runs/", 300.0),
            ("poll of a running run", f"/api/runs/{run}/", 50.0),
        ):
            get_ms(path)
            told(name, [get_ms(path) for _ in range(20)], goal)
        with sync_playwright() as playwright:
            browser = launch(playwright)
            page = browser.new_page(viewport={"width": 1280, "height": 800}, service_workers="block", bypass_csp=True)
            weight = scripts_kb()
            print(f"  scripts of the first page: {weight:.0f} kB gzip'd (goal 250)")
            note("scripts of the first page, gzip'd", weight, "kB", at_most=250.0)
            acts = Acts(page)
            told("act: a weighing, from Enter", [acts.weigh(turn) for turn in range(TURNS)], 200.0)
            page.goto(f"{ADDRESS}/")
            page.wait_for_load_state("networkidle")
            told("act: a move, from the key", [acts.move(turn) for turn in range(TURNS)], 200.0)
            page.goto(f"{ADDRESS}/cases/{case}")
            page.wait_for_load_state("networkidle")
            told("act: a sign of a case, from the click", [acts.sign(turn) for turn in range(TURNS)], 200.0)
            page.goto(f"{ADDRESS}/runs/{run}")
            page.wait_for_load_state("networkidle")
            told("act: a run's pause and resume, from the click", [acts.event(turn) for turn in range(TURNS)], 200.0)
            told(f"answer of the rack's page, {SLOWED} times slowed", answers_ms(page), 100.0)
            browser.close()
    finally:
        process.terminate()
        process.wait()


if __name__ == "__main__":
    main()
