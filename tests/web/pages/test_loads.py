"""Loads carried over, and a person's size and strength."""

from __future__ import annotations

import re

import pytest
from flask.testing import FlaskClient

from tests.helpers import once_drawn

BAD = [
    ("/loads?load=heavy", 400, "load"),
    ("/loads?load=900", 400, "strength"),
    ("/loads?reps=x", 400, "reps"),
    ("/loads?variant=none", 404, "variant"),
    ("/loads?to=none", 404, "variant"),
]


def test_a_known_set_is_worth_something_elsewhere(client: FlaskClient) -> None:
    view = client.get("/loads.json?variant=standing-dumbbell-curl&load=12&to=chin-up&to_reps=8").get_json()
    assert view["variant"] == "chin-up"
    assert view["interval_kg"][0] <= view["load_kg"] <= view["interval_kg"][1]
    same = next(o for o in view["others"] if o["variant"] == "standing-dumbbell-curl")
    assert same["load_kg"] > 12
    assert "Start at the low end" in once_drawn(client, "/loads")


def test_a_known_set_gives_a_person_their_strength(client: FlaskClient) -> None:
    form = {"for": "5", "height": "191", "mass": "97", "upper_arm": "36", "load": "18", "reps": "8"}
    assert client.post("/loads/body", data=form).status_code == 303
    page = once_drawn(client, "/loads?for=5")
    assert "from 18 kg for 8" in page
    kept = client.get("/loads.json?for=5&variant=standing-dumbbell-curl&load=18&reps=8").get_json()
    board = client.get("/bench/standing-dumbbell-curl.json?for=5&reps=8").get_json()
    assert board["load_kg"] == pytest.approx(18, abs=0.01)
    assert kept["strength"] > 0


@pytest.mark.parametrize(("address", "status", "says"), BAD, ids=lambda p: str(p)[:40])
def test_a_bad_address_gets_a_message(client: FlaskClient, address: str, status: int, says: str) -> None:
    response = client.get(address)
    assert response.status_code == status
    assert says in response.text
    typed = address.partition("=")[2]
    if not any(chosen in address for chosen in ("for=", "variant=", "to=")):
        assert f'value="{typed}"' in response.text  # it stays in its field


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"height": "20"}, "height"),
        ({"mass": "nan"}, "mass"),
        ({"upper_arm": "300"}, "upper_arm"),
        ({"load": "500"}, "strength"),
        ({"load": "12", "reps": "many"}, "reps"),
        ({"for": "999"}, "for"),
    ],
)
def test_a_bad_body_is_not_kept(client: FlaskClient, change: dict[str, str], says: str) -> None:
    before = client.get("/bench/standing-dumbbell-curl.json?for=5").get_json()["load_kg"]
    form = {"for": "5", "height": "191", "mass": "97", "load": "", "reps": "10"} | change
    answer = client.post("/loads/body", data=form)
    assert 400 <= answer.status_code < 500
    page = " ".join(answer.text.split())
    assert says in page
    if "for" not in change:
        for field, typed in change.items():
            assert re.search(rf'name="{field}" inputmode="\w+" value="{typed}"', page)
    assert client.get("/bench/standing-dumbbell-curl.json?for=5").get_json()["load_kg"] == before
