"""Headers, policies and tokens."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from curve_rank.settings import Settings
from curve_rank.web import create_app

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
    for script in re.findall(r"<script\b[^>]*>", response.text):
        assert "src=" in script or 'type="application/json"' in script
    assert not re.search(r"\s(on\w+|style)=", response.text)
    assert "http://" not in re.sub(r"http://www\.w3\.org", "", response.text)


def test_forms_without_a_token_and_huge_ones_are_refused(tmp_path: Path) -> None:
    client = create_app(Settings(data=tmp_path / "fresh")).test_client()
    for action in (f"{CURL}/save", "/bench/own-x/remove", "/bench/own-x/restore", "/board/questions"):
        assert client.post(action, data={"name": "x"}).status_code == 400
    assert client.post(f"{CURL}/save", data={"name": "x" * 300_000}).status_code == 413


def test_cookies_are_kept_from_scripts_and_travel_as_the_settings_say(tmp_path: Path) -> None:
    for https in (False, True):
        app = create_app(Settings(data=tmp_path / str(https), https=https))
        cookie = app.test_client().get("/schools/new").headers["Set-Cookie"]
        assert "HttpOnly" in cookie
        assert "SameSite=Lax" in cookie
        assert ("Secure" in cookie) == https
