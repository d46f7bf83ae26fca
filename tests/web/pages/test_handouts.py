"""What is taken along: handouts and booklets, pictures as files, tables as text."""

from __future__ import annotations

import html
import io
import re
import time
from pathlib import Path

import pypdfium2
import pytest
from click.testing import CliRunner
from flask.testing import FlaskClient
from PIL import Image

from curve_rank.catalogue.library import built_in
from curve_rank.cli.main import main
from tests.helpers import asked_until

PICTURES = (
    "/variants/chin-up/strip",
    "/compare/curves-1",
    "/compare/one-thing/pad-45-dumbbell-curl/thread",
    "/heads/biceps_long/map",
)


@pytest.mark.parametrize("path", PICTURES)
def test_a_picture_is_a_file_of_its_own_light_and_dark_and_a_slide(client: FlaskClient, path: str) -> None:
    light, dark = (client.get(f"{path}.svg?paper={paper}") for paper in ("light", "dark"))
    assert light.mimetype == dark.mimetype == "image/svg+xml"
    assert light.data != dark.data
    assert 'class="' not in light.text
    slides = [Image.open(io.BytesIO(client.get(f"{path}.png?paper={p}").data)) for p in ("light", "dark")]
    assert [slide.size for slide in slides] == [(1920, 1080)] * 2
    corners = [slide.convert("L").getpixel((3, 3)) for slide in slides]
    assert corners[0] > 200 > 60 > corners[1]  # type: ignore[operator]
    inks = [len(set(slide.convert("L").resize((192, 108)).tobytes())) for slide in slides]
    assert min(inks) > 8


@pytest.mark.parametrize("path", ["/compare", "/bench/chin-up", "/compare/one-thing/pad-45-dumbbell-curl"])
def test_tables_go_along_as_csv_and_markdown(client: FlaskClient, path: str) -> None:
    csv, markdown = (client.get(path + ending) for ending in (".csv", ".md"))
    assert (csv.mimetype, markdown.mimetype) == ("text/csv", "text/markdown")
    assert len(csv.text.splitlines()) + 1 == len(markdown.text.splitlines())


def test_a_booklet_is_drawn_with_contents_that_name_the_right_pages(client: FlaskClient) -> None:
    ids = ["chin-up", "pad-45-dumbbell-curl", "rope-press-down"]
    names = {v.id: v.name for v in built_in()}
    page = client.post("/variants/booklet", data={"with": ids, "paper": "letter"}).text
    look, file = (
        re.findall(rf'{name}="([^"]+)"', page)[0].replace("&amp;", "&")
        for name in ("data-booklet", "data-file")
    )
    for _ in range(300):
        told = client.get(look).get_json()
        if told["state"] != "running":
            break
        time.sleep(0.1)
    assert (told["state"], told["done"]) == ("finished", 4)
    booklet = pypdfium2.PdfDocument(client.get(file).data)
    texts = [p.get_textpage().get_text_bounded() for p in booklet]
    assert booklet[0].get_size() == pytest.approx((612, 792))
    for key in ids:
        begins = next(n for n, text in enumerate(texts[1:], 2) if text.lstrip().startswith(names[key]))
        assert re.search(rf"{re.escape(names[key])}[\s\S]*?\b{begins}\b", texts[0])
    assert booklet.get_metadata_value("Title") == "3 set-ups"


@pytest.mark.parametrize("paper", ["a4", "letter"])
@pytest.mark.parametrize("variant", ["reclined-60-dumbbell-curl", "bench-press-narrow"])
def test_a_handout_is_one_page_with_its_sources_and_a_way_back(
    client: FlaskClient, variant: str, paper: str
) -> None:
    document = pypdfium2.PdfDocument(client.get(f"/variants/{variant}.pdf?paper={paper}").data)
    assert len(document) == 1
    text = " ".join(document[0].get_textpage().get_text_bounded().split())
    assert f"http://localhost/variants/{variant}" in text.replace(" ", "")
    assert "Crowninshield and others 1981" in text
    assert "Take care" in text


TOO_MANY = [v.id for v in built_in()[:41]]


@pytest.mark.parametrize(
    ("data", "status"),
    [
        ({}, 400),
        ({"with": ["nothing"]}, 404),
        ({"with": ["chin-up"], "paper": "a0"}, 400),
        ({"with": TOO_MANY}, 400),
    ],
)
def test_what_is_no_booklet_is_refused(client: FlaskClient, data: dict[str, object], status: int) -> None:
    assert client.post("/variants/booklet", data=data).status_code == status
    assert client.get("/variants/booklet/run.json?key=x&run=y").status_code == 400
    assert client.get("/variants/chin-up.pdf?paper=a0").status_code == 400


def test_handouts_from_a_shell(tmp_path: Path) -> None:
    out = tmp_path / "one.pdf"
    how = ["--data", str(tmp_path / "data"), "--paper", "letter"]
    done = CliRunner().invoke(main, ["handout", "chin-up", "--out", str(out), *how])
    assert done.exit_code == 0, done.output
    page = pypdfium2.PdfDocument(out)
    assert page[0].get_size() == pytest.approx((612, 792))
    assert "Chin-up" in page[0].get_textpage().get_text_bounded()
    for bad in (["nothing", "--out", str(out)], ["chin-up", "--out", "/no/where.pdf"]):
        assert CliRunner().invoke(main, ["handout", *bad, *how]).exit_code == 2


def test_four_for_a_class_stand_on_two_pages_in_ones_own_order(client: FlaskClient) -> None:
    page = client.get("/variants/booklet").text
    listed = re.findall(r'name="with"\s+value="([^"]+)"', page)
    wanted = ["rope-press-down", "chin-up", "pad-45-dumbbell-curl", "reclined-60-dumbbell-curl"]
    at = [str(wanted.index(one) + 1) if one in wanted else "" for one in listed]
    form = {"with": wanted[::-1], "at": at, "two": "yes", "title": "Thursday, four", "words": "Two of each."}
    begun = client.post("/variants/booklet", data=form)
    assert begun.status_code == 200, begun.text[-300:]
    file = html.unescape(re.findall(r'data-file="([^"]+)"', begun.text)[0])
    printed = asked_until(client, file, lambda answer: answer.mimetype == "application/pdf")
    document = pypdfium2.PdfDocument(printed.data)
    assert len(document) == 2
    text = " ".join(" ".join(one.get_textpage().get_text_bounded().split()) for one in document)
    names = ("Rope press-down", "Chin-up", "Pad dumbbell curl", "Reclined dumbbell curl")
    places = [text.index(name) for name in ("Thursday, four", "Two of each.", *names)]
    assert places == sorted(places)
    for wrong in ("first", "1.5", "99999"):
        assert client.post("/variants/booklet", data=form | {"at": [wrong] * len(listed)}).status_code == 400
