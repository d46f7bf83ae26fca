"""The bench: controls, data, files, and keeping what was changed."""

from __future__ import annotations

import re
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient
from sqlalchemy import func, select

from curve_rank.catalogue.controls import controls
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.store.tables import Document
from tests.helpers import ONE_OF_A_KIND, desk_of, wait_for_run

CURL = "/bench/standing-dumbbell-curl"


@pytest.mark.parametrize("kind", ONE_OF_A_KIND)
def test_every_control_can_be_moved_to_both_its_ends(client: FlaskClient, kind: str) -> None:
    """The end of a slider is a set-up that works or a message that says why not."""
    for control in controls(find_variant(kind, built_in())):
        for shown in (control.low, control.high):
            value = control.sign * (shown - control.offset) / control.scale
            answer = client.get(f"/bench/{kind}.json", query_string={"set": f"{control.field}={value:g}"})
            assert answer.status_code in (200, 400, 422), (control.label, answer.text[:200])
            if answer.status_code != 200:
                assert len(answer.get_json()["error"]) > 20


@pytest.mark.parametrize("kind", ONE_OF_A_KIND)
def test_the_page_holds_each_control_with_its_present_value(client: FlaskClient, kind: str) -> None:
    page = client.get(f"/bench/{kind}").text
    for control in controls(find_variant(kind, built_in())):
        found = re.search(rf'value="([^"]+)" data-field="{re.escape(control.field)}"', page)
        assert found, control.field
        assert float(found.group(1)) == pytest.approx(control.shown, abs=1e-3)


def test_a_machine_shows_neither_lever_nor_line_of_force(client: FlaskClient) -> None:
    view = client.get("/bench/machine-pad-curl.json?part=bench").get_json()
    keys = {shape["key"] for shape in view["figure"]["shapes"]}
    assert "machine-arm" in keys
    assert not keys & {"force", "lever"}
    assert set(client.get("/bench/machine-pad-curl.json").get_json()["rep"]["lever_m"]) == {None}
    assert "none" in client.get("/bench/machine-pad-curl").text


@pytest.mark.parametrize(
    "variant", [v for v in built_in() if v.lines[0].kind != "machine"][::9], ids=lambda v: v.id
)
@pytest.mark.parametrize("view", ["side", "front", "top"])
def test_every_view_draws_finite_shapes(client: FlaskClient, variant, view: str) -> None:  # type: ignore[no-untyped-def]
    drawn = client.get(f"/bench/{variant.id}.json?part=bench&view={view}")
    assert drawn.status_code == 200
    assert "nan" not in drawn.text.lower()
    figure = drawn.get_json()["figure"]
    last = len(drawn.get_json()["along"]["angle"]) - 1
    assert {"0", str(last)} < set(figure["frames"])
    assert {"force", "lever", "trunk", "upper"} <= {shape["key"] for shape in figure["shapes"]}


def count(app: Flask, table: type) -> int:
    with desk_of(app).store.reading() as session:
        return session.scalar(select(func.count(table.id))) or 0  # type: ignore[attr-defined]


@pytest.mark.parametrize(
    ("form", "says"),
    [
        ({"name": ""}, "name"),
        ({"name": "x" * 90}, "name"),
        ({"name": "Fine", "set": "posture.upper_arm=190"}, "shoulder"),
        ({"name": "Fine", "set": "posture.wrist=sideways"}, "wrist"),
    ],
)
def test_a_bad_save_stores_nothing_and_keeps_what_was_typed(
    app: Flask, client: FlaskClient, form: dict[str, str], says: str
) -> None:
    before = count(app, Document)
    response = client.post(f"{CURL}/save", data=form)
    assert 400 <= response.status_code < 500
    assert says in response.text
    assert count(app, Document) == before


def test_saving_versions_restoring_and_removing(client: FlaskClient) -> None:
    saved = client.post(f"{CURL}/save", data={"name": "Mine <b>", "set": "path.-1.elbow=120"})
    page = saved.headers["Location"]
    assert saved.status_code == 303
    assert "Mine &lt;b&gt;" in client.get(page).text
    own = re.search(r"/bench/(own-[a-z-]+)", page).group(1)  # type: ignore[union-attr]
    client.post(f"/bench/{own}/save", data={"as": "version", "set": "path.-1.elbow=110"})
    assert client.get(f"/bench/{own}.json").get_json()["rep"]["elbow_deg"][-1] == 110
    client.post(f"/bench/{own}/restore", data={"number": "1"})
    assert client.get(f"/bench/{own}.json").get_json()["rep"]["elbow_deg"][-1] == 120
    assert client.post(f"/bench/{own}/restore", data={"number": "77"}).status_code == 400
    client.post(f"/bench/{own}/remove")
    undo = client.get("/board").text
    assert f"/bench/{own}/put-back" in undo
    assert "is off the board" in undo
    assert own not in {row["variant"] for row in client.get("/board.json").get_json()["rows"]}
    client.post(f"/bench/{own}/put-back")
    assert own in {row["variant"] for row in client.get("/board.json").get_json()["rows"]}


def pulled(client: FlaskClient, query: str) -> dict[str, Any]:
    answer = client.get(f"/bench/reclined-60-dumbbell-curl.json?part=bench&{query}")
    assert answer.status_code == 200, answer.text
    return dict(answer.get_json())


