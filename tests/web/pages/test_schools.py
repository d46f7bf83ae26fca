"""The schools, and lenses of one's own: made, ranked by, changed, taken off and put back."""

from __future__ import annotations

import re

import pytest
from flask.testing import FlaskClient

GOOD = {"name": "Only even", "school": "Never rest.", "weight-evenness": "3", "weight-no_slack": "1"}


def test_the_schools_show_how_the_first_ten_move(client: FlaskClient) -> None:
    page = client.get("/schools?target=triceps_long").text
    assert page.count("<h2>") >= 6
    view = client.get("/schools.json?target=triceps_long").get_json()
    for mover in view["movers"]:
        assert min(rank for rank in mover["ranks"].values() if rank is not None) <= 10
    assert len(view["lenses"]) == 6


def test_an_own_lens_lives_through_its_versions(client: FlaskClient) -> None:
    made = client.post("/schools/new", data=GOOD)
    assert made.status_code == 303
    key = re.search(r"lens=(own-[a-z-]+)", made.headers["Location"]).group(1)  # type: ignore[union-attr]
    first = client.get(f"/board.json?lens={key}").get_json()
    assert set(first["rows"][0]["criteria"]) == {"evenness", "no_slack"}
    client.post(f"/schools/{key}/edit", data=GOOD | {"most-no_slack": "0.01", "weight-tension": "2"})
    second = client.get(f"/board.json?lens={key}").get_json()
    assert len(second["rows"]) < len(first["rows"])
    assert "tension" in second["rows"][0]["criteria"]
    assert 'value="3"' in client.get(f"/schools/{key}/edit?version=1").text
    assert key in client.get("/schools").text
    client.post(f"/schools/{key}/remove")
    assert client.get(f"/board?lens={key}").status_code == 400
    client.post(f"/schools/{key}/put-back")
    assert client.get(f"/board?lens={key}").status_code == 200


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"name": ""}, "name"),
        ({"school": " "}, "school"),
        ({"weight-evenness": "lots"}, "Evenness: weight"),
        ({"weight-evenness": "nan"}, "Evenness"),
        ({"weight-evenness": "-3"}, "evenness"),
        ({"weight-evenness": "", "weight-no_slack": ""}, "at least one"),
        ({"zero-evenness": "1"}, "differ"),
        ({"least-load": "3", "most-load": "1"}, "exceed"),
        ({"name": "x" * 200}, "name"),
    ],
)
def test_a_bad_lens_stores_nothing_and_keeps_what_was_typed(
    client: FlaskClient, change: dict[str, str], says: str
) -> None:
    answer = client.post("/schools/new", data=GOOD | change)
    assert answer.status_code == 400
    assert says in answer.text
    if "school" not in change:
        assert "Never rest." in answer.text
    assert len(client.get("/schools.json").get_json()["lenses"]) == 6


@pytest.mark.parametrize(
    ("former", "now"),
    [
        ("/lenses", "/schools"),
        ("/lenses?target=brachialis", "/schools?target=brachialis"),
        ("/lenses.json?target=flexors", "/schools.json?target=flexors"),
        ("/lenses/new?from=even_tension", "/schools/new?from=even_tension"),
        ("/lenses/own-x/edit", "/schools/own-x/edit"),
    ],
)
def test_former_addresses_lead_on(client: FlaskClient, former: str, now: str) -> None:
    answer = client.get(former)
    assert answer.status_code == 308
    assert answer.headers["Location"] == now
    kept = client.post("/lenses/new", data=GOOD, follow_redirects=True)
    assert kept.status_code == 200


def test_a_lens_is_tried_before_it_is_kept_and_its_list_is_the_boards(client: FlaskClient) -> None:
    typed = GOOD | {"from": "even_tension", "target": "triceps_long", "weight-tension": "2,5"}
    part = client.post("/schools/try", data=typed, headers={"X-Part": "trial"}).text
    tried = re.findall(r'data-row="([^"]+)"', part)
    kept = client.post("/schools/new", data=typed).headers["Location"]
    rows = client.get(f"/board.json?target=triceps_long&{kept.partition('?')[2]}").get_json()["rows"]
    assert tried == [row["variant"] for row in rows[:10]]
    was = [
        row["variant"]
        for row in client.get("/board.json?target=triceps_long&lens=even_tension").get_json()["rows"]
    ]
    moves = [was.index(one) - n for n, one in enumerate(tried)]
    assert [int(by) if way == "up" else -int(by) for way, by in re.findall(r">(up|down) (\d+)<", part)] == [
        one for one in moves if one
    ]
    whole = client.post("/schools/try", data=typed).text  # where scripts are off
    assert 'value="Only even"' in whole
    assert tried[0] in whole


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"weight-evenness": "lots"}, "Evenness: weight"),
        ({"target": "nose"}, "target"),
        ({"from": "x"}, "lens"),
    ],
)
def test_what_cannot_be_tried_says_why_and_stays_typed(
    client: FlaskClient, change: dict[str, str], says: str
) -> None:
    answer = client.post("/schools/try", data=GOOD | change)
    assert answer.status_code == 400
    assert says in answer.text
    assert "Only even" in answer.text
