"""A lens made in Chromium."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.conftest import Visit


def test_a_lens_is_made_in_the_browser(visit: Visit) -> None:
    page = visit.page
    visit.go("/schools")
    page.get_by_role("link", name="Make a lens of your own").click()
    page.get_by_label("Name").fill("Browser made")
    first = page.locator("#l-trial [data-row]").first
    was = first.get_attribute("data-row")
    page.get_by_label("Evenness: weight", exact=True).fill("90")
    expect(first).not_to_have_attribute("data-row", was or "")
    expect(page.get_by_label("Evenness: weight, by a slider")).to_have_value("90")
    page.get_by_role("button", name="Keep").click()
    expect(page.locator("#q-lens")).to_have_value("own-browser-made")
    expect(page.locator(".row-entry").first).to_be_visible()


def test_a_removed_lens_comes_back_by_undo_and_going_back_returns_to_the_last_question(visit: Visit) -> None:
    page = visit.page
    visit.go("/schools")
    removed = page.get_by_role("button", name="take off")
    removed.first.click()
    expect(page.locator(".notice")).to_contain_text("is off the lists")
    expect(page.get_by_role("link", name="Lanternfield house blend")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(removed.first).to_be_visible()
    visit.go("/board?target=brachialis")
    page.select_option("#q-lens", "even_tension")
    page.wait_for_url("**/board?*even_tension*")
    page.select_option("#q-target", "biceps_short")
    page.wait_for_url("**/board?*biceps_short*")
    page.go_back()
    expect(page.locator("#q-target")).to_have_value("brachialis")
    expect(page.locator("#q-lens")).to_have_value("even_tension")
