"""Published pages stay as they were made; bundles are looked at and taken in item by item."""

from __future__ import annotations

import io
import json
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import jsonschema
import pypdfium2
import pytest
from flask import Flask
from flask.testing import FlaskClient

from curve_rank.rating.modelling import Modeller
from tests.helpers import asked_until

SCHEMA = Path(__file__).parents[3] / "docs" / "bundle-1.schema.json"
COMPARED = "/compare/publish?with=own-steep-pad-palms-in&with=chin-up"
PAGES = (
    "/board/publish?target=biceps_long&with=dumbbell",
    COMPARED,
    "/compare/one-thing/reclined-60-dumbbell-curl/publish?field=path.0.elbow&from=0&to=30&step=10",
    "/heads/biceps_long/publish?map=strength",
    "/variants/chin-up/publish",
)


def published(client: FlaskClient, page: str) -> str:
    """The path of a page that is published now."""
    made = client.post(page)
    assert made.status_code == 303, made.text[:400]
    listed = client.get("/published").text
    return re.findall(r'href="(/p/[^".]+)"', listed)[0]


@pytest.mark.parametrize("page", PAGES)
def test_what_is_published_is_read_by_anyone_and_found_by_nobody(
    client: FlaskClient, make_app: Callable[..., Flask], page: str
) -> None:
    link = published(client, page)
    stranger = make_app(local_viewer=False).test_client()
    answer = stranger.get(link)
    assert answer.status_code == 200
    assert answer.headers["X-Robots-Tag"] == "noindex, nofollow"
    assert '<meta name="robots" content="noindex, nofollow">' in answer.text
    assert "<h1>" in answer.text
    assert "no diagnosis or treatment" in answer.text
    assert json.loads(stranger.get(link + ".json").text)
    printed = pypdfium2.PdfDocument(stranger.get(link + ".pdf").data)
    text = "".join(page.get_textpage().get_text_bounded() for page in printed)
    assert link.rpartition("/")[2] in text.replace("\n", "").replace("\r", "")
    assert printed.get_metadata_value("Title")
    assert stranger.get("/published").status_code in (302, 401)


