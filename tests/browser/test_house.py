"""The house in Chromium: read, told, put into an edition that speaks and is left; a trial and its coin."""

from __future__ import annotations

import re
import shutil
import threading
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from playwright.sync_api import expect
from waitress.server import create_server

from curve_rank.background.draws import Draws
from curve_rank.settings import Settings
from curve_rank.store.database import open_store
from curve_rank.store.demo_house import SECOND_EDUCATOR, fill_demo_house
from curve_rank.web import create_app
from tests.browser.conftest import Visit
from tests.browser.test_every_page import CONTRAST, CUT_SHORT, TARGETS, TOO_SMALL, TWICE
from tests.conftest import KEPT


@pytest.fixture
def mill(tmp_path: Path, demo_folder: Path, threads: ThreadPoolExecutor) -> Iterator[str]:
    """The demo with its house of forty."""
    folder = tmp_path / "data"
    shutil.copytree(demo_folder, folder)
    store = open_store(folder)
    fill_demo_house(store)
    store.engine.dispose()
    draws = Draws(lambda: threads)
    app = create_app(Settings(data=folder), modeller=KEPT, draws=draws, demo=True)
    server = create_server(app, host="127.0.0.1", port=0)
    threading.Thread(target=server.run, daemon=True).start()
    yield f"http://127.0.0.1:{server.effective_port}"
    server.close()
    draws.close()


def looked_at(here: Visit) -> None:
    """As every page is: by axe, on a phone, and in the dark."""
    page = here.page
    for found in (TWICE, CUT_SHORT, TOO_SMALL):
        assert page.evaluate(found) == []
    page.set_viewport_size({"width": 320, "height": 640})
    assert page.evaluate("document.documentElement.scrollWidth") <= 320
    page.set_viewport_size({"width": 1280, "height": 800})
    assert here.serious_faults(TARGETS) == []
    page.emulate_media(color_scheme="dark")
    assert here.serious_faults({"runOnly": [CONTRAST]}) == [], "dark"
    page.emulate_media(color_scheme="light")


def test_a_house_is_read_and_an_edition_speaks_and_is_left_again(visit: Visit, mill: str) -> None:
    page, here = visit.page, Visit(visit.page, mill, visit.complaints)
    here.go("/sign-in")
    page.get_by_role("button", name=SECOND_EDUCATOR).click()
    here.go("/house")
    page.get_by_role("button", name="Read this month’s logs").click()
    expect(page.locator(".house-finding")).to_contain_text("Wrist extensors: −")
    expect(page.locator(".surprises svg").first).to_be_visible()
    page.get_by_text("Pairs by the same people").click()
    page.get_by_text("Every number:").click()
    expect(page.get_by_role("row", name=re.compile("cannot be seen from loads")).first).to_be_visible()
    looked_at(here)
    page.get_by_label("A new edition called").fill("Mill, December")
    page.get_by_label("because").fill("palms down lift less than the model says")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Nothing has moved")).to_be_visible()
    expect(page.locator("footer")).not_to_contain_text("Mill, December")
    page.get_by_role("button", name="Let Mill, December speak").click()
    expect(page.locator("footer")).to_contain_text("Mill, December")
    page.get_by_role("button", name="Let the published model speak").click()
    expect(page.locator("footer")).not_to_contain_text("Mill, December")
    page.get_by_text("What has spoken").click()
    expect(page.get_by_text(re.compile("by Ottoline Marsh: as published"))).to_be_visible()

    page.get_by_role("link", name="Trials over people").click()
    page.get_by_label("The question").fill("Recline or pad first?")
    page.get_by_label("One way").fill("Reclined curls first")
    page.get_by_label("The other").fill("Pad curls first")
    looked_at(here)
    page.get_by_role("button", name="Ask it").click()
    expect(page.get_by_text("Nothing of the outcome is shown before")).to_be_visible()
    for _ in range(2):
        page.get_by_role("button", name="Toss it").click()
        expect(page.get_by_text("The coin says")).to_be_visible()
    expect(page.get_by_text("2 of 34 people")).to_be_visible()
    expect(page.get_by_text("nobody yet")).to_have_count(0)  # of two, one each
    looked_at(here)
