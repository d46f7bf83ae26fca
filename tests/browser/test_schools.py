"""A lens made in Chromium."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.conftest import Visit


def test_a_lens_is_made_in_the_browser(visit: Visit) -> None:
    page = visit.page
    visit.go("/schools")
    page.get_by_role("link", name="Make a lens of your own").click()
    page.get_by_label("Name").fill("Browser made")
    page.get_by_label("Evenness: weight").fill("90")
    page.get_by_role("button", name="Keep").click()
    expect(page.locator("#q-lens")).to_have_value("own-browser-made")
    expect(page.locator(".row-entry").first).to_be_visible()
