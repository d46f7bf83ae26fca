"""From a session in a gym with a bad connection to the next block: a phone, and a coach at the keys."""

from __future__ import annotations

import re
from datetime import date, timedelta

from playwright.sync_api import Browser, Page, Route, expect

from curve_rank.store.database import open_store
from curve_rank.store.tables import Account, PlanState, SessionEvent, SignIn
from tests.browser.conftest import DESK, PHONE, House, come_in, come_true, rows_since, sign_in, today
from tests.helpers import LIMIT

EXPECTED = re.compile("ERR_INTERNET_DISCONNECTED|ERR_CONNECTION_REFUSED|ERR_FAILED|Failed to fetch")


def keep_one(phone: Page) -> None:
    """Keep a set, by two taps: it is kept once."""
    done = phone.locator(".set-lines .kept, .set-lines .waits")
    phone.wait_for_timeout(500)  # so soon after the last one it would count as the same tap
    before = done.count()
    phone.get_by_role("button", name="Keep it").dblclick()
    expect(done).to_have_count(before + 1)


def test_what_has_no_answer_is_given_up_and_sent_again(browser: Browser, house: House) -> None:
    context, phone, complaints = come_in(browser, house, "Wren", PHONE)
    phone.clock.install()
    phone.goto(f"{house.address}/today")
    unanswered: list[Route] = []
    phone.route("**/today/log", lambda route: unanswered.append(route), times=1)
    keep_one(phone)
    line = phone.locator(".queue-line")
    while not unanswered:
        phone.wait_for_timeout(50)
    expect(line).to_contain_text("1 entry waits to be sent")
    phone.clock.fast_forward(12_000)
    expect(line).to_contain_text("no connection")
    phone.clock.fast_forward(4_000)
    expect(line).to_contain_text("Everything is sent")
    assert len(rows_since(house, today())) == 1
    assert complaints == []
    context.close()


def test_a_session_through_a_cut_connection_and_a_restart_then_review_and_next_block(
    browser: Browser, house: House
) -> None:
    context, phone, complaints = come_in(browser, house, "Wren", PHONE)
    phone.goto(f"{house.address}/today")
    phone.locator("[data-stands-alone]").wait_for()
    keep, line = phone.get_by_role("button", name="Keep it"), phone.locator(".queue-line")
    assert keep.bounding_box()["height"] >= 44  # type: ignore[index]
    keep.click()  # one tap keeps a set that went to plan
    expect(phone.locator(".set-lines .kept")).to_have_count(1)
    expect(line).to_contain_text("Everything is sent")

    context.set_offline(True)
    phone.locator('[data-word="hurts"]').click()
    phone.get_by_role("button", name="elbows", exact=True).click()
    phone.get_by_role("button", name="more pain").click()
    keep.click()
    house.stop()
    house.start()
    phone.locator('[data-word="reps"]').click()
    phone.get_by_role("button", name="one less", exact=True).click()
    keep.click()
    expect(line).to_contain_text("no connection")
    phone.reload()  # the page opens without a connection, with all that was written down
    expect(line).to_contain_text("2 entries wait here")
    expect(phone.locator(".set-lines .kept, .set-lines .waits")).to_have_count(3)

    # The next exercise's machine is taken: something else, with its load and why.
    while "Set 1 of" not in phone.locator(".set-sentence").inner_text():
        keep_one(phone)
    before = phone.locator(".who-line").inner_text()
    phone.locator('[data-word="swap"]').click()
    phone.locator(".swap button").first.click()
    expect(phone.locator(".who-line")).not_to_have_text(before)
    stands = phone.locator(".do.now [data-of]:not(.care-of):not([hidden])")  # drawn, though nobody is asked
    expect(stands.locator("h2")).to_have_text(phone.locator(".who-line").inner_text())
    expect(stands.locator(".setup-picture svg")).to_be_visible()
    expect(phone.locator(".do.now > .aim")).to_be_hidden()  # it was the other exercise's
    while phone.locator(".set-lines li:not(.kept, .waits)").count():
        keep_one(phone)
    expect(phone.locator(".over")).to_be_visible()
    phone.reload()  # of each kept set the swap is taken up again, and stands there once
    expect(phone.locator(".do.swapped [data-of]:not(.care-of):not([hidden])")).to_have_count(1)
    expect(phone.locator(".over")).to_be_visible()
    sets = phone.locator(".set-lines li").count()
    phone.locator('.set-lines [data-set="1"]').first.click()
    phone.locator('[data-word="left"]').click()
    phone.get_by_role("button", name="one more left").click()
    phone.get_by_role("button", name="Correct it").click()
    context.set_offline(False)
    expect(line).to_contain_text("Everything is sent")

    rows = rows_since(house, today())
    assert len(rows) == len({row.key for row in rows}) == sets
    assert [row.pain for row in rows if row.pain_joint] == [2]
    assert any(row.instead_of for row in rows)
    assert max(row.version for row in rows) == 2
    store = open_store(house.folder)
    with store.writing() as session:
        assert session.query(SessionEvent).filter_by(kind="done").count() >= 1
        # The block began earlier than it did, so that it ended on Sunday.
        newest = session.query(PlanState).filter(PlanState.content.contains("Lantern weeks")).one()
        monday = date.today() - timedelta(days=date.today().weekday() + 35)
        newest.content = re.sub(r'"start":"[\d-]+"', f'"start":"{monday}"', newest.content)
        plan = newest.plan_id
    store.engine.dispose()

    phone.goto(f"{house.address}/tape")
    expect(phone.get_by_text("It is time")).to_be_visible()
    expect(phone.get_by_label("This is the")).to_have_value("end")
    for n, value in enumerate((28.4, 28.5, 28.4, 30.9, 31.0, 30.8)):
        phone.locator("fieldset input.tape-reading").nth(n).fill(str(value))
    phone.get_by_role("button", name="Keep it").first.click()
    expect(phone.get_by_text("within the error of measuring").first).to_be_visible()

    desk_context, desk, desk_complaints = come_in(browser, house, "Tamsin", DESK)
    desk.goto(f"{house.address}/clients")
    expect(desk.get_by_text(re.compile("The elbows hurt in set"))).to_be_visible()
    desk.get_by_role("link", name="Wren Achterberg").focus()
    desk.keyboard.press("Enter")
    desk.get_by_role("heading", name="Wren Achterberg", exact=True).wait_for()
    desk.get_by_label("Write").focus()
    desk.keyboard.type("Leave the sore one out on Saturday.")
    desk.keyboard.press("Tab")
    desk.keyboard.press("Enter")
    expect(desk.get_by_text("Leave the sore one out on Saturday.")).to_be_visible()
    desk.goto(f"{house.address}/reviews/{plan}?for=4")
    desk.get_by_role("button", name="Make the next block").focus()
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("heading", name="Lantern weeks, 2")).to_be_visible()

    phone.goto(f"{house.address}/my-record")
    expect(phone.get_by_text("Leave the sore one out on Saturday.")).to_be_visible()
    assert [text for text in complaints + desk_complaints if not EXPECTED.search(text)] == []
    context.close()
    desk_context.close()


