"""The desk: drags in Chromium, from the pointer's move to the painted figure, beside loading the page anew.

Also what the server takes for a comparison of four, a map, a series of eight steps and a search. Prints
medians, 95th percentiles and ratios.
"""

from __future__ import annotations

import shutil
import statistics
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from benchmarks.soak.server import HOST, Server

DRAGS = (
    ("free weight, side", "reclined-60-dumbbell-curl", "side", "shoulder", (-5, 3)),
    ("cable, pulley, top", "cable-curl-arm-behind", "top", "pulley-0", (4, 3)),
    ("band, anchor, front", "band-overhead-extension", "front", "pulley-0", (4, -3)),
    ("hand path, a point", "bench-press-narrow", "side", "key-2", (3, -2)),
    ("machine, range end", "machine-pad-curl", "side", "end", (4, 5)),
    ("body weight, grip", "chin-up", "front", "hand", (-5, 0)),
)
MOVES = 25
FOUR = "&".join(
    f"with={v}"
    for v in ("standing-dumbbell-curl", "reclined-60-dumbbell-curl", "pad-45-dumbbell-curl", "chin-up")
)
WATCH = """() => {
  window.paints = [];
  window.lastMove = 0;
  const moved = () => { window.lastMove ||= performance.now(); };
  document.querySelector(".handles").addEventListener("pointermove", moved, true);
  new MutationObserver(() => {
    if (!window.lastMove) return;
    const since = window.lastMove;
    window.lastMove = 0;
    requestAnimationFrame(() => setTimeout(() => window.paints.push(performance.now() - since)));
  }).observe(document.querySelector('[x-ref="curves"]'), { childList: true });
}"""


@contextmanager
def served() -> Iterator[str]:
    """A server of the demo, which draws before it serves, in a process of its own; its address."""
    with tempfile.TemporaryDirectory() as folder, Server(Path(folder) / "demo") as server:
        yield f"http://{HOST}:{server.port}"


def told(name: str, times: list[float]) -> None:
    ordered = sorted(times)
    late = ordered[min(len(ordered) - 1, round(0.95 * len(ordered)))]
    print(f"{name:38}{statistics.median(times):7.0f} ms, 95 % within {late:5.0f} ms")


def drag(page: Page, address: str, variant: str, view: str, key: str, way: tuple[int, int]) -> list[float]:
    """Milliseconds from each move of a drag that was answered to its paint."""
    page.goto(f"{address}/bench/{variant}?view={view}&frame=whole")
    page.evaluate(WATCH)
    box = page.locator(f'.handle[data-key="{key}"]').bounding_box()
    assert box
    x, y = box["x"] + 13, box["y"] + 13
    page.mouse.move(x, y)
    page.mouse.down()
    for n in range(1, MOVES + 1):
        far = n if n <= MOVES // 2 else MOVES - n
        page.mouse.move(x + way[0] * far, y + way[1] * far)
        page.wait_for_timeout(140)
    page.mouse.up()
    found: list[float] = page.evaluate("window.paints")
    return found


def server_times(page: Page, address: str, path: str, times: int) -> list[float]:
    """Milliseconds of each of several requests."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        answer = page.request.get(address + path)
        found.append(1000 * (time.perf_counter() - start))
        assert answer.ok, answer.text()[:200]
    return found


def main(_arguments: list[str] | None = None) -> None:
    chromium = shutil.which("chromium") or "chromium"
    with served() as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium, args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        every: list[float] = []
        for name, variant, view, key, way in DRAGS:
            found = drag(page, address, variant, view, key, way)
            told(f"drag, {name}", found)
            every += found
        told("all drags", every)
        loads = []
        for _ in range(10):
            start = time.perf_counter()
            page.goto(f"{address}/bench/{DRAGS[0][1]}?set=posture.trunk_pitch=-45")
            loads.append(1000 * (time.perf_counter() - start))
        told("the page loaded anew instead", loads)
        times = statistics.median(loads) / statistics.median(every)
        print(f"{'ratio':38}1/{times:.1f}")
        told("compare page of four", server_times(page, address, f"/compare?{FOUR}", 12)[1:])
        told("atlas map", server_times(page, address, "/heads/triceps_long?map=strength", 12)[1:])
        steps = "/compare/one-thing/reclined-60-dumbbell-curl.json?field=path.0.elbow&step=10"
        fresh = [server_times(page, address, f"{steps}&from={n}&to={70 + n}", 1)[0] for n in range(8)]
        told("series of eight new steps", fresh[1:])
        told("the same steps again", server_times(page, address, f"{steps}&from=1&to=71", 6))
        told("a search of a set-up", [_search(page, address, n) for n in range(5)][1:])
        browser.close()


def _search(page: Page, address: str, n: int) -> float:
    """Milliseconds from asking to the answer, as the page asks."""
    page.goto(f"{address}/bench/standing-dumbbell-curl?set=posture.wrist={n - 10}")
    start = time.perf_counter()
    page.get_by_role("button", name="Search", exact=True).click()
    page.locator(".found h3, .found p").first.wait_for(timeout=20_000)
    return 1000 * (time.perf_counter() - start)


if __name__ == "__main__":
    main()
