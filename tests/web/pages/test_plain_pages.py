"""Sources, guide, safety and the palette: there for anyone, and in step with what they tell of."""

from __future__ import annotations

import re
from html import escape
from pathlib import Path

from flask.testing import FlaskClient

from curve_rank.arm.parameters import parameter_set
from curve_rank.catalogue.glossary import glossary, glossary_text
from curve_rank.figures.palette import palette
from curve_rank.rating.cautions import cautions
from curve_rank.web.pages.guide import PARTS
from curve_rank.web.serving import STATIC

ROOT = Path(__file__).parents[3]


def test_sources_list_every_number(client: FlaskClient) -> None:
    page, view = client.get("/sources").text, client.get("/sources.json").get_json()
    assert {p["key"] for p in view["parameters"]} == {p.key for p in parameter_set()}
    assert page.count("<tr>") > len(parameter_set().parameters)
    assert all(bool(b["miss"]) != b["inside"] for b in view["bands"])


def test_the_guide_is_the_one_in_the_documents_and_its_pictures_are_there(client: FlaskClient) -> None:
    for part, address in (("reading", "/guide"), *((one, f"/guide/{one}") for one in PARTS)):
        text = (ROOT / "docs" / "guide" / f"{part}.md").read_text(encoding="utf-8")
        page = client.get(address).text
        for level, heading in re.findall(r"^(#+) (.+)$", text, re.M):
            led_to = f' id="{heading.lower().replace(" ", "-")}"' if re.fullmatch(r"[\w ]+", heading) else ""
            opening = f"<h{len(level)}{led_to if len(level) == 2 else ''}>"
            assert f"{opening}{escape(heading, quote=False)}</h{len(level)}>" in page
        pictures = re.findall(r'<img src="([^"]+)" loading', page)
        assert len(pictures) == text.count("](../screenshots/")
        assert all(client.get(one).mimetype == "image/png" for one in pictures)
        for link in set(re.findall(r"\]\((/[^)#]*)", text)):
            assert client.get(link, follow_redirects=True).status_code == 200, link
    assert client.get("/guide/nobody").status_code == 404


def test_every_word_of_the_glossary_stands_on_its_page_and_in_the_documents(client: FlaskClient) -> None:
    assert (ROOT / "docs" / "glossary.md").read_text(encoding="utf-8") == glossary_text()
    page = client.get("/glossary").text
    for term in glossary().values():
        assert f'id="{term.anchor}"' in page
        assert term.name in page


def test_safety_has_every_caution(client: FlaskClient) -> None:
    page = client.get("/safety").text
    assert all(caution.says in page for caution in cautions().values())
    assert "licensed clinician" in page


def test_a_page_is_dressed_by_one_sheet_that_holds_every_other(client: FlaskClient) -> None:
    page = client.get("/guide").text
    (address,) = re.findall(r'<link rel="stylesheet" href="([^"]+)"', page)
    sheet = client.get(address)
    assert sheet.mimetype == "text/css"
    assert "immutable" in sheet.headers["Cache-Control"]
    colours = client.get("/palette.css").text
    assert palette().heads["biceps_long"].dark in colours
    assert colours in sheet.text
    apart = {"fonts-still", "frozen", "phone-room"}  # of pages that say themselves what they need
    for path in sorted((STATIC / "css").glob("*.css")):
        assert (path.read_text("utf-8") in sheet.text) is (path.stem not in apart), path.stem
    for found in re.findall(r'url\("(\.\./[^"]+)"\)', sheet.text):
        assert client.get(f"{address.rpartition('/')[0]}/{found}").status_code == 200, found
    assert client.get(address.replace("desk", "night")).status_code == 404
