"""Set-ups side by side, and one thing changed in steps."""

from __future__ import annotations

import csv
import io

import pytest
from flask.testing import FlaskClient

from tests.helpers import once_drawn

THREE = "with=standing-dumbbell-curl&with=reclined-60-dumbbell-curl&with=pad-45-dumbbell-curl"
STEPS = "/compare/one-thing/reclined-60-dumbbell-curl"


def test_each_column_has_strip_figure_and_readings(client: FlaskClient) -> None:
    page = once_drawn(client, f"/compare?{THREE}&axis=length")
    assert page.count('class="strip strip-large"') == page.count('data-key="figure"') == 3
    assert page.count('class="overlay"') == 4
    assert "Count from here" in page
    assert page.count("<tr>") > 12
    view = client.get(f"/compare.json?{THREE}").get_json()
    assert [v["id"] for v in view["variants"]] == [part.partition("=")[2] for part in THREE.split("&")]
    assert len(view["differences"]) == 3


def test_a_changed_set_up_stands_beside_its_own_variant(client: FlaskClient) -> None:
    changed = "with=standing-dumbbell-curl&with=standing-dumbbell-curl~posture.trunk_pitch=15~name=Leaning"
    page = once_drawn(client, f"/compare?{changed}")
    assert "Leaning" in page
    (pair,) = client.get(f"/compare.json?{changed}").get_json()["differences"]
    assert pair["readings"]["lower_back"]["nominal"] != 0


def test_the_csv_says_what_the_page_says(client: FlaskClient) -> None:
    rows = list(csv.reader(io.StringIO(client.get(f"/compare.csv?{THREE}").text)))
    view = client.get(f"/compare.json?{THREE}").get_json()
    told = {row[0]: row for row in rows[1:]}
    load = told["Working load"]
    assert float(load[2]) == pytest.approx(view["readings"]["load"]["columns"][0]["median"], abs=1e-3)
    assert float(load[11]) == pytest.approx(view["differences"][0]["readings"]["load"]["median"], abs=1e-3)


def test_a_fifth_is_refused_and_the_first_four_stay(client: FlaskClient) -> None:
    once_drawn(client, f"/compare?{THREE}&with=chest-down-dumbbell-curl")
    answer = client.get(f"/compare?{THREE}&with=chest-down-dumbbell-curl&with=barbell-curl-low-half")
    assert answer.status_code == 400
    assert "2 to 4 to compare" in answer.text
    assert answer.text.count('data-key="figure"') == 4


@pytest.mark.parametrize(
    ("path", "says"),
    [
        ("/compare?with=no-such-curl", "variant"),
        ("/compare?with=standing-dumbbell-curl~nose=1", "nose"),
        ("/compare?with=standing-dumbbell-curl&with=rope-press-down", "flexors"),
        ("/compare?with=standing-dumbbell-curl~fault=sneezes", "fault"),
        ("/compare?axis=moon", "axis"),
        ("/compare?lens=moon", "lens"),
        ("/compare?for=999", "for"),
        (f"{STEPS}?field=nose", "field"),
        (f"{STEPS}?from=0&to=10&step=0", "steps"),
        (f"{STEPS}?reading=moon", "reading"),
        (f"{STEPS}?set=nose", "set"),
        ("/compare/one-thing/no-such-curl", "variant"),
    ],
)
def test_addresses_that_make_no_sense_say_so(client: FlaskClient, path: str, says: str) -> None:
    answer = client.get(path)
    assert answer.status_code in (400, 404)
    assert says in answer.text
    assert "Traceback" not in answer.text


def test_a_series_has_a_strip_a_step_and_says_what_cannot_be(client: FlaskClient) -> None:
    query = "field=posture.trunk_pitch&from=90&to=-5&step=19&reading=length_at_hard_spot"
    page = client.get(f"{STEPS}?{query}").text
    assert page.count('class="strip strip-row"') == 5
    assert "cannot be" in page
    view = client.get(f"{STEPS}.json?{query}").get_json()
    assert [step["value"] for step in view["steps"]] == [0, -19, -38, -57, -76, -95]
    assert client.get(f"{STEPS}.csv?{query}").text.count("\n") == 7
    best = client.get(f"{STEPS}?field=path.0.elbow&from=0&to=70&step=10").text
    assert "best" in best
