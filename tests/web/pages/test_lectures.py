"""Lectures: put together, shown slide by slide, and followed by a room that knows nobody."""

from __future__ import annotations

import re
from typing import Any

import pypdfium2
import pytest
from flask.testing import FlaskClient

BARN = "/lectures/own-thursday-at-the-barn-long-or-short"
HANDS = 2


def slides_of(client: FlaskClient, lecture: str = BARN) -> dict[str, list[str]]:
    page = client.get(lecture).text
    found = {name: re.findall(rf'name="{name}" value="([^"]*)"', page) for name in ("kind", "what")}
    titles = re.findall(r'name="title"\s+maxlength="120" value="([^"]*)"', page)
    words = re.findall(r'<textarea class="form-control" name="words"[^>]*>([^<]*)<', page)
    return {**found, "title": titles, "words": words}


def test_every_slide_of_the_demos_lecture_can_be_shown(client: FlaskClient) -> None:
    count = len(slides_of(client)["kind"])
    assert count == 7
    for n in range(count):
        shown = client.get(f"{BARN}/slide?slide={n}").get_json()
        assert "<h1>" in shown["html"]
        assert "cannot be shown" not in shown["html"]
        assert 'role="alert"' not in shown["html"]
    assert client.get(f"{BARN}/slide?slide={count}").status_code == 400
    printed = pypdfium2.PdfDocument(client.get(f"{BARN}.pdf").data)
    assert len(printed) >= count


def test_a_page_goes_into_a_lecture_and_slides_change_places(client: FlaskClient) -> None:
    begun = client.post("/lectures", data={"name": "For Monday", "page": "/variants/chin-up"})
    assert begun.location.endswith("/lectures/own-for-monday")
    where = "/lectures/own-for-monday"
    client.post("/lectures/add", data={"lecture": "own-for-monday", "page": "/board?target=brachialis"})
    kept: dict[str, Any] = slides_of(client, where)
    assert kept["what"] == ["/variants/chin-up", "/board?target=brachialis"]
    kept["words"] = ["First this.", ""]
    client.post(where, data={**kept, "name": "For Monday", "act": "down 0"})
    assert slides_of(client, where)["what"] == ["/board?target=brachialis", "/variants/chin-up"]
    assert slides_of(client, where)["words"] == ["", "First this."]
    client.post(where, data={**slides_of(client, where), "name": "For Monday", "act": "out 0"})
    assert slides_of(client, where)["what"] == ["/variants/chin-up"]
    for wrong in ({"name": ""}, {"name": "For Monday", "kind": "film"}, {"name": "x" * 200}):
        answer = client.post(where, data={**slides_of(client, where), **wrong})
        assert answer.status_code == 400
        assert slides_of(client, where)["what"] == ["/variants/chin-up"]
    client.post(f"{where}/remove")
    assert "For Monday</a>" not in client.get("/lectures").text
    client.post(f"{where}/put-back")
    assert "For Monday</a>" in client.get("/lectures").text


def test_a_slide_whose_page_is_gone_says_so_and_the_lecture_goes_on(client: FlaskClient) -> None:
    client.post("/lectures", data={"name": "Gone", "page": "/variants/own-never-was"})
    shown = client.get("/lectures/own-gone/slide?slide=0")
    assert shown.status_code == 200
    assert "own-never-was" in shown.get_json()["html"]


def open_room(client: FlaskClient) -> str:
    code = client.post(f"{BARN}/room").get_json()["code"]
    client.post(f"{BARN}/room/lead", data={"slide": HANDS})
    return str(code)


def test_a_room_counts_hands_shows_what_is_right_and_forgets(client: FlaskClient) -> None:
    code = open_room(client)
    assert client.post(f"{BARN}/room").get_json()["code"] == code
    stranger = client.application.test_client()
    phones = [f"phone-{n:04}" for n in range(3)]
    asked = stranger.get(f"/r/{code}.json?phone={phones[0]}").get_json()
    assert (asked["kind"], len(asked["answers"])) == ("hands", 2)
    assert "right" not in asked
    for phone, hand in zip(phones, (0, 1, 1), strict=True):
        sent = {"phone": phone, "turn": asked["turn"], "hand": hand}
        assert stranger.post(f"/r/{code}", data=sent).status_code == 200
    stranger.post(f"/r/{code}", data={"phone": phones[0], "turn": asked["turn"], "hand": 1})
    told = client.get(f"{BARN}/room.json").get_json()
    assert (told["here"], told["hands"]) == (3, [0, 3])
    client.post(f"{BARN}/room/lead", data={"slide": HANDS, "shown": 1})
    assert stranger.get(f"/r/{code}.json?phone={phones[0]}").get_json()["right"] == 1
    late = stranger.post(f"/r/{code}", data={"phone": phones[0], "turn": asked["turn"], "hand": 0})
    assert late.status_code == 400
    client.post(f"{BARN}/room/lead", data={"slide": HANDS + 2})
    again = stranger.get(f"/r/{code}.json?phone={phones[0]}").get_json()
    assert again["kind"] == "sketch"
    drawn = {"phone": phones[0], "turn": again["turn"], "at": [0.2] * again["places"]}
    assert stranger.post(f"/r/{code}", data=drawn).status_code == 200
    assert "sketch-one" in client.get(f"{BARN}/room.json?slide={HANDS + 2}").get_json()["drawn"]
    client.post(f"{BARN}/room/close")
    assert stranger.get(f"/r/{code}.json?phone={phones[0]}").status_code == 404


@pytest.mark.parametrize(
    "sent",
    [
        {"hand": 2},
        {"hand": -1},
        {"hand": "all"},
        {},
        {"hand": 0, "turn": 99},
        {"hand": 0, "phone": "short"},
        {"hand": 0, "phone": "x" * 200},
        {"at": [0.5] * 9},
    ],
)
def test_a_phone_cannot_answer_what_is_not_asked(client: FlaskClient, sent: dict[str, Any]) -> None:
    code = open_room(client)
    turn = client.get(f"/r/{code}.json?phone=phone-0001").get_json()["turn"]
    answer = client.post(f"/r/{code}", data={"phone": "phone-0001", "turn": turn, **sent})
    assert answer.status_code == 400
    assert client.get(f"{BARN}/room.json").get_json()["hands"] == [0, 0]


def test_a_room_holds_so_many_phones_and_no_code_is_guessed(client: FlaskClient) -> None:
    from curve_rank.background.audiences import MOST_PHONES

    code = open_room(client)
    answers = [client.get(f"/r/{code}.json?phone=phone-{n:05}").status_code for n in range(MOST_PHONES + 1)]
    assert set(answers[:-1]) == {200}
    assert answers[-1] == 429
    for guess in ("AAAAA", "x" * 300, "%00", "..%2f"):
        assert client.get(f"/r/{guess}.json?phone=phone-0001").status_code == 404
