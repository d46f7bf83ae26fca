"""From an invitation to a block on a phone: educator, coach and client, each in a browser of their own."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, Page, ViewportSize, expect

from curve_rank.store.database import open_store
from curve_rank.store.tables import CoachClient, CommentRow, Person, PersonRole
from tests.browser.conftest import DESK, PHONE, House, Journey, come_in, settle
from tests.helpers import LIMIT

WORDS = "seven quiet owls"
Open = Callable[..., Page]


@pytest.fixture
def opened(browser: Browser) -> Iterator[Open]:
    """Opens browsers of their own; what their consoles complain about fails the test."""
    contexts, complaints = [], []

    def make(size: ViewportSize = DESK) -> Page:
        context = browser.new_context(viewport=size, reduced_motion="reduce", color_scheme="light")
        context.set_default_timeout(1000 * LIMIT)
        contexts.append(context)
        page = context.new_page()
        page.on("console", lambda m: complaints.append(m.text) if m.type in ("error", "warning") else None)
        page.on("pageerror", lambda error: complaints.append(str(error)))
        return page

    yield make
    for context in contexts:
        context.close()
    assert complaints == []


def given_link(page: Page) -> str:
    return page.locator(".given-link").inner_text()


def join(page: Page, link: str, name: str) -> None:
    page.goto(link)
    page.get_by_label("Your name").fill(name)
    page.get_by_label(re.compile("Password, at least")).fill(WORDS)
    page.get_by_role("button", name="Come in").click()


def a_step(page: Page) -> tuple[int, str]:
    """Which session can be moved by a day, and by which key, so that a rest day is left around it."""
    days = [int(d.get_attribute("data-day") or 0) for d in page.locator(".session-day").all()]
    for place, day in enumerate(days):
        others = set(days) - {day}
        for key, to in (("ArrowLeft", day - 1), ("ArrowRight", day + 1)):
            if 0 <= to <= 6 and not {to, (to - 1) % 7, (to + 1) % 7} & others:
                return place, key
    raise AssertionError(f"no session of {days} can be moved")


def test_from_an_invitation_to_a_block_on_a_phone(opened: Open, address: str) -> None:
    educator, coach, client = opened(), opened(), opened(PHONE)
    educator.goto(f"{address}/people")
    educator.get_by_label("Name").fill("Corin Dale")
    educator.get_by_label("E-mail address").fill("corin@lanternfield.example")
    educator.get_by_label("coach", exact=True).check()
    educator.get_by_role("button", name="Invite").click()
    join(coach, given_link(educator), "Corin Dale")

    guide = Journey("coach")
    with guide.step("See who needs you"):
        coach.goto(f"{address}/clients")
        expect(coach.get_by_label("A new client's name")).to_be_visible()
    with guide.step("Write a client down"):
        coach.get_by_label("A new client's name").fill("Bryn Tolley")
        coach.get_by_role("button", name="Write down", exact=True).click()
        record = coach.url
        coach.get_by_label("Height [cm]").fill("178")
        coach.get_by_label("Body mass [kg]").fill("80")
        coach.get_by_role("button", name="Keep the size").click()
        coach.get_by_label("E-mail address").fill("bryn@lanternfield.example")
        coach.get_by_role("button", name="Invite Bryn Tolley").click()
        link = given_link(coach)
    with guide.step("Go through the check"):
        # the guided check, by keys: two right of the fullest range
        coach.goto(record)
        coach.get_by_role("link", name="Go through the check").click()
        coach.get_by_role("radio", name="60°, all the way").focus()
        coach.keyboard.press("ArrowRight")
        expect(coach.get_by_role("radio", name="45°").first).to_be_checked()
        coach.get_by_role("button", name="Take it down").click()
        expect(coach.locator(".limits")).to_contain_text("Shoulder back: 45°")
    with guide.step("Choose a set"):
        # a set, one pick of it changed
        coach.get_by_role("link", name="Choose a set").click()
        settle(coach)
        before = coach.locator(".picks h2").all_inner_texts()
        coach.locator(".picks > li").first.locator("summary").click()
        coach.locator(".swaps[open] a").first.click()
        settle(coach)
        assert coach.locator(".picks h2").all_inner_texts() != before
    with guide.step("Make a block of it"):
        # a block of it; a session moved by keys, undone by keys
        coach.get_by_role("link", name="Plan a block of these").click()
        coach.get_by_label("Name of the block").fill("First weeks")
        coach.get_by_role("button", name="Make it").click()
        settle(coach)
        expect(coach.get_by_role("heading", name="First weeks")).to_be_visible()
    with guide.step("Read the staff and mend it"):
        days = coach.locator(".session-day")
        way = a_step(coach)
        moved, before_it = days.nth(way[0]), days.nth(way[0]).inner_text()
        moved.focus()
        coach.keyboard.press(way[1])
        expect(coach.locator("#block")).to_contain_text("undo: session moved")
        assert moved.inner_text() != before_it
        coach.keyboard.press("Control+z")
        expect(coach.locator("#block")).not_to_contain_text("undo: session moved")
        expect(moved).to_have_text(before_it)
        warning = coach.locator(".to-mend button")
        if warning.count():
            told = coach.locator(".to-mend li").count()
            warning.first.click()
            expect(coach.locator("#block")).to_contain_text("undo:")
            assert coach.locator(".to-mend li").count() <= told

        # an exercise changed, the card printed, all of it handed over
        coach.locator(".change summary").first.click()
        coach.locator(".change[open]").get_by_label("Rest [s]").fill("100")
        coach.locator(".change[open]").get_by_role("button", name="Keep").click()
        expect(coach.locator(".set-line").first).to_contain_text("rest 100 s")
    with guide.step("Hand it over"):
        card = coach.request.get(f"{coach.url.partition('?')[0]}/card.pdf")
        assert card.headers["content-type"] == "application/pdf"
        coach.get_by_role("button", name="Hand over to Bryn Tolley").click()
        expect(coach.get_by_text("Handed over: it stands under")).to_be_visible()
    with guide.step("Follow it"):
        coach.goto(record.replace("/clients/", "/record/"))
        coach.get_by_label("Write").fill("Well done.")
        coach.get_by_role("button", name="Write", exact=True).click()
        expect(coach.get_by_text("Well done.")).to_be_visible()
    assert guide.left == []

    # the client, on a phone
    join(client, link, "Bryn Tolley")
    expect(client.get_by_role("heading", name="Consent and scope")).to_be_visible()
    client.get_by_label("I have read this, and agree.").check()
    client.get_by_role("button", name="Go on").click()
    settle(client)
    expect(client.get_by_role("heading", name="First weeks")).to_be_visible()  # where a client begins
    client.goto(f"{address}/my-block")
    settle(client)
    expect(client.locator(".set-line").first).to_contain_text("kg ×")
    assert client.evaluate("document.documentElement.scrollWidth") <= 390
    assert client.request.get(f"{address}/board").status == 403


def test_a_shared_block_has_each_ones_own_loads_and_moves_by_mouse(opened: Open, address: str) -> None:
    page = opened()
    page.goto(f"{address}/blocks/new")
    page.get_by_label("Name of the block").fill("Together")
    page.get_by_label("Wren Achterberg").check()
    page.get_by_label("Jory Feldspar").check()
    page.get_by_role("button", name="Make it").click()
    settle(page)
    jory = page.locator(".set-line").all_inner_texts()
    page.get_by_role("link", name="Wren Achterberg", exact=True).click()
    settle(page)
    assert page.locator(".set-line").all_inner_texts() != jory
    taken = {int(d.get_attribute("data-day") or 0) for d in page.locator(".session-day").all()}
    free = [d for d in range(7) if d not in taken and not {(d - 1) % 7, (d + 1) % 7} & (taken - {max(taken)})]
    if free:
        page.locator(".session-day").last.drag_to(page.locator(f'[data-drop-day="{free[-1]}"]'))
        expect(page.locator("#block")).to_contain_text("undo: session moved")
        page.get_by_role("button", name=re.compile("^undo")).click()
        expect(page.get_by_role("button", name=re.compile("^again"))).to_be_visible()
    exercises = page.locator("[data-session='0'] .exercise h3")
    names = exercises.all_inner_texts()
    page.locator("[data-session='0'] .exercise").nth(1).focus()
    page.keyboard.press("Alt+ArrowUp")
    expect(exercises.first).to_have_text(re.compile(re.escape(names[1].rpartition(" ")[2])))


def many_clients(house: House, count: int) -> None:
    """Of one coach, beside those of the demo."""
    store = open_store(house.folder)
    with store.writing() as session:
        coach = session.query(Person).filter_by(name="Tamsin Brackwater").one().id
        for n in range(count):
            person = Person(owner_id=coach, name=f"Made-up Client {n:03d}")
            session.add(person)
            session.flush()
            session.add(PersonRole(owner_id=coach, person_id=person.id, role="client"))
            session.add(CoachClient(owner_id=coach, coach_id=coach, client_id=person.id))
    store.engine.dispose()


def test_monday_with_two_hundred_clients_from_overview_to_a_word_sent(browser: Browser, house: House) -> None:
    """Sign in, sift by a few letters, tick, write, send; and on a phone three clients stand on a screen."""
    many_clients(house, 200)
    context, page, complaints = come_in(browser, house, "Tamsin", PHONE)
    expect(page).to_have_url(re.compile("/clients$"))
    rows = page.locator(".client-list > li")
    expect(rows).to_have_count(203)
    screen = page.viewport_size
    assert screen
    boxes = [rows.nth(n).bounding_box() for n in range(1, 6)]
    page.locator(".client-list").scroll_into_view_if_needed()
    assert sum(box["height"] for box in boxes[:3] if box) <= screen["height"]
    expect(rows.first).to_contain_text("Ines Quarrie")
    page.get_by_role("searchbox", name="Name").fill("client 19")
    expect(page.locator(".client-list > li:visible")).to_have_count(10)
    page.get_by_role("checkbox", name="Made-up Client 191").check()
    page.get_by_role("checkbox", name="Made-up Client 195").check()
    page.get_by_label("Each reads it under their own record").fill("Deload this week: two sets of each.")
    page.get_by_role("button", name="Send to 2 clients").click()
    expect(page.locator("body")).to_contain_text("Sent to 2 clients.")
    page.get_by_role("button", name="I have seen this of Ines Quarrie").click()
    page.get_by_label("Needs me").check()
    expect(page.locator(".client-list")).not_to_contain_text("Ines Quarrie")
    assert complaints == []
    context.close()
    store = open_store(house.folder)
    with store.reading() as session:
        sent = session.query(CommentRow).filter(CommentRow.text.startswith("Deload")).all()
        names = {session.get_one(Person, one.person_id).name for one in sent}
    store.engine.dispose()
    assert names == {"Made-up Client 191", "Made-up Client 195"}
