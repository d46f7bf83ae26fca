"""The board in Chromium."""

from __future__ import annotations

import re

from playwright.sync_api import Route, expect

from tests.browser.conftest import Visit


def test_whiskers_come_to_the_board_and_a_second_question_stays_quick(visit: Visit) -> None:
    page = visit.page
    visit.go("/board?target=biceps_short&lens=even_tension&reps=12&with=cable")
    page.get_by_role("button", name="Draw 500 arms").click()
    expect(page.locator("[data-whisker] svg").first).to_be_visible()
    expect(page.locator(".sure-words")).to_have_text(re.compile(r"\d+ of 500 draws"))
    page.select_option("#q-lens", "short_length")
    expect(page.locator(".explain")).to_contain_text("Squeeze")
    page.locator(".sure > summary").click()
    page.get_by_role("button", name="Stop", exact=True).click()
    expect(page.locator(".sure-words")).to_have_text(re.compile("Stopped after"))
    page.select_option("#v-second", index=5)
    expect(page.locator("[data-chance]")).to_have_text(re.compile(r"\d+ % so far"))
    visit.go("/board?target=brachialis&reps=12&with=cable")
    expect(page.locator(".row-entry").first).to_be_visible()


def test_who_stops_draws_before_they_have_a_name_stops_them(visit: Visit) -> None:
    page = visit.page
    held: list[Route] = []
    page.route("**/certainty/start*", lambda route: held.append(route))
    visit.go("/board?target=biceps_short&lens=even_tension&reps=11&with=cable")
    page.get_by_role("button", name="Draw 500 arms").click()
    page.locator(".sure > summary").click()
    page.get_by_role("button", name="Stop", exact=True).click()
    held[0].continue_()
    page.unroute("**/certainty/start*")
    expect(page.locator(".sure-words")).to_have_text(re.compile("Stopped after"))


def test_the_first_row_is_where_the_work_begins(visit: Visit) -> None:
    for (width, height), least in (((1280, 800), 300), ((390, 844), 420)):
        visit.page.set_viewport_size({"width": width, "height": height})
        visit.go("/board?target=biceps_long&lens=long_length&with=dumbbell&with=cable")
        box = visit.page.locator(".rows > li").first.bounding_box()
        assert box
        assert box["y"] < least
        masthead = visit.page.locator(".masthead").bounding_box()
        assert masthead
        assert masthead["height"] <= 52


def test_a_phones_menu_leads_to_every_room(visit: Visit) -> None:
    page = visit.page
    page.set_viewport_size({"width": 390, "height": 844})
    visit.go("/evidence")
    page.locator(".menu > summary").click()
    page.get_by_role("navigation", name="Pages, as a menu").get_by_role("link", name="Loads").click()
    expect(page.locator(".menu .here")).to_have_text("Loads")


def test_a_rows_inside_comes_when_it_is_opened_and_undo_brings_a_question_back(visit: Visit) -> None:
    page = visit.page
    visit.go("/board?target=triceps_long&with=cable")
    row = page.locator(".row-entry").nth(1)
    expect(row.get_by_text("What makes the score")).to_have_count(0)
    row.locator("summary").click()
    expect(row.get_by_text("What makes the score")).to_be_visible()
    page.get_by_role("button", name="Stop keeping Triceps for sore elbows").click()
    expect(page.locator(".notice")).to_contain_text("no longer kept")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".kept").get_by_text("Triceps for sore elbows")).to_be_visible()


def test_the_later_half_of_a_long_list_is_made_when_somebody_comes_near(visit: Visit) -> None:
    page, whole = visit.page, "/board?target=biceps_long"
    rows, more = page.locator(".rows > li"), page.locator(".later-rows")
    page.set_viewport_size({"width": 1280, "height": 800})
    visit.go(whole)
    expect(more).to_have_text(re.compile(r"Show the other \d+"))
    assert page.evaluate("document.querySelectorAll('*').length") < 2000
    every = rows.count() + int(re.findall(r"\d+", more.inner_text())[0])
    assert every > rows.count() > 10
    page.mouse.wheel(0, 2500)
    expect(rows).to_have_count(every)
    ids = rows.evaluate_all("(all) => all.map((row) => row.id)")
    assert len(set(ids)) == every
    expect(more).to_have_count(0)
    for comes in ("page.pdf", "Control+f"):
        visit.go(whole)
        expect(more).to_be_attached()
        page.pdf() if comes == "page.pdf" else page.keyboard.press(comes)
        expect(rows).to_have_count(every)
    visit.go(f"{whole}#{ids[-1]}")
    expect(rows).to_have_count(every)
    assert page.context.browser
    plain = page.context.browser.new_context(
        java_script_enabled=False, storage_state=page.context.storage_state()
    )
    quiet = plain.new_page()
    quiet.goto(f"{visit.address}{whole}")
    expect(quiet.locator(".rows > li")).to_have_count(every)
    plain.close()
