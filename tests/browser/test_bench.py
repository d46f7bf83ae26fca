"""The bench in Chromium."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import Visit


def test_an_educator_asks_studies_changes_saves_and_finds_it_again(visit: Visit) -> None:
    page = visit.page
    visit.go("/board")
    page.select_option("#q-target", "biceps_long")
    page.get_by_text("anything", exact=True).click()
    page.get_by_label("dumbbells").check()
    page.get_by_label("cable", exact=True).check()
    expect(page).to_have_url(re.compile("with=dumbbell&with=cable"))
    page.keyboard.press("Escape")
    first = page.locator(".row-entry").first
    expect(first.locator(".why")).to_contain_text("Hardest at")
    first.locator("summary").click()
    first.get_by_role("link", name="Open on the bench").click()
    expect(page.locator("h1")).to_be_visible()

    visit.go("/bench/reclined-60-dumbbell-curl")
    why = page.locator(".bench .why").inner_text()
    bench = page.get_by_label("Bench from the floor", exact=True)
    box = bench.bounding_box()
    assert box
    page.mouse.move(box["x"] + 0.55 * box["width"], box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + 0.2 * box["width"], box["y"] + box["height"] / 2, steps=6)
    page.mouse.up()
    expect(page).to_have_url(re.compile(r"set=posture\.trunk_pitch"))
    expect(page.locator('[data-key="ghost"] path')).to_have_count(3)
    expect(page.locator(".bench .why")).not_to_have_text(why)

    scrub = page.get_by_label("Place in the rep")
    scrub.focus()
    elbow = page.locator(".readout td").first
    lever = page.locator('[data-key="lever-text"]')
    was, drawn = elbow.inner_text(), lever.text_content()
    forearm = page.locator('[data-key="fore"]').get_attribute("d")
    for _ in range(6):
        page.keyboard.press("ArrowLeft")
    expect(elbow).not_to_have_text(was)
    assert lever.text_content() != drawn
    assert page.locator('[data-key="fore"]').get_attribute("d") != forearm

    page.get_by_label("Save as a variant").fill("Drag test recline")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator(".notice")).to_contain_text("It stands on the board")
    visit.go("/board?target=biceps_long&lens=long_length&with=dumbbell")
    expect(page.locator(".name", has_text="Drag test recline")).to_be_visible()


def test_typing_a_value_resetting_and_a_setup_that_cannot_be(visit: Visit) -> None:
    page = visit.page
    visit.go("/bench/rope-press-down")
    typed = page.get_by_label("Upper arm from the trunk, typed")
    typed.fill("40")
    expect(page).to_have_url(re.compile("upper_arm%3D40"))
    why = page.locator(".bench .why").inner_text()
    page.get_by_label("Load [kg]").fill("390")
    expect(page.locator(".bench > .problem")).to_contain_text("no drive holds it")
    assert page.locator(".bench .why").inner_text() == why
    visit.complaints.clear()  # the refused request is logged by the browser itself
    page.get_by_role("link", name="Reset to saved").click()
    expect(page).not_to_have_url(re.compile("set="))
    expect(typed).to_have_value("10")


def test_reading_works_without_scripts(visit: Visit) -> None:
    context = visit.page.context.browser.new_context(java_script_enabled=False)  # type: ignore[union-attr]
    page = context.new_page()
    page.goto(visit.address + "/board?target=triceps_long&with=cable")
    page.locator(".row-entry summary").first.click()
    page.get_by_role("link", name="All about it").first.click()
    expect(page.get_by_role("heading", name="What faults cost")).to_be_visible()
    page.get_by_role("link", name="Open on the bench").first.click()
    expect(page.locator(".paper path").first).to_be_attached()
    expect(page.locator(".curves path.curve").first).to_be_attached()
    expect(page.get_by_role("button", name="Recalculate")).to_be_visible()
    context.close()
