"""Publishing in Chromium: by mouse and by keys, read on a phone without sign-in, withdrawn."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import Visit


def test_a_comparison_is_published_read_on_a_phone_and_withdrawn(visit: Visit) -> None:
    page = visit.page
    visit.go("/compare?with=chin-up&with=pull-up-palms-away")
    page.get_by_text("Take with you").click()
    page.get_by_role("button", name="A page behind a link").click()
    expect(page.locator(".notice")).to_contain_text("Whoever has the link can read it")
    title = page.locator(".links li").first.get_by_label("Title")
    title.focus()
    page.keyboard.press("Control+A")
    page.keyboard.type("Pulling, two ways")
    page.keyboard.press("Enter")
    expect(page.locator(".links li").first.get_by_label("Title")).to_have_value("Pulling, two ways")
    link = page.locator(".links a[href^='/p/']").first.get_attribute("href")
    browser = page.context.browser
    assert browser
    assert link
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True)
    phone, complaints = context.new_page(), []
    phone.on("console", lambda message: complaints.append(message.text))
    phone.goto(visit.address + link)
    expect(phone.locator("h1")).to_contain_text("against")
    expect(phone).to_have_title("Pulling, two ways")
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
    expect(phone.locator("svg").first).to_be_visible()
    assert Visit(phone, visit.address).serious_faults({}) == []
    assert complaints == []
    page.get_by_role("button", name=re.compile("^Withdraw Pulling")).focus()
    page.keyboard.press("Enter")
    expect(page.locator(".notice")).to_contain_text("is withdrawn")
    phone.goto(visit.address + link)
    expect(phone.locator("h1")).to_have_text("Not found")
    context.close()


def test_a_bundle_goes_out_and_is_looked_at_before_it_comes_in(visit: Visit) -> None:
    page = visit.page
    visit.go("/published")
    with page.expect_download() as coming:
        page.get_by_role("link", name="Download the bundle").click()
    page.get_by_label(re.compile("Take a bundle in")).set_input_files(coming.value.path())
    page.get_by_role("button", name="Look at it", exact=True).click()
    expect(page.locator(".items li").first).to_contain_text("the same as here")
    page.get_by_role("button", name="Take in what is ticked").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("at least one item that is ticked")
    visit.complaints.clear()  # the refused form is logged by the browser itself


def test_a_booklet_is_ticked_drawn_and_downloaded(visit: Visit) -> None:
    page = visit.page
    visit.go("/variants/chin-up")
    page.get_by_text("Take with you").click()
    page.get_by_role("link", name="Into a booklet").click()
    expect(page.get_by_label("Chin-up, shoulder-width", exact=True)).to_be_checked()
    page.get_by_label("Rope press-down", exact=True).focus()
    page.keyboard.press("Space")
    page.get_by_label("Paper").select_option("letter")
    page.get_by_role("button", name="Draw the booklet").focus()
    page.keyboard.press("Enter")
    expect(page.locator("[data-booklet]")).to_contain_text("It is drawn")
    with page.expect_download() as coming:
        page.get_by_role("link", name="Download it").click()
    assert coming.value.suggested_filename == "curve-rank-booklet.pdf"
