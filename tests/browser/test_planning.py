"""Planning in a browser: a room in pounds, a hard joint, mends, a block for two, stretches by the timer."""

from __future__ import annotations

import re

from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import DESK, PHONE, House, come_in, settle

TOO_MANY = 12


def mend_all(page: Page) -> None:
    """Click every mend there is, the first each time; none may bring back what it mended."""
    seen: set[str] = set()
    for _ in range(TOO_MANY):
        mends = page.locator(".to-mend button")
        if not mends.count():
            return
        says = mends.first.get_attribute("aria-label") or ""
        assert says not in seen
        seen.add(says)
        state = page.locator("[data-edit] input[name=seen]").first.input_value()
        mends.first.click()
        expect(page.locator("[data-edit] input[name=seen]").first).not_to_have_value(state)
    raise AssertionError(f"not mended in {TOO_MANY} clicks")


def test_a_room_in_pounds_a_hard_joint_and_a_block_that_is_mended(browser: Browser, house: House) -> None:
    context, page, complaints = come_in(browser, house, "Tamsin", DESK)
    page.goto(f"{house.address}/rooms/new?unit=lb")
    page.get_by_label("Name").fill("Millrace shed")
    for kind in ("dumbbells", "incline bench", "cable"):
        page.get_by_label(kind, exact=True).check()
    page.get_by_role("button", name="Keep the room").click()
    page.goto(f"{house.address}/clients/4")
    page.get_by_label("Room").select_option(label="Millrace shed")
    page.get_by_label("Unit of loads").select_option("lb")
    page.locator("input[name=spare][value=elbow]").check()
    page.get_by_role("button", name="Keep the profile").click()
    page.goto(f"{house.address}/sets?for=4&profile=yes")
    settle(page)
    expect(page.locator(".question")).to_contain_text("dumbbells, cable, incline bench")
    assert page.locator(".picks > li").count() >= 2
    page.get_by_role("link", name="Plan a block of these").click()
    page.get_by_label("Name of the block").fill("Shed weeks")
    page.get_by_role("button", name="Make it").click()
    settle(page)
    lines = page.locator(".set-line").all_inner_texts()
    assert lines
    assert all(" lb × " in line for line in lines)
    assert page.locator("input[name=start]").input_value()  # next Monday, unless somebody says otherwise
    while page.locator(".exercises > li").count() > 3:  # spoil it: what is taken out is missed
        page.locator(".change summary").first.click()
        state = page.locator("[data-edit] input[name=seen]").first.input_value()
        page.locator(".change[open]").get_by_role("button", name="take out").click()
        expect(page.locator("[data-edit] input[name=seen]").first).not_to_have_value(state)
    expect(page.locator(".to-mend").first).to_be_visible()
    mend_all(page)
    expect(page.get_by_text("Nothing to be mended.")).to_be_visible()
    assert complaints == []
    context.close()


def test_a_block_for_two_rooms_bends_for_each_and_says_where_a_day_is_bad(
    browser: Browser, house: House
) -> None:
    context, page, complaints = come_in(browser, house, "Tamsin", DESK)
    page.goto(f"{house.address}/blocks/2")
    settle(page)
    expect(page.locator(".block-head")).to_contain_text("Ines Quarrie")
    others = page.locator(".set-line").all_inner_texts()
    change = page.locator(".exercise", has_text="Standing dumbbell curl").first.locator("details")
    change.locator("summary").click()
    change.get_by_label("For Ines alone").fill("Thumb-up dumbbell curl")
    change.get_by_role("button", name="put it in for Ines").click()
    expect(page.locator("#notices")).to_contain_text("For Ines Quarrie alone")
    expect(page.locator(".bent").first).to_contain_text("The others: standing dumbbell curl")
    page.get_by_role("link", name="Wren Achterberg", exact=True).click()
    settle(page)
    expect(page.locator(".bent")).to_have_count(0)
    expect(page.locator(".exercises").nth(1)).to_contain_text("Standing dumbbell curl")
    # a day on which Wren does not come
    page.locator("[data-session='1'] .session-day").drag_to(page.locator('[data-drop-day="2"]'))
    warning = page.locator(".to-mend li", has_text="Wednesday is no day on which they can come")
    expect(warning.first).to_be_visible()
    warning.first.get_by_role("button", name=re.compile("for Wren alone")).click()
    expect(page.locator("#notices")).to_contain_text("For Wren Achterberg alone")
    settle(page)
    expect(page.locator(".bent").first).to_contain_text("Wren comes on")
    expect(warning).to_have_count(0)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.locator(".bent")).to_have_count(0)
    page.goto(f"{house.address}/blocks/2")
    settle(page)
    assert page.locator(".set-line").all_inner_texts() != others  # Ines keeps her own
    assert complaints == []
    context.close()


def test_a_session_bends_to_what_is_sore_and_ends_in_stretches_by_the_timer(
    browser: Browser, house: House
) -> None:
    context, page, complaints = come_in(browser, house, "Wren", PHONE)
    page.goto(f"{house.address}/today")
    settle(page)
    page.get_by_text("Anything sore today?").click()
    page.get_by_label("elbow flexors").check()
    page.get_by_role("radio", name="left").check()
    page.get_by_role("button", name="Bend the session to it").click()
    page.wait_for_url(re.compile("sore=flexors"))
    settle(page)
    expect(page.locator(".before-said")).to_contain_text("left elbow flexors")
    expect(page.locator(".do", has_text="Light today").first).to_be_attached()
    expect(page.get_by_role("button", name=re.compile("Rather on"))).to_be_visible()
    page.clock.install()
    page.goto(f"{house.address}/stretches?head=biceps_long&head=triceps_long")
    clock = page.get_by_label("Timer")
    clock.get_by_role("button", name="Begin").click()
    expect(clock).to_contain_text("Next: ")
    holds = page.locator(".stretch[data-hold]").count()
    first = page.locator(".stretch[data-hold] h2").first.inner_text()
    page.clock.run_for(9_000)
    expect(clock).to_contain_text(f"{first}, round 1 of 3, left side")
    page.clock.run_for(31_000)
    expect(clock).to_contain_text("round 1 of 3, right side")
    for _ in range(holds * 3 * 2):
        page.clock.run_for(40_000)
    expect(clock).to_contain_text("All held.")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    assert complaints == []
    context.close()
