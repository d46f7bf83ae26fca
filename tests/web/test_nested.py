"""A number within a number: on what two coaches share, neither reaches the other's people."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from flask import Flask
from sqlalchemy import or_, select
from werkzeug.routing import Rule

from curve_rank.answers import requests
from curve_rank.store import plans
from curve_rank.store.demo import CLIENTS, COACHES
from curve_rank.store.logs import log_of
from curve_rank.store.people import add_client
from curve_rank.store.tables import Base, Person, Room, SetRow, TrialRow
from curve_rank.store.viewers import Viewer, viewer_of
from tests.helpers import Resting, desk_of
from tests.web.test_access import FILLED, acting_as, routes

MINE, THEIRS = CLIENTS[0][0], CLIENTS[1][0]
SHARED = "Lantern weeks"
PRIVATE = ("audit_entries", "sign_ins")
"""Who looked is written down; that is no change of theirs."""


def number_fields() -> set[str]:
    """Every name under which a form or an address takes a whole number."""
    found, waiting = set(), [requests.RequestForm]
    while waiting:
        form = waiting.pop()
        waiting += form.__subclasses__()
        for name, field in form.model_fields.items():
            if "_whole" in repr((field.annotation, field.metadata)):
                found.add(field.alias or name)
    return found


@pytest.fixture
def shared(make_app: Callable[..., Flask], monkeypatch: pytest.MonkeyPatch) -> Flask:
    """A block of one coach's that another coach's client does as well."""
    for drawn in ("answers.card", "exchange.leaflet", "web.pages.variants.booklet"):
        monkeypatch.setattr(f"curve_rank.{drawn}.pdf", lambda *_, **__: b"%PDF-")
    monkeypatch.setattr("curve_rank.web.files.slide_png", lambda *_, **__: b"PNG")
    monkeypatch.setattr("curve_rank.exchange.leaflet.as_png", lambda *_, **__: b"PNG")
    app = make_app(Resting, local_viewer=False, patterns=True)
    with desk_of(app).store.writing() as session:
        first, second = (viewer_named(session, name) for name in COACHES)
        wren, hollis = (viewer_named(session, name).person for name in (MINE, THEIRS))
        number = next(one.id for one in plans.plans(session, first) if one.name == SHARED)
        add_client(session, second.person, wren)  # both look after her, so both work on her block
        plans.add_client(session, second, number, hollis)
        plans.hand_over(session, second, number, hollis, handed=True)
    return app


def viewer_named(session: Any, name: str) -> Viewer:
    found = viewer_of(session, session.scalar(select(Person.id).where(Person.name == name)))
    assert found
    return found


def rows_of(app: Flask, person: int) -> dict[str, list[Any]]:
    """Everything of somebody's that the database holds."""
    found = {}
    with desk_of(app).store.reading() as session:
        for table in Base.metadata.sorted_tables:
            about = [table.c[name] for name in ("owner_id", "person_id", "client_id") if name in table.c]
            if about and table.name not in PRIVATE:
                theirs = select(table).where(or_(*(column == person for column in about)))
                found[table.name] = list(session.execute(theirs.order_by(table.c.id)))
    return found


def pairs(
    app: Flask, outer: dict[str, int], inner: tuple[int, ...], key: str
) -> Iterator[tuple[Rule, str, str, dict]]:
    """Every route with a number of one's own in it, and each number of theirs as each field, and as all."""
    fields = sorted(number_fields())
    for rule, method in routes(app):
        numbers = {"person", "number"} & rule.arguments
        if not numbers or rule.rule.startswith(("/administration", "/sign-out", "/account")):
            continue
        where = rule.rule
        for name in rule.arguments:
            value = str(outer.get(name, key if name == "key" else FILLED.get(name)))
            where = re.sub(rf"<(?:\w+:)?{name}>", value, where)
        for n, number in enumerate(inner):
            for names in (*((one,) for one in fields if n == 0), tuple(fields)):
                yield rule, method, where, dict.fromkeys(names, str(number))


def test_no_pair_of_numbers_reaches_from_ones_own_to_anothers(shared: Flask) -> None:
    assert {"for", "client", "room", "version", "seen", "block"} <= number_fields()
    with desk_of(shared).store.writing() as session:
        coach, theirs = viewer_named(session, COACHES[0]), viewer_named(session, THEIRS)
        wren = viewer_named(session, MINE).person
        block = next(one.id for one in plans.plans(session, coach) if one.name == SHARED)
        home = session.scalar(select(Room.id).where(Room.person_id == theirs.person))
        key = session.scalar(select(SetRow.key).where(SetRow.person_id != wren).limit(1)) or "no-set-of-mine"
        trial = TrialRow(
            owner_id=coach.person, person_id=wren, name="Mine", first_id=block, second_id=block, seed=1
        )
        session.add(trial)
    assert home
    acting_as(shared, COACHES[0])
    client, tried, before = shared.test_client(), 0, rows_of(shared, theirs.person)
    for rule, method, where, typed in pairs(
        shared, {"person": wren, "number": block}, (theirs.person, home), key
    ):
        sent = typed | {
            "variant": "chin-up",
            "load": "40",
            "name": "x",
            "edit": '{"do": "add_week"}',
            "on": "",
        }
        answer = client.open(where, method=method, **{"data" if method == "POST" else "query_string": sent})
        assert answer.status_code < 500, (rule.rule, method, typed)
        assert THEIRS not in answer.text, (rule.rule, method, typed)
        tried += 1
    assert rows_of(shared, theirs.person) == before
    assert tried > 1000
    with desk_of(shared).store.reading() as session:
        assert log_of(session, viewer_named(session, THEIRS), theirs.person) is not None


@pytest.mark.parametrize(
    ("route", "form"),
    [
        ("load", {"variant": "chin-up", "load": "40"}),
        ("hand-over", {"on": ""}),
        ("clients/remove", {}),
        ("clients/add", {}),
    ],
)
def test_another_coachs_client_on_a_shared_block_is_out_of_reach(
    shared: Flask, route: str, form: dict[str, str]
) -> None:
    with desk_of(shared).store.reading() as session:
        coach, theirs = viewer_named(session, COACHES[0]), viewer_named(session, THEIRS).person
        number = next(one.id for one in plans.plans(session, coach) if one.name == SHARED)
    acting_as(shared, COACHES[0])
    before = rows_of(shared, theirs)
    answer = shared.test_client().post(f"/blocks/{number}/{route}", data=form | {"client": str(theirs)})
    assert answer.status_code == 404
    assert rows_of(shared, theirs) == before
    removed = shared.test_client().post(f"/blocks/{number}/remove")
    assert removed.status_code in (403, 404)
    with desk_of(shared).store.reading() as session:
        assert plans.handed_to(session, viewer_named(session, THEIRS))


def test_what_a_coach_does_to_a_client_on_a_block_stands_in_the_audit(shared: Flask) -> None:
    from tests.web.test_running import trail

    with desk_of(shared).store.reading() as session:
        number = next(
            one.id for one in plans.plans(session, viewer_named(session, COACHES[1])) if one.name == SHARED
        )
        theirs = viewer_named(session, THEIRS).person
    acting_as(shared, COACHES[1])
    form = {"client": str(theirs), "variant": "chin-up", "load": "-20"}
    assert shared.test_client().post(f"/blocks/{number}/load", data=form).status_code == 303
    assert (COACHES[1], "changed", THEIRS, "blocks · load") in trail(shared)
