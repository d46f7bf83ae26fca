"""Measure in Chromium: pictures marked, a clip stepped, a machine captured live, a file mended."""

from __future__ import annotations

import re
import shutil
import threading
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, Route, expect
from waitress.server import create_server

from curve_rank.background.draws import Draws
from curve_rank.exchange.simulated_device import DeviceServer, SimulatedDevice, built_in_profile
from curve_rank.settings import Settings
from curve_rank.web import create_app
from tests.browser.conftest import Visit, come_true
from tests.conftest import KEPT
from tests.helpers import Resting
from tests.photographs import Scene, as_jpeg

SCENES = (Scene(elbow=12, upper_arm=8, tilt=3), Scene(elbow=80, upper_arm=24, tilt=3))
MAIN = ("shoulder", "elbow", "grip", "hip")


def bring(visit: Visit, name: str, *scenes: Scene) -> None:
    visit.go("/measure/pictures")
    visit.page.get_by_label("Who does what").fill(name)
    files = [
        {"name": f"{n}.jpg", "mimeType": "image/jpeg", "buffer": as_jpeg(scene.image(noise=5))}
        for n, scene in enumerate(scenes)
    ]
    visit.page.get_by_label("photographs of one rep").set_input_files(files)  # type: ignore[arg-type]
    visit.page.get_by_role("button", name="Bring them in").click()
    expect(visit.page.locator(".photo").first).to_be_visible()


def press(page: Page, picture: int, at: tuple[float, float]) -> None:
    """Press on a picture at one of its pixels, and wait until the mark is kept."""
    look = "(s) => { const m = s.getScreenCTM(); return [m.a, m.d, m.e, m.f]; }"
    a, d, e, f = page.locator(f'.photo[data-picture="{picture}"]').evaluate(look)
    with page.expect_response(re.compile("/marks$")):
        page.mouse.click(at[0] * a + e, at[1] * d + f)


