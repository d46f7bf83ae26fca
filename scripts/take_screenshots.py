"""Takes the pictures in docs/screenshots/ anew, from the demo data."""

from __future__ import annotations

import shutil
import tempfile
import threading
from pathlib import Path

from playwright.sync_api import sync_playwright
from waitress.server import create_server

from curve_rank.store.demo import fill_demo
from curve_rank.web import create_app

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"
DESK = (1280, 800)
BOARD = "/board?target=biceps_long&lens=long_length&with=dumbbell&with=cable"
VIEWS = (
    # name, address, size, colours, what to click first
    ("board", BOARD, DESK, "light", None),
    ("board-row-open", "/board?target=triceps_long", DESK, "light", ".rows li:nth-child(2) summary"),
    ("bench", "/bench/reclined-60-dumbbell-curl?set=posture.trunk_pitch%3D-50", DESK, "light", None),
    ("bench-dark", "/bench/rope-press-down", DESK, "dark", None),
    ("sources", "/sources", DESK, "light", None),
)


def main() -> None:
    with tempfile.TemporaryDirectory() as data, sync_playwright() as playwright:
        app = create_app(Path(data))
        fill_demo(app.extensions["curve_rank_store"])
        server = create_server(app, host="127.0.0.1", port=0)
        threading.Thread(target=server.run, daemon=True).start()
        path = shutil.which("chromium") or shutil.which("chromium-browser")
        browser = playwright.chromium.launch(executable_path=path, args=["--no-sandbox", "--disable-gpu"])
        for name, address, (width, height), colours, click in VIEWS:
            page = browser.new_page(
                viewport={"width": width, "height": height},
                color_scheme="dark" if colours == "dark" else "light",
                reduced_motion="reduce",
            )
            page.goto(f"http://127.0.0.1:{server.effective_port}{address}")
            page.wait_for_load_state("networkidle")
            if click:
                page.click(click)
            page.screenshot(path=FOLDER / f"{name}.png")
            page.close()
        browser.close()
        server.close()


if __name__ == "__main__":
    main()
