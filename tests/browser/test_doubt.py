"""A number doubted in Chromium: chosen, the dial moved, claims gone through."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import Visit


def test_a_number_is_chosen_and_the_dial_moved(visit: Visit) -> None:
    page = visit.page
    visit.go("/doubt?number=heads.brachialis.elbow_arm&target=brachialis&lens=even_tension&with=dumbbell")
    says = page.locator(".doubt-says")
    expect(says).to_contain_text("1 spread higher (+12 %)")
    expect(page.locator("[data-claims]")).to_contain_text(re.compile(r"of \d+"))
    first = page.locator(".doubt-rows tbody tr").first.inner_text()
    dial = page.get_by_role("slider", name="How far off, in spreads")
    dial.focus()
    for _ in range(8):
        page.keyboard.press("ArrowLeft")
    expect(says).to_contain_text("3 spreads lower")
    expect(page).to_have_url(re.compile("spreads=-3"))
    expect(page.locator(".doubt-rows tbody tr").first).not_to_have_text(first)
    page.get_by_label("number", exact=True).select_option("setup.trunk")
    expect(says).to_contain_text("How the trunk is set")
    page.get_by_role("link", name="The board").click()
    expect(page.locator(".row-entry").first).to_be_visible()
