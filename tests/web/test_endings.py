"""Ending things on the pages: parting, locking, roles, addresses; and when a password is asked again."""

from __future__ import annotations

import io
import json
import re
import zipfile
from collections.abc import Callable
from datetime import timedelta

import pytest
from flask import Flask
from flask.testing import FlaskClient

from curve_rank.exchange import outbox
from curve_rank.store import plans
from curve_rank.store.demo import CLIENTS, COACHES
from curve_rank.store.house import accounts, audit
from curve_rank.store.tables import Person, SignIn, now
from curve_rank.store.viewers import local_educator, viewer_of
from tests.helpers import Resting, desk_of, once_drawn

WORDS = "seven quiet owls"
WREN, TAMSIN, MAUDE = CLIENTS[0][0], COACHES[0], "Maude Ellerby"


@pytest.fixture
def house(make_app: Callable[..., Flask]) -> Flask:
    """The demo's people, some with accounts of their own."""
    app = make_app(Resting, local_viewer=False)
    with desk_of(app).store.writing() as session:
        accounts.make_first(session, name=MAUDE, email="maude@x.example", password=WORDS)
        for name in (WREN, TAMSIN):
            person = number_of(app, name)
            accounts.add_account(session, person, name=name, email=email_of(name), password=WORDS)
    return app


def email_of(name: str) -> str:
    return f"{name.split()[0].lower()}@x.example"


def number_of(app: Flask, name: str) -> int:
    with desk_of(app).store.reading() as session:
        found: int = session.query(Person).filter_by(name=name).one().id
        return found


def come_in(app: Flask, name: str) -> FlaskClient:
    client = app.test_client()
    sent = {"email": email_of(name), "password": WORDS}
    assert client.post("/sign-in", data=sent).status_code == 303, name
    return client


def trail(app: Flask) -> set[tuple[str, str, str]]:
    with desk_of(app).store.reading() as session:
        owner = local_educator(session)
        assert owner
        return {(line.actor, line.person, line.page) for line in audit.trail(session, owner)}


@pytest.mark.parametrize("who", [WREN, TAMSIN])
def test_coach_and_client_part_from_either_side_and_the_block_stays(house: Flask, who: str) -> None:
    wren, tamsin = number_of(house, WREN), number_of(house, TAMSIN)
    coach, client = come_in(house, TAMSIN), come_in(house, WREN)
    assert coach.get(f"/clients/{wren}").status_code == 200
    page = client.get("/account").text
    assert f"Part from {TAMSIN}" in page
    where = f"/account/coaches/{tamsin}/part" if who == WREN else f"/clients/{wren}/part"
    assert (client if who == WREN else coach).post(where).status_code == 303
    assert coach.get(f"/clients/{wren}").status_code == 404
    assert coach.get(f"/record/{wren}").status_code == 404
    assert WREN not in coach.get("/clients").text
    assert WREN not in coach.get("/blocks").text
    assert "Lantern weeks" in once_drawn(client, "/my-block")
    assert {(who, WREN, "coach and client part"), (who, TAMSIN, "coach and client part")} <= trail(house)
    for again in (where, f"/account/coaches/{number_of(house, COACHES[1])}/part", "/clients/5/part"):
        assert (client if "account" in again else coach).post(again).status_code == 404


def test_an_account_is_locked_and_let_back(house: Flask) -> None:
    owner, client, wren = come_in(house, MAUDE), come_in(house, WREN), number_of(house, WREN)
    assert owner.post(f"/administration/people/{wren}/lock").status_code == 303
    assert client.get("/today").status_code == 401
    sent = {"email": email_of(WREN), "password": WORDS}
    refused = house.test_client().post("/sign-in", data=sent)
    assert (refused.status_code, "locked" in refused.text) == (403, True)
    wrong = house.test_client().post("/sign-in", data=sent | {"password": "no owls"})
    assert (wrong.status_code, "locked" in wrong.text) == (400, False)  # said to who knows the password alone
    house.test_client().post("/reset", data={"email": email_of(WREN)})
    assert "/reset/" not in outbox.letters(desk_of(house).settings.data)[0].text
    assert owner.post(f"/administration/people/{wren}/let-back").status_code == 303
    assert come_in(house, WREN).get("/today").status_code == 200
    assert {"account locked", "account let back"} <= {
        page for _, person, page in trail(house) if person == WREN
    }
    page = owner.post("/administration/people/1/lock", follow_redirects=True).text
    assert "who runs this cannot be kept out" in page


