"""Sketch in Chromium: drawn by pointer and by keys, answered by keys, hands counted in a room, on a phone."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import Visit


def test_a_curve_is_drawn_by_pointer_then_by_keys(visit: Visit) -> None:
    page = visit.page
    visit.go("/sketch?item=pad-45-dumbbell-curl")
    paper = page.locator(".sketch-paper")
    paper.scroll_into_view_if_needed()
    box = paper.bounding_box()
    assert box
    page.mouse.move(box["x"] + 20, box["y"] + 40)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] - 20, box["y"] + 0.85 * box["height"], steps=20)
    page.mouse.up()
    heights = [int(one.input_value()) for one in page.locator(".sketch-heights input").all()]
    assert heights == sorted(heights, reverse=True)
    assert heights[0] - heights[-1] > 60
    page.get_by_role("button", name="Show the truth").click()
    expect(page.locator(".sketch-paper.done")).to_be_visible()
    expect(page.get_by_role("status").first).to_contain_text("hard spot")
    page.get_by_role("link", name="Once more").focus()
    page.keyboard.press("Enter")
    first = page.get_by_label("Height at the stretched end")
    first.focus()
    line = page.locator('[data-key="sketch-line"]')
    was = line.get_attribute("d")
    for _ in range(5):
        page.keyboard.press("ArrowUp")
    assert line.get_attribute("d") != was
    page.keyboard.press("Enter")
    expect(page.locator(".sketch-paper.done")).to_be_visible()
    expect(page.get_by_role("heading", name="My points by family")).to_be_visible()


def test_questions_are_answered_by_keys_and_a_room_is_counted(visit: Visit) -> None:
    page = visit.page
    visit.go("/sketch/ask?deck=5&card=1")
    page.keyboard.press("1")
    expect(page.get_by_role("status").first).to_contain_text(re.compile("Right|No: "))
    page.wait_for_load_state()  # keys are heard from then on
    page.keyboard.press("Space")
    expect(page).to_have_url(re.compile("card=2"))
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.get_by_role("button", name=re.compile("^2")).click()
    expect(page.get_by_role("status").first).to_be_visible()
    page.set_viewport_size({"width": 1280, "height": 800})
    visit.go("/sketch/room?deck=5&card=1")
    for key in ("1", "1", "1", "2", "Shift+1"):
        page.keyboard.press(key)
    page.get_by_role("button", name=re.compile("One hand more")).nth(1).click()
    expect(page.locator("[data-hands='0']")).to_have_text("2")
    expect(page.locator("[data-hands='1']")).to_have_text("2")
    expect(page.locator(".revealed")).to_be_hidden()
    page.keyboard.press("r")
    expect(page.locator(".revealed")).to_contain_text("2 of 4 hands were right")
    page.keyboard.press("r")
    expect(page).to_have_url(re.compile("card=2"))
