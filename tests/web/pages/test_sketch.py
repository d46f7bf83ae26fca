"""Sketch: drawn, judged, kept with its points; quick questions; and a question for a room."""

from __future__ import annotations

import html
import re
from datetime import UTC, datetime, timedelta

import pytest
from flask.testing import FlaskClient

from curve_rank.study.sketch import PLACES

TRUE = [100, 95, 85, 72, 58, 42, 26, 10, 0]


def test_a_sketch_is_judged_kept_and_counted_by_family(client: FlaskClient) -> None:
    page = client.get("/sketch?item=pad-45-dumbbell-curl").text
    assert page.count('name="at"') == PLACES
    for telling in ("lever", "fig-muscle", "hardest at", "strip-area"):
        assert telling not in page
    kept = client.post("/sketch", data={"item": "pad-45-dumbbell-curl", "at": [str(v) for v in TRUE]})
    assert kept.status_code == 303
    told = client.get(kept.location).text
    assert re.search(r"(Near enough|Not there yet)", told)
    assert "hardest at" in told
    assert "The load asks most at" in told
    assert "My points by family" in told
    assert "pad" in told


@pytest.mark.parametrize(
    "form",
    [
        {"item": "pad-45-dumbbell-curl", "at": ["50"] * 8},
        {"item": "pad-45-dumbbell-curl", "at": ["0"] * 9},
        {"item": "pad-45-dumbbell-curl", "at": ["101"] * 9},
        {"item": "pad-45-dumbbell-curl", "at": ["high"] * 9},
        {"item": "nothing", "at": ["50"] * 9},
    ],
)
def test_what_is_no_sketch_is_refused(client: FlaskClient, form: dict[str, object]) -> None:
    assert client.post("/sketch", data=form).status_code in (400, 404)
    assert client.get("/sketch/1").status_code == 404


def test_a_deck_asks_the_same_again_and_tells_right_from_wrong(client: FlaskClient) -> None:
    page = client.get("/sketch/ask?deck=5&card=2").text
    assert client.get("/sketch/ask?deck=5&card=2").text.count(re.findall("<h1>(.*?)</h1>", page)[0]) == 1
    told = [client.post("/sketch/ask", data={"deck": 5, "card": 2, "answer": n}).text for n in (0, 1)]
    assert sorted("<b>Right.</b>" in one for one in told) == [False, True]
    assert all("answer right" in one for one in told)
    assert client.post("/sketch/ask", data={"deck": 5, "card": 2, "answer": 2}).status_code == 400
    room = client.get("/sketch/room?deck=5&card=2").text
    assert re.findall("<h1>(.*?)</h1>", page)[0] in room
    assert room.count('data-right="1"') == 1


def test_a_question_answered_wrong_comes_back_after_a_while(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    page = client.get("/sketch/ask?deck=5&card=2").text
    asked = re.findall("<h1>(.*?)</h1>", page)[0]
    told = [client.post("/sketch/ask", data={"deck": 5, "card": 2, "answer": n}).text for n in (0, 1)]
    wrong = 0 if "No: " in told[0] else 1
    client.post("/sketch/ask", data={"deck": 5, "card": 2, "answer": wrong})
    assert "item" not in client.get("/sketch/ask/next?deck=5&card=3").location
    later = datetime.now(UTC).replace(tzinfo=None) + timedelta(minutes=3)
    monkeypatch.setattr("curve_rank.web.pages.sketch.now", lambda: later)
    back = client.get("/sketch/ask/next?deck=5&card=3").location
    assert "item=" in back
    again = client.get(back).text
    assert asked in again
    key = html.unescape(re.findall('name="item" value="([^"]+)"', again)[0])
    answered = client.post("/sketch/ask", data={"deck": 5, "card": 3, "item": key, "answer": 1 - wrong}).text
    assert "<b>Right.</b>" in answered
    assert "card=3" in re.findall('data-next href="([^"]+)"', answered)[0]
    assert "My points by family" in answered
    monkeypatch.setattr("curve_rank.web.pages.sketch.now", lambda: later + timedelta(minutes=3))
    assert "item" not in client.get("/sketch/ask/next?deck=5&card=3").location
    for bad in ("nothing", "longer chin-up biceps_long nose", "stretched chin-up"):
        assert client.get("/sketch/ask", query_string={"item": bad}).status_code == 400