def test_what_was_left_is_asked_once_and_only_what_is_said_is_evidence(
    browser: Browser, house: House
) -> None:
    context, phone, complaints = come_in(browser, house, "Wren", PHONE)
    phone.goto(f"{house.address}/today")
    first = phone.locator(".who-line").inner_text()
    expect(phone.locator('[data-word="left"]')).to_contain_text("as planned")
    asked = phone.locator(".ask-left")
    while phone.locator(".who-line").inner_text() == first:
        expect(asked).to_be_hidden()
        keep_one(phone)
    expect(asked).to_contain_text(f"{first}, set")
    phone.wait_for_timeout(500)
    asked.get_by_role("button", name="4", exact=True).click()
    expect(asked).to_be_hidden()
    left = int(phone.locator('[data-word="left"]').inner_text().split()[0])
    phone.locator('[data-word="left"]').click()
    phone.get_by_role("button", name="just so").click()
    keep_one(phone)
    expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
    rows = sorted(rows_since(house, today()), key=lambda row: (row.place, row.number))
    done = [row for row in rows if row.place == rows[0].place]
    assert [row.as_planned for row in rows] == [True] * (len(done) - 1) + [False, False]
    assert (done[-1].reserve, rows[-1].reserve) == (4, left)
    assert complaints == []
    context.close()


KEPT = """async () => {
  const db = await new Promise((done) => {
    const asked = indexedDB.open("curve-rank-queue", 1);
    asked.onsuccess = () => done(asked.result);
  });
  const all = (name) => new Promise((done) => {
    db.transaction(name).objectStore(name).getAll().onsuccess = (event) => done(event.target.result);
  });
  const found = { kept: (await all("kept")).length, waiting: (await all("waiting")).length };
  db.close();
  const pages = await (await caches.open("curve-rank-today")).keys();
  return { ...found, pages: Boolean(pages.length) };
}"""
"""What a phone keeps: sets that were acknowledged, sets that wait, and pages."""


