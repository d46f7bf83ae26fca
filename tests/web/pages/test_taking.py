"""What leaves the house says what the page says: question, numbers, cautions, what was left out, edition."""

from __future__ import annotations

import csv
import io
import json
import re
from typing import Any
from urllib.parse import quote

import pypdfium2
import pytest
from flask.testing import FlaskClient
from PIL import Image

SPARING = "/board?target=biceps_long&with=dumbbell&with=cable&spare=elbow"
PAGES = {
    "board": SPARING,
    "bench": "/bench/reclined-60-dumbbell-curl?set=posture.upper_arm%3D-20&fault=elbow-drifts-forward-20",
    "compare": "/compare?with=chin-up&with=reclined-60-dumbbell-curl",
    "series": "/compare/one-thing/reclined-60-dumbbell-curl?field=path.0.elbow&from=0&to=30&step=10",
    "heads": "/heads/biceps_long?map=strength",
    "claims": "/claims/lower_bench_longer",
    "variants": "/variants/chin-up",
    "faults": "/faults?family=standing",
    "sets": "/sets?target=biceps_long",
}
BREAKS = re.compile(r"[\s\x00-\x1f\ufffe-]+")
"""What a line of print may add to words, or take from them."""


def taken(client: FlaskClient, page: str, ending: str, **more: str) -> Any:
    asked = "".join(f"&{key}={value}" for key, value in more.items())
    answer = client.get(f"/take.{ending}?page={quote(page, safe='')}{asked}")
    assert answer.status_code == 200, answer.text[-400:]
    return answer


def words_of(pdf: bytes) -> str:
    document = pypdfium2.PdfDocument(pdf)
    return " ".join(" ".join(page.get_textpage().get_text_bounded().split()) for page in document)


@pytest.mark.parametrize("page", PAGES.values(), ids=PAGES)
def test_whatever_it_is_taken_as_says_the_same_beside_the_numbers(client: FlaskClient, page: str) -> None:
    about = json.loads(taken(client, page, "json").text)["about"]
    table, text = taken(client, page, "csv").text, taken(client, page, "md").text
    drawn, printed = taken(client, page, "svg").text, words_of(taken(client, page, "pdf").data)
    said = [about["question"], about["holds"], about["made"], *about["read_with"], *about["cautions"]]
    assert about["question"]
    for one in (*said, *about["left_out"]):
        words = " ".join(one.split())
        assert words in table
        assert words in " ".join(text.split())
        assert words.replace("&", "&amp;").replace("'", "&#39;").replace('"', "&#34;") in drawn
        assert BREAKS.sub("", words)[:80] in BREAKS.sub("", printed)
    head = table.index("\n", table.rindex("\n# ") + 1) + 1
    rows = list(csv.reader(io.StringIO(table[head:])))
    assert len(rows) > 1
    assert {len(row) for row in rows} == {len(rows[0])}


def test_a_ranking_holds_every_row_with_the_numbers_of_the_page(client: FlaskClient) -> None:
    board = client.get(SPARING.replace("/board", "/board.json")).get_json()
    page = client.get(SPARING).text
    lines = [line for line in taken(client, SPARING, "csv").text.splitlines() if not line.startswith("# ")]
    rows = list(csv.DictReader(lines))
    assert [row["Id"] for row in rows] == [row["variant"] for row in board["rows"]]
    for row, whole in zip(rows, board["rows"], strict=True):
        assert int(row["Score: median"]) == round(whole["score"])
        assert float(row["Load [kg]: median"]) == round(whole["load_kg"], 1)
        assert f"<b>{row['Score: median']}</b>" in page
        assert row["Why"] == whole["why"]
    printed = words_of(taken(client, SPARING, "pdf").data)
    for row in rows:
        assert row["Set-up"].replace(" ", "") in printed.replace(" ", "")
    assert f"{len(board['left_out'])} left out" in printed


def test_a_fault_is_named_beside_as_it_should_be(client: FlaskClient) -> None:
    right, wrong = "/bench/reclined-60-dumbbell-curl", PAGES["bench"]
    asked = [json.loads(taken(client, one, "json").text)["about"] for one in (right, wrong)]
    assert "as it should be done" in asked[0]["question"]
    assert "done wrong:" in asked[1]["question"]
    assert "upper arm from hanging −20°" in asked[1]["question"]
    assert any(one.startswith("Done wrong") for one in asked[1]["read_with"])
    assert any("Plain values" in one for one in asked[0]["read_with"])


@pytest.mark.parametrize(
    ("size", "paper", "shape"),
    [("slide", "light", (1920, 1080)), ("slide", "clear", (1920, 1080)), ("print", "dark", (2480, 1748))],
)
def test_a_picture_is_as_large_as_a_slide_or_a_page(
    client: FlaskClient, size: str, paper: str, shape: tuple[int, int]
) -> None:
    picture = Image.open(io.BytesIO(taken(client, "/variants/chin-up", "png", size=size, paper=paper).data))
    assert picture.size == shape
    corner = picture.convert("RGBA").getpixel((4, 4))
    assert corner[3] == (0 if paper == "clear" else 255)


@pytest.mark.parametrize(
    ("asked", "status", "says"),
    [
        ("/take.pdf?page=/loads", 400, "Take with you"),
        ("/take.csv", 400, "Take with you"),
        ("/take.csv?page=/variants/no-such-thing", 400, "no-such-thing"),
        ("/take.png?page=/variants/chin-up&picture=nothing", 400, "figure"),
        ("/take.png?page=/variants/chin-up&paper=pink", 400, "paper"),
        ("/take.svg?page=//evil.example/board", 400, "Take with you"),
        ("/take.exe?page=/board", 404, ""),
    ],
)
def test_what_cannot_be_taken_says_why(client: FlaskClient, asked: str, status: int, says: str) -> None:
    answer = client.get(asked)
    assert answer.status_code == status, answer.text[-300:]
    assert says in answer.text


def test_a_published_page_has_a_picture_and_a_tagged_pdf(client: FlaskClient) -> None:
    assert client.post("/take/publish", data={"page": SPARING}).status_code == 303
    link = re.findall(r'href="(/p/[^".]+)"', client.get("/published").text)[0]
    page = client.get(link).text
    assert "sparing elbows" in page
    assert "Take care" in page
    assert re.search(r'property="og:image" content="[^"]+\.png"', page)
    assert Image.open(io.BytesIO(client.get(f"{link}.png").data)).size == (1200, 630)
    printed = client.get(f"{link}.pdf").data
    assert pypdfium2.raw.FPDFCatalog_IsTagged(pypdfium2.PdfDocument(printed))
