"""The door: the first account, invitations, sign-in, resets; and what cannot be got out of it."""

from __future__ import annotations

import io
import json
import re
import statistics
import time
import zipfile
from collections.abc import Callable
from datetime import timedelta
from email import message_from_bytes, policy

import pytest
from flask import Flask
from flask.testing import FlaskClient

from curve_rank.store import tables
from curve_rank.store.demo import CLIENTS, COACHES
from curve_rank.store.house import accounts, invitations, leaving
from curve_rank.store.tables import Account, Person, SignIn, now
from tests.helpers import Resting, desk_of

WORDS, OTHER = "seven quiet owls", "lantern and rope"
MAUDE = "maude@lanternfield.example"


@pytest.fixture
def house(make_app: Callable[..., Flask]) -> Flask:
    """The demo's data behind a door, before there is any account."""
    return make_app(Resting, local_viewer=False)


@pytest.fixture
def owner(house: Flask) -> FlaskClient:
    """The first educator, signed in."""
    client = house.test_client()
    form = {
        "code": desk_of(house).door.code_in_groups,
        "name": "Maude Ellerby",
        "email": MAUDE,
        "password": WORDS,
    }
    assert client.post("/first", data=form).status_code == 303
    return client


def link_in(text: str, kind: str) -> str:
    found = re.search(rf"/{kind}/[a-z0-9]{{28}}", text)
    assert found, text
    return found[0]


def invite(client: FlaskClient, name: str, role: str, email: str) -> str:
    answer = client.post("/people/invite", data={"name": name, "email": email, "role": role})
    assert answer.status_code == 200, answer.text
    return link_in(answer.text, "join")


def signed_in(house: Flask, email: str, password: str) -> tuple[int, FlaskClient]:
    client = house.test_client()
    return client.post("/sign-in", data={"email": email, "password": password}).status_code, client


def letters(house: Flask) -> list[str]:
    box = desk_of(house).settings.data / "outbox"
    found = [message_from_bytes(p.read_bytes(), policy=policy.default) for p in sorted(box.glob("*.eml"))]
    return [f"{one['To']}\n{one.get_content()}" for one in found]


def test_the_first_account_is_made_once_behind_the_printed_code(house: Flask) -> None:
    client = house.test_client()
    assert client.get("/board").location == "/first"
    form = {"name": "Maude Ellerby", "email": MAUDE, "password": WORDS}
    assert client.post("/first", data=form | {"code": "AAAA-BBBB-CCCC"}).status_code == 400
    code = desk_of(house).door.code_in_groups.lower()
    assert client.post("/first", data=form | {"code": code, "password": "short"}).status_code == 400
    assert client.post("/first", data=form | {"code": code}).status_code == 303
    # what the single educator had is the first account's
    assert "Hayloft deep recline" in client.get("/board?target=biceps_long").text
    assert client.post("/first", data=form | {"code": code}).status_code == 403
    assert house.test_client().get("/board").status_code == 401


def test_an_invitation_lets_one_person_in_once_in_the_roles_it_says(house: Flask, owner: FlaskClient) -> None:
    link = invite(owner, "Corin Dale", "coach", "corin@lanternfield.example")
    assert link in letters(house)[-1]
    coach = house.test_client()
    assert coach.get("/people").status_code == 401
    assert coach.post(link, data={"name": "Corin Dale", "password": WORDS}).status_code == 303
    assert coach.get("/people").status_code == 200
    assert coach.get("/outbox").status_code == 403
    assert house.test_client().get(link).status_code == 404  # used
    bad = coach.post("/people/invite", data={"name": "X", "email": "x@y.z", "role": "educator"})
    assert bad.status_code == 403
    # a second role comes to the same account, by its own password
    again = invite(owner, "Corin Dale", "educator", "corin@lanternfield.example")
    assert house.test_client().post(again, data={"password": "not that one at all"}).status_code == 400
    assert house.test_client().post(again, data={"password": WORDS}).status_code == 303
    _, both = signed_in(house, "corin@lanternfield.example", WORDS)
    assert "coach, educator" in both.get("/account").text


def test_links_grow_too_old_and_can_be_withdrawn(house: Flask, owner: FlaskClient) -> None:
    old, gone = (invite(owner, f"N{n}", "coach", f"n{n}@x.example") for n in range(2))
    with desk_of(house).store.writing() as session:
        first = session.query(tables.Invitation).order_by(tables.Invitation.id).first()
        assert first
        first.expires_at = now() - timedelta(seconds=1)
        number = invitations.invitations(session, _viewer(session, "Maude Ellerby"))[0].id
    assert owner.post(f"/people/invitations/{number}/withdraw").status_code == 303
    for link in (old, gone):
        assert house.test_client().get(link).status_code == 404
        answer = house.test_client().post(link, data={"name": "N", "password": WORDS})
        assert answer.status_code == 404
    page = owner.get("/people").text
    assert "too old" in page
    assert "withdrawn" in page


