"""Lectures in Chromium: put together by keys alone, and followed by a phone."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, expect

from tests.browser.conftest import PHONE, Visit, settle

DEMO = "/lectures/own-thursday-at-the-barn-long-or-short"


def test_from_the_board_over_the_bench_and_a_comparison_into_a_lecture_by_keys_alone(visit: Visit) -> None:
    page = visit.page

    def by_key(where: Locator, key: str = "Enter") -> None:
        where.focus()
        page.keyboard.press(key)
        page.wait_for_load_state()
        settle(page)

    visit.go("/board?target=biceps_long&lens=long_length&with=dumbbell")
    by_key(page.locator(".row-entry > summary").first)
    by_key(page.get_by_role("link", name="Open on the bench").first)
    expect(page).to_have_url(re.compile("/bench/"))
    typed = page.get_by_label(re.compile("^Elbow, short end, typed"))
    typed.focus()
    page.keyboard.press("Control+A")
    page.keyboard.type("120")
    page.keyboard.press("Tab")
    expect(page).to_have_url(re.compile(r"path\.-1\.elbow"))
    page.get_by_label("Save as a variant of one’s own, named").focus()
    page.keyboard.type("By keys alone")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/bench/own-by-keys-alone"))
    visit.go("/board?target=biceps_long&lens=long_length&with=dumbbell")
    for n in (0, 1):
        by_key(page.locator(".tick").nth(n), "Space")
    by_key(page.get_by_role("button", name="Compare the ticked"))
    expect(page.locator(".column")).to_have_count(2)
    by_key(page.locator(".take > summary").first)
    by_key(page.get_by_role("link", name="Into a lecture"))
    page.get_by_label("Begin a lecture called").focus()
    page.keyboard.type("Made by keys")
    page.keyboard.press("Enter")
    expect(page.locator(".slides > li")).to_have_count(1)
    by_key(page.get_by_role("link", name="Present"))
    expect(page.locator("[data-place]")).to_have_text("1 of 1")
    expect(page.locator(".slide-pictures svg").first).to_be_visible()


def test_a_phone_follows_raises_a_hand_and_is_forgotten(visit: Visit) -> None:
    page = visit.page
    visit.go(f"{DEMO}/show")
    place = page.locator("[data-place]")
    while not page.locator("[data-hands]").count():
        was = place.inner_text()
        page.keyboard.press("ArrowRight")
        expect(place).not_to_have_text(was)
        expect(page.locator("[data-stage] h1")).to_be_visible()
        page.wait_for_load_state("networkidle")
    page.keyboard.press("p")
    code = page.locator("[data-code]")
    expect(code).to_contain_text("here")
    room = re.search(r"/r/[A-Za-z0-9]+", code.inner_text())
    assert room
    assert page.context.browser
    with page.context.browser.new_context(viewport=PHONE, reduced_motion="reduce") as context:
        phone = context.new_page()
        phone.goto(visit.address + room.group())
        phone.locator("[data-answers] button").nth(1).click()
        expect(page.locator('[data-hands="1"]')).to_have_text("1")
        expect(page.locator('[data-hands="0"]')).to_have_text("0")
        page.keyboard.press("r")
        expect(phone.locator("[data-answers] .right")).to_have_count(1)
        expect(page.locator("[data-truth]")).to_be_visible()
        page.keyboard.press("p")  # the room is closed
        expect(phone.locator("[data-says]")).to_have_text("The room is closed.")
    visit.complaints[:] = [one for one in visit.complaints if "404" not in one]
