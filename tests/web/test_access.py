"""Every route says whom it is for, and keeps to it."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from flask import Flask, g, request
from werkzeug.routing import Rule

from curve_rank.store.demo import CLIENTS, COACHES
from curve_rank.store.house import accounts
from curve_rank.store.tables import Person, Plan, Room
from curve_rank.store.viewers import viewer_of
from curve_rank.web.access import ANYONE, rule_of
from tests.helpers import Resting, desk_of

WORDS = "seven quiet owls"

FILLED = {
    "variant_id": "standing-dumbbell-curl",
    "kind": "variant",
    "slug": "own-steep-pad-palms-in",
    "head": "biceps_long",
    "key": "own-x-none-of-it",
    "name": "strip",
    "question_id": "1",
    "filename": "mark.svg",
    "rest": "x",
    "publication": "1",
    "number": "1",
    "panel": "1",
    "year": "2026",
    "dress": "desk",
    "script": "board",
    "person": "4",
    "token": "nobody-was-given-this",
    "code": "AAAAA",
    "part": "coach",
    "page": "nobody-wrote-this.html",
}


@pytest.fixture
def nobody(make_app: Callable[..., Flask]) -> Flask:
    """An application in which nobody is signed in, and somebody could."""
    app = make_app(Resting, local_viewer=False, patterns=True)
    with desk_of(app).store.writing() as session:
        accounts.make_first(session, name="Maude Ellerby", email="maude@lanternfield.example", password=WORDS)
    return app


def routes(app: Flask) -> list[tuple[Rule, str]]:
    """Every route with every method it offers."""
    return [(r, m) for r in app.url_map.iter_rules() for m in sorted(r.methods or ()) if m in ("GET", "POST")]


def address(rule: Rule) -> str:
    return re.sub(r"<(?:\w+:)?(\w+)>", lambda found: FILLED[found.group(1)], rule.rule)


def test_every_route_has_its_rule(nobody: Flask) -> None:
    without = [rule.rule for rule, _ in routes(nobody) if rule_of(nobody, rule.endpoint) is None]
    assert without == []


def test_with_nobody_signed_in_only_public_routes_answer(nobody: Flask) -> None:
    client, public = nobody.test_client(), set()
    for rule, method in routes(nobody):
        found = rule_of(nobody, rule.endpoint)
        assert found is not None
        for headers in ({}, {"Accept": "application/json"}):
            answer = client.open(address(rule), method=method, headers=headers)
            if found.public:
                public.add(rule.rule)
                # A link that was never given is no page, for anyone; an empty form is refused.
                nobodys = {"token", "code", "page"} & set(rule.arguments)
                right = (404,) if nobodys else (200, 302, 308)
                assert answer.status_code in (right if method == "GET" else (308, 400, 403, 404)), rule.rule
            else:
                assert answer.status_code in (401, 403), (rule.rule, method)
                assert "signed in" in answer.text
    assert public == {
        "/", "/healthz", "/readyz", "/palette.css", "/sources", "/sources.json", "/guide", "/safety",
        "/guide/<part>", "/glossary", "/api", "/api/openapi.json", "/api/client.py",
        "/api/docs/<path:page>",
        "/static/<path:filename>", "/lenses", "/lenses.json", "/lenses/<path:rest>",
        f"{nobody.static_url_path}/<path:filename>", f"{nobody.static_url_path}/css/<dress>-dress.css",
        f"{nobody.static_url_path}/js/<script>-script.js",
        "/p/<token>", "/p/<token>.json", "/p/<token>.pdf",
        "/p/<token>.png",
        "/sign-in", "/sign-in/as", "/first", "/join/<token>", "/reset", "/reset/<token>",
        "/calendar/<token>.ics", "/today/worker.js", "/r/<code>", "/r/<code>.json",
    }  # fmt: skip


def test_a_route_that_says_nothing_answers_nobody(app: Flask) -> None:
    app.add_url_rule("/forgotten", "forgotten", lambda: "secret")
    answer = app.test_client().get("/forgotten")
    assert answer.status_code == 403
    assert "secret" not in answer.text


def acting_as(app: Flask, name: str) -> None:
    """Let every request be that person's."""

    def arrive() -> None:
        from curve_rank.web import current

        row = current.session().query(Person).filter_by(name=name).one()
        g.viewer = viewer_of(current.session(), row.id)
        assert request.path

    app.before_request_funcs.setdefault(None, []).insert(0, arrive)


