"""Tokens for scripts: made once, seen never again, as good as their owner and no better."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import timedelta

import pytest
from flask import Flask
from flask.testing import FlaskClient

from curve_rank.errors import BadInputError
from curve_rank.store.demo import CLIENTS, COACHES
from curve_rank.store.house import access_tokens, accounts, endings
from curve_rank.store.house.access_tokens import Scope
from curve_rank.store.tables import AccessToken, Person, now
from curve_rank.store.viewers import Viewer, viewer_of
from curve_rank.web.access import rule_of
from tests.helpers import Resting, desk_of
from tests.web.test_access import WHO, WORDS, address, routes

EMAIL = "maude@lanternfield.example"


@pytest.fixture
def house(make_app: Callable[..., Flask]) -> Flask:
    """An application as it is served: with sign-ins, and forms that have to bring their own token."""
    app = make_app(Resting, local_viewer=False, patterns=True)
    app.config["WTF_CSRF_ENABLED"] = True
    with desk_of(app).store.writing() as db:
        accounts.make_first(db, name="Maude Ellerby", email=EMAIL, password=WORDS)
    return app


def viewer_named(app: Flask, name: str) -> Viewer:
    with desk_of(app).store.reading() as db:
        found = viewer_of(db, db.query(Person).filter_by(name=name).one().id)
    assert found is not None
    return found


def token_for(app: Flask, name: str, scope: Scope) -> str:
    with desk_of(app).store.writing() as db:
        return access_tokens.make(db, viewer_named(app, name), f"{name}, {scope}", scope)


def bearing(token: str) -> dict[str, str]:
    return {"Authorization": f"Bearer {token}"}


def signed_in(app: Flask) -> FlaskClient:
    """A browser in which the owner has signed in."""
    client = app.test_client()
    form = client.get("/sign-in").text
    csrf = re.search(r'name="csrf_token"\s+value="([^"]+)"', form)
    assert csrf
    typed = {"csrf_token": csrf[1], "email": EMAIL, "password": WORDS}
    assert client.post("/sign-in", data=typed).status_code == 303
    return client


def test_a_token_is_made_with_the_password_shown_once_and_ended(house: Flask) -> None:
    client = signed_in(house)
    csrf = re.search(r'name="csrf" content="([^"]+)"', client.get("/account").text)
    assert csrf
    wish = {"csrf_token": csrf[1], "name": "the Sunday report", "scope": "read"}
    assert "password" in client.post("/account/tokens", data=wish).text.lower()
    page = client.post("/account/tokens", data=wish | {"confirm": WORDS}).text
    made = re.search(r'<code class="given-link">([a-z0-9]{28})</code>', page)
    assert made
    again = client.get("/account").text
    assert made[1] not in again
    assert "the Sunday report, may read" in again
    with desk_of(house).store.reading() as db:
        assert made[1] not in [row.token_hash for row in db.query(AccessToken)]
    assert house.test_client().get("/board.json", headers=bearing(made[1])).status_code == 200
    number = re.search(r"/account/tokens/(\d+)/end", again)
    assert number
    client.post(f"/account/tokens/{number[1]}/end", data={"csrf_token": csrf[1]})
    answer = house.test_client().get("/board.json", headers=bearing(made[1]))
    assert (answer.status_code, "signed in" in answer.get_json()["error"]) == (401, True)


@pytest.mark.parametrize("scope", ["read", "write"])
@pytest.mark.parametrize("who", ["owner", "coach", "client"])
def test_each_route_against_each_token(
    house: Flask, who: str, scope: Scope, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A token opens what its owner may open, to read alone or to write, and nothing that asks a password."""
    for drawn in ("answers.card", "exchange.leaflet", "web.pages.variants.booklet"):
        monkeypatch.setattr(f"curve_rank.{drawn}.pdf", lambda *_, **__: b"%PDF-")
    monkeypatch.setattr("curve_rank.web.files.slide_png", lambda *_, **__: b"PNG")
    monkeypatch.setattr("curve_rank.exchange.leaflet.as_png", lambda *_, **__: b"PNG")
    roles = {"owner": {"owner", "educator"}}.get(who, {who})
    headers, client = bearing(token_for(house, WHO[who], scope)), house.test_client()
    for rule, method in routes(house):
        found = rule_of(house, rule.endpoint)
        assert found is not None
        ending = rule.rule in ("/sign-out", "/account/leave") or rule.rule.endswith(("/part", "/end"))
        if found.public or ending or (method == "POST" and scope == "write" and "token" in rule.rule):
            continue
        answer = client.open(address(rule), method=method, headers=headers)
        may = bool(roles & found.roles) and not found.confirmed and (method == "GET" or scope == "write")
        assert (answer.status_code == 403) != may, (rule.rule, method, answer.status_code)
        assert answer.status_code < 500, rule.rule
        assert "Set-Cookie" not in answer.headers or "token" not in answer.headers["Set-Cookie"]