def test_nothing_published_changes_when_what_it_was_made_of_does(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    link = published(client, COMPARED)
    before = [client.get(link + ending).data for ending in ("", ".json", ".pdf")]
    client.post("/bench/own-steep-pad-palms-in/save", data={"as": "version", "set": "posture.forearm=-20"})
    client.post("/bench/own-steep-pad-palms-in/remove")

    def refuse(*_args: object, **_named: object) -> None:
        raise AssertionError("a frozen page asked the model")

    monkeypatch.setattr(Modeller, "model", refuse)
    assert [client.get(link + ending).data for ending in ("", ".json", ".pdf")] == before


def test_links_are_renamed_counted_withdrawn_and_put_up_again(client: FlaskClient) -> None:
    link = published(client, "/variants/chin-up/publish")
    for _ in range(3):
        client.get(link)
    listed = client.get("/published").text
    assert "opened 3 times" in " ".join(listed.split())
    (number,) = re.findall(r"/published/(\d+)/withdraw", listed)
    client.post(f"/published/{number}/title", data={"title": "For Tuesday’s class"})
    assert "<title>For Tuesday’s class</title>" in client.get(link).text
    assert client.post(f"/published/{number}/title", data={"title": " "}).status_code == 400
    client.post(f"/published/{number}/withdraw")
    stranger = client.application.test_client()
    for ending in ("", ".json", ".pdf"):
        gone, never = (stranger.get(path + ending) for path in (link, "/p/never"))
        assert gone.status_code == never.status_code == 404
        assert gone.text == never.text
    client.post(f"/published/{number}/restore")
    assert client.get(link).status_code == 200
    assert client.post("/published/999/withdraw").status_code == 404


def bundle_of(client: FlaskClient) -> dict[str, Any]:
    return json.loads(client.get("/published/bundle.json").text)


def looked_at(client: FlaskClient, data: bytes) -> str:
    form = {"file": (io.BytesIO(data), "bundle.json")}
    answer = client.post("/published/bundle", data=form, content_type="multipart/form-data")
    assert answer.status_code in (200, 400, 413), answer.status_code
    return answer.text


def test_a_bundle_goes_into_an_empty_installation_with_equal_rankings_and_verdicts(
    client: FlaskClient, tmp_path_factory: pytest.TempPathFactory
) -> None:
    from curve_rank.settings import Settings
    from curve_rank.web import create_app
    from tests.conftest import KEPT

    text = client.get("/published/bundle.json").text
    other = create_app(Settings(data=tmp_path_factory.mktemp("empty")), modeller=KEPT)
    other.config["WTF_CSRF_ENABLED"] = False
    empty = other.test_client()
    jsonschema.validate(json.loads(text), json.loads(SCHEMA.read_text(encoding="utf-8")))
    page = looked_at(empty, text.encode())
    keys = re.findall(r'name="take" value="([^"]+)" checked', page)
    assert len(keys) == len(json.loads(text)["items"]) == 9
    assert empty.post("/published/bundle/take", data={"text": text, "take": keys}).status_code == 303
    assert bundle_of(empty) == bundle_of(client)
    (lecture,) = (item for item in json.loads(text)["items"] if item["kind"] == "lecture")
    shown = [one.get(f"/lectures/{lecture['id']}").text for one in (client, empty)]
    assert all(slide["title"] in page for page in shown for slide in lecture["content"]["slides"])
    for asked in (
        "/board.json?target=biceps_long&lens=own-lanternfield-house-blend",
        "/claims/own-hayloft-recline-against-the-pad.json",
    ):
        for one in (client, empty):
            one.get("/claims/own-hayloft-recline-against-the-pad")  # begins to weigh it
        here, there = (
            asked_until(
                one, asked, lambda answer: answer.get_json().get("verdict", "none is asked")
            ).get_json()
            for one in (client, empty)
        )
        assert here == there
    again = looked_at(empty, text.encode())
    assert "checked" not in re.sub(r"form-check-input", "", again)
    assert again.count("the same as here") == 9
    assert empty.post("/published/bundle/take", data={"text": text, "take": keys}).status_code == 400
    assert bundle_of(empty) == bundle_of(client)


def test_what_differs_is_said_and_becomes_the_next_version(client: FlaskClient) -> None:
    text = client.get("/published/bundle.json").text
    client.post("/bench/own-steep-pad-palms-in/save", data={"as": "version", "set": "posture.forearm=-20"})
    page = " ".join(looked_at(client, text.encode()).split())
    assert page.count("older than here") == page.count("field differs") == 1
    assert re.search(r"<th scope=.row.>Palm</th><td>−20°</td> <td>[^<]+°</td>", page)
    newer = client.get("/published/bundle.json").text
    client.post("/bench/own-steep-pad-palms-in/save", data={"as": "version", "set": "posture.forearm=-10"})
    client.post("/published/bundle/take", data={"text": newer, "take": "variant/own-steep-pad-palms-in"})
    assert bundle_of(client) == json.loads(newer)
    bench = " ".join(client.get("/bench/own-steep-pad-palms-in").text.split())
    assert "version 4" in bench.replace("Save as version 5", "version 4")


@pytest.mark.parametrize(
    ("damage", "says"),
    [
        (lambda t: t.replace(b"Osric", b"Oscar"), "mark"),
        (lambda t: t[: len(t) // 2], "JSON"),
        (lambda _: b"", "nothing was chosen"),
        (lambda _: b"\xff\xfe\x00bad", "UTF-8"),
        (lambda _: b"[" * 200_000, "JSON"),
        (lambda _: b'{"format": "something else"}', "format"),
        (lambda t: t.replace(b'"schema_version": 1', b'"schema_version": 9', 1), "schema_version"),
        (lambda t: t.replace(b'"items"', b'"itemz"', 1), "items"),
        (lambda _: b"x" * (5 * 1024 * 1024), "4 MB"),
        (lambda _: b"PK\x03\x04" + b"\x00" * 400, "JSON"),
    ],
)  # fmt: skip
def test_a_damaged_bundle_is_refused_whole(client: FlaskClient, damage: Any, says: str) -> None:
    text = client.get("/published/bundle.json").data
    page = looked_at(client, damage(text))
    assert says in page
    assert 'name="take"' not in page


def test_a_file_that_is_too_large_is_not_taken_at_all(client: FlaskClient) -> None:
    assert "too large" in looked_at(client, b"x" * (9 * 1024 * 1024)).lower()
    assert client.post("/published/1/title", data={"title": "x" * 300_000}).status_code == 413