OWN = ("/account", "/administration")
"""Where numbers are of one's own, or nobody but the owner is let in."""
WHO = {
    "owner": "Maude Ellerby",
    "coach": COACHES[0],
    "client": CLIENTS[0][0],
    "not agreed": CLIENTS[-1][0],
}


@pytest.mark.parametrize("who", WHO)
def test_each_route_against_each_role(nobody: Flask, who: str, monkeypatch: pytest.MonkeyPatch) -> None:
    # What is in a file is not the point.
    for drawn in ("answers.card", "exchange.leaflet", "web.pages.variants.booklet"):
        monkeypatch.setattr(f"curve_rank.{drawn}.pdf", lambda *_, **__: b"%PDF-")
    monkeypatch.setattr("curve_rank.web.files.slide_png", lambda *_, **__: b"PNG")
    monkeypatch.setattr("curve_rank.exchange.leaflet.as_png", lambda *_, **__: b"PNG")
    acting_as(nobody, WHO[who])
    roles = {"owner": {"owner", "educator"}, "not agreed": {"client"}}.get(who, {who})
    client = nobody.test_client()
    for rule, method in routes(nobody):
        found = rule_of(nobody, rule.endpoint)
        assert found is not None
        if rule.rule in ("/sign-out", "/account/leave") or rule.rule.endswith("/part"):
            continue  # what they do would end this
        answer = client.open(address(rule), method=method)
        let_in = found.public or bool(roles & found.roles)
        if let_in and who == "not agreed" and not (found.public or found.before_consent):
            asked = (403, None) if rule.rule.endswith(".json") else (303, "/consent")
            assert (answer.status_code, answer.location) == asked, (rule.rule, method)
            continue
        own = rule.rule == "/sign-in/as"  # anyone may ask, and outside the demo nobody is let in
        assert (answer.status_code == 403) != (let_in and not own), (rule.rule, method, answer.status_code)
        assert answer.status_code < 500, rule.rule
        if not found.public:  # nobody else who uses the browser, and no proxy, is to have it
            assert answer.headers["Cache-Control"] == "private, no-store", rule.rule


def test_numbers_of_others_answer_as_unknown_on_every_route(nobody: Flask) -> None:
    """Another coach's client, block, room: as if there were none."""
    with desk_of(nobody).store.reading() as session:
        ids = {row.name: row.id for row in session.query(Person)}
        blocks = {row.name: row.id for row in session.query(Plan)}
        homes = {row.name: row.id for row in session.query(Room)}
    acting_as(nobody, COACHES[1])
    client, tried = nobody.test_client(), 0
    for rule, method in routes(nobody):
        kept = {"person": ids[CLIENTS[0][0]], "number": blocks["Lantern weeks"]}
        if rule.rule.startswith("/rooms/"):
            kept["number"] = homes["The hayloft" if method == "POST" else "Hollis at home"]
            if method == "GET":
                continue  # gyms of an educator are there for every coach
        elif not {"person", "number"} & rule.arguments or rule.rule.startswith(
            ("/account", "/administration")
        ):
            continue
        where = rule.rule
        for name in rule.arguments:
            where = re.sub(rf"<(?:\w+:)?{name}>", str(kept.get(name, FILLED.get(name))), where)
        form = {"client": str(ids[CLIENTS[0][0]]), "edit": '{"do": "add_week"}', "name": "x"}
        answer = client.open(where, method=method, data=form if method == "POST" else None)
        assert (
            answer.status_code in (400, 404)
            if rule.rule == "/rooms/<row:number>"
            else answer.status_code == 404
        ), (
            rule.rule,
            method,
            answer.status_code,
        )
        assert CLIENTS[0][0] not in answer.text
        tried += 1
    assert tried > 25


