"""Takes the pictures in docs/screenshots/ anew, from the demo data; only some, where they are named."""

from __future__ import annotations

import io
import shutil
import sys
import tempfile
import threading
import time
from pathlib import Path

from flask import Flask
from playwright.sync_api import sync_playwright
from tests.photographs import KNOWN, Scene, as_jpeg
from waitress.server import create_server

from curve_rank.settings import Settings
from curve_rank.store.demo import fill_demo
from curve_rank.store.demo_house import SECOND_EDUCATOR, fill_demo_house
from curve_rank.store.tables import Person
from curve_rank.web import create_app
from curve_rank.web.current import desk

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"
DESK = (1280, 800)
KIT = "&with=dumbbell&with=cable&with=incline_bench&with=pad_bench&with=upright_seat"
BOARD = f"/board?target=biceps_long&lens=long_length{KIT}"
PHONE = (390, 844)
COMPARED = "/compare?with=standing-dumbbell-curl&with=reclined-60-dumbbell-curl&with=pad-45-dumbbell-curl"
SET = f"/sets?target=flexors&target=extensors{KIT}&minutes=45"
DRAWN = "/board?target=biceps_long&lens=long_length"
PICTURES = (
    Scene(elbow=12, upper_arm=6, tilt=3),
    Scene(elbow=72, upper_arm=20, tilt=3),
    Scene(elbow=124, upper_arm=36, tilt=3),
)
WREN, TAMSIN = "Wren Achterberg", "Tamsin Brackwater"
AS = {"/today": WREN, "/my-record": WREN, "/reviews/1": WREN, "/clients": TAMSIN, "/house": SECOND_EDUCATOR}
"""Who looks, where it is not the educator."""
VIEWS = (
    # name, address, size, colours, what to click first
    ("board", BOARD, DESK, "light", None),
    ("board-phone", BOARD, PHONE, "light", None),
    ("bench", "/bench/reclined-60-dumbbell-curl?set=posture.trunk_pitch%3D-50", DESK, "light", None),
    ("clients", "/clients", (1280, 900), "dark", None),
    ("compare", COMPARED, (1280, 1150), "light", None),
    ("heads", "/heads/biceps_long", (1280, 1080), "light", None),
    ("variants", "/variants", DESK, "light", None),
    ("variant", "/variants/reclined-60-dumbbell-curl", (1280, 1900), "light", None),
    ("loads", "/loads?for=4&variant=standing-dumbbell-curl&load=12", DESK, "light", None),
    ("schools", "/schools", DESK, "light", None),
    ("claims", "/claims", DESK, "light", None),
    ("measure", "/measure/pictures/1?plan=standing-dumbbell-curl", (1280, 1500), "light", '[data-show="1"]'),
    ("block", "/blocks/2", (1280, 1150), "light", None),
    ("lecture", "/lectures/own-thursday-at-the-barn-long-or-short/show#2", DESK, "light", None),
    ("today-phone", "/today", PHONE, "light", None),
    ("record", "/my-record", (1280, 1500), "light", None),
    ("review", "/reviews/1", (1280, 1150), "light", None),
    ("house", "/house", (1280, 1080), "light", None),
    ("sets", SET, (1280, 1080), "light", None),
)


def _wait_for_draws(app: Flask, address: str) -> None:
    """Let the draws behind the board finish, so that the picture shows a settled ranking."""
    client, query = app.test_client(), address.partition("?")[2]
    app.config["WTF_CSRF_ENABLED"] = False
    run = client.post(f"/certainty/start?{query}").get_json()["run"]
    app.config["WTF_CSRF_ENABLED"] = True
    while client.get(f"/certainty.json?{query}&run={run}").get_json()["state"] == "running":
        time.sleep(0.5)


def _measure_and_publish(app: Flask) -> None:
    """A set of marked pictures, and two published pages."""
    app.config["WTF_CSRF_ENABLED"] = False
    client = app.test_client()
    files = [(io.BytesIO(as_jpeg(scene.image(noise=5))), "picture.jpg") for scene in PICTURES]
    client.post(
        "/measure/pictures",
        data={"name": "Standing curl, Tuesday group", "pictures": files},
        content_type="multipart/form-data",
    )
    marks: dict[str, object] = {"known_cm": KNOWN, "known_error_cm": 0.5}
    for n, scene in enumerate(PICTURES):
        for name, at in scene.marks.items():
            marks |= {f"{n}-{name}-{axis}": f"{value:.1f}" for axis, value in zip("xy", at, strict=True)}
    client.post("/measure/pictures/1/marks", data=marks)
    for page in ("/variants/chin-up/publish", "/board/publish?target=biceps_long&with=dumbbell"):
        client.post(page)
    with app.app_context(), desk().store.reading() as session:
        teacher = session.query(Person).filter_by(name=SECOND_EDUCATOR).one().id
    client.post("/sign-in/as", data={"person": teacher})
    client.post("/house/freeze")
    app.config["WTF_CSRF_ENABLED"] = True


def main() -> None:
    with tempfile.TemporaryDirectory() as data, sync_playwright() as playwright:
        app = create_app(Settings(data=Path(data), local_viewer=True), demo=True)
        with app.app_context():
            kept = desk()
        fill_demo(kept.store)
        fill_demo_house(kept.store)
        server = create_server(app, host="127.0.0.1", port=0)
        threading.Thread(target=server.run, daemon=True).start()
        path = shutil.which("chromium") or shutil.which("chromium-browser")
        browser = playwright.chromium.launch(executable_path=path, args=["--no-sandbox", "--disable-gpu"])
        _wait_for_draws(app, DRAWN)
        _measure_and_publish(app)
        for name, address, (width, height), colours, click in VIEWS:
            if sys.argv[1:] and name not in sys.argv[1:]:
                continue
            page = browser.new_page(
                viewport={"width": width, "height": height},
                color_scheme="dark" if colours == "dark" else "light",
                reduced_motion="reduce",
            )
            here = f"http://127.0.0.1:{server.effective_port}"
            if address in AS:
                page.goto(f"{here}/sign-in")
                page.get_by_role("button", name=AS[address]).click()
            page.goto(here + address)
            page.locator("[data-drawing], [data-working]").wait_for(state="detached", timeout=60_000)
            page.wait_for_load_state("load")
            while page.get_by_text("being worked in").count():
                page.wait_for_timeout(1000)
                page.reload()
            page.wait_for_timeout(900)
            if click:
                page.click(click)
                page.wait_for_timeout(400)
            page.screenshot(path=FOLDER / f"{name}.png")
            page.close()
        browser.close()
        server.close()
        kept.draws.close()


if __name__ == "__main__":
    main()
