"""Clients in one look: who needs somebody, found and filtered, seen until something new, a word to many."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import date

import pytest
from flask import Flask

from curve_rank.store.tables import CommentRow
from tests.answers.surfaces import words_of
from tests.helpers import Resting, desk_of
from tests.web.pages.test_sign_in import as_anybody
from tests.web.pages.test_today import INES, TAMSIN, WREN, number_of


@pytest.fixture
def house(make_app: Callable[..., Flask]) -> Flask:
    return make_app(Resting, demo=True)


def listed(page: str) -> list[str]:
    return re.findall(r'data-name="([^"]+)"', page)


def test_those_who_need_somebody_come_first_and_all_can_be_found(house: Flask) -> None:
    coach = as_anybody(house, TAMSIN)
    page = coach.get("/clients").text
    assert listed(page)[0] == INES.lower()
    assert re.search(r"\d of \d need", words_of(page))
    assert listed(coach.get("/clients?q=WREN").text) == [WREN.lower()]
    assert listed(coach.get("/clients?q=nobody").text) == []
    assert "Nobody is like that" in coach.get("/clients?q=nobody").text
    needing, quiet = (set(listed(coach.get(f"/clients?show={show}").text)) for show in ("needs", "quiet"))
    assert INES.lower() in needing
    assert not needing & quiet
    assert needing | quiet == set(listed(page))
    (room,) = re.findall(r'<option value="(\d+)"[^>]*>The hayloft', page)
    assert listed(coach.get(f"/clients?room={room}").text) == [WREN.lower()]
    block = re.findall(r'<option value="(\d+)"[^>]*>Lantern weeks', page)[0]
    assert set(listed(coach.get(f"/clients?block={block}").text)) == {WREN.lower(), INES.lower()}
    for odd in ("show=some", "room=x", "block=-1"):
        assert coach.get(f"/clients?{odd}").status_code == 400


def test_what_was_seen_stays_seen_until_something_new_is_there(house: Flask) -> None:
    coach, ines = as_anybody(house, TAMSIN), number_of(house, INES)
    assert INES.lower() in listed(coach.get("/clients?show=needs").text)
    back = coach.post(f"/clients/{ines}/seen", data={"show": "needs"})
    assert back.location.endswith("/clients?show=needs")
    assert INES.lower() not in listed(coach.get("/clients?show=needs").text)
    assert "hurt in 2 sessions" in coach.get("/clients").text  # seen is not hidden
    for other in ("Maude Ellerby", "Osric Vayle"):  # of another eye
        assert as_anybody(house, other).post(f"/clients/{ines}/seen").status_code in (303, 404)
    client = as_anybody(house, INES)
    hurt = {
        "day": date.today().isoformat(), "variant": "chin-up", "load_kg": 0, "reps": 6,
        "key": "new-pain-00001",
        "pain": 8, "pain_joint": "elbow",
    }  # fmt: skip
    said = {"person": ines, "messages": [{"device": "p", "written": 1, "set": hurt}]}
    assert client.post("/today/log", json=said).status_code == 200
    assert INES.lower() in listed(coach.get("/clients?show=needs").text)


def test_a_word_reaches_those_ticked_or_all_shown_and_nobody_else(house: Flask) -> None:
    coach, ines, wren = as_anybody(house, TAMSIN), number_of(house, INES), number_of(house, WREN)

    def told() -> dict[int, list[str]]:
        with desk_of(house).store.reading() as session:
            rows = session.query(CommentRow).filter(CommentRow.text.startswith("Monday")).all()
            found: dict[int, list[str]] = {}
            for row in rows:
                found.setdefault(row.person_id, []).append(row.text)
            return found

    assert coach.post("/clients/word", data={"text": "Monday: one", "to": [ines]}).status_code == 303
    assert told() == {ines: ["Monday: one"]}
    coach.post("/clients/word", data={"text": "Monday: all", "q": "ach"})
    assert told() == {ines: ["Monday: one"], wren: ["Monday: all"]}
    assert "Sent to 1 client." in coach.get("/clients").text
    hollis = number_of(house, "Hollis Marrable")  # another coach's: none is sent at all
    refused = coach.post("/clients/word", data={"text": "Monday: no", "to": [ines, hollis]})
    assert refused.status_code == 404
    assert told() == {ines: ["Monday: one"], wren: ["Monday: all"]}
    long = coach.post("/clients/word", data={"text": "Monday" * 500, "to": [ines]})
    assert long.status_code == 400
    assert "Monday" * 500 in long.text  # what was typed is still there
    assert coach.post("/clients/word", data={"text": " ", "to": [ines]}).status_code == 400
    assert coach.post("/clients/word", data={"text": "Monday: none", "q": "nobody"}).status_code == 400
    assert as_anybody(house, WREN).post("/clients/word", data={"text": "x", "to": [ines]}).status_code == 403


def test_a_coach_begins_with_clients_an_educator_with_the_board_a_client_with_today(house: Flask) -> None:
    for name, begins in ((TAMSIN, "/clients"), ("Maude Ellerby", "/board"), (WREN, "/today")):
        assert as_anybody(house, name).get("/").location == begins
