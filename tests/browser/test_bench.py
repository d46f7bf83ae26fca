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


def test_dragging_on_the_figure_scrubs_and_going_back_and_forth_keeps_the_set_up(visit: Visit) -> None:
    page = visit.page
    visit.go("/variants/standing-dumbbell-curl")
    visit.go("/bench/standing-dumbbell-curl")
    figure, elbow = page.locator(".paper"), page.locator(".readout td").first
    box, was = figure.bounding_box(), elbow.inner_text()
    assert box
    middle = box["y"] + box["height"] / 2
    page.mouse.move(box["x"] + box["width"] / 2, middle)
    page.mouse.down()
    page.mouse.move(box["x"] + 0.9 * box["width"], middle, steps=5)
    page.mouse.up()
    expect(elbow).not_to_have_text(was)
    wrist = page.get_by_label("Wrist: back (−), forward (+), typed")
    for value in ("-10", "-20"):
        wrist.fill(value)
        expect(page).to_have_url(re.compile(rf"posture\.wrist%3D{value}|posture\.wrist={value}"))
    page.go_back()
    expect(page).to_have_url(re.compile("/variants/standing-dumbbell-curl"))
    page.go_forward()
    expect(wrist).to_have_value("-20")


def test_an_own_variant_taken_off_the_board_comes_back_by_undo(visit: Visit) -> None:
    page = visit.page
    visit.go("/bench/own-steep-pad-palms-in")
    page.get_by_role("button", name="Take off the board").click()
    expect(page.locator(".notice")).to_contain_text("is off the board")
    expect(page.locator(".name", has_text="Steep pad, palms in")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("h1")).to_contain_text("Steep pad, palms in")
    visit.go("/board?target=flexors")
    expect(page.locator(".name", has_text="Steep pad, palms in")).to_be_visible()


def test_the_chosen_theme_stays_from_page_to_page(visit: Visit) -> None:
    page = visit.page
    visit.go("/board")
    page.get_by_role("button", name="Dark", exact=True).click()
    expect(page.locator("html")).to_have_attribute("data-theme", "dark")
    visit.go("/guide")
    expect(page.locator("html")).to_have_attribute("data-theme", "dark")
    page.get_by_role("button", name="Light", exact=True).click()
    visit.go("/board")
    expect(page.locator("html")).to_have_attribute("data-theme", "light")
    page.context.clear_cookies(name="theme")
