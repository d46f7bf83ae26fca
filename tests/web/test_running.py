"""The log, readiness, the turnstile, proxies and the audit trail."""

from __future__ import annotations

import io
import json
import logging
from collections.abc import Callable, Iterator

import pytest
from flask import Flask
from flask.testing import FlaskClient

from curve_rank.errors import UnavailableError
from curve_rank.store.demo import CLIENTS, COACHES
from curve_rank.store.house import audit
from curve_rank.web.logbook import Lines, Words, set_up
from tests.helpers import Resting, desk_of
from tests.web.test_access import acting_as

WREN = CLIENTS[0][0]


@pytest.fixture
def written() -> Iterator[Callable[[], list[dict[str, object]]]]:
    """What the log says from here on, as data."""
    stream = io.StringIO()
    handler = logging.StreamHandler(stream)
    handler.setFormatter(Lines())
    ours = logging.getLogger("curve_rank")
    before = ours.level
    ours.addHandler(handler)
    ours.setLevel(logging.INFO)
    yield lambda: [json.loads(line) for line in stream.getvalue().splitlines()]
    ours.removeHandler(handler)
    ours.setLevel(before)


def test_every_request_has_a_number_and_a_line_without_anything_of_a_persons(
    make_app: Callable[..., Flask], written: Callable[[], list[dict[str, object]]]
) -> None:
    app = make_app(Resting)

    @app.get("/breaks/<name>")
    def breaks(name: str) -> str:
        raise ValueError(f"the secret of {name}")

    from curve_rank.web.access import ANYONE, allowed

    allowed(ANYONE)(breaks)
    app.config["PROPAGATE_EXCEPTIONS"] = False
    client = app.test_client()
    answers = [
        client.get("/clients/4", headers={"User-Agent": "her own phone", "X-Request-Id": "forged-number"}),
        client.get("/board?for=4&target=biceps_long"),
        client.post("/sign-in", data={"email": "wren@lanternfield.example", "password": "seven quiet owls"}),
        client.get("/join/a-token-that-opens-something"),
        client.get("/nowhere/wren"),
        client.get("/breaks/wren"),
    ]
    numbers = [answer.headers["X-Request-Id"] for answer in answers]
    assert len(set(numbers)) == 6
    assert "forged-number" not in numbers
    assert numbers[-1] in answers[-1].text  # so that it can be reported
    lines = [line for line in written() if line["says"] == "answered"]
    assert [line["request"] for line in lines] == numbers
    assert [line["route"] for line in lines][:2] == ["/clients/<row:person>", "/board"]
    assert lines[4]["route"] == "none"
    assert all({"at", "level", "method", "status", "ms", "bytes"} <= set(line) for line in lines)
    (broken,) = (line for line in written() if line.get("error"))
    assert (broken["error"], broken["request"]) == ("ValueError", numbers[-1])
    assert any("test_running.py" in place for place in broken["where"])  # type: ignore[attr-defined]
    for personal in ("Wren", "wren@", "owls", "phone", "a-token", "target=", "the secret"):
        assert personal not in json.dumps(written()), personal


def test_the_log_is_set_up_as_the_settings_say(capsys: pytest.CaptureFixture[str]) -> None:
    root, ours = logging.getLogger(), logging.getLogger("curve_rank")
    before = (root.handlers[:], root.level, ours.level)
    try:
        for kind, said in (("json", '"says": "hello"'), ("text", "curve_rank.x: hello n=3"), ("off", "")):
            set_up(kind)
            logging.getLogger("curve_rank.x").info("hello", extra={"n": 3})
            told = capsys.readouterr().err
            assert said in told
            assert bool(told) == bool(said)
    finally:
        root.handlers[:], root.level, ours.level = before
    assert (
        Words().format(logging.makeLogRecord({"name": "a", "msg": "b", "levelname": "INFO"})).endswith("a: b")
    )


