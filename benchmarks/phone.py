"""Today on a slow phone link: how long until the next set can be kept, first and when it is opened again.

Prints medians [ms], what was asked for, and the ratio.
"""

from __future__ import annotations

import statistics
import time

from playwright.sync_api import Browser, Page

from benchmarks.coach import told
from benchmarks.paints import SLOW, served

READY = """() => {
  const painted = performance.getEntriesByName("first-contentful-paint").length > 0;
  const sentence = document.querySelector(".sentence");
  return painted && sentence !== null && sentence.checkVisibility();
}"""
TIMES = 3


def opened(page: Page, address: str) -> float:
    """Milliseconds until the next set can be kept."""
    started = time.perf_counter()
    page.goto(f"{address}/today", wait_until="commit")
    while not page.evaluate(READY):
        time.sleep(0.02)
    return 1000 * (time.perf_counter() - started)


def first_and_again(browser: Browser, address: str, state: dict[str, object]) -> tuple[float, float]:
    """Of a browser that has never been here."""
    context = browser.new_context(viewport={"width": 390, "height": 844}, storage_state=state)  # type: ignore[arg-type]
    page = context.new_page()
    link = context.new_cdp_session(page)
    link.send("Network.enable")
    link.send("Network.emulateNetworkConditions", SLOW)
    first = opened(page, address)
    page.locator("[data-stands-alone]").wait_for(timeout=60_000)
    context.set_offline(True)
    again = opened(page, address)
    context.close()
    return first, again


def main(_arguments: list[str] | None = None) -> None:
    with served() as (address, browser):
        context = browser.new_context()
        page = context.new_page()
        page.goto(f"{address}/sign-in")
        page.get_by_role("button", name="Wren Achterberg").click()
        page.goto(f"{address}/today")
        page.locator("[data-stands-alone]").wait_for(timeout=120_000)  # its arms are drawn by now
        state = context.storage_state()
        found = [first_and_again(browser, address, state) for _ in range(TIMES)]  # type: ignore[arg-type]
        first, again = (statistics.median(row) for row in zip(*found, strict=True))
        told("Today, first open over 400 kbit/s and 300 ms", first, 4000)
        told("Today, again without a connection", again)
        print(f"{'again, to the first':44}    1/{first / again:.0f}")


if __name__ == "__main__":
    main()
