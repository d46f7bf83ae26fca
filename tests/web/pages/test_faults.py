"""What it costs to do it wrong, and faults of one's own."""

from __future__ import annotations

import re

import pytest
from flask.testing import FlaskClient

from curve_rank.catalogue.library import built_in

CURL = "/bench/standing-dumbbell-curl"
OWN = {"name": "Leans back 15°", "cue": "Stand tall.", "set": "posture.trunk_pitch=-15"}


def test_the_dearest_faults_of_a_family_come_first(client: FlaskClient) -> None:
    prices = client.get("/faults.json?family=reclined").get_json()
    page = client.get("/faults?family=reclined").text
    names = re.findall(r"<h2>([^<]+)</h2>", page)
    assert len(names) == len(set(names)) < len(prices)  # a fault stands once, its set-ups under it
    medians = [price["score"]["median"] for price in prices if "score" in price]
    assert medians == sorted(medians)
    assert page.count('class="price-beside"') == len(prices)
    family = [v for v in built_in() if v.family == "reclined"]
    assert len(prices) >= sum(len(v.faults) for v in family)


@pytest.mark.parametrize(
    ("query", "says"),
    [("family=nose", "family"), ("target=nose", "target"), ("lens=nose", "lens"), ("for=99", "for")],
)
def test_questions_that_make_no_sense_say_so(client: FlaskClient, query: str, says: str) -> None:
    answer = client.get(f"/faults?{query}")
    assert answer.status_code in (400, 404)
    assert says in answer.text


def test_a_fault_of_ones_own_is_kept_beside_its_variant_priced_and_removed(client: FlaskClient) -> None:
    kept = client.post(f"{CURL}/fault", data=OWN)
    assert kept.status_code == 303
    assert "fault=" not in kept.location  # the mode is left when it is kept
    bench = client.get(f"{CURL}?fault=leans-back-15").text
    assert "Done wrong (leans back 15°)" in bench
    told = client.get(f"{CURL}.json?fault=leans-back-15&part=bench").get_json()
    typed = client.get(f"{CURL}.json?set=posture.trunk_pitch=-15&part=bench").get_json()
    assert told["curves"]["dots"] == typed["curves"]["dots"]
    prices = client.get("/faults.json?family=standing").get_json()
    assert [OWN["name"]] in [[fault["name"] for fault in price["faults"]] for price in prices]
    assert "Leans back" in client.get("/faults?family=standing").text
    both = client.get(
        "/compare.json?with=standing-dumbbell-curl&with=standing-dumbbell-curl~fault=leans-back-15"
    )
    assert both.status_code == 200
    assert client.post("/documents/fault/own-leans-back-15/remove").status_code == 303
    assert client.get(f"{CURL}?fault=leans-back-15").status_code == 400


def test_no_fault_that_is_on_is_saved_into_a_variant(client: FlaskClient) -> None:
    form = {"name": "Kept right", "set": "path.-1.elbow=120", "fault": "stops-30-short-at-the-bottom"}
    saved = client.post(f"{CURL}/save", data=form)
    assert saved.status_code == 303
    assert "is no part of it" in client.get(saved.location).text
    own = client.get("/bench/own-kept-right/document.json").get_json()
    assert [key["elbow"] for key in own["path"]] == [5, 120]
    version = {"as": "version", "set": "path.-1.elbow=110", "fault": "stops-30-short-at-the-bottom"}
    client.post("/bench/own-kept-right/save", data=version)
    own = client.get("/bench/own-kept-right/document.json").get_json()
    assert [key["elbow"] for key in own["path"]] == [5, 110]


@pytest.mark.parametrize(
    ("data", "says"),
    [
        ({"set": ""}, "a change to the set-up"),
        ({"name": ""}, "name"),
        ({"cue": ""}, "cue"),
        ({"set": "posture.trunk_pitch=nonsense"}, "trunk_pitch"),
        ({"set": "path.0.elbow=140"}, "elbow"),
    ],
)
def test_what_is_no_fault_is_refused_and_stays_typed(
    client: FlaskClient, data: dict[str, str], says: str
) -> None:
    answer = client.post(f"{CURL}/fault", data=OWN | data)
    assert answer.status_code == 400
    assert says in answer.text


def test_two_faults_together_and_one_that_there_is_not(client: FlaskClient) -> None:
    one = client.get(f"{CURL}.json?fault=swings-the-trunk&part=bench").get_json()
    two = client.get(
        f"{CURL}.json?fault=swings-the-trunk&fault=stops-30-short-at-the-bottom&part=bench"
    ).get_json()
    assert "and stops 30° short" in two["price"]
    assert one["along"]["angle"][0] != two["along"]["angle"][0]
    assert client.get(f"{CURL}?fault=sneezes").status_code == 400