def test_a_page_that_a_worker_takes_over_on_its_way_is_kept_before_it_stands_alone(
    browser: Browser, house: House
) -> None:
    with browser.new_context(viewport=PHONE) as context:
        context.set_default_timeout(1000 * LIMIT)
        context.add_init_script(
            "Object.defineProperty(ServiceWorkerContainer.prototype, 'controller', { get: () => ({}) })"
        )
        phone = context.new_page()
        sign_in(phone, house, "Wren")  # who begins with today
        phone.locator("[data-stands-alone]").wait_for()
        assert phone.evaluate(KEPT)["pages"]


def with_sets(phone: Page, house: House) -> None:
    """A phone that keeps Today, one set that was acknowledged and one that waits."""
    phone.goto(f"{house.address}/today")
    phone.locator("[data-stands-alone]").wait_for()
    keep_one(phone)
    expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
    phone.route("**/today/log", lambda route: route.abort())
    keep_one(phone)
    expect(phone.locator(".queue-line")).to_contain_text("waits here")
    assert phone.evaluate(KEPT) == {"kept": 1, "waiting": 1, "pages": True}


def test_a_phone_forgets_whoever_signs_out_and_shows_nothing_of_theirs_to_the_next(
    browser: Browser, house: House
) -> None:
    context, phone, _ = come_in(browser, house, "Wren", PHONE)
    with_sets(phone, house)
    phone.goto(f"{house.address}/account")
    phone.get_by_role("button", name="Sign out", exact=True).click()
    phone.get_by_role("button", name="Sign out all the same").click()
    phone.wait_for_url(re.compile("/sign-in"))
    assert phone.evaluate(KEPT) == {"kept": 0, "waiting": 1, "pages": False}
    phone.get_by_role("button", name=re.compile("Ines")).click()
    phone.wait_for_url(re.compile("/my-block|/today|/$"))
    phone.goto(f"{house.address}/guide")
    expect(phone.locator("[data-waiting]")).to_be_hidden()
    phone.unroute("**/today/log")
    phone.goto(f"{house.address}/today")
    expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
    assert phone.evaluate(KEPT)["waiting"] == 1  # hers, and still unsent
    phone.goto(f"{house.address}/sign-in")
    phone.get_by_role("button", name=re.compile("Wren")).click()
    phone.goto(f"{house.address}/today")
    expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
    come_true(phone, f"async () => (await ({KEPT})()).waiting === 0")
    assert len(rows_since(house, today())) == 2
    context.close()


def test_a_sign_in_that_was_ended_elsewhere_is_forgotten_and_the_door_stands_there_offline(
    browser: Browser, house: House
) -> None:
    context, phone, _ = come_in(browser, house, "Wren", PHONE)
    with_sets(phone, house)
    store = open_store(house.folder)
    with store.writing() as session:
        session.query(SignIn).delete()
        session.add(Account(owner_id=1, person_id=1, email="m@x.example", password_hash="none"))
    store.engine.dispose()
    phone.unroute("**/today/log")
    # The demo is at home for whoever has not signed in: here nobody is.
    assert house.serving
    house.stop()
    house.start(at_home=False)
    phone.reload()
    expect(phone.get_by_role("heading", name="Sign in")).to_be_visible()
    come_true(phone, "async () => !(await (await caches.open('curve-rank-today')).keys()).length")
    come_true(phone, f"async () => (await ({KEPT})()).kept === 0")
    context.set_offline(True)
    phone.goto(f"{house.address}/today")
    expect(phone.get_by_role("heading", name="Nobody is signed in here")).to_be_visible()
    assert "Lantern" not in phone.content()
    context.close()


def test_signing_out_warns_while_something_waits(browser: Browser, house: House) -> None:
    context, phone, _ = come_in(browser, house, "Ines", PHONE)
    phone.goto(f"{house.address}/today")
    phone.locator("[data-stands-alone]").wait_for()
    phone.route("**/today/log", lambda route: route.abort())
    phone.get_by_role("button", name="Keep it").click()
    expect(phone.locator(".queue-line")).to_contain_text("waits here")
    phone.goto(f"{house.address}/account")
    expect(phone.get_by_text("1 set waits")).to_be_visible()
    phone.get_by_role("button", name="Sign out", exact=True).click()
    expect(phone.get_by_text("1 set has not been sent yet")).to_be_visible()
    phone.get_by_role("button", name="Sign out all the same").click()
    phone.wait_for_url(re.compile("/sign-in"))
    assert phone.evaluate("caches.keys()") == []
    context.close()