def test_pictures_are_marked_by_mouse_read_and_laid_against_a_plan(visit: Visit) -> None:
    page = visit.page
    bring(visit, "Marked by mouse", *SCENES)
    for n, scene in enumerate(SCENES):
        page.get_by_role("button", name=f"Picture {n + 1}", exact=True).click()
        for name in MAIN if n else (*MAIN, "scale_a", "scale_b", "level_a", "level_b"):
            page.locator(f'.mark-list [data-mark="{name}"]').click()
            press(page, n, scene.marks[name])
    second = page.locator('[data-reading="1"]')
    told = second.get_by_role("definition").first.inner_text()
    assert float(told.partition("°")[0]) == pytest.approx(80, abs=1.5)
    expect(page.locator('.photo[data-picture="1"] .mk-lever')).to_have_attribute("d", re.compile("^M"))
    page.get_by_label("Variant that was meant").select_option("standing-dumbbell-curl")
    page.get_by_role("button", name="Lay it against").click()
    expect(page.locator(".deviations")).to_contain_text(
        re.compile(r"Picture 2: the elbow is 2[345]° ± \d+° forward")
    )
    page.get_by_role("button", name="Make it").click()
    expect(page).to_have_url(re.compile("/bench/own-.*ghost=standing-dumbbell-curl"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("as measured")


def test_marks_are_placed_moved_and_taken_off_by_keys_alone(visit: Visit) -> None:
    page = visit.page
    bring(visit, "Marked by keys", SCENES[0])
    shoulder = page.locator('.mark-list [data-mark="shoulder"]')
    shoulder.focus()
    page.keyboard.press("Enter")  # into the middle of the picture
    dot = page.locator('.mk-dot[data-mark="shoulder"]')
    expect(dot).to_be_focused()
    x = float(dot.get_attribute("cx") or 0)
    with page.expect_response(re.compile("/marks$")):
        page.keyboard.press("ArrowLeft")
        page.keyboard.press("Shift+ArrowLeft")
    assert float(dot.get_attribute("cx") or 0) == pytest.approx(x - 11)
    loupe = page.locator(".loupe").get_attribute("viewBox")
    page.keyboard.press("2")
    expect(page.locator('.mark-list [data-mark="elbow"]')).to_have_attribute("aria-pressed", "true")
    assert page.locator(".loupe").get_attribute("viewBox") != loupe
    page.get_by_text("Places, typed").click()
    for name, at in SCENES[0].marks.items():
        for axis, value in zip("xy", at, strict=True):
            page.locator(f'[name="0-{name}-{axis}"]').fill(f"{value:.1f}")
    with page.expect_response(re.compile("/marks$")):
        page.keyboard.press("Tab")
    expect(page.locator(".readings")).to_contain_text("12.0°")
    held: list[Route] = []  # what is set last counts, however late an answer to what was set before
    page.route("**/marks", lambda route: route.continue_() if held else held.append(route))
    for way in ("right", "left"):
        page.get_by_label("The lifter faces").select_option(way)
    answered: list[str] = []
    page.on(
        "requestfinished", lambda sent: answered.append(sent.url) if sent.url.endswith("/marks") else None
    )
    held[0].continue_()
    while len(answered) < 2:
        page.wait_for_timeout(50)
    expect(page.locator(".readings")).to_contain_text("face the other way")
    page.unroute("**/marks")
    page.reload()  # as it was kept
    expect(page.locator(".readings")).to_contain_text("face the other way")
    page.locator('.mark-list [data-mark="grip"]').click()
    page.get_by_role("button", name="take this mark off").click()
    expect(page.locator(".readings")).to_contain_text("Mark shoulder, elbow and grip")
    page.get_by_role("button", name="delete these pictures").click()
    expect(page.get_by_role("status").first).to_contain_text("is deleted")


RECORD = """async () => {
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [320, 240];
  const pen = canvas.getContext("2d"), parts = [];
  const recorder = new MediaRecorder(canvas.captureStream(30), { mimeType: "video/webm" });
  recorder.ondataavailable = (event) => parts.push(event.data);
  const ended = new Promise((done) => { recorder.onstop = done; });
  recorder.start();
  for (let n = 0; n < 40; n += 1) {
    pen.fillStyle = `hsl(${n * 9} 60% 50%)`;
    pen.fillRect(0, 0, 320, 240);
    await new Promise((next) => setTimeout(next, 33));
  }
  recorder.stop();
  await ended;
  const bag = new DataTransfer();
  bag.items.add(new File([new Blob(parts)], "clip.webm", { type: "video/webm" }));
  const input = document.querySelector("#p-clip");
  input.files = bag.files;
  input.dispatchEvent(new Event("change"));
}"""


def test_single_frames_are_taken_out_of_a_clip_that_stays_here(visit: Visit) -> None:
    page = visit.page
    visit.go("/measure/pictures")
    page.evaluate(RECORD)
    expect(page.locator("video")).to_be_visible()
    page.get_by_role("button", name="Take this frame").click()
    expect(page.get_by_text("1 frame taken")).to_be_visible()
    for _ in range(6):
        page.get_by_role("button", name="one frame on").click()
    come_true(page, "Math.abs(document.querySelector('video').currentTime - 0.2) < 0.05")
    page.get_by_role("button", name="Take this frame").click()
    expect(page.get_by_text("2 frames taken")).to_be_visible()
    page.get_by_role("button", name="Bring them in").click()
    expect(page.locator(".photo")).to_have_count(2)


@pytest.fixture
def machine(tmp_path: Path, demo_folder: Path) -> Iterator[str]:
    """An application that knows a simulated machine."""
    folder = tmp_path / "data"
    shutil.copytree(demo_folder, folder)
    simulated = SimulatedDevice(built_in_profile(), noise=1, faults=("drop", "garble", "double"), hurry=4)
    with DeviceServer(0, simulated) as device:
        threading.Thread(target=device.serve_forever, args=(0.05,), daemon=True).start()
        draws = Draws(Resting, patience=1.5)
        settings = Settings(data=folder, devices=f"127.0.0.1:{device.port}")
        server = create_server(create_app(settings, modeller=KEPT, draws=draws), host="127.0.0.1", port=0)
        threading.Thread(target=server.run, daemon=True).start()
        yield f"http://127.0.0.1:{server.effective_port}"
        server.close()
        draws.close()
        device.shutdown()


def test_a_machine_is_captured_live_folded_and_put_into_a_variant(visit: Visit, machine: str) -> None:
    page, here = visit.page, Visit(visit.page, machine, visit.complaints)
    here.go("/measure/device")
    page.get_by_label("What is measured").fill("Barn machine")
    page.keyboard.press("Enter")
    steps = page.locator(".phase .done")
    for n, words in enumerate(("Read the zero", "Read the weight")):
        page.get_by_role("button", name=words).focus()
        page.keyboard.press("Enter")
        expect(steps.nth(n)).to_have_text("✓ read")
    page.get_by_role("button", name="Begin to sweep").click()
    looks: list[float] = []
    page.on("response", lambda answer: looks.append(0) if "live.json" in answer.url else None)
    while len(looks) < 30 or len(steps.nth(2).inner_text()) < len("1000 points"):
        page.wait_for_timeout(100)  # the plot is drawn anew again and again while samples come
    page.get_by_role("button", name="Stop, and fold it").click()
    expect(page.locator(".profile-figure")).to_contain_text("taken out")
    page.get_by_label("Stack it was swept with").fill("25")
    page.get_by_role("button", name="Keep the profile").click()
    expect(page.get_by_role("heading", name="Use it in a variant")).to_be_visible()
    page.get_by_role("button", name="Make it, and see before and after").click()
    expect(page).to_have_url(re.compile("ghost=machine-pad-curl"))
    expect(page.locator(".curve-ghost").first).to_be_attached()


def test_a_file_is_mended_in_place_by_keys_and_kept(visit: Visit) -> None:
    page = visit.page
    visit.go("/measure/file")
    rows = [f"{a:.1f};{20 + a / 10:.2f}" for a in np.linspace(5, 125, 40)]
    rows[6] = "oops;21.00"
    page.get_by_label("A table as text").set_input_files(
        {"name": "log.csv", "mimeType": "text/csv", "buffer": "\n".join(["winkel;kraft [N]", *rows]).encode()}
    )
    page.get_by_role("button", name="Look at it").focus()
    page.keyboard.press("Enter")
    page.get_by_label("Elbow angle", exact=True).select_option("winkel")
    page.get_by_role("radio", name="torque").check()
    page.get_by_label("Torque", exact=True).select_option("kraft [N]")
    page.get_by_role("button", name="Read it again").click()
    page.get_by_label("Row 8, winkel").fill("23.5")
    page.get_by_role("button", name="Read it again").click()
    expect(page.get_by_text("cannot be read")).to_have_count(0)
    page.get_by_label("Name").fill("From the logger")
    page.get_by_label("Stack it was measured with").fill("20")
    page.get_by_role("button", name="Keep the profile").click()
    expect(page.get_by_role("heading", name="From the logger")).to_be_visible()
    visit.go("/measure")
    page.get_by_role("button", name="Remove From the logger").click()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("link", name="From the logger")).to_be_visible()