def test_a_role_is_taken_away_with_what_came_of_it(house: Flask) -> None:
    owner, tamsin = come_in(house, MAUDE), number_of(house, TAMSIN)
    with desk_of(house).store.writing() as session:
        from curve_rank.store.people import add_roles

        add_roles(session, tamsin, ("client",))
    with desk_of(house).store.writing() as session:
        viewer = viewer_of(session, tamsin)
        assert viewer
        accounts.consent(session, viewer, minor=False, injured=False, cleared_on=None)
    coach = come_in(house, TAMSIN)
    assert coach.get("/clients").status_code == 200
    owner.post(f"/administration/people/{tamsin}/take-role", data={"role": "coach"})
    assert coach.get("/clients").status_code == 403
    assert coach.get("/my-block").status_code == 200
    assert (MAUDE, TAMSIN, "role coach taken away") in trail(house)
    for role in ("client", "coach", "owner", "x"):  # the last one, none of theirs, no role at all
        page = owner.post(
            f"/administration/people/{tamsin}/take-role", data={"role": role}, follow_redirects=True
        )
        assert "role:" in page.text
    assert coach.get("/my-block").status_code == 200


def test_an_address_changes_and_the_old_one_is_told(house: Flask) -> None:
    client, wren = come_in(house, WREN), number_of(house, WREN)
    house.test_client().post("/reset", data={"email": email_of(WREN)})
    link = re.findall(r"/reset/\w+", outbox.letters(desk_of(house).settings.data)[0].text)[0]
    new = {"email": "Wren@Barn.example", "confirm": WORDS}
    assert client.post("/account/address", data=new | {"confirm": "no"}).status_code == 400
    assert client.post("/account/address", data=new | {"email": "maude@x.example"}).status_code == 400
    assert client.post("/account/address", data=new).status_code == 303
    letter = outbox.letters(desk_of(house).settings.data)[0]
    assert (letter.to, letter.subject) == (email_of(WREN), "Another address")
    assert house.test_client().get(link).status_code == 404
    sent = {"email": "wren@barn.example", "password": WORDS}
    assert house.test_client().post("/sign-in", data=sent).status_code == 303
    assert house.test_client().post("/sign-in", data=sent | {"email": email_of(WREN)}).status_code == 400
    owner = come_in(house, MAUDE)
    back = {"email": email_of(WREN), "confirm": WORDS}
    assert owner.post(f"/administration/people/{wren}/address", data=back).status_code == 303
    assert {(WREN, WREN, "address changed"), (MAUDE, WREN, "address changed")} <= trail(house)


def test_the_password_is_asked_again_where_something_private_opens_or_ends(house: Flask) -> None:
    owner, client = come_in(house, MAUDE), come_in(house, WREN)
    nobody = number_of(house, CLIENTS[1][0])
    owner.post("/administration/backups/make")
    name = re.findall(r"curve-rank-\d{8}-\d{6}\.zip", owner.get("/administration").text)[0]
    for who, method, where in (
        (client, "GET", "/account/data.zip"), (client, "POST", "/account/leave"),
        (owner, "GET", f"/administration/backups/{name}"),
        (owner, "GET", f"/administration/people/{nobody}/data.zip"),
        (owner, "POST", f"/administration/people/{nobody}/leave"),
    ):  # fmt: skip
        with desk_of(house).store.writing() as session:
            session.query(SignIn).update({"confirmed_at": None})
        asked = who.open(where, method=method)
        assert asked.status_code == 403, where
        assert "Your password, once more" in asked.text
        action = re.findall(r'method="post" action="([^"]+)"', asked.text)[0]
        sent = {"back": where} if method == "GET" else {}
        assert who.post(action, data=sent | {"confirm": "wrong words"}).status_code == 400
        done = who.post(action, data=sent | {"confirm": WORDS})
        assert done.status_code == 303, where
        if method == "GET":
            assert done.location == where
            assert who.get(where).status_code == 200
    assert owner.get(f"/administration/people/{number_of(house, WREN)}/data.zip").status_code == 403
    with desk_of(house).store.writing() as session:
        session.query(SignIn).update({"confirmed_at": now() - timedelta(minutes=11)})
    assert client.get("/account/data.zip").status_code == 403


def test_a_sign_in_ends_after_ninety_days_however_much_it_is_used(house: Flask) -> None:
    client = come_in(house, WREN)
    for days, status in ((89, 200), (91, 401)):
        with desk_of(house).store.writing() as session:
            session.query(SignIn).update({"created_at": now() - timedelta(days=days), "seen_at": now()})
        assert client.get("/today").status_code == status


def test_all_my_data_holds_the_blocks_that_were_done_and_nobody_else(house: Flask) -> None:
    client = come_in(house, WREN)
    client.post("/account/confirm", data={"confirm": WORDS, "back": "/"})
    packed = zipfile.ZipFile(io.BytesIO(client.get("/account/data.zip").data))
    names = {row["name"] for row in json.loads(packed.read("plans.json"))}
    with desk_of(house).store.reading() as session:
        viewer = viewer_of(session, number_of(house, WREN))
        assert viewer
        assert {one.block.name for one in plans.handed_to(session, viewer)} <= names
    states = json.loads(packed.read("plan_states.json"))
    assert len(states) == len(names)  # each as it stands
    assert "exercises" in states[0]["content"]
    whole = b" ".join(packed.read(name) for name in packed.namelist())
    assert CLIENTS[1][0].encode() not in whole