def test_it_is_ready_until_it_stops_or_nothing_can_be_kept(
    make_app: Callable[..., Flask], monkeypatch: pytest.MonkeyPatch
) -> None:
    app = make_app(Resting)
    client = app.test_client()
    assert client.get("/readyz").get_json() == {"ready": True, "problems": [], "backup": True}

    def gone(_: object) -> bool:
        raise UnavailableError("database", "x", "a sound database")

    monkeypatch.setattr("curve_rank.web.pages.home.check", gone)
    monkeypatch.setattr("curve_rank.web.pages.home.LEAST_FREE", 10**18)
    desk_of(app).stopping.set()
    answer = client.get("/readyz")
    assert answer.status_code == 503
    assert answer.get_json()["problems"] == ["stopping", "database", "disk"]


def test_too_many_requests_of_one_are_turned_away_and_of_others_are_not(
    make_app: Callable[..., Flask],
) -> None:
    app = make_app(Resting, requests_a_minute=5, demo=True, proxies=1)
    first, second = app.test_client(), app.test_client()
    came = [first.get("/guide", headers={"X-Forwarded-For": "10.0.0.1"}).status_code for _ in range(8)]
    assert came == [200] * 5 + [429] * 3
    refused = first.get("/guide", headers={"X-Forwarded-For": "10.0.0.1"})
    assert int(refused.headers["Retry-After"]) > 0
    assert second.get("/guide", headers={"X-Forwarded-For": "10.0.0.2"}).status_code == 200
    assert first.get("/healthz", headers={"X-Forwarded-For": "10.0.0.1"}).status_code == 200
    assert make_app(Resting, requests_a_minute=0).test_client().get("/guide").status_code == 200


def test_a_proxys_word_counts_only_where_one_is_trusted(make_app: Callable[..., Flask]) -> None:
    told = {
        "X-Forwarded-For": "203.0.113.9",
        "X-Forwarded-Proto": "https",
        "X-Forwarded-Host": "arm.example",
        "X-Request-Id": "abcdef-0123456789",
    }
    behind = make_app(Resting, proxies=1, hosts="arm.example", https=True).test_client()
    alone = make_app(Resting).test_client()
    assert behind.get("/guide", headers=told).headers["X-Request-Id"] == told["X-Request-Id"]
    assert behind.get("/guide", headers=told | {"X-Forwarded-Host": "evil.example"}).status_code == 400
    assert (
        behind.get("/guide", headers=told | {"X-Request-Id": "a\tb" * 9}).headers["X-Request-Id"]
        != "a\tb" * 9
    )
    assert alone.get("/guide", headers=told).headers["X-Request-Id"] != told["X-Request-Id"]
    assert alone.get("/guide", headers=told | {"X-Forwarded-Host": "evil.example"}).status_code == 200


def trail(app: Flask) -> list[tuple[str, str, str, str]]:
    with desk_of(app).store.reading() as session:
        from curve_rank.store.viewers import local_educator

        viewer = local_educator(session)
        assert viewer
        return [(one.actor, one.act, one.person, one.page) for one in audit.trail(session, viewer)]


def test_looks_and_changes_of_others_data_are_written_down_and_ones_own_are_not(
    make_app: Callable[..., Flask],
) -> None:
    app = make_app(Resting, local_viewer=False)
    acting_as(app, COACHES[0])
    client: FlaskClient = app.test_client()
    for _ in range(3):
        assert client.get("/clients/4").status_code == 200
    assert client.get("/clients/5").status_code == 404  # another coach's: nothing was seen
    assert trail(app) == [(COACHES[0], "saw", WREN, "clients")]
    sent = client.post("/record/4/comments", data={"text": "Good week."})
    assert sent.status_code == 303
    assert trail(app)[0] == (COACHES[0], "changed", WREN, "record · comments")
    own = make_app(Resting, local_viewer=False)
    acting_as(own, WREN)
    seen = own.test_client().get("/account").text
    assert "Who has seen your data" in seen
    before = len(trail(own))
    own.test_client().get("/account/data.zip")
    assert len(trail(own)) == before
