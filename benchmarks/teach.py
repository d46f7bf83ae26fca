"""Teaching and measuring: the ledger, handouts and booklets, bundles, and a capture with its live plot.

Prints medians, and ratios against a named alternative measured in the same run. `--minutes` says how long the
capture goes on (1 unless said).
"""

from __future__ import annotations

import argparse
import re
import shutil
import statistics
import tempfile
import threading
import time
from pathlib import Path
from typing import Any

import numpy as np
from playwright.sync_api import Page, sync_playwright
from scipy.interpolate import make_smoothing_spline

from benchmarks.desk import served, server_times, told
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.background.captures import Capture, calibrated, folded
from curve_rank.catalogue.library import built_in
from curve_rank.exchange.bundles import Bundle, Item, mark_of, preview, read_bundle
from curve_rank.exchange.simulated_device import DeviceServer, SimulatedDevice, built_in_profile
from curve_rank.measure.profile import fold
from curve_rank.rating.modelling import Modeller
from curve_rank.store.database import open_store
from curve_rank.store.viewers import local_educator

TWENTY = [variant.id for variant in built_in()[::7]][:20]
ITEMS = 500


def main(arguments: list[str] | None = None) -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--minutes", type=float, default=1.0)
    minutes = parser.parse_args(arguments).minutes
    chromium = shutil.which("chromium") or "chromium"
    with served() as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium, args=["--no-sandbox"])
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        ledger(page, address)
        printed(page, address)
        browser.close()
    bundles()
    captured(minutes)


def ledger(page: Page, address: str) -> None:
    """The claims: worked out for the first time, then read."""
    start = time.perf_counter()
    page.goto(f"{address}/claims")
    page.locator("[data-working]").wait_for(state="detached", timeout=120_000)
    first = time.perf_counter() - start
    again = server_times(page, address, "/claims", 12)[1:]
    print(f"{'all claims, in the background':38}{first:7.1f} s")
    told("the ledger, worked out before", again)
    print(f"{'ratio':38}1/{1000 * first / statistics.median(again):.0f}")


def printed(page: Page, address: str) -> None:
    """One handout, and a booklet of twenty beside twenty handouts one by one."""
    server_times(page, address, "/variants/chin-up.pdf", 1)
    one = server_times(page, address, "/variants/chin-up.pdf", 5)
    told("handout of one variant, warm", one)
    page.goto(f"{address}/variants/booklet")
    token = page.locator('meta[name="csrf"]').get_attribute("content") or ""
    chosen = "&".join(f"with={key}" for key in TWENTY)
    start = time.perf_counter()
    answer = page.request.post(
        f"{address}/variants/booklet",
        data=f"csrf_token={token}&paper=a4&{chosen}",
        headers={"Content-Type": "application/x-www-form-urlencoded"},
    )
    watched = re.search(r'(/variants/booklet/run\.json\?[^"\']+)', answer.text())
    assert watched, answer.text()[:500]
    at = watched[1].replace("&amp;", "&")
    state: dict[str, Any] = {"state": "running"}
    while state["state"] == "running":
        time.sleep(0.1)
        state = page.request.get(address + at).json()
    booklet = time.perf_counter() - start
    assert state["state"] == "finished", state
    single = sum(server_times(page, address, f"/variants/{key}.pdf", 1)[0] for key in TWENTY) / 1000
    print(f"{'booklet of twenty':38}{booklet:7.1f} s; twenty handouts one by one {single:.1f} s")
    print(f"{'ratio':38}1/{single / booklet:.2f}")


def bundles() -> None:
    """A preview of many items, modelled in one batch, beside one by one."""
    modeller, some = Modeller(), []
    for n in range(ITEMS):
        variant = built_in()[n % len(built_in())].model_copy(
            update={"id": f"own-bench-{n}", "name": f"Bench {n}"}
        )
        content = variant.model_dump(mode="json")
        some.append(Item.model_validate({"kind": "variant", "id": variant.id, "content": content}))
    items = tuple(some)
    text = Bundle(items=items, mark=mark_of(items)).model_dump_json()
    with tempfile.TemporaryDirectory() as folder:
        store = open_store(Path(folder))
        with store.reading() as session:
            viewer = local_educator(session)
            assert viewer
            start = time.perf_counter()
            found = preview(session, viewer, read_bundle(text), modeller)
            together = time.perf_counter() - start
        store.engine.dispose()
    assert all(one.status == "new" for one in found)
    alone, start = Modeller(), time.perf_counter()
    for variant in built_in()[:40]:
        alone.model((variant,), Body(), effort=usual_effort())
    one_by_one = (time.perf_counter() - start) * ITEMS / 40
    print(f"{f'preview of {ITEMS} variants':38}{together:7.2f} s; each modelled alone {one_by_one:.1f} s")
    print(f"{'ratio':38}1/{one_by_one / together:.1f}")


def captured(minutes: float) -> None:
    """A capture at a hundred samples a second, and its fold beside SciPy's smoothing spline."""
    parts: list[str] = []
    with DeviceServer(0, SimulatedDevice(built_in_profile(), noise=1.0)) as server:
        threading.Thread(target=server.serve_forever, args=(0.05,), daemon=True).start()
        capture = Capture(f"127.0.0.1:{server.port}", parts.append)
        for phase in ("empty", "weight"):
            capture.begin(phase, 10, 0.3)  # type: ignore[arg-type]
            capture.wait(10, lambda one: one.phase is None)
        capture.begin("sweep")
        looks: list[float] = []
        until, since = time.monotonic() + 60 * minutes, 0
        while time.monotonic() < until:
            start = time.perf_counter()
            since = capture.live(since)["total"]
            looks.append(1000 * (time.perf_counter() - start))
            time.sleep(0.08)
        capture.stop()
        server.shutdown()
    stream, rows = capture.stream, capture.rows()
    kept = sum(part.count("\n") for part in parts)
    print(
        f"{f'capture of {minutes:g} min':38}{stream.samples} samples, {stream.lost} lost, "
        f"{kept} of {rows.ms.size} kept"
    )
    told("a look at the live plot", looks)
    known = calibrated(rows, 10, 0.3)
    start = time.perf_counter()
    found = folded(rows, known)
    ours = time.perf_counter() - start
    swept = rows.of("sweep")
    torque = (swept.counts - known.zero) * known.torque_per_count
    some = np.argsort(swept.angle)[:: max(1, swept.angle.size // 3000)]
    angle, places = np.unique(swept.angle[some], return_index=True)
    start = time.perf_counter()
    make_smoothing_spline(angle, torque[some][places])
    theirs = time.perf_counter() - start
    start = time.perf_counter()
    fold(angle, torque[some][places])
    ours_thin = time.perf_counter() - start
    print(
        f"{'all sweeps folded, lag searched for':38}{ours:7.2f} s of {swept.angle.size} samples; "
        f"lag {1000 * found.lag:.0f} ms"
    )
    print(
        f"{f'{angle.size} samples folded once':38}{1000 * ours_thin:7.0f} ms; "
        f"scipy's smoothing spline {1000 * theirs:.0f} ms"
    )
    print(f"{'ratio':38}1/{theirs / ours_thin:.1f}")


if __name__ == "__main__":
    main()
