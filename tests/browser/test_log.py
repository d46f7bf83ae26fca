"""A log says what was tapped: over a day's end, without a connection, on two phones, behind a slow server."""

from __future__ import annotations

import json
import os
import re
import shutil
import signal
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from types import SimpleNamespace

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from curve_rank.web.pages.today import sending
from tests.browser.conftest import DESK, PHONE, House, Visit, come_in, come_true, rows_since, sign_in, today
from tests.browser.hands import Keys
from tests.helpers import LIMIT

EXPECTED = re.compile("ERR_INTERNET_DISCONNECTED|ERR_FAILED|Failed to fetch")
PAGES = """async () => (await (await caches.open("curve-rank-today")).keys())
  .map((one) => new URL(one.url).search).filter(Boolean)"""


def keep_all(phone: Page) -> int:
    """Keep every set of a session; how many they were."""
    lines = phone.locator(".set-lines li")
    expect(lines.first).to_be_visible()
    while phone.locator(".set-lines li:not(.kept, .waits)").count():
        done = phone.locator(".set-lines .kept, .set-lines .waits").count()
        phone.get_by_role("button", name="Keep it").click()
        expect(phone.locator(".set-lines .kept, .set-lines .waits")).to_have_count(done + 1)
        phone.clock.run_for(500)
    return lines.count()


def test_a_whole_session_by_keys_alone(browser: Browser, house: House) -> None:
    context, page, complaints = come_in(browser, house, "Wren", DESK)
    keys = Keys(Visit(page, house.address))
    page.goto(f"{house.address}/today")
    lines, kept = page.locator(".set-lines li"), page.locator(".set-lines .kept, .set-lines .waits")
    expect(lines.first).to_be_visible()
    keys.click('[data-word="reps"]')
    for _ in range(2):
        keys.click(page.get_by_role("button", name="one less", exact=True))
    reps = int(re.findall(r"\d+", page.locator('[data-word="reps"]').inner_text())[0])
    while kept.count() < lines.count():
        done = kept.count()
        keys.click(page.get_by_role("button", name="Keep it"))
        expect(kept).to_have_count(done + 1)
    expect(page.locator(".queue-line")).to_contain_text("Everything is sent")
    rows = rows_since(house, today())
    assert len(rows) == lines.count()
    assert rows[0].reps == reps
    assert complaints == []
    context.close()


def at_noon(day: date) -> datetime:
    return datetime(day.year, day.month, day.day, 12, tzinfo=UTC)


def test_three_sessions_in_airplane_mode_are_each_written_to_their_own_day(
    browser: Browser, house: House
) -> None:
    context, phone, complaints = come_in(browser, house, "Wren", PHONE)
    phone.clock.install(time=at_noon(today()))
    phone.goto(f"{house.address}/today")
    phone.locator("[data-stands-alone]").wait_for()
    come_true(phone, f"async () => (await ({PAGES})()).length >= 4")
    context.set_offline(True)
    day, tapped = today(), []
    for gap in (0, 3, 4):
        day += timedelta(days=gap)
        phone.clock.set_system_time(at_noon(day))
        phone.goto(f"{house.address}/today")
        kept = phone.get_by_text("what you do now is written to")
        if gap:
            expect(phone).to_have_url(re.compile("session="))
            expect(kept).to_contain_text(f"{day:%A} {day.day} {day:%B}")
        else:
            expect(kept).to_be_hidden()
        tapped += [(day, keep_all(phone))]
    context.set_offline(False)
    phone.clock.run_for(15_000)
    expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
    rows = rows_since(house, today())
    found = {one: [row for row in rows if row.day == one] for one, _ in tapped}
    assert {one: len(of) for one, of in found.items()} == dict(tapped)
    sessions = [{(row.week, row.session) for row in of} for of in found.values()]
    assert all(len(of) == 1 for of in sessions)
    assert len(set.union(*sessions)) == 3
    assert len(rows) == sum(count for _, count in tapped)
    assert [text for text in complaints if not EXPECTED.search(text)] == []
    context.close()


def test_a_session_past_midnight_stays_on_its_day_wherever_the_phone_is(
    browser: Browser, house: House, monkeypatch: pytest.MonkeyPatch
) -> None:
    """At half past midnight in London it is the evening before, also on a phone that is set to Auckland."""
    day = today()
    late = at_noon(day) + timedelta(hours=11.5)
    server = SimpleNamespace(time=late.timestamp)
    monkeypatch.setattr(sending, "time", server)  # it would set a phone right that is hours off the real one
    context = browser.new_context(viewport=PHONE, timezone_id="Pacific/Auckland")
    context.set_default_timeout(1000 * LIMIT)
    phone = context.new_page()
    sign_in(phone, house, "Wren")
    phone.clock.install(time=late)
    phone.goto(f"{house.address}/today")
    phone.get_by_role("button", name="Keep it").click()
    phone.clock.run_for(3_600_000)
    server.time = (late + timedelta(hours=1)).timestamp
    phone.get_by_role("button", name="Keep it").click()
    expect(phone.locator(".set-lines .kept, .set-lines .waits")).to_have_count(2)
    phone.clock.run_for(5_000)
    expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
    assert {row.day for row in rows_since(house, day)} == {day}
    context.close()


