"""Pages have twins and downloads."""

from __future__ import annotations

from flask.testing import FlaskClient

CURL = "/bench/standing-dumbbell-curl"


def test_pages_have_twins_and_downloads(client: FlaskClient) -> None:
    assert client.get("/board.json").get_json()["rows"][0]["rank"] == 1
    assert len(client.get("/sources.json").get_json()["parameters"]) > 100
    assert client.get(f"{CURL}.json").get_json()["variant"] == "standing-dumbbell-curl"
    lines = client.get(f"{CURL}.csv").text.splitlines()
    assert lines[0].startswith("Elbow [°],")
    assert len(lines) == 42
    changed = client.get(f"{CURL}/document.json?set=posture.wrist%3D-9").get_json()
    assert changed["posture"]["wrist"] == -9
