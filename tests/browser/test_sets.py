"""Sets in Chromium: asked by mouse, changed by keys, read on a phone."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import Visit, settle


def test_a_set_is_asked_for_and_a_pick_is_changed_by_keys(visit: Visit) -> None:
    page = visit.page
    visit.go("/sets?target=biceps_long&target=triceps_long")
    page.locator("details.choice summary").nth(1).click()
    page.get_by_label("dumbbells", exact=False).first.check()
    page.get_by_label("cable", exact=True).check()
    page.keyboard.press("Escape")
    page.get_by_label("At most so many exercises").fill("4")
    page.get_by_role("button", name="Choose").click()
    settle(page)
    picks = page.locator(".picks > li")
    expect(picks.first).to_be_visible()
    assert picks.count() <= 4
    before = page.locator(".picks h2").all_inner_texts()
    expect(page.locator(".coverage-box")).to_contain_text("A")
    change = picks.first.locator("summary")
    change.focus()
    page.keyboard.press("Enter")
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.locator(".by-hand")).to_contain_text("must be in it")
    after = page.locator(".picks h2").all_inner_texts()
    assert len(set(before) ^ set(after)) == 2
    page.get_by_role("link", name="Choose afresh").click()
    expect(page).not_to_have_url(re.compile("pin="))
    assert page.locator(".picks h2").all_inner_texts() == before
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
