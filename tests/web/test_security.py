"""Headers, policies, tokens, hosts, and what a refused form keeps."""

from __future__ import annotations

import re
import time
from collections.abc import Callable
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient

from curve_rank.errors import UnavailableError
from curve_rank.settings import Settings
from curve_rank.store import documents
from curve_rank.web import create_app
from tests.helpers import Resting

CURL = "/bench/standing-dumbbell-curl"
PAGES = ("/board", CURL, f"{CURL}?view=front&set=posture.forearm%3D-20", "/sources")


@pytest.mark.parametrize("page", PAGES)
def test_pages_answer_under_a_strict_policy_without_inline_code(client: FlaskClient, page: str) -> None:
    response = client.get(page)
    assert response.status_code == 200
    policy = response.headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy
    assert response.headers["X-Content-Type-Options"] == "nosniff"
    assert response.headers["Cache-Control"] == "private, no-store"
    for script in re.findall(r"<script\b[^>]*>", response.text):
        assert "src=" in script or 'type="application/json"' in script
    assert not re.search(r"\s(on\w+|style)=", response.text)
    assert "http://" not in re.sub(r"http://www\.w3\.org", "", response.text)


def token_on(page: str) -> str:
    return re.findall(r'name="csrf_token" value="([^"]+)"', page)[0]


def test_forms_without_a_token_and_huge_ones_are_refused(tmp_path: Path) -> None:
    client = create_app(Settings(data=tmp_path / "fresh")).test_client()
    for action in (f"{CURL}/save", "/bench/own-x/remove", "/bench/own-x/restore", "/board/questions"):
        assert client.post(action, data={"name": "x"}).status_code == 400
    assert client.post(f"{CURL}/save", data={"name": "x" * 300_000}).status_code == 413


def test_a_refused_form_keeps_what_was_typed_and_can_be_sent_again(tmp_path: Path) -> None:
    client = create_app(Settings(data=tmp_path)).test_client()
    typed = {"name": "My <curl>", "set": "posture.wrist=-10", "csrf_token": "of long ago"}
    refused = client.post(f"{CURL}/save", data=typed)
    assert refused.status_code == 400
    for kept in ("My &lt;curl&gt;", 'value="posture.wrist=-10"', f'action="{CURL}/save"'):
        assert kept in refused.text
    sent = client.post(f"{CURL}/save", data=typed | {"csrf_token": token_on(refused.text)})
    assert sent.status_code == 303
    # what another site sends is neither taken nor offered to be sent again
    for headers in ({"Origin": "http://elsewhere.example"}, {"Sec-Fetch-Site": "cross-site"}):
        assert "posture.wrist" not in client.post(f"{CURL}/save", data=typed, headers=headers).text


