"""The bench in Chromium."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Visit


def test_typing_a_value_resetting_and_a_setup_that_cannot_be(visit: Visit) -> None:
    page = visit.page
    visit.go("/bench/rope-press-down")
    typed = page.get_by_label("Upper arm from the trunk, typed")
    saved = page.get_by_label("Load [kg]").get_attribute("placeholder")
    typed.fill("40")
    expect(page).to_have_url(re.compile("upper_arm%3D40"))
    rest(page)
    working = page.get_by_label("Load [kg]").get_attribute("placeholder")
    assert working != saved
    expect(page.locator(".loadline b").first).to_contain_text(f"{working} kg")
    why = page.locator(".bench .why").inner_text()
    page.get_by_label("Load [kg]").fill("390")
    expect(page.locator(".bench > .problem")).to_contain_text("no drive holds it")
    assert page.locator(".bench .why").inner_text() == why
    page.get_by_role("link", name="Reset to saved").click()
    expect(page).not_to_have_url(re.compile("set="))
    expect(typed).to_have_value("10")
    # Refused requests are logged by the browser itself.
    visit.complaints[:] = [one for one in visit.complaints if "422" not in one]


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
    expect(wrist).to_have_value("-10")
    page.go_back()
    expect(page).to_have_url(re.compile(r"/bench/standing-dumbbell-curl(\?view=side)?$"))
    expect(wrist).to_have_value("-5")
    page.go_back()
    expect(page).to_have_url(re.compile("/variants/standing-dumbbell-curl"))
    page.go_forward()
    page.go_forward()
    page.go_forward()
    expect(wrist).to_have_value("-20")


def handle(page: Page, key: str) -> Locator:
    return page.locator(f'.handle[data-key="{key}"]')


def rest(page: Page) -> None:
    """Wait until what was asked is shown."""
    expect(page.locator('.bench[aria-busy="true"]')).to_have_count(0)


def drag(page: Page, key: str, across: float, down: float) -> None:
    box = handle(page, key).bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + across, y + down, steps=6)
    page.mouse.up()


@pytest.mark.parametrize(
    ("variant", "view", "key", "way", "field"),
    [
        ("reclined-60-dumbbell-curl", "side", "shoulder", (-60, 30), "posture.trunk_pitch"),
        ("cable-curl-arm-behind", "top", "pulley-0", (30, 20), "lines.0.right"),
        ("bench-press-narrow", "side", "key-2", (20, -20), "hand_path.keys.2.forward"),
        ("machine-pad-curl", "side", "end", (40, 60), "path.-1.elbow"),
        ("chin-up", "front", "hand", (-40, 0), "hand_path.wider"),
    ],
)
def test_a_drag_is_what_typing_and_arrow_keys_are(
    visit: Visit, variant: str, view: str, key: str, way: tuple[int, int], field: str
) -> None:
    """By mouse, then the same by typing: one address, one figure, one set of curves."""
    page = visit.page
    visit.go(f"/bench/{variant}?view={view}&frame=whole")
    drag(page, key, *way)
    expect(page).to_have_url(re.compile(re.escape(field)))
    rest(page)
    dragged, curves = page.url, page.locator(".curves svg").inner_html()
    moved = dict(re.findall(r"set=([^=&]+)%3D([^&]+)", dragged))
    assert field in moved
    visit.go(f"/bench/{variant}?view={view}&frame=whole")
    for name in moved:
        shown = page.evaluate(SHOWN, [name, moved[name]])
        typed = page.locator(f'.control:has([data-field="{name}"]) .typed')
        page.evaluate("for (const fold of document.querySelectorAll('.points')) fold.open = true")
        typed.fill(f"{shown:g}")
        typed.press("Tab")
        rest(page)
    expect(page).to_have_url(dragged)
    expect(page.locator(".curves svg")).to_be_visible()
    assert page.locator(".curves svg").inner_html() == curves


SHOWN = """([field, value]) => {
  const box = document.querySelector(`[data-field="${field}"]`).closest(".control");
  const { offset, sign, scale } = box.dataset;
  return Number(offset) + Number(sign) * Number(scale) * Number(value);
}"""


def test_ten_steps_by_arrow_keys_are_undone_redone_reloaded_and_shared(visit: Visit) -> None:
    page = visit.page
    visit.go("/bench/reclined-60-dumbbell-curl")
    bench, figure = handle(page, "bench"), page.locator('path[data-key="trunk"]').first
    seen = [(page.url, figure.get_attribute("d"))]
    for n in range(10):
        bench.focus()
        down = "Shift+ArrowDown" if n % 2 else "ArrowDown"
        page.keyboard.press(down if n < 5 else "Shift+ArrowUp")
        expect(page).not_to_have_url(seen[-1][0])
        rest(page)
        seen.append((page.url, figure.get_attribute("d")))
    for url, drawn in reversed(seen[:-1]):
        page.get_by_role("button", name="undo").click()
        expect(page).to_have_url(url)
        expect(figure).to_have_attribute("d", drawn or "")
    expect(page.get_by_role("button", name="undo")).to_be_disabled()
    for url, drawn in seen[1:]:
        page.keyboard.press("Control+Shift+Z")
        expect(page).to_have_url(url)
        expect(figure).to_have_attribute("d", drawn or "")
    expect(page.get_by_role("button", name="redo")).to_be_disabled()
    page.reload()
    expect(figure).to_have_attribute("d", seen[-1][1] or "")
    page.keyboard.press("Control+Z")
    expect(page).to_have_url(seen[-2][0])
    visit.go(seen[4][0].removeprefix(visit.address))
    expect(figure).to_have_attribute("d", seen[4][1] or "")


def test_ghosts_faults_tempo_and_what_cannot_be(visit: Visit) -> None:
    page = visit.page
    visit.go("/bench/reclined-60-dumbbell-curl")
    for name in ("Deep", "Deeper"):
        handle(page, "bench").focus()
        page.keyboard.press("ArrowDown")
        expect(page.locator('[data-key="ghost"] path').first).to_be_attached()
        page.get_by_label("Keep this set-up as a ghost").fill(name)
        page.get_by_role("button", name="Keep as ghost").click()
        expect(page.locator(".ghosts li", has_text=name).first).to_be_visible()
    expect(page.locator(".curve-ghost-name").first).to_have_text("P")
    page.get_by_label("Sits up 20°").check()
    expect(page.locator(".price")).to_contain_text("Done wrong (sits up 20°)")
    page.get_by_label("Stops 30° short").check()
    expect(page.locator(".price")).to_contain_text("and stops 30° short")
    page.get_by_label("Tempo").fill("4-0-2-1")
    expect(page.locator(".in-time")).to_contain_text("of 7 s over a fifth")
    page.get_by_label("Sits up 20°").uncheck()
    page.get_by_label("Upper arm from hanging, typed").fill("-60")
    expect(page.locator(".bench > .problem[x-show]")).to_contain_text("As far as it goes")
    page.get_by_role("link", name="Compare side by side").click()
    expect(page.locator(".column")).to_have_count(3)
    expect(page.locator(".column h2").nth(1)).to_contain_text("Deep")


def test_ghosts_faults_tempo_load_and_a_fault_of_ones_own_by_keys_alone(visit: Visit) -> None:
    page = visit.page
    visit.go("/bench/reclined-60-dumbbell-curl")

    def on(control: Locator, *keys: str) -> None:
        control.focus()
        for key in keys:
            page.keyboard.press(key)
        rest(page)

    on(handle(page, "bench"), "ArrowDown")
    expect(page).to_have_url(re.compile("trunk_pitch"))
    page.get_by_label("Keep this set-up as a ghost").focus()
    page.keyboard.type("One hole down")
    on(page.get_by_role("button", name="Keep as ghost"), "Enter")
    expect(page.locator(".ghosts li")).to_have_text(re.compile("One hole down"))
    on(page.get_by_label("Sits up 20°"), "Space")
    expect(page.locator(".price")).to_contain_text("Done wrong")
    page.get_by_label("Tempo").focus()
    page.keyboard.type("3-1-1-0")
    expect(page.locator(".in-time")).to_contain_text("of 5 s over a fifth")
    was = page.locator(".loadline b").first.inner_text()
    page.get_by_label("what can be done").focus()
    page.keyboard.type("5")
    expect(page.locator(".loadline b").first).not_to_have_text(was)
    on(page.get_by_role("button", name="drop"), "Enter")
    expect(page.locator(".ghosts li")).to_have_count(0)
    on(page.get_by_label("Sits up 20°"), "Space")
    on(page.get_by_role("link", name="top", exact=True), "Enter")
    expect(page).to_have_url(re.compile("view=top"))
    on(page.get_by_text("Keep what is changed as a fault"), "Enter")
    page.get_by_label("The fault in a few words").focus()
    page.keyboard.type("A hole too low")
    page.keyboard.press("Tab")
    page.keyboard.type("Count the holes before you lie down.")
    page.keyboard.press("Enter")
    expect(page.get_by_label("A hole too low")).not_to_be_checked()  # the mode is left when it is kept
    on(page.get_by_label("A hole too low"), "Space")
    expect(page.locator(".price")).to_contain_text("a hole too low")
    visit.go("/faults?family=reclined")
    expect(page.get_by_role("heading", name="A hole too low")).to_be_visible()


def test_a_search_is_stopped(visit: Visit) -> None:
    page = visit.page
    visit.go("/bench/bench-press-narrow")
    page.get_by_role("button", name="Search", exact=True).click()
    page.get_by_role("button", name="Stop", exact=True).click()
    expect(page.get_by_role("button", name="Stop", exact=True)).to_be_hidden()
    expect(page.locator(".found a")).to_have_count(0)


def test_a_search_is_begun_watched_and_shown(visit: Visit) -> None:
    page = visit.page
    visit.go("/bench/standing-dumbbell-curl")
    page.locator("#i-aim").select_option("slack_share")
    page.locator("#i-way").select_option("down")
    page.get_by_role("button", name="Search", exact=True).focus()
    page.keyboard.press("Enter")
    shown = page.locator(".found a").first
    shown.wait_for()
    expect(page.locator(".found")).to_contain_text("set-ups tried")
    shown.click()
    expect(page).to_have_url(re.compile("set="))
    expect(page.locator(".control.moved").first).to_be_visible()


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