def test_a_clock_that_is_a_day_wrong_is_set_right_by_the_server(browser: Browser, house: House) -> None:
    context, phone, _ = come_in(browser, house, "Wren", PHONE)
    phone.clock.install(time=datetime.now(UTC) - timedelta(days=1))
    phone.goto(f"{house.address}/today")
    phone.wait_for_function("() => localStorage.getItem('curve-rank-clock-off') !== null")
    phone.get_by_role("button", name="Keep it").click()
    expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
    assert [row.day for row in rows_since(house, today() - timedelta(days=3))] == [today()]
    context.close()


def test_two_phones_and_two_tabs_that_do_one_set_are_asked_once_which_stands(
    browser: Browser, house: House
) -> None:
    context, phone, _ = come_in(browser, house, "Wren", PHONE)
    other_context, other, _ = come_in(browser, house, "Wren", PHONE)
    tab = context.new_page()
    for page in (phone, other, tab):
        page.goto(f"{house.address}/today")
        expect(page.locator(".set-sentence")).to_be_visible()
    for page, times in ((phone, 0), (other, 1), (tab, 0)):
        page.locator('[data-word="reps"]').click()
        for _ in range(times):
            page.get_by_role("button", name="one more", exact=True).click()
        page.get_by_role("button", name="Keep it").click()
        expect(page.locator(".queue-line")).to_contain_text("Everything is sent")
    assert len(rows_since(house, today())) == 1
    expect(other.get_by_text("Another device has changed a set too")).to_be_visible()
    expect(tab.get_by_text("Another device has changed a set too")).to_be_hidden()  # it said the same
    other.get_by_role("link", name="Choose which one stands").click()
    before = rows_since(house, today())[0].reps
    choose = other.get_by_role("button", name=re.compile(f"Keep .*{before + 1}"))
    expect(choose).to_have_count(1)
    choose.click()
    expect(other.get_by_text("Two devices wrote this set differently")).to_be_hidden()
    assert [row.reps for row in rows_since(house, today())] == [before + 1]
    context.close()
    other_context.close()


def test_sharp_pain_takes_off_at_once_whatever_strains_the_joint_and_the_coach_sees_it_first(
    browser: Browser, house: House
) -> None:
    context, phone, _ = come_in(browser, house, "Wren", PHONE)
    phone.goto(f"{house.address}/today")
    data = json.loads(phone.locator("#today-data").text_content() or "")
    first = data["exercises"][data["order"][0][0]]
    joint = first["strains"][0] if first["strains"] else "elbow"
    spared = {one["name"] for one in data["exercises"] if joint not in one["strains"]} - {first["name"]}
    phone.locator('[data-word="hurts"]').click()
    phone.locator(f'[data-field="pain_joint"][data-value="{joint}"]').click()
    phone.get_by_role("button", name="Sharp or sudden: no").click()
    phone.get_by_role("button", name="Keep it").click()
    expect(phone.get_by_text(re.compile(f"1 of 10, sharp. Off today: .*{first['name']}"))).to_be_visible()
    left = phone.locator(".set-lines li:not(.kept, .waits) small")
    assert set(left.all_inner_texts()) == spared
    if spared:
        expect(phone.locator(".who-line")).not_to_have_text(first["name"])
        assert phone.locator(".who-line").inner_text() in spared
    else:
        expect(phone.locator(".over")).to_be_visible()
    expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
    phone.reload()
    expect(phone.get_by_text(re.compile("Sharp or strong pain")).first).to_be_visible()
    desk_context, desk, _ = come_in(browser, house, "Tamsin", DESK)
    desk.goto(f"{house.address}/clients")
    expect(desk.locator("main").get_by_text("Sharp or strong pain").first).to_be_visible()
    context.close()
    desk_context.close()


