"""Every page without a browser: headers, twins, forms, and what a hostile address or form gets."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient
from sqlalchemy import func, select

from curve_rank.catalogue.library import built_in
from curve_rank.store.tables import OwnVariant, SavedQuestion
from curve_rank.web import create_app

CURL = "/bench/standing-dumbbell-curl"
PAGES = ("/board", CURL, f"{CURL}?view=front&set=posture.forearm%3D-20", "/sources")


@pytest.mark.parametrize("page", PAGES)
def test_pages_answer_under_a_strict_policy_without_inline_code(client: FlaskClient, page: str) -> None:
    response = client.get(page)
    assert response.status_code == 200
    policy = response.headers["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy
    assert response.headers["X-Content-Type-Options"] == "nosniff"
    for script in re.findall(r"<script\b[^>]*>", response.text):
        assert "src=" in script or 'type="application/json"' in script
    assert not re.search(r"\s(on\w+|style)=", response.text)
    assert "http://" not in re.sub(r"http://www\.w3\.org", "", response.text)


def test_pages_have_twins_and_downloads(client: FlaskClient) -> None:
    assert client.get("/board.json").get_json()["rows"][0]["rank"] == 1
    assert len(client.get("/sources.json").get_json()["parameters"]) > 100
    assert client.get(f"{CURL}.json").get_json()["variant"] == "standing-dumbbell-curl"
    lines = client.get(f"{CURL}.csv").text.splitlines()
    assert lines[0].startswith("Elbow [°],")
    assert len(lines) == 42
    changed = client.get(f"{CURL}/document.json?set=posture.wrist%3D-9").get_json()
    assert changed["posture"]["wrist"] == -9


@pytest.mark.parametrize("variant", built_in()[::7], ids=lambda v: v.id)
@pytest.mark.parametrize("view", ["side", "front", "top"])
def test_every_view_draws_finite_shapes(client: FlaskClient, variant, view: str) -> None:  # type: ignore[no-untyped-def]
    drawn = client.get(f"/bench/{variant.id}.json?part=bench&view={view}")
    assert drawn.status_code == 200
    assert "nan" not in drawn.text.lower()
    figure = drawn.get_json()["figure"]
    assert len(figure["frames"]) == len(drawn.get_json()["curves"]["elbow"])
    assert {"force", "lever", "trunk", "upper"} <= {shape["key"] for shape in figure["shapes"]}


BAD_ADDRESSES = [
    ("/board?target=calf", 400, "target"),
    ("/board?lens=best", 400, "lens"),
    ("/board?with=spoon", 400, "equipment"),
    ("/board?spare=knee", 400, "joint"),
    ("/board?reps=99", 400, "reps"),
    ("/board?reps=ten", 400, "reps"),
    ("/board?for=99999", 400, "for"),
    ("/board?for=-1", 400, "for"),
    ("/bench/no-such-thing", 404, "variant"),
    ("/bench/own-no-such-thing", 404, "variant"),
    (f"{CURL}?set=posture.forearm%3Dnan", 400, "forearm"),
    (f"{CURL}?set=posture.nose%3D4", 400, "nose"),
    (f"{CURL}?set=id%3Dother", 400, "id"),
    (f"{CURL}?set=path.0.elbow%3D-5", 400, "elbow"),
    (f"{CURL}?set=posture.upper_arm%3D190", 422, "shoulder"),
    (f"{CURL}?load=heavy", 400, "load"),
    (f"{CURL}?load=inf", 400, "load"),
    (f"{CURL}?load=-5", 400, "load"),
    (f"{CURL}?load=120", 422, "no drive holds it"),
    (f"{CURL}?view=inside", 400, "view"),
    (f"{CURL}?" + "&".join(f"set=posture.wrist%3D{n}" for n in range(60)), 400, "at most"),
    ("/bench/cable-curl-arm-behind?set=lines.0.forward%3D0&set=lines.0.up%3D1.1&set=lines.0.right%3D0", 422,
     "outside the body"),
    ("/nowhere", 404, "not found"),
]  # fmt: skip


@pytest.mark.parametrize(("address", "status", "says"), BAD_ADDRESSES, ids=lambda p: str(p)[:60])
def test_a_bad_address_gets_a_message_in_html_and_json(
    client: FlaskClient, address: str, status: int, says: str
) -> None:
    for headers in ({}, {"Accept": "application/json"}):
        response = client.get(address, headers=headers)
        assert response.status_code == status, response.text[:300]
        assert says in response.text
        assert "Traceback" not in response.text
    assert "error" in response.get_json()


def count(app: Flask, table: type) -> int:
    with app.extensions["curve_rank_store"].session() as session:
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
    before = count(app, OwnVariant)
    response = client.post(f"{CURL}/save", data=form)
    assert 400 <= response.status_code < 500
    assert says in response.text
    assert count(app, OwnVariant) == before


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
    assert own not in {row["variant"] for row in client.get("/board.json").get_json()["rows"]}
    client.post(f"/bench/{own}/put-back")
    assert own in {row["variant"] for row in client.get("/board.json").get_json()["rows"]}


def test_questions_are_kept_and_dropped(app: Flask, client: FlaskClient) -> None:
    before = count(app, SavedQuestion)
    address = "target=brachialis&lens=even_tension"
    client.post("/board/questions", data={"name": "Brachialis", "address": address})
    assert count(app, SavedQuestion) == before + 1
    assert client.post("/board/questions", data={"name": "x", "address": "target=calf"}).status_code == 400
    assert client.post("/board/questions", data={"name": "", "address": address}).status_code == 400
    assert count(app, SavedQuestion) == before + 1
    client.post(f"/board/questions/{before + 1}/remove")
    assert count(app, SavedQuestion) == before


def test_forms_without_a_token_and_huge_ones_are_refused(tmp_path: Path) -> None:
    client = create_app(tmp_path / "fresh").test_client()
    for action in (f"{CURL}/save", "/bench/own-x/remove", "/bench/own-x/restore", "/board/questions"):
        assert client.post(action, data={"name": "x"}).status_code == 400
    assert client.post(f"{CURL}/save", data={"name": "x" * 300_000}).status_code == 413


def test_methods_not_offered_are_refused(client: FlaskClient) -> None:
    assert client.get("/bench/standing-dumbbell-curl/save").status_code == 405
    assert client.delete("/board").status_code == 405
