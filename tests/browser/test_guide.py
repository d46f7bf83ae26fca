"""The guide's journeys of educator and client, step by step; the coach's is in `test_coaching`."""

from __future__ import annotations

import re

from playwright.sync_api import Browser, expect

from tests.browser.conftest import PHONE, House, Journey, Visit, come_in


def study(visit: Visit) -> None:
    """The bench moved by its slider, the rep gone through by keys: figure, lever and curves move together."""
    page = visit.page
    visit.go("/bench/reclined-60-dumbbell-curl")
    why = page.locator(".bench .why").inner_text()
    box = page.get_by_label("Bench from the floor", exact=True).bounding_box()
    assert box
    page.mouse.move(box["x"] + 0.55 * box["width"], box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + 0.2 * box["width"], box["y"] + box["height"] / 2, steps=6)
    page.mouse.up()
    expect(page).to_have_url(re.compile(r"set=posture\.trunk_pitch"))
    expect(page.locator('[data-key="ghost"] path')).to_have_count(3)
    expect(page.locator(".bench .why")).not_to_have_text(why)
    page.get_by_label("Place in the rep").focus()
    elbow, lever = page.locator(".readout td").first, page.locator('[data-key="lever-text"]')
    was, drawn = elbow.inner_text(), lever.text_content()
    forearm = page.locator('[data-key="fore"]').first.get_attribute("d")
    for _ in range(6):
        page.keyboard.press("ArrowLeft")
    expect(elbow).not_to_have_text(was)
    assert lever.text_content() != drawn
    assert page.locator('[data-key="fore"]').first.get_attribute("d") != forearm


def test_ten_minutes_for_an_educator(visit: Visit) -> None:
    page, guide = visit.page, Journey("educator")
    with guide.step("Ask the board"):
        visit.go("/board")
        page.select_option("#q-target", "biceps_long")
        page.get_by_text("anything", exact=True).click()
        page.get_by_label("dumbbells").check()
        page.get_by_label("cable", exact=True).check()
        expect(page).to_have_url(re.compile("with=dumbbell&with=cable"))
        page.keyboard.press("Escape")
    with guide.step("Open a row"):
        first = page.locator(".row-entry").first
        expect(first.locator(".why")).to_contain_text("Hardest at")
        first.locator("summary").click()
    with guide.step("Study it on the bench"):
        first.get_by_role("link", name="Open on the bench").click()
        expect(page.locator("h1")).to_be_visible()
        study(visit)
    with guide.step("Keep it as your own"):
        page.get_by_label("Save as a variant").fill("Recline by the guide")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.locator(".notice")).to_contain_text("It stands on the board")
    with guide.step("Set it beside others"):
        visit.go("/compare?with=own-recline-by-the-guide&with=reclined-60-dumbbell-curl")
        expect(page.locator(".readings th", has_text="Recline by the guide")).to_be_visible()
        page.get_by_role("button", name="eight arms in ten").click()  # a word opens its line
        expect(page.locator(".term-slip:popover-open")).to_contain_text("eight draws in ten")
        page.keyboard.press("Escape")
    with guide.step("Tell what it costs to do it wrong"):
        visit.go("/faults")
        expect(page.locator(".prices li").first).to_be_visible()
    with guide.step("Settle an argument"):
        visit.go("/claims")
        page.locator("main a[href*='lower_bench_longer']").first.click()
        expect(page.get_by_role("heading", name="What would turn it")).to_be_visible()
    with guide.step("Hand it out"):
        visit.go("/variants/rope-press-down")
        page.get_by_text("Take with you").click()
        sheet = page.get_by_role("link", name="One page as PDF").get_attribute("href")
        assert page.request.get(f"{visit.address}{sheet}").headers["content-type"] == "application/pdf"
        page.get_by_role("button", name="A page behind a link").click()
        expect(page.locator(".notice")).to_contain_text("Whoever has the link can read it")
    assert guide.left == []


def test_ten_minutes_for_a_client(browser: Browser, house: House) -> None:
    context, phone, complaints = come_in(browser, house, "Wren", PHONE)
    guide = Journey("client")
    with guide.step("Read what you agree to"):
        phone.goto(f"{house.address}/consent")
        expect(phone.get_by_text("licensed clinician").first).to_be_visible()
    with guide.step("Open today's session"):
        phone.goto(f"{house.address}/today")
        phone.locator("[data-stands-alone]").wait_for()
        expect(phone.locator(".set-sentence")).to_contain_text("Set 1 of")
    keep, kept = phone.get_by_role("button", name="Keep it"), phone.locator(".set-lines .kept")
    with guide.step("Keep a set"):
        keep.click()
        expect(kept).to_have_count(1)
    with guide.step("Change a word"):
        phone.locator('[data-word="reps"]').click()
        phone.get_by_role("button", name="one less", exact=True).click()
    with guide.step("Say what hurts"):
        phone.locator('[data-word="hurts"]').click()
        phone.get_by_role("button", name="elbows", exact=True).click()
        keep.click()
        expect(kept).to_have_count(2)
    with guide.step("Take something else"):
        before = phone.locator(".who-line").inner_text()
        phone.locator('[data-word="swap"]').click()
        phone.locator(".swap button").first.click()
        expect(phone.locator(".who-line")).not_to_have_text(before)
    with guide.step("See your record"):
        expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
        phone.goto(f"{house.address}/my-record")
        expect(phone.get_by_role("heading", level=1)).to_be_visible()
    with guide.step("Measure your arm"):
        phone.goto(f"{house.address}/tape")
        expect(phone.get_by_role("heading", name="Own photographs")).to_be_visible()
    with guide.step("See who has seen your data"):
        phone.goto(f"{house.address}/account")
        expect(phone.get_by_role("heading", name="Who has seen your data")).to_be_visible()
        packed = phone.request.get(f"{house.address}/account/data.zip")
        assert packed.headers["content-type"] == "application/zip"
    assert (guide.left, complaints) == ([], [])
    context.close()