def test_a_session_bends_by_the_thumb_and_progress_reads_it_rightly(browser: Browser, house: House) -> None:
    context, phone, complaints = come_in(browser, house, "Wren", PHONE)
    phone.goto(f"{house.address}/today")
    first = phone.locator(".who-line").inner_text()
    later = phone.locator(".set-lines li").last.locator("small").inner_text()
    keep, bend = phone.get_by_role("button", name="Keep it"), phone.locator('.acts [data-word="bend"]')

    def kept(count: int) -> None:
        expect(phone.locator(".set-lines .kept, .set-lines .waits")).to_have_count(count)
        phone.wait_for_timeout(500)

    phone.get_by_role("button", name=f"{later} now").first.click()  # the machine is taken: another one first
    expect(phone.locator(".who-line")).to_have_text(later)
    keep.click()
    kept(1)
    bend.click()
    phone.get_by_role("button", name="a drop set").first.click()
    expect(phone.locator('[data-word="how"]')).to_contain_text("a drop set")
    keep.click()
    kept(2)
    phone.locator('[data-word="left"]').click()
    phone.get_by_role("button", name="it failed").click()
    expect(phone.locator('[data-word="left"]')).to_have_text("0 left in me")
    keep.click()
    kept(3)
    lines = phone.locator(".set-lines li").count()
    bend.click()
    phone.get_by_role("button", name="leave this set out").click()
    expect(phone.locator(".set-lines li")).to_have_count(lines - 1)
    phone.reload()
    expect(phone.locator(".set-lines li")).to_have_count(lines - 1)
    assert phone.locator(".set-lines li.kept").count() == 3
    while phone.locator(".who-line").inner_text() != first:
        bend.click()
        phone.get_by_role("button", name="leave the exercise out").click()
    bend.click()
    phone.get_by_role("button", name="leave the exercise out").click()
    while phone.locator(".over").is_hidden():
        bend.click()
        phone.get_by_role("button", name="leave the exercise out").click()
    expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
    rows = sorted(rows_since(house, today()), key=lambda row: row.written)
    assert [row.kind for row in rows] == ["working", "drop", "working"]
    assert rows[1].load_kg <= rows[0].load_kg
    assert (rows[2].reserve, rows[2].as_planned) == (0, False)
    assert len({row.place for row in rows}) == 1
    assert complaints == []
    context.close()


def test_pounds_in_a_room_of_kilograms_are_its_own_steps(browser: Browser, house: House) -> None:
    context, phone, complaints = come_in(browser, house, "Wren", PHONE)
    phone.goto(f"{house.address}/account")
    phone.get_by_label("Loads in").select_option("lb")
    phone.get_by_role("button", name="Use it", exact=True).click()
    phone.goto(f"{house.address}/today")
    load = phone.locator('[data-word="load"]')
    expect(load).to_contain_text(" lb")
    data = json.loads(phone.locator("#today-data").text_content() or "")
    steps = [kg for kg, _ in data["exercises"][data["order"][0][0]]["steps"]]
    before = load.inner_text()
    load.click()
    phone.get_by_role("button", name="heavier").click()
    expect(load).not_to_have_text(before)
    phone.get_by_role("button", name="Keep it").click()
    expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
    (row,) = rows_since(house, today())
    assert row.load_kg in steps
    shown = round(2 * row.load_kg / 0.45359237) / 2
    expect(phone.locator(".set-lines .kept")).to_contain_text(f"{shown:g} lb × ")
    assert complaints == []
    context.close()


def test_behind_a_slow_server_the_kept_page_opens_and_gives_way_to_the_fresh_one(
    browser: Browser, house: House
) -> None:
    context, phone, _ = come_in(browser, house, "Wren", PHONE)
    phone.goto(f"{house.address}/today")
    phone.locator("[data-stands-alone]").wait_for()
    other_context, other, _ = come_in(browser, house, "Wren", PHONE)
    other.goto(f"{house.address}/today")
    other.get_by_role("button", name="Keep it").click()
    expect(other.locator(".queue-line")).to_contain_text("Everything is sent")
    house.gate.clear()
    phone.goto(f"{house.address}/today", wait_until="commit")
    expect(phone.locator(".set-sentence")).to_be_visible()
    expect(phone.locator(".set-lines .kept")).to_have_count(0)
    house.gate.set()
    expect(phone.locator(".set-lines .kept")).to_have_count(1)
    context.close()
    other_context.close()


def test_a_browser_that_is_killed_has_lost_nothing(browser: Browser, house: House, tmp_path: Path) -> None:
    path, folder = shutil.which("chromium") or shutil.which("chromium-browser"), tmp_path / "browser"

    def launched() -> BrowserContext:
        context = browser.browser_type.launch_persistent_context(
            folder, executable_path=path, viewport=PHONE, args=["--no-sandbox", "--disable-gpu"]
        )
        context.set_default_timeout(1000 * LIMIT)
        return context

    context = launched()
    phone = context.pages[0]
    sign_in(phone, house, "Wren")
    phone.goto(f"{house.address}/today")
    phone.locator("[data-stands-alone]").wait_for()
    context.set_offline(True)
    for count in (1, 2):
        phone.wait_for_timeout(500)
        phone.get_by_role("button", name="Keep it").click()
        expect(phone.locator(".set-lines .waits")).to_have_count(count)
    expect(phone.locator(".queue-line")).to_contain_text("2 entries wait here")
    for process in Path("/proc").glob("[0-9]*"):
        command = (process / "cmdline").read_bytes() if (process / "cmdline").exists() else b""
        if f"--user-data-dir={folder}".encode() in command:
            os.kill(int(process.name), signal.SIGKILL)
    phone.wait_for_event("close")
    for name in ("SingletonLock", "SingletonSocket", "SingletonCookie"):
        (folder / name).unlink(missing_ok=True)
    context = launched()
    phone = context.pages[0]
    # A browser writes a sign-in down half a minute late: whoever has just come has to come again.
    sign_in(phone, house, "Wren")
    phone.goto(f"{house.address}/today")
    expect(phone.locator(".set-lines .kept")).to_have_count(2)
    expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
    assert len(rows_since(house, today())) == 2
    context.close()
