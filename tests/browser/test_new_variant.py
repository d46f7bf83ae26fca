"""A variant from scratch in Chromium: from the list to the bench, and on the board."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.conftest import Visit


def test_a_seated_cable_curl_from_scratch_stands_on_the_bench_and_the_board(visit: Visit) -> None:
    page = visit.page
    visit.go("/variants")
    page.get_by_role("link", name="New", exact=True).click()
    expect(page.get_by_label("where the body is")).to_have_value("seated")
    page.get_by_label("name", exact=True).fill("Seated cable curl of mine")
    page.get_by_role("button", name="Make it").click()
    expect(page.get_by_role("heading", name="Seated cable curl of mine")).to_be_visible()
    expect(page.locator('[data-field="lines.0.up"]')).to_be_visible()
