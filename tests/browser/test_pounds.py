"""What scripts redraw is read in pounds by whoever chose them: bench, doubt, compare, today."""

from __future__ import annotations

import re
import shutil
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from playwright.sync_api import Browser

from curve_rank.background.draws import Draws
from tests.browser.conftest import Visit, served, settle, sign_in
from tests.browser.test_every_page import PAGES
from tests.helpers import LIMIT
from tests.pounds import ALONE, KILOGRAMS, said_of

MODELS_OWN = ("/sources", "/guide", "/guide/validation")
"""They say both."""


@pytest.fixture(scope="module")
def gym(demo_folder: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """An installation in pounds, where one click signs in as anybody."""
    folder = tmp_path_factory.mktemp("pounds") / "data"
    shutil.copytree(demo_folder, folder)
    draws = Draws(lambda: ThreadPoolExecutor(2))
    with served(folder, draws, unit="lb", demo=True) as address:
        yield address


@pytest.mark.parametrize("name", ["Maude Ellerby", "Tamsin Brackwater", "Wren Achterberg"])
def test_every_page_is_in_pounds_for_everybody(browser: Browser, gym: str, name: str) -> None:
    """In a browser context of its own: a sign-in at one port of an address is sent to every other."""
    context = browser.new_context(color_scheme="light", reduced_motion="reduce")
    context.set_default_timeout(1000 * LIMIT)
    page = context.new_page()
    visit, found = Visit(page, gym), {}
    sign_in(page, visit, name)
    settle(page)
    for path in PAGES:
        visit.go(path)
        said = said_of(ALONE if path in MODELS_OWN else KILOGRAMS, page.content())
        if said:
            found[path] = said
    context.close()  # and with it what Today's worker still fetches for days without a connection
    assert not found, "\n".join(f"{path}: {said}" for path, said in found.items())


def choose(visit: Visit, unit: str) -> None:
    visit.go("/account")
    visit.page.get_by_label("Loads in", exact=True).select_option(unit)
    visit.page.get_by_role("button", name="Use it").click()
    visit.page.get_by_text("from now on").wait_for()


@pytest.fixture
def pounds(visit: Visit) -> Iterator[Visit]:
    choose(visit, "lb")
    yield visit
    choose(visit, "kg")


def test_what_moves_on_the_bench_stays_in_pounds(pounds: Visit) -> None:
    page = pounds.page
    pounds.go("/bench/standing-dumbbell-curl")
    line = page.locator(".loadline b").first
    assert re.fullmatch(r"[\d.]+ lb in each hand", line.inner_text().strip())
    before = line.inner_text()
    page.get_by_label("Load [lb]", exact=False).fill("25")
    page.wait_for_function("(was) => document.querySelector('.loadline b').innerText !== was", arg=before)
    assert line.inner_text().strip() == "25 lb in each hand", "as it was typed"
    slider = page.locator("input[type=range][data-field]").nth(1)
    slider.focus()
    page.keyboard.press("ArrowRight")
    page.wait_for_function("() => location.search.includes('set=')")
    assert line.inner_text().strip() == "25 lb in each hand", "and stays while something else moves"
    assert not KILOGRAMS.search(page.locator("main").inner_text())
    page.reload()
    assert line.inner_text().strip() == "25 lb in each hand", "and in the address"
    assert page.get_by_label("Load [lb]", exact=False).input_value() in ("25", "25.00")


def test_rows_that_open_and_numbers_that_move_are_in_pounds(pounds: Visit) -> None:
    page = pounds.page
    pounds.go("/board")
    page.locator(".row-entry summary").first.click()
    page.get_by_text("What makes the score").wait_for()
    assert "lb" in page.get_by_label("Load and joints").first.inner_text()
    assert not KILOGRAMS.search(page.locator("main").inner_text())
    pounds.go("/doubt?number=heads.brachialis.elbow_arm&target=brachialis&with=dumbbell")
    page.locator("#d-spreads").fill("-2")
    page.get_by_text("2 spreads lower").wait_for()
    assert "Load now [lb]" in page.locator("main").inner_text()
    assert not KILOGRAMS.search(page.locator("main").inner_text())
