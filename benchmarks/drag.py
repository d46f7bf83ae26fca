"""From a pointer's move on the bench's figure to its paint, in Chromium, and how the rest follows.

Prints medians: until the figure is painted, and, in the same drag, until curves and numbers are. A plain loop
says how fast this machine is meanwhile: shared ones vary by a factor of five.
"""

from __future__ import annotations

import statistics
import time

from playwright.sync_api import Browser, Page

from benchmarks.paints import served

PULLS = (
    ("reclined-60-dumbbell-curl", "side", "shoulder", (-5, 3)),
    ("chin-up", "front", "hand", (-5, 0)),
    ("rope-press-down", "side", "elbow", (4, 0)),
)
"""Set-up, view, handle, and the way of a step [px]."""
STEPS, REST = 24, 500
"""Moves of the pointer, there and back, and the rest between two [ms]."""
ASKED = 60.0
WATCH = """() => {
  window.drags = { figure: [], curves: [] };
  const since = { figure: 0, curves: 0 };
  const moved = () => { since.figure = since.curves = performance.now(); };
  document.querySelector(".handles").addEventListener("pointermove", moved, true);
  const painted = (name) => {
    const from = since[name];
    since[name] = 0;
    if (from) requestAnimationFrame(() => setTimeout(() => drags[name].push(performance.now() - from)));
  };
  const watch = (ref, name, what) =>
    new MutationObserver(() => painted(name)).observe(document.querySelector(`[x-ref="${ref}"]`), what);
  watch("figure", "figure", { attributes: true, subtree: true });
  watch("curves", "curves", { childList: true });
}"""


def drag(page: Page, key: str, way: tuple[int, int]) -> None:
    """Move a handle there and back, resting between two moves."""
    box = page.locator(f'.handle[data-key="{key}"]').bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for n in range(1, STEPS + 1):
        far = min(n, STEPS - n)
        page.mouse.move(x + way[0] * far, y + way[1] * far)
        page.wait_for_timeout(REST)
    page.mouse.up()


def loop_seconds() -> float:
    """How long five million turns of a plain loop take [s]."""
    start, total = time.perf_counter(), 0
    for n in range(5_000_000):
        total += n
    return time.perf_counter() - start


def measure(address: str, browser: Browser) -> None:
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{address}/sign-in")
    page.get_by_role("button", name="Maude").click()
    for variant, view, key, way in PULLS:
        page.goto(f"{address}/bench/{variant}?view={view}&frame=whole")
        page.wait_for_timeout(1000)
        page.evaluate(WATCH)
        slow = loop_seconds()
        drag(page, key, way)
        times = page.evaluate("drags")
        figure, curves = (statistics.median(times[name]) for name in ("figure", "curves"))
        print(
            f"drag, {variant:26} figure {figure:5.0f} ms (asked {ASKED:.0f}), the rest {curves:5.0f} ms, "
            f"1/{curves / figure:.1f}; loop {slow:.2f} s"
        )


def main(_arguments: list[str] | None = None) -> None:
    with served() as (address, browser):
        time.sleep(20)  # what is read in after a start is read in
        measure(address, browser)


if __name__ == "__main__":
    main()
