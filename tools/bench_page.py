"""Measure the page in a real browser over the demo world: what a drag on the drying map and its requests take."""

from __future__ import annotations

import math
import time
from collections.abc import Sequence

import numpy as np
from playwright.sync_api import Page, expect, sync_playwright

from e2e.chromium import launch
from tools.house import free_port, server, wait_until_up

PORT = 8652
SPOOLS, DRYERS = range(1, 12), range(1, 5)

# From the moment that the pointer moved to the end of the frame in which the page had answered it.
WATCH_DRAG = """() => {
  window.answered = [];
  addEventListener("pointermove", (event) => {
    requestAnimationFrame(() => {
      const channel = new MessageChannel();
      channel.port1.onmessage = () => window.answered.push(performance.now() - event.timeStamp);
      channel.port2.postMessage(null);
    });
  }, true);
}"""


def told(times: Sequence[float]) -> str:
    middle, late = np.percentile(times, (50, 95))
    return f"median {middle:6.1f} ms, p95 {late:6.1f} ms, worst {max(times):6.1f} ms ({len(times)})"


def drag(page: Page) -> list[float]:
    """Latencies of 200 steps of the pin, ms; nothing of the plan is asked for while it is held."""
    page.goto(f"http://127.0.0.1:{PORT}/plan?spool=4&dryer=1")
    pin = page.get_by_role("slider", name="Pin: air temperature and hours")
    expect(pin).to_be_visible()
    page.wait_for_load_state("networkidle")
    page.evaluate(WATCH_DRAG)
    box = pin.bounding_box()
    assert box is not None
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url) if "/api/plan" in request.url else None)
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for step in range(200):
        page.mouse.move(x - 150 + 100 * math.cos(step / 9), y + 120 + 80 * math.sin(step / 9))
    if asked:
        raise AssertionError(f"A held pin asked for {asked[0]}.")
    times: list[float] = page.evaluate("window.answered")
    page.mouse.up()
    return times


def requests(page: Page) -> dict[str, list[float]]:
    """What each spool's map and ticket took in each dryer, as the browser's resource timing has it, ms."""
    found: dict[str, list[float]] = {"map": [], "ticket": []}
    for spool in SPOOLS:
        for dryer in DRYERS:
            page.goto(f"http://127.0.0.1:{PORT}/plan?spool={spool}&dryer={dryer}")
            page.wait_for_load_state("networkidle")
            for name, duration in page.evaluate(
                "performance.getEntriesByType('resource').map(it => [it.name, it.responseEnd - it.requestStart])"
            ):
                if "/api/plan/" in name:
                    found["map" if "/map/" in name else "ticket"].append(duration)
    return found


def main() -> None:
    free_port(PORT)
    process = server("demo-bench-page.sqlite3", PORT, demo=True, started=time.time())
    try:
        wait_until_up(process, f"http://127.0.0.1:{PORT}")
        with sync_playwright() as playwright:
            browser = launch(playwright)
            page = browser.new_page(viewport={"width": 1280, "height": 800}, service_workers="block")
            print("\nPlan in the browser, over every spool and dryer of the demo world")
            print(f"  drag of the pin  {told(drag(page))}")
            for name, times in requests(page).items():
                print(f"  {name:6} request   {told(times)}")
            browser.close()
    finally:
        process.terminate()
        process.wait()


if __name__ == "__main__":
    main()
