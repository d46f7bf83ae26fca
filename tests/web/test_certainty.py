"""How sure, on the board: started, watched, cancelled; nonsense refused; the board stays usable."""

from __future__ import annotations

import re
import time

import pytest
from flask.testing import FlaskClient
from playwright.sync_api import expect

from tests.web.conftest import Visit

QUESTION = "target=triceps_long&lens=long_length&with=band"


def test_draws_run_are_told_and_kept(client: FlaskClient) -> None:
    asked = f"{QUESTION}&draws=30"
    assert client.get(f"/certainty.json?{asked}").get_json()["state"] == "none"
    run = client.post(f"/certainty/start?{asked}").get_json()["run"]
    for _ in range(300):
        told = client.get(f"/certainty.json?{asked}&run={run}").get_json()
        if told["state"] != "running":
            break
        time.sleep(0.1)
    assert told["state"] == "finished"
    board = client.get(f"/board.json?{QUESTION}").get_json()
    assert [row["variant"] for row in told["certainty"]["rows"]] == [r["variant"] for r in board["rows"]]
    assert all(svg.startswith("<svg") for svg in told["whiskers"].values())
    other_lens = client.get(f"/certainty.json?{asked.replace('long_length', 'even_tension')}").get_json()
    assert other_lens["state"] == "finished"


def test_a_run_is_cancelled_from_the_page_and_an_unknown_one_is_no_error(client: FlaskClient) -> None:
    asked = f"{QUESTION}&draws=4000&seed=9"
    run = client.post(f"/certainty/start?{asked}").get_json()["run"]
    assert client.post("/certainty/cancel", data={"run": run}).get_json() == {"cancelled": True}
    for _ in range(200):
        state = client.get(f"/certainty.json?{asked}&run={run}").get_json()["state"]
        if state != "running":
            break
        time.sleep(0.1)
    assert state == "cancelled"
    assert client.post("/certainty/cancel", data={"run": "none such"}).get_json() == {"cancelled": False}


def test_the_chance_that_one_beats_another(client: FlaskClient) -> None:
    asked = f"{QUESTION}&draws=40"
    run = client.post(f"/certainty/start?{asked}").get_json()["run"]
    for _ in range(300):
        told = client.get(f"/certainty.json?{asked}&run={run}").get_json()
        if told["state"] != "running":
            break
        time.sleep(0.1)
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


def test_whiskers_come_to_the_board_and_a_second_question_stays_quick(visit: Visit) -> None:
    page = visit.page
    visit.go("/board?target=biceps_short&lens=even_tension&reps=12")
    expect(page.locator("[data-whisker] svg").first).to_be_visible(timeout=10_000)
    expect(page.locator("[data-sure-words]")).to_have_text(re.compile(r"\d+ of 500 draws"))
    start = time.monotonic()
    page.select_option("#q-lens", "short_length")
    expect(page.locator(".stands-for")).to_contain_text("Squeeze")
    assert time.monotonic() - start < 3
    page.get_by_role("button", name="Stop", exact=True).click()
    expect(page.locator("[data-sure-words]")).to_have_text(re.compile("Stopped after"), timeout=10_000)
    page.select_option("[data-second]", index=5)
    expect(page.locator("[data-chance]")).to_have_text(re.compile(r"\d+ % so far"))
    visit.go("/board?target=brachialis&reps=12")
    expect(page.locator(".row-entry").first).to_be_visible()
