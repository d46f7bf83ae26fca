"""The board: its rows, kept questions, and how sure."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Executor, Future
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient
from sqlalchemy import func, select

from curve_rank.rating.modelling import Modeller
from curve_rank.store.tables import SavedQuestion
from curve_rank.web import arms
from tests.helpers import desk_of, wait_for_run

QUESTION = "target=triceps_long&lens=long_length&with=band"


def test_draws_run_are_told_and_kept(client: FlaskClient) -> None:
    asked = f"{QUESTION}&draws=30"
    assert client.get(f"/certainty.json?{asked}").get_json()["state"] == "none"
    run = client.post(f"/certainty/start?{asked}").get_json()["run"]
    told = wait_for_run(client, f"/certainty.json?{asked}&run={run}")
    assert told["state"] == "finished"
    board = client.get(f"/board.json?{QUESTION}").get_json()
    assert [row["variant"] for row in told["certainty"]["rows"]] == [r["variant"] for r in board["rows"]]
    assert all(svg.startswith("<svg") for svg in told["whiskers"].values())
    other_lens = client.get(f"/certainty.json?{asked.replace('long_length', 'even_tension')}").get_json()
    assert other_lens["state"] == "finished"


class Idle(Executor):
    """Takes work and never does it."""

    def submit(self, _work: Callable[..., Any], /, *_args: Any, **_named: Any) -> Future[Any]:
        return Future()


def test_until_its_arms_are_drawn_a_page_tells_how_far_and_a_file_when_to_ask_again(
    make_app: Callable[..., Flask], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(arms, "AT_ONCE", 0.0)
    client, asked = make_app(Idle, modeller=Modeller()).test_client(), "target=triceps_medial"
    assert 'x-data="drawing"' in client.get(f"/board?{asked}").text
    page = client.get("/compare?with=standing-dumbbell-curl&with=pad-45-dumbbell-curl").text
    assert "data-drawing" in page
    assert '<progress value="0"' in page
    told = client.get(f"/board/drawing.json?{asked}").get_json()
    assert told["done"] == 0 < told["total"]
    file = client.get(f"/take.csv?page=/board?{asked}")
    assert (file.status_code, file.headers["Retry-After"]) == (202, "2")


def test_the_medial_head_is_answered_for(client: FlaskClient) -> None:
    asked = "target=triceps_medial&reps=7"
    medial, lateral = (
        client.get(f"/board.json?{asked.replace('medial', h)}").get_json() for h in ("medial", "lateral")
    )
    assert client.get(f"/board/drawing.json?{asked}").get_json()["finished"]
    assert [r["variant"] for r in medial["rows"]] == [r["variant"] for r in lateral["rows"]]
    assert "cannot tell" in client.get(f"/board?{asked}").text
    assert medial["cannot_tell"][0]["why"]


def test_a_run_is_cancelled_from_the_page_and_an_unknown_one_is_no_error(client: FlaskClient) -> None:
    asked = f"{QUESTION}&draws=4000&seed=9"
    run = client.post(f"/certainty/start?{asked}").get_json()["run"]
    assert client.post(f"/certainty/cancel?{asked}", data={"run": run}).get_json() == {"cancelled": True}
    state = wait_for_run(client, f"/certainty.json?{asked}&run={run}")["state"]
    assert state == "cancelled"
    assert client.post(f"/certainty/cancel?{asked}", data={"run": "none such"}).get_json() == {
        "cancelled": False
    }


def test_the_chance_that_one_beats_another(client: FlaskClient) -> None:
    asked = f"{QUESTION}&draws=40"
    run = client.post(f"/certainty/start?{asked}").get_json()["run"]
    told = wait_for_run(client, f"/certainty.json?{asked}&run={run}")
    assert told["chance"] is None
    names = [row["variant"] for row in told["certainty"]["rows"]]
    there, back = (
        client.get(f"/certainty.json?{asked}&first={a}&second={b}").get_json()["chance"]["chance"]
        for a, b in ((names[0], names[1]), (names[1], names[0]))
    )
    assert there + back == pytest.approx(1, abs=1e-3)
    assert there == pytest.approx(told["certainty"]["rows"][0]["beats_next"], abs=1e-3)
    wrong = client.get(f"/certainty.json?{asked}&first=none&second={names[0]}")
    assert wrong.status_code == 400
    assert "first" in wrong.get_json()["error"]


@pytest.mark.parametrize(
    "bad", ["draws=2", "draws=many", "seed=-1", "seed=99999999999", "draws=1e9", "lens=x"]
)
def test_nonsense_is_refused(client: FlaskClient, bad: str) -> None:
    for response in (
        client.get(f"/certainty.json?{bad}"),
        client.post(f"/certainty/start?{bad}", headers={"Accept": "application/json"}),
    ):
        assert response.status_code == 400
        assert response.get_json()["error"]


def count(app: Flask, table: type) -> int:
    with desk_of(app).store.reading() as session:
        return session.scalar(select(func.count(table.id))) or 0  # type: ignore[attr-defined]


def test_questions_are_kept_and_dropped(app: Flask, client: FlaskClient) -> None:
    before = count(app, SavedQuestion)
    address = "target=brachialis&lens=even_tension"
    client.post("/board/questions", data={"name": "Brachialis", "address": address})
    assert count(app, SavedQuestion) == before + 1
    assert client.post("/board/questions", data={"name": "x", "address": "target=calf"}).status_code == 400
    bad = client.post("/board/questions", data={"name": "y" * 90, "address": address})
    assert bad.status_code == 400
    assert "y" * 90 in bad.text
    assert count(app, SavedQuestion) == before + 1
    client.post(f"/board/questions/{before + 1}/remove")
    assert count(app, SavedQuestion) == before


def test_a_row_that_surprises_asks_why_and_says_it_where_it_is_opened(client: FlaskClient) -> None:
    question = "target=brachialis&lens=even_tension"
    rows = client.get(f"/board.json?{question}").get_json()["rows"]
    page = client.get(f"/board?{question}").text
    surprising = [row for row in rows if row["why_here"]["surprise"] and not row["twin_of"]]
    assert page.count('class="asks"') == len(surprising) > 0
    for row in surprising[:2]:
        opened = client.get(f"/board/rows/{row['variant']}?{question}").text
        assert f"Why so {row['why_here']['surprise']}?" in opened
        assert row["why_here"]["says"] in opened
