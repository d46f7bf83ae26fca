"""Compare, one thing changed, and faults, in Chromium: by mouse, by keys, and on a phone by touch."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import Visit


def test_ticked_rows_stand_side_by_side_and_are_scrubbed_together(visit: Visit) -> None:
    page = visit.page
    visit.go("/board?target=biceps_long")
    for row in (0, 3, 5):
        page.locator(".tick:visible").nth(row).check()
    page.get_by_role("button", name="Compare the ticked").click()
    expect(page.locator(".column")).to_have_count(3)
    words = page.locator(".column-read").nth(2)
    was, dot = words.inner_text(), page.locator('[data-key="dot-0-c"]')
    at = dot.get_attribute("cx")
    page.get_by_role("slider", name="Place in the rep").fill("4")
    expect(words).not_to_have_text(was)
    assert dot.get_attribute("cx") != at
    page.get_by_role("link", name="elbow angle").click()
    expect(page).to_have_url(re.compile("axis=angle"))
    page.get_by_role("link", name="Take out").first.click()
    expect(page.locator(".column")).to_have_count(2)
    page.get_by_role("link", name="Count from here").click()
    expect(page.locator(".column")).to_have_count(2)


def test_by_keys_alone(visit: Visit) -> None:
    page = visit.page
    visit.go("/board?target=biceps_long")
    for row in (1, 2):
        page.locator(".tick:visible").nth(row).focus()
        page.keyboard.press("Space")
    page.get_by_role("button", name="Compare the ticked").focus()
    page.keyboard.press("Enter")
    expect(page.locator(".column")).to_have_count(2)
    page.locator("#c-more").focus()
    page.keyboard.type("Chin-up")
    page.keyboard.press("Enter")
    expect(page.locator(".column")).to_have_count(3)
    page.get_by_role("slider", name="Place in the rep").focus()
    was = page.locator(".column-read").first.inner_text()
    page.keyboard.press("ArrowLeft")
    expect(page.locator(".column-read").first).not_to_have_text(was)
    page.get_by_role("link", name="Change one thing").first.focus()
    page.keyboard.press("Enter")
    expect(page.locator(".series-strips li")).not_to_have_count(0)
    page.locator("#s-field").focus()
    page.keyboard.type("Elbow, stretched")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile(r"field=path\.0\.elbow"))
    expect(page.locator(".thread-best")).to_have_count(1)


def test_one_thing_is_changed_by_mouse(visit: Visit) -> None:
    page = visit.page
    visit.go("/compare/one-thing/cable-curl-arm-behind")
    page.locator("#s-field").select_option(label="pulley height")
    expect(page).to_have_url(re.compile(r"field=lines\.0\.up"))
    page.locator("#s-reading").select_option(label="slack")
    expect(page).to_have_url(re.compile("reading=slack_share"))
    expect(page.locator(".thread-best")).to_have_count(1)
    was = page.locator(".series-strips li").count()
    page.locator("#s-step").fill("0.2")
    page.get_by_role("button", name="Step through").click()
    expect(page).to_have_url(re.compile("step=0.2"))
    assert page.locator(".series-strips li").count() != was


def test_faults_lead_to_the_bench_and_beside_doing_it_right(visit: Visit) -> None:
    page = visit.page
    visit.go("/faults?family=arm_behind")
    page.locator("#f-family").select_option("reclined")
    expect(page).to_have_url(re.compile("family=reclined"))
    page.locator(".price-beside").first.click()
    expect(page.locator(".column")).to_have_count(2)
    page.go_back()
    page.get_by_role("link", name="on the bench").first.click()
    expect(page.locator(".price")).to_contain_text("Done wrong")
    expect(page.locator(".fault-switches input:checked")).to_have_count(1)


def test_heads_by_mouse_by_keys_and_what_is_kept(visit: Visit) -> None:
    page = visit.page
    visit.go("/heads")
    page.locator('[data-view="front"] a[aria-label="Biceps short head"] .fig-muscle').click(force=True)
    expect(page.locator("h1")).to_have_text("Biceps short head")
    page.locator(".head-list").get_by_role("link", name="Triceps long head").click()
    expect(page.locator("h1")).to_have_text("Triceps long head")
    read = page.locator(".map-read")
    was = read.inner_text()
    page.locator(".map-paper svg").hover(position={"x": 300, "y": 120})
    expect(read).not_to_have_text(was)
    was, cut = read.inner_text(), page.locator('[data-key="cut-other"]').get_attribute("d")
    page.get_by_label("Elbow", exact=True).focus()
    for _ in range(30):
        page.keyboard.press("ArrowRight")
    expect(read).not_to_have_text(was)
    assert page.locator('[data-key="cut-other"]').get_attribute("d") != cut
    expect(page).to_have_url(re.compile("elbow="))
    page.get_by_role("link", name="moment arm at the elbow").focus()
    page.keyboard.press("Enter")
    expect(read).to_contain_text("mm")
    page.locator("#w-more").select_option(label="Cable pull-back without a handle")
    expect(page.locator(".walk")).to_have_count(3)


def test_compare_and_heads_by_touch_on_a_phone(visit: Visit) -> None:
    browser = visit.page.context.browser
    assert browser
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True)
    page = context.new_page()
    complaints: list[str] = []
    page.on("console", lambda message: complaints.append(message.text))
    page.goto(f"{visit.address}/compare")
    was = page.locator(".column-read").first.inner_text()
    page.get_by_role("slider", name="Place in the rep").tap(position={"x": 30, "y": 9})
    expect(page.locator(".column-read").first).not_to_have_text(was)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.goto(f"{visit.address}/heads/biceps_long")
    page.locator('[data-view="front"] a[aria-label="Brachioradialis"] .fig-muscle').tap(force=True)
    expect(page.locator("h1")).to_have_text("Brachioradialis")
    was = page.locator(".map-read").inner_text()
    page.locator(".map-paper svg").tap(position={"x": 80, "y": 60})
    expect(page.locator(".map-read")).not_to_have_text(was)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    assert complaints == []
    context.close()