def test_a_reset_works_once_and_signs_out_everywhere(house: Flask, owner: FlaskClient) -> None:
    told = [
        house.test_client().post("/reset", data={"email": email}, follow_redirects=True).text
        for email in (MAUDE, "nobody@lanternfield.example")
    ]
    assert all("If somebody here goes by that address" in text for text in told)
    assert "/reset/" not in told[0]
    mails = letters(house)
    link = link_in(next(text for text in mails if text.startswith(MAUDE)), "reset")
    assert "/reset/" not in next(text for text in mails if text.startswith("nobody@"))
    stranger = house.test_client()
    assert stranger.post(link, data={"password": "short"}).status_code == 400
    assert stranger.post(link, data={"password": OTHER}).status_code == 303
    assert owner.get("/account").status_code == 401
    assert house.test_client().post(link, data={"password": "seven other owls"}).status_code == 404
    assert [signed_in(house, MAUDE, words)[0] for words in (WORDS, OTHER)] == [400, 303]
    house.test_client().post("/reset", data={"email": MAUDE})
    late = link_in(letters(house)[-1], "reset")
    with desk_of(house).store.writing() as session:
        session.query(tables.Reset).update({"expires_at": now() - timedelta(seconds=1)})
    assert house.test_client().get(late).status_code == 404


def test_neither_words_nor_time_tell_who_has_an_account(house: Flask, owner: FlaskClient) -> None:
    assert owner.get("/account").status_code == 200
    pages, times = [], {}
    for email in (MAUDE, "zzzzz@lanternfield.example"):
        client, found = house.test_client(), []
        for _ in range(7):
            start = time.thread_time()
            answer = client.post("/sign-in", data={"email": email, "password": "wrong words here"})
            found.append(time.thread_time() - start)
        assert answer.status_code == 400
        pages.append(re.sub(r'content="[^"]*"|value="[^"]*"', "", answer.text))
        times[email] = statistics.median(found)
    assert pages[0] == pages[1]
    assert 0.5 < times[MAUDE] / times["zzzzz@lanternfield.example"] < 2


def test_tries_are_limited_and_the_refusal_gives_no_password_back(house: Flask, owner: FlaskClient) -> None:
    assert owner.get("/account").status_code == 200
    codes, text = [], ""
    for _ in range(12):
        answer = house.test_client().post("/sign-in", data={"email": MAUDE, "password": "guess number one"})
        codes.append(answer.status_code)
        text = answer.text
    assert codes == [400] * 10 + [429] * 2
    assert "guess number one" not in text
    assert signed_in(house, MAUDE, WORDS)[0] == 429  # even with the right one, for a while


def test_a_sign_in_begins_anew_and_its_cookie_is_safe(make_app: Callable[..., Flask]) -> None:
    house = make_app(Resting, local_viewer=False, https=True)
    with desk_of(house).store.writing() as session:
        accounts.make_first(session, name="Maude Ellerby", email=MAUDE, password=WORDS)
    client = house.test_client()
    client.get("/sign-in", base_url="https://localhost")
    with client.session_transaction(base_url="https://localhost") as before:
        before["planted"] = "x"
    form = {"email": MAUDE, "password": WORDS, "back": "//elsewhere.example/x"}
    answer = client.post("/sign-in", data=form, base_url="https://localhost")
    assert answer.location == "/"  # never to another site
    cookie = answer.headers["Set-Cookie"]
    assert {"Secure", "HttpOnly", "SameSite=Lax"} <= {part.strip() for part in cookie.split(";")}
    with client.session_transaction(base_url="https://localhost") as after:
        assert "planted" not in after
        first = after["token"]
    client.post("/sign-in", data=form, base_url="https://localhost")
    with client.session_transaction(base_url="https://localhost") as again:
        assert again["token"] != first
    with desk_of(house).store.reading() as session:
        assert accounts.viewer_by(session, first) is None  # the old one opens nothing
        assert first not in {row.token_hash for row in session.query(SignIn)}


