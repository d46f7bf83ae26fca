"""Today, My block and the board on a phone: layout shift and largest paint, by Chromium's own entries.

A cold browser at 390 by 844, 400 kbit/s, 300 ms, at a fourth of this machine's speed. Prints medians, with
what was asked for beside them, and how they compare with the same pages on a fast link.
"""

from __future__ import annotations

import shutil
import statistics
import tempfile
import threading
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, sync_playwright
from waitress.server import create_server

from curve_rank.background.draws import Draws
from curve_rank.settings import Settings
from curve_rank.store.database import open_store
from curve_rank.store.demo import fill_demo
from curve_rank.web import create_app

SLOW = {"offline": False, "latency": 300, "downloadThroughput": 50_000, "uploadThroughput": 50_000}
FAST = {"offline": False, "latency": 5, "downloadThroughput": 5_000_000, "uploadThroughput": 5_000_000}
"""Latency [ms] and throughput both ways [bytes/s]."""
SLOWER = 4
"""So many times slower than this machine."""
TIMES = 3
MOST_SHIFT, MOST_PAINT = 0.05, 4000.0
PAGES = {"Today": ("/today", "Wren"), "My block": ("/my-block", "Wren"), "Board": ("/board", "Tamsin")}
WATCH = """window.told = { shift: 0, paint: 0, moved: [] };
new PerformanceObserver((list) => { for (const one of list.getEntries()) if (!one.hadRecentInput) {
  told.shift += one.value;
  told.moved.push([one.value.toFixed(3), Math.round(one.startTime),
    ...one.sources.slice(0, 3).map((s) => (s.node?.className || s.node?.nodeName || "") + "")].join(" "));
} }).observe({ type: "layout-shift", buffered: true });
new PerformanceObserver((list) => { for (const one of list.getEntries()) told.paint = one.startTime; })
  .observe({ type: "largest-contentful-paint", buffered: true });"""


def paints(browser: Browser, address: str, state: Any, path: str, link: Mapping[str, Any]) -> dict[str, Any]:
    """Layout shift, largest paint [ms], bytes sent and what moved, of a browser that has never been here."""
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, storage_state=state, device_scale_factor=2, is_mobile=True
    )
    page = context.new_page()
    session = context.new_cdp_session(page)
    session.send("Network.enable")
    session.send("Network.emulateNetworkConditions", dict(link))
    session.send("Emulation.setCPUThrottlingRate", {"rate": SLOWER if link is SLOW else 1})
    page.add_init_script(WATCH)
    page.goto(address + path, wait_until="load", timeout=120_000)
    page.wait_for_function("document.fonts.status === 'loaded'")
    page.wait_for_timeout(1500)
    sizes = "performance.getEntriesByType('resource').reduce((n, r) => n + r.transferSize, 0)"
    found: dict[str, Any] = page.evaluate("told") | {"bytes": page.evaluate(sizes)}
    context.close()
    return found


@contextmanager
def served() -> Iterator[tuple[str, Browser]]:
    """The demo, and a browser."""
    chromium = shutil.which("chromium") or shutil.which("chromium-browser")
    if chromium is None:
        raise SystemExit("no Chromium here: `make test` installs it")
    with tempfile.TemporaryDirectory() as name, sync_playwright() as playwright:
        folder, draws = Path(name), Draws()
        store = open_store(folder)
        fill_demo(store)
        store.engine.dispose()
        app = create_app(Settings(data=folder), draws=draws, demo=True)
        server = create_server(app, host="127.0.0.1", port=0)
        threading.Thread(target=server.run, daemon=True).start()
        browser = playwright.chromium.launch(executable_path=chromium, args=["--no-sandbox"])
        yield f"http://127.0.0.1:{server.effective_port}", browser
        browser.close()
        server.close()
        draws.close()


def main(_arguments: list[str] | None = None) -> None:
    with served() as (address, browser):
        for name, (path, who) in PAGES.items():
            context = browser.new_context()
            page = context.new_page()
            page.goto(f"{address}/sign-in")
            page.get_by_role("button", name=who).click()
            page.goto(address + path)
            page.locator("[data-drawing]").wait_for(state="detached", timeout=120_000)
            state = context.storage_state()
            context.close()
            slow = [paints(browser, address, state, path, SLOW) for _ in range(TIMES)]
            fast = paints(browser, address, state, path, FAST)
            shift, paint = (statistics.median(one[key] for one in slow) for key in ("shift", "paint"))
            print(
                f"{name:10} shift {shift:6.3f} (asked {MOST_SHIFT})   largest paint {paint:6.0f} ms "
                f"(asked {MOST_PAINT:.0f})   {slow[0]['bytes'] / 1000:.0f} kB; on a fast link "
                f"{fast['paint']:.0f} ms, 1/{paint / max(fast['paint'], 1):.0f}"
            )
            for line in slow[0]["moved"]:
                print(f"             moved {line[:150]}")


if __name__ == "__main__":
    main()