def test_a_token_lives_as_long_as_its_session(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    client = create_app(Settings(data=tmp_path)).test_client()
    token = token_on(client.get("/board").text)
    client.get("/board?target=brachialis")  # a link opened in another tab
    now = time.time()
    monkeypatch.setattr("itsdangerous.timed.time.time", lambda: 20 * 24 * 3600 + now)
    saved = client.post(f"{CURL}/save", data={"name": "Late", "csrf_token": token})
    assert saved.status_code == 303


def test_two_pages_asked_for_at_once_after_signing_in_or_out_bear_tokens_that_both_are_taken(
    make_app: Callable[..., Flask],
) -> None:
    """A browser's worker asks beside its page: whichever cookie comes last, the page's forms are good."""
    app = make_app(Resting, demo=True, local_viewer=False)
    app.config["WTF_CSRF_ENABLED"] = True
    client = app.test_client()
    token = token_on(client.get("/sign-in").text)
    for action, page in (("/sign-in/as", "/account"), ("/sign-out", "/sign-in"), ("/sign-in/as", "/account")):
        assert client.post(action, data={"person": 1, "csrf_token": token}).status_code == 303, action
        held = client.get_cookie("session")
        assert held
        beside = app.test_client()
        beside.set_cookie("session", held.value)
        token = token_on(beside.get(page).text)
        assert client.get(page).status_code == 200


def test_cookies_are_kept_from_scripts_and_travel_as_the_settings_say(tmp_path: Path) -> None:
    for https in (False, True):
        app = create_app(Settings(data=tmp_path / str(https), https=https))
        answer = app.test_client().get("/schools/new")
        cookie = answer.headers["Set-Cookie"]
        assert "HttpOnly" in cookie
        assert "SameSite=Lax" in cookie
        assert ("Secure" in cookie) == https
        assert ("Strict-Transport-Security" in answer.headers) == https


def test_only_its_own_names_are_answered(make_app: Callable[..., Flask]) -> None:
    client = make_app(hosts="arm.example, [fe80::1]").test_client()
    for name, status in (
        ("localhost:8137", 200), ("127.0.0.1", 200), ("[::1]:8137", 200), ("ARM.example", 200),
        ("[fe80::1]", 200), ("elsewhere.example", 400), ("arm.example.elsewhere", 400),
    ):  # fmt: skip
        answer = client.get("/guide", headers={"Host": name})
        assert answer.status_code == status, name
    assert "CURVE_RANK_HOSTS" in client.get("/guide", headers={"Host": "elsewhere.example"}).text


def test_being_open_to_others_is_said_on_every_page(make_app: Callable[..., Flask]) -> None:
    for hosts, said in (("", False), ("0.0.0.0", True), ("arm.example", True)):
        app = make_app(hosts=hosts)
        assert ("Open to everyone" in app.test_client().get("/board").text) == said


def test_static_files_are_kept_for_a_year_under_a_name_that_changes_with_them(client: FlaskClient) -> None:
    page = client.get("/guide").text
    sheet, script = re.findall(r'(?:href|src)="(/static/[^"]+\.(?:css|js))"', page)[:2]
    for address in (sheet, script, "/palette.css"):
        answer = client.get(address)
        assert answer.status_code == 200
        assert "max-age=31536000" in answer.headers["Cache-Control"]
        assert "immutable" in answer.headers["Cache-Control"]
    plain = client.get("/static/mark.svg")
    assert plain.status_code == 302
    assert client.get(plain.headers["Location"]).status_code == 200


def test_the_board_is_small_on_the_wire(client: FlaskClient) -> None:
    for way in ("br", "gzip"):
        answer = client.get("/board", headers={"Accept-Encoding": way})
        assert answer.headers["Content-Encoding"] == way
        assert len(answer.data) < 100 * 1024
    assert "Content-Encoding" not in client.get("/board").headers


def test_a_database_that_does_not_serve_is_told_of_and_nothing_typed_is_lost(
    app: Flask, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: object, **__: object) -> None:
        raise UnavailableError("database", "curve-rank.sqlite3", "room on the disk; it is full")

    monkeypatch.setattr(documents, "save_new", full)
    client = app.test_client()
    typed = {"name": "Kept on the page", "set": "posture.wrist=-10"}
    for headers in ({}, {"Accept": "application/json"}):
        answer = client.post("/schools/new" if headers else f"{CURL}/save", data=typed, headers=headers)
        assert answer.status_code in (503, 400)
    page = client.post(f"{CURL}/save", data=typed)
    assert page.status_code == 503
    assert page.headers["Retry-After"]
    for kept in ("room on the disk", "Kept on the page", "posture.wrist=-10"):
        assert kept in page.text
    assert "sqlite3" not in page.text  # where it stands is nobody's business


def test_health_asks_the_database_and_puts_a_page_together(
    make_app: Callable[..., Flask], monkeypatch: pytest.MonkeyPatch
) -> None:
    client = make_app(Resting).test_client()
    assert client.get("/healthz").get_json()["ok"] is True

    def gone(_: object) -> bool:
        raise UnavailableError("database", "x", "a sound database")

    monkeypatch.setattr("curve_rank.web.pages.home.check", gone)
    assert client.get("/healthz").status_code == 503


def test_what_nobody_foresaw_is_a_page_without_a_trace(
    app: Flask, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    def breaks(*_: object, **__: object) -> None:
        raise ZeroDivisionError("the secret of the trace")

    monkeypatch.setattr(documents, "save_new", breaks)
    app.config["PROPAGATE_EXCEPTIONS"] = False
    page = app.test_client().post(f"{CURL}/save", data={"name": "Kept"})
    assert page.status_code == 500
    assert "secret" not in page.text
    assert "Traceback" not in page.text
    assert 'value="Kept"' in page.text
    assert "the secret of the trace" in caplog.text