def test_sign_ins_are_listed_and_ended_one_by_one_and_all(house: Flask, owner: FlaskClient) -> None:
    others = [signed_in(house, MAUDE, WORDS)[1] for _ in range(3)]
    page = owner.get("/account").text
    assert page.count("sign out there") == 3
    number = re.findall(r"/account/sign-ins/(\d+)/end", page)[0]
    assert owner.post(f"/account/sign-ins/{number}/end").status_code == 303
    assert sorted(c.get("/account").status_code for c in others) == [200, 200, 401]
    owner.post("/account/sign-ins/end")
    assert [c.get("/account").status_code for c in others] == [401] * 3
    assert owner.get("/account").status_code == 200
    right = {"old": WORDS, "password": OTHER}
    assert owner.post("/account/password", data=right | {"old": OTHER}).status_code == 400
    assert owner.post("/account/password", data=right).status_code == 303
    assert owner.post("/sign-out").status_code == 303
    assert owner.get("/account").status_code == 401


def _viewer(session: object, name: str):  # type: ignore[no-untyped-def]
    from curve_rank.store.viewers import viewer_of

    row = session.query(Person).filter_by(name=name).one()  # type: ignore[attr-defined]
    found = viewer_of(session, row.id)  # type: ignore[arg-type]
    assert found
    return found


def as_anybody(app: Flask, name: str) -> FlaskClient:
    """Somebody of the demo, by one click."""
    with desk_of(app).store.reading() as session:
        person = session.query(Person).filter_by(name=name).one().id
    client = app.test_client()
    assert client.post("/sign-in/as", data={"person": person}).status_code == 303
    return client


def test_one_click_signs_in_as_anybody_in_the_demo_alone(
    make_app: Callable[..., Flask], house: Flask
) -> None:
    demo = make_app(Resting, local_viewer=True, demo=True)
    assert CLIENTS[0][0] in demo.test_client().get("/sign-in").text
    assert "Tamsin" in as_anybody(demo, COACHES[0]).get("/account").text
    assert house.test_client().post("/sign-in/as", data={"person": 1}).status_code == 403
    assert CLIENTS[0][0] not in house.test_client().get("/sign-in").text


def test_a_client_agrees_first_and_who_needs_a_clinician_waits(make_app: Callable[..., Flask]) -> None:
    app = make_app(Resting, demo=True)
    client = as_anybody(app, CLIENTS[-1][0])
    assert client.get("/account").status_code == 200
    assert client.post("/consent", data={}).status_code == 400
    waits = client.post("/consent", data={"agree": "yes", "minor": "yes"})
    assert "See a clinician first" in waits.text
    assert client.post("/consent", data={"agree": "yes", "cleared_on": "2199-01-01"}).status_code == 400
    assert client.post("/consent", data={"agree": "yes", "cleared_on": "tomorrow"}).status_code == 400
    done = client.post("/consent", data={"agree": "yes", "minor": "yes", "cleared_on": "2026-03-02"})
    assert done.status_code == 303
    page = client.get("/account").text
    assert "cleared by a clinician on 2 March 2026" in page
    assert "waiting for a clinician" in page
    assert "It stays on this installation" in page


def test_leaving_has_a_time_of_grace_and_takes_everything_but_others_records(
    make_app: Callable[..., Flask],
) -> None:
    app = make_app(Resting, demo=True)
    coach, store = as_anybody(app, COACHES[0]), desk_of(app).store
    coach.post("/board/questions", data={"name": "mine", "address": "target=brachialis"})
    with zipfile.ZipFile(io.BytesIO(coach.get("/account/data.zip").get_data())) as packed:
        assert json.loads(packed.read("saved_questions.json"))[0]["name"] == "mine"
        assert b"mine" in packed.read("saved_questions.csv")
        assert len(json.loads(packed.read("people.json"))) == 1  # nobody else
        assert not any(b"_hash" in packed.read(name) for name in packed.namelist())
    assert coach.post("/account/leave").status_code == 303
    assert "You will be deleted on" in coach.get("/account").text
    with store.writing() as session:
        assert leaving.remove_due(session) == 0
        person = session.query(Person).filter_by(name=COACHES[0]).one()
        person.leaving_at = now() - timedelta(seconds=1)
        assert leaving.remove_due(session) == 1
    with store.reading() as session:
        names = {p.name for p in session.query(Person)}
        assert COACHES[0] not in names
        assert {c[0] for c in CLIENTS} <= names
        assert session.query(Account).count() == 0
        everything = " ".join(
            str(row) for t in tables.Base.metadata.sorted_tables for row in session.execute(t.select())
        )
        assert "Brackwater" not in everything
    assert "Maude" in coach.get("/account").text  # nobody is signed in, so the demo is at home
    owner = as_anybody(app, "Maude Ellerby")
    assert owner.post("/account/leave").status_code == 403