def test_a_coach_sees_nothing_of_the_educators_and_of_others_clients(nobody: Flask) -> None:
    acting_as(nobody, COACHES[0])
    client = nobody.test_client()
    board = client.get("/board").text
    assert "Maude Ellerby" not in board
    assert "Hayloft deep recline" not in board
    assert "Long head, hayloft kit" not in board
    assert CLIENTS[0][0] in board
    assert CLIENTS[1][0] not in board
    assert client.get("/bench/own-hayloft-deep-recline").status_code == 404
    assert client.get("/board?lens=own-lanternfield-house-blend").status_code == 400
    assert client.get("/board?for=5").status_code == 400
    assert client.post("/board/questions/1/remove").status_code == 400
    assert client.post("/loads/body", data={"for": "5", "height": "180", "mass": "80"}).status_code == 400


def test_a_runs_name_never_opens_anothers_numbers(app: Flask) -> None:
    educator = app.test_client()
    asked = "target=triceps_long&with=band&draws=4000"
    run = educator.post(f"/certainty/start?{asked}").get_json()["run"]
    assert educator.get(f"/certainty.json?{asked}&run={run}").get_json()["state"] == "running"
    # another question of the same person, then another person with the same question
    for other in (
        "target=triceps_long&with=band&draws=4000&seed=2",
        "target=biceps_long&with=band&draws=4000",
    ):
        assert educator.get(f"/certainty.json?{other}&run={run}").get_json()["state"] == "none"
        assert educator.post("/certainty/cancel?" + other, data={"run": run}).get_json() == {
            "cancelled": False
        }
    acting_as(app, COACHES[0])
    coach = app.test_client()
    told = coach.get(f"/certainty.json?{asked}&run={run}").get_json()
    assert told == {"state": "none", "done": 0, "total": 4000, "problem": ""}
    assert coach.post(f"/certainty/cancel?{asked}", data={"run": run}).get_json() == {"cancelled": False}


def test_public_is_said_with_the_word_for_it(nobody: Flask) -> None:
    rules = {rule_of(nobody, rule.endpoint) for rule, _ in routes(nobody)}
    assert all(r.roles <= {ANYONE, "educator", "coach", "client", "owner"} for r in rules if r)
    assert all(r.roles for r in rules if r)


@pytest.mark.parametrize("name", [CLIENTS[0][0], COACHES[1]])
def test_no_link_leads_anyone_nowhere(make_app: Callable[..., Flask], name: str) -> None:
    """Every kind of page that links lead to from where somebody begins; files and forms aside."""
    app = make_app(local_viewer=False)
    acting_as(app, name)
    client, waiting, seen = app.test_client(), [("/", "the start")], set[str]()
    while waiting:
        path, place = waiting.pop()
        kind = re.sub(r"/(?:\d+|[a-z]+(?:[-_][a-z0-9]+)+)(?=/|\?|$)", "/*", path).partition("?")[0]
        if kind in seen or "." in kind or kind.startswith(("/static", "/palette", "/p/")):
            continue
        seen.add(kind)
        answer = client.get(path, follow_redirects=True)
        assert answer.status_code == 200, (path, "linked from", place)
        links = re.findall(r'href="(/[^"#]*)', answer.text)
        waiting += [(link.replace("&amp;", "&"), path) for link in links]
    assert len(seen) > 12


def test_what_is_somebody_elses_stands_with_the_clients(make_app: Callable[..., Flask]) -> None:
    app = make_app(local_viewer=False)
    acting_as(app, COACHES[0])
    client, current_page = app.test_client(), re.compile(r'aria-current="page">([^<]+)</a>')
    with desk_of(app).store.reading() as session:
        me = session.query(Person).filter_by(name=COACHES[0]).one().id
    assert set(current_page.findall(client.get("/tape/4").text)) == {"Clients"}
    assert set(current_page.findall(client.get(f"/record/{me}").text)) == {"My record"}
    assert set(current_page.findall(client.get("/guide").text)) == {"how to read it"}
