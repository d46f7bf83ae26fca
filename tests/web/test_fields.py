"""Every field of every form and address, with digits, depth and other scripts: refused, never a fault."""

from __future__ import annotations

import json
import random
from collections.abc import Callable
from contextlib import suppress
from typing import Any

import pytest
from flask import Flask, request
from werkzeug.datastructures import MultiDict

from curve_rank.answers.requests import RequestForm
from curve_rank.errors import BadInputError
from curve_rank.training.log import LoggedSet, SessionNote
from tests.helpers import Resting
from tests.web.test_access import address, routes

DEEP = "[" * 50_000
LONG = "É" * 5000
DIGITS = ("²", "--5", "٣", "½", "9" * 20, "9" * 5000, "-0", "1e400", "१२", "1_0")
WORDS = ("\x00", "\ud7ff\u202e", LONG, "𝟙", "a\u0300" * 400, DEEP)
BY_HAND = {
    "/blocks/1/edit": ("edit", "week", "session", "values.sets"),
    "/measure": ("cell-1-1", "0-wrist-x"),
    "/record": ("cell-1-1",),
    "/schools": ("weight-long_tension", "zero-long_tension"),
}
"""Fields that are read one by one, by how their addresses begin; of each so many values are tried."""
MOST = 10


@pytest.fixture
def open_app(make_app: Callable[..., Flask], monkeypatch: pytest.MonkeyPatch) -> Flask:
    for drawn in ("answers.card", "exchange.leaflet", "web.pages.variants.booklet"):
        monkeypatch.setattr(f"curve_rank.{drawn}.pdf", lambda *_, **__: b"%PDF-")
    monkeypatch.setattr("curve_rank.web.files.slide_png", lambda *_, **__: b"PNG")
    monkeypatch.setattr("curve_rank.exchange.leaflet.as_png", lambda *_, **__: b"PNG")
    return make_app(Resting, patterns=True, requests_a_minute=0)


def forms_by_route(
    app: Flask, monkeypatch: pytest.MonkeyPatch
) -> dict[tuple[str, str], set[type[RequestForm]]]:
    """Which forms each route reads, found by calling each."""
    found: dict[tuple[str, str], set[type[RequestForm]]] = {}
    plain = RequestForm.read.__func__  # type: ignore[attr-defined]

    def noticed(form: type[RequestForm], values: Any) -> RequestForm:
        found.setdefault((request.path, request.method), set()).add(form)
        read: RequestForm = plain(form, values)
        return read

    with monkeypatch.context() as patched:
        patched.setattr(RequestForm, "read", classmethod(noticed))
        client = app.test_client()
        for rule, method in routes(app):
            if rule.rule != "/sign-out":
                client.open(address(rule), method=method)
    return found


@pytest.mark.usefixtures("open_app")  # by which every page and its forms are read in
def test_a_form_reads_every_value_or_says_what_would_be_right() -> None:
    waiting, tried = [RequestForm], 0
    while waiting:
        form = waiting.pop()
        waiting += form.__subclasses__()
        for name, one in form.model_fields.items():
            for value in (*DIGITS, *WORDS):
                with suppress(BadInputError):
                    form.read(MultiDict({one.alias or name: value}))
                tried += 1
    assert tried > 1000


def test_no_value_that_a_form_lets_through_is_a_fault(
    open_app: Flask, monkeypatch: pytest.MonkeyPatch
) -> None:
    forms, chance = forms_by_route(open_app, monkeypatch), random.Random(11)
    assert len({form for read in forms.values() for form in read}) > 40
    client, faults, tried = open_app.test_client(), [], 0
    for (where, method), read in forms.items():
        names = {(one.alias or name, form) for form in read for name, one in form.model_fields.items()}
        known = sorted({name for name, form in names if "str" in repr(form.model_fields.get(name))})
        by_hand = next((more for start, more in BY_HAND.items() if where.startswith(start)), ())
        short = [value for value in (*DIGITS, *WORDS) if method == "POST" or len(value) < 2500]
        for name in (*known, *(by_hand if method == "POST" else ())):
            tried_here = chance.sample(short, MOST if name in by_hand else 1)
            if method == "POST" and LONG not in tried_here:
                tried_here.append(LONG)
            for value in tried_here:
                kind = "data" if method == "POST" else "query_string"
                answer = client.open(where, method=method, **{kind: {name: value}})
                tried += 1
                if answer.status_code >= 500:
                    faults.append((where, method, name, value[:20]))
    assert faults == []
    assert tried > 500


def test_no_depth_and_no_number_in_what_a_phone_sends_is_a_fault(open_app: Flask) -> None:
    client = open_app.test_client()
    person = client.get("/today/queue.json").get_json()["person"]
    headers = {"Content-Type": "application/json", "Accept": "application/json"}
    good: dict[str, Any] = {
        "set": {"key": "a-set-of-one", "day": "2026-03-02", "variant": "chin-up", "load_kg": 0, "reps": 5},
        "note": {"key": "a-note-of-one", "day": "2026-03-02", "kind": "note", "text": "x"},
    }
    hostile: list[Any] = [*DIGITS, *WORDS[:3], 10**30, -(10**30), 1e308, [], {}, None, True]
    for body in (DEEP, '{"a":' * 20_000, '{"person": %s}' % ("9" * 5000), "null", "3"):
        assert client.post("/today/log", data=body, headers=headers).status_code == 400
    for kind, model in (("set", LoggedSet), ("note", SessionNote)):
        for name in (*model.model_fields, "more"):
            messages = [
                {
                    "device": "b-1",
                    "written": n + 1,
                    kind: good[kind] | {"key": f"hostile-{name}-{n}", name: value},
                }
                for n, value in enumerate(hostile)
            ]
            sent = json.dumps({"person": person, "messages": messages})
            answer = client.post("/today/log", data=sent, headers=headers)
            assert answer.status_code == 200, (kind, name)
            assert len(answer.get_json()["receipts"]) == len(messages)


def test_one_set_that_cannot_be_kept_is_refused_alone(open_app: Flask) -> None:
    client = open_app.test_client()
    person = client.get("/today/queue.json").get_json()["person"]
    one = {"key": "corrected-often", "day": "2026-03-02", "variant": "chin-up", "load_kg": 0, "reps": 5}

    def send(*messages: dict[str, Any]) -> list[dict[str, Any]]:
        answer = client.post("/today/log", json={"person": person, "messages": messages})
        assert answer.status_code == 200
        receipts: list[dict[str, Any]] = answer.get_json()["receipts"]
        return receipts

    def message(n: int, **changes: Any) -> dict[str, Any]:
        return {"device": "b-1", "written": n, "set": one | {"reps": 1 + n % 30} | changes}

    for n in range(1, 62):
        assert send(message(n))[0]["state"] in ("kept", "changed")
    sent = send(message(62), message(63, key="another-one"), message(64, key="too-heavy", load_kg=5000))
    by_key = {receipt["key"]: receipt for receipt in sent}
    assert by_key["corrected-often"]["state"] == "refused"
    assert "60 times" in by_key["corrected-often"]["problem"]
    assert by_key["too-heavy"]["state"] == "refused"
    assert "load_kg" in by_key["too-heavy"]["problem"]
    assert by_key["another-one"]["state"] == "kept"
