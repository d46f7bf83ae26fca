"""Claims in Chromium: from a comparison to the ledger by mouse, and the ledger by keys alone."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import Visit


def test_a_difference_becomes_a_claim_that_is_weighed_changed_and_taken_out(visit: Visit) -> None:
    page = visit.page
    visit.go("/compare?with=chin-up&with=pull-up-palms-away&target=biceps_long")
    page.locator("tr", has_text="Share of the work").get_by_role("link", name="claim it").click()
    expect(page.get_by_label("The claim, as one would say it")).to_have_value(re.compile("share of the work"))
    page.get_by_label("Its name in my ledger").fill("Palms towards me")
    page.get_by_label("Notes").fill("Ask Osric.")
    page.get_by_role("button", name="Keep and weigh it").click()
    expect(page.locator(".verdict-line.large b")).to_have_text("Holds")
    expect(page.locator(".pair-columns .strip")).to_have_count(2)
    expect(page.get_by_text("Ask Osric.")).to_be_visible()
    page.get_by_role("link", name="Side by side").click()
    expect(page.locator(".column")).to_have_count(2)
    page.go_back()
    page.get_by_role("button", name="Take out of the ledger").click()
    expect(page.locator(".notice")).to_contain_text("is out of the ledger")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".verdict-line.large b")).to_have_text("Holds")


def test_the_ledger_by_keys_alone(visit: Visit) -> None:
    page = visit.page
    visit.go("/claims")
    page.get_by_role("link", name=re.compile("^fails")).focus()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("verdict=fails"))
    expect(page.locator(".weighed.fails")).to_have_count(page.locator(".weighed").count())
    page.get_by_role("link", name=re.compile("^Why: ")).first.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="What it hangs on")).to_be_visible()
    page.get_by_role("link", name="Make it my own").focus()
    page.keyboard.press("Enter")
    page.get_by_label("Its name in my ledger").focus()
    page.keyboard.type("A claim of mine")
    page.get_by_label("How much").focus()
    page.keyboard.press("Control+A")
    page.keyboard.type("much")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("by")
    visit.complaints.clear()  # the refused form is logged by the browser itself
    expect(page.get_by_label("Its name in my ledger")).to_have_value("A claim of mine")
    page.get_by_label("How much").focus()
    page.keyboard.press("Control+A")
    page.keyboard.type("0")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("own-a-claim-of-mine"))
    expect(page.locator(".verdict-line.large b")).to_be_visible()
