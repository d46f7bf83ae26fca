"""The bench: controls, data, files, and keeping what was changed."""

from __future__ import annotations

import re

import pytest
from flask import Flask
from flask.testing import FlaskClient
from sqlalchemy import func, select

from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.store.tables import Document
from curve_rank.web.pages.bench.controls import controls
from tests.helpers import ONE_OF_A_KIND, desk_of

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
    assert len(figure["frames"]) == len(drawn.get_json()["along"]["angle"])
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