def test_a_pull_moves_fields_and_one_that_goes_too_far_says_why(client: FlaskClient) -> None:
    plain = pulled(client, "view=side")
    (shoulder,) = (one for one in plain["handles"] if one["key"] == "shoulder")
    x, y = shoulder["at"][0]
    told = pulled(client, f"view=side&pull=shoulder&x={x - 150}&y={y + 90}&place=0&snap=1")
    assert told["address"].startswith("set=posture.trunk_pitch")
    assert told["controls"]["posture.trunk_pitch"] % 15 == 0
    typed = pulled(client, "view=side&" + told["address"])
    for part in ("curves", "strip", "along", "handles"):
        assert typed[part] == told[part]
    alone, every = (
        one["fixed"] | one["frames"]["0"] | {key: frames["0"] for key, frames in one["exact"].items()}
        for one in (told["figure"], typed["figure"])
    )
    assert alone == every
    far = pulled(client, "view=side&set=posture.trunk_pitch=-95")
    assert "shoulder" in far["problem"]
    assert -1 < far["controls"]["posture.trunk_pitch"] < 10


def test_ghosts_and_a_tempo_stand_in_the_address(client: FlaskClient) -> None:
    ghost = "reclined-60-dumbbell-curl~posture.trunk_pitch=-45~name=Deep"
    told = pulled(client, f"ghost={ghost}&ghost=standing-dumbbell-curl&tempo=4-1-2-0")
    assert told["ghost_names"] == ["Deep", "Standing dumbbell curl"]
    assert len(told["ghosts"]) == 2
    assert "of 7 s over a fifth" in told["in_time"]
    again = pulled(client, told["address"])
    assert again["address"] == told["address"]


@pytest.mark.parametrize(
    ("query", "says"),
    [
        ("pull=nose&x=1&y=1", "drag"),
        ("pull=shoulder&x=nan&y=1", "x"),
        ("ghost=nose", "variant"),
        ("ghost=a&ghost=b&ghost=c&ghost=d", "ghost"),
        ("tempo=fast", "tempo"),
        ("tempo=1-1-1-900", "tempo"),
        ("set=hand_path.keys.0.up=1", "set"),
    ],
)
def test_pulls_ghosts_and_tempos_that_make_no_sense_say_so(
    client: FlaskClient, query: str, says: str
) -> None:
    answer = client.get(f"/bench/reclined-60-dumbbell-curl.json?part=bench&{query}")
    assert answer.status_code in (400, 404, 422)
    assert says in answer.get_json()["error"]


def test_a_search_is_begun_watched_stopped_and_nobody_elses(client: FlaskClient) -> None:
    base = "/bench/standing-dumbbell-curl/search"
    begun = client.post(f"{base}?aim=slack_share&way=down").get_json()
    query = f"aim=slack_share&way=down&run={begun['run']}"
    told: Any = wait_for_run(client, f"{base}/run?{query}")
    assert told["state"] == "finished"
    assert told["found"]["changes"]
    assert 'href="?set=' in told["html"]
    first = told["found"]["changes"][0]
    assert first["gain"] < 0
    assert client.get(f"{base}/run?aim=slack_share&way=down&run=nonsense").status_code == 400
    assert client.post(f"{base}?aim=nose").status_code in (400, 404)
    stopped = client.post(f"{base}?aim=evenness&way=up").get_json()
    assert client.post(f"{base}/stop?aim=evenness&way=up&run={stopped['run']}").status_code == 200


@pytest.mark.parametrize(
    ("where", "pull"),
    [
        ("reclined-60-dumbbell-curl", "pull=shoulder&x=-60&y=20"),
        ("chin-up", "pull=hand&x=-20&y=-5&view=front"),
        ("rope-press-down", "set=posture.upper_arm%3D25"),
        ("machine-pad-curl", "set=posture.upper_arm%3D55"),
    ],
)
def test_the_figure_that_comes_first_is_the_one_that_follows(
    client: FlaskClient, where: str, pull: str
) -> None:
    asked = f"/bench/{where}.json?part=bench&moving=1&place=0.4&{pull}"
    follows = client.get(asked).get_json()
    load = client.get(f"/bench/{where}.json?{follows['address']}").get_json()["load_kg"]
    first = client.get(f"{asked}&held={load}").get_json()
    assert "curves" not in first
    for name, value in first["figure"].items():
        if name not in ("box", "whole", "text", "whole_text"):  # framed while it stands still
            assert value == follows["figure"][name], name
    for name in ("handles", "controls", "settings", "address", "problem"):
        assert first[name] == follows[name]
    rest = client.get(f"{asked}&follows=1").get_json()
    assert rest == {name: value for name, value in follows.items() if name not in ("figure", "handles")}
    stands = f"/bench/{where}.json?part=bench&{follows['address']}"
    whole, frames = client.get(stands).get_json(), client.get(f"{stands}&frames=1").get_json()
    assert frames == {name: value for name, value in whole.items() if name in first}
    assert {**whole, **rest, **frames} == whole  # shown one after the other, it is what a reload shows


def test_what_goes_less_far_than_it_could_be_posed_brings_its_figure(client: FlaskClient) -> None:
    far = "/bench/reclined-60-dumbbell-curl.json?part=bench&moving=1&set=posture.trunk_pitch%3D-95"
    answer = client.get(f"{far}&follows=1").get_json()
    assert answer["problem"]
    assert answer["figure"]["alone"]
