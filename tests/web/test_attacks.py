"""Forged writes, ways out of folders, redirects elsewhere, headers out of words, an old cookie."""

from __future__ import annotations

import re
import time
from collections.abc import Callable

import pytest
from flask import Flask
from itsdangerous import TimestampSigner

from tests.helpers import Resting, desk_of
from tests.web.pages.test_sign_in import as_anybody
from tests.web.test_access import address, routes

WAYS = (
    "../secret-key", "..%2fsecret-key", "%2e%2e/secret-key", "..%5csecret-key", "/etc/passwd",
    "....//secret-key", "%00", "secret-key", "curve-rank.sqlite3", "../../pyproject.toml",
    "%c0%ae%c0%ae/secret-key",
)  # fmt: skip
ELSEWHERE = (
    "https://evil.example/", "//evil.example", "/\\evil.example", "\\\\evil.example", "javascript:alert(1)",
    "/%0d%0aSet-Cookie:x=1", "/\r\nSet-Cookie: x=1", "http:evil.example", " //evil.example",
    "/\t/evil.example",
)  # fmt: skip


@pytest.fixture
def guarded(make_app: Callable[..., Flask]) -> Flask:
    """The demo with form tokens asked for, as it is served."""
    return make_app(Resting, demo=True, local_viewer=False)


def test_no_write_is_taken_from_another_site_whoever_is_signed_in(guarded: Flask) -> None:
    """Without a token, and with one of another session; the cookie alone proves nothing."""
    everyone = [
        as_anybody(guarded, name) for name in ("Maude Ellerby", "Tamsin Brackwater", "Wren Achterberg")
    ]
    stranger = guarded.test_client().get("/guide").text
    (foreign,) = re.findall(r'name="csrf" content="([^"]+)"', stranger)
    guarded.config["WTF_CSRF_ENABLED"] = True
    writes = [rule for rule, method in routes(guarded) if method == "POST"]
    assert len(writes) > 90
    taken = 0
    for rule in writes:
        for client in everyone:
            for sent in ({}, {"csrf_token": foreign}):
                headers = {"Origin": "https://evil.example", "Sec-Fetch-Site": "cross-site"}
                for body in ({"data": {"name": "x", **sent}}, {"json": {"messages": []}}):
                    answer = client.post(address(rule), headers=headers, **body)
                    # 403: not for them at all
                    assert answer.status_code in (400, 403), (rule.rule, answer.status_code)
                    taken += answer.status_code == 400
                    refused = "not taken in" in answer.text or answer.status_code == 403
                    assert refused, rule.rule
    assert taken > 4 * len(writes)
    for rule, method in routes(guarded):  # and what is only looked at changes nothing
        assert method == "POST" or not re.search(r"/(remove|withdraw|end|leave|cancel|make)$", rule.rule)


def test_no_word_in_an_address_leads_out_of_a_folder(guarded: Flask) -> None:
    owner = as_anybody(guarded, "Maude Ellerby")
    folder = desk_of(guarded).settings.data
    secret = (folder / "secret-key").read_bytes()
    places = [rule for rule, method in routes(guarded) if method == "GET" and rule.arguments]
    for rule in places:
        if {"row"} & set(re.findall(r"<(\w+):", rule.rule)):
            continue
        for way in WAYS:
            answer = owner.get(re.sub(r"<[^>]+>", way.replace("\\", "%5c"), rule.rule))
            assert answer.status_code < 500, (rule.rule, way)
            assert secret not in answer.data
            assert b"SQLite format 3" not in answer.data
            assert b"root:" not in answer.data


def test_nothing_sends_a_browser_elsewhere_or_writes_a_header(guarded: Flask) -> None:
    for way in ELSEWHERE:
        client = guarded.test_client()
        for answer in (
            client.get("/sign-in", query_string={"back": way}),
            client.post("/sign-in/as", data={"person": 4, "back": way}),
            client.get("/lenses/" + way.strip("/\\ \r\n\t"), query_string={"x": way}),
            client.get("/static/" + way.strip("/\\ \r\n\t")),
            client.get("/variants/chin-up", query_string={"target": way}),
        ):
            assert answer.status_code < 500, way
            assert "x=1" not in str(answer.headers.getlist("Set-Cookie"))
            to = answer.headers.get("Location", "/")
            assert re.match(r"/(?![/\\])|http://localhost/", to), (way, to)
    owner = as_anybody(guarded, "Maude Ellerby")
    named = owner.post(
        "/bench/standing-dumbbell-curl/save", data={"name": 'A"\r\nX-Evil: 1; b', "set": "posture.wrist=-10"}
    )
    for answer in (named, owner.get("/variants.csv"), owner.get("/account/data.zip")):
        assert "X-Evil" not in answer.headers
        assert "\n" not in answer.headers.get("Content-Disposition", "")


def test_a_cookie_from_before_a_sign_in_is_nobodys_after_it(guarded: Flask) -> None:
    client = guarded.test_client()
    client.get("/guide")
    planted = client.get_cookie("session")
    assert client.post("/sign-in/as", data={"person": 4}).status_code == 303
    held = client.get_cookie("session")
    assert held
    assert planted is None or planted.value != held.value
    other = guarded.test_client()
    if planted:
        other.set_cookie("session", planted.value)
    assert other.get("/today").status_code == 401
    # signed out, the cookie that was good is good for nothing
    client.post("/sign-out")
    late = guarded.test_client()
    late.set_cookie("session", held.value)
    assert late.get("/today").status_code == 401
    forged = guarded.test_client()
    forged.set_cookie("session", held.value[:-2] + "xx")
    assert forged.get("/today").status_code == 401


def test_where_the_clock_was_set_back_a_sign_in_is_asked_for_again_and_holds(
    guarded: Flask, monkeypatch: pytest.MonkeyPatch
) -> None:
    def clock(hours: float) -> None:
        now = int(time.time() + 3600 * hours)
        monkeypatch.setattr(TimestampSigner, "get_timestamp", lambda _self: now)

    client = guarded.test_client()
    clock(30)
    client.post("/sign-in/as", data={"person": 4})
    assert client.get("/today").status_code == 200
    clock(0)
    answer = client.get("/today", headers={"Accept": "text/html"})
    assert answer.status_code == 401
    assert "/sign-in" in answer.text
    client.post("/sign-in/as", data={"person": 4})
    assert client.get("/today").status_code == 200
