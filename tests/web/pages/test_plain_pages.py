"""Sources, guide, safety and the palette: there for anyone, and in step with what they tell of."""

from __future__ import annotations

from pathlib import Path

from flask.testing import FlaskClient

from curve_rank.arm.parameters import parameter_set
from curve_rank.figures.palette import palette
from curve_rank.rating.cautions import cautions

ROOT = Path(__file__).parents[3]


def test_sources_list_every_number(client: FlaskClient) -> None:
    page, view = client.get("/sources").text, client.get("/sources.json").get_json()
    assert {p["key"] for p in view["parameters"]} == {p.key for p in parameter_set()}
    assert page.count("<tr>") > len(parameter_set().parameters)
    assert all(bool(b["miss"]) != b["inside"] for b in view["bands"])


def test_the_guide_is_the_one_in_the_documents(client: FlaskClient) -> None:
    text = (ROOT / "docs" / "guide.md").read_text(encoding="utf-8")
    page = client.get("/guide").text
    for line in text.splitlines():
        if line.startswith("## "):
            assert f"<h2>{line[3:]}</h2>" in page
    assert "whisker" in page


def test_safety_has_every_caution(client: FlaskClient) -> None:
    page = client.get("/safety").text
    assert all(caution.says in page for caution in cautions().values())
    assert "licensed clinician" in page


def test_the_palette_is_served_once_for_all_pages(client: FlaskClient) -> None:
    sheet = client.get("/palette.css")
    assert sheet.mimetype == "text/css"
    assert palette().heads["biceps_long"].dark in sheet.text
    assert client.get("/guide").text.count("/palette.css") == 1