def test_a_wrong_token_is_nobody_even_beside_a_right_cookie(house: Flask) -> None:
    client = signed_in(house)
    assert client.get("/board.json").status_code == 200
    for wrong in ("", "x" * 28, "é", "a b"):
        answer = client.get("/board.json", headers={"Authorization": f"Bearer {wrong}"})
        assert answer.status_code == (200 if not wrong else 401), wrong
    assert client.get("/board.json", headers={"Authorization": "Basic eDp5"}).status_code == 200


def test_a_form_without_its_own_token_is_refused_but_from_a_script(house: Flask) -> None:
    page = {"page": "/board?target=biceps_long&with=band"}
    assert signed_in(house).post("/take/publish", data=page).status_code == 400
    wrong = house.test_client().post("/take/publish", data=page, headers=bearing("x" * 28))
    assert wrong.status_code in (400, 401)
    headers = bearing(token_for(house, "Maude Ellerby", "write"))
    answer = house.test_client().post("/take/publish", data=page, headers=headers)
    assert answer.status_code == 201
    link = answer.get_json()["link"].removeprefix("http://localhost")
    assert "Biceps long head" in house.test_client().get(link).text


def test_a_script_sees_no_more_than_its_owner(house: Flask) -> None:
    headers = bearing(token_for(house, COACHES[1], "write"))
    theirs = viewer_named(house, CLIENTS[0][0]).person
    client = house.test_client()
    assert client.get(f"/clients/{theirs}", headers=headers).status_code == 404
    own = token_for(house, CLIENTS[0][0], "read")
    with desk_of(house).store.reading() as db:
        (line,) = access_tokens.tokens_of(db, viewer_named(house, CLIENTS[0][0]))
    answer = client.post(f"/account/tokens/{line.id}/end", headers=headers)
    assert answer.status_code == 404
    assert client.get("/my-record", headers=bearing(own)).status_code in (200, 302)


@pytest.mark.parametrize("how", ["password", "elsewhere", "locked"])
def test_what_signs_somebody_out_ends_their_tokens(house: Flask, how: str) -> None:
    token = token_for(house, "Maude Ellerby", "read")
    maude = viewer_named(house, "Maude Ellerby")
    name = COACHES[0] if how == "locked" else "Maude Ellerby"
    if how == "locked":
        token = token_for(house, name, "read")
    with desk_of(house).store.writing() as db:
        if how == "password":
            accounts.change_password(db, maude, old=WORDS, new="nine louder herons sing", token="")
        elif how == "elsewhere":
            accounts.end_others(db, maude.person)
        else:
            accounts.add_account(
                db,
                viewer_named(house, name).person,
                name=name,
                email="t@b.example",
                password="six tall kites fly",
            )
            endings.set_locked(db, maude, viewer_named(house, name).person, locked=True)
    assert house.test_client().get("/board.json", headers=bearing(token)).status_code == 401


def test_when_a_token_was_used_is_kept_now_and_then(house: Flask) -> None:
    token = token_for(house, "Maude Ellerby", "read")
    client = house.test_client()
    for _ in range(2):
        client.get("/variants.json", headers=bearing(token))
    with desk_of(house).store.writing() as db:
        row = db.query(AccessToken).one()
        assert row.used_at is not None
        assert now() - row.used_at < timedelta(minutes=1)


def test_there_are_only_so_many(house: Flask) -> None:
    maude = viewer_named(house, "Maude Ellerby")
    with desk_of(house).store.writing() as db:
        for n in range(access_tokens.MOST):
            access_tokens.make(db, maude, f"number {n}", "read")
        with pytest.raises(BadInputError, match="ended first"):
            access_tokens.make(db, maude, "one more", "read")


def test_what_is_the_same_for_everyone_does_not_ask_who_comes(house: Flask) -> None:
    for path in (f"{house.static_url_path}/css/base.css", "/palette.css"):
        assert "Cookie" not in house.test_client().get(path).headers["Vary"]
