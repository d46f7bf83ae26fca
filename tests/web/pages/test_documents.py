"""Stored documents that cannot be read: told of, mended, brought back, removed; no page falls."""

from __future__ import annotations

import json

import pytest
from flask import Flask
from flask.testing import FlaskClient
from sqlalchemy import text

from tests.helpers import desk_of

PAGES = (
    "/board",
    "/variants",
    "/schools",
    "/loads",
    "/evidence",
    "/bench/chin-up",
    "/variants/chin-up",
    "/schools.json",
)
VARIANT, LENS = "own-steep-pad-palms-in", "own-lanternfield-house-blend"
ADDRESS = {"variant": f"/documents/variant/{VARIANT}", "lens": f"/documents/lens/{LENS}"}


@pytest.fixture
def damaged(app: Flask, client: FlaskClient) -> FlaskClient:
    """One own variant and one own lens no longer validate."""
    for slug, content in ((VARIANT, '{"schema_version": 1, "name": "<b>"}'), (LENS, "not even JSON")):
        with desk_of(app).store.writing() as session:
            session.execute(
                text(
                    "UPDATE document_versions SET content = :c"
                    " WHERE document_id IN (SELECT id FROM documents WHERE slug = :s)"
                ),
                {"c": content, "s": slug},
            )
    return client


@pytest.mark.parametrize("page", PAGES)
def test_no_page_falls(damaged: FlaskClient, page: str) -> None:
    assert damaged.get(page).status_code == 200


def test_both_are_listed_with_their_reasons(damaged: FlaskClient) -> None:
    for page, slug in (("/variants", VARIANT), ("/schools", LENS)):
        text = damaged.get(page).text
        assert "Cannot be read" in text
        assert slug in text
    assert damaged.get("/schools.json").get_json()["unreadable"][0]["slug"] == LENS
    bench = damaged.get(f"/bench/{VARIANT}")
    assert (bench.status_code, "to be mended" in bench.text) == (404, True)
    assert damaged.get(f"/board?lens={LENS}").status_code == 400


@pytest.mark.parametrize("kind", ["variant", "lens"])
def test_one_can_be_looked_at_mended_removed_and_put_back(damaged: FlaskClient, kind: str) -> None:
    address = ADDRESS[kind]
    page = damaged.get(address)
    assert "It cannot be used as it stands" in page.text
    assert damaged.get(f"{address}/document.json").status_code == 200
    typed = "{ still broken"
    refused = damaged.post(f"{address}/repair", data={"text": typed})
    assert refused.status_code == 400
    assert typed in refused.text
    removed = damaged.post(f"{address}/remove")
    listing = damaged.get(removed.headers["Location"]).text
    assert "Cannot be read" not in listing
    assert f"{address}/put-back" in listing
    damaged.post(f"{address}/put-back")
    assert "Cannot be read" in damaged.get(removed.headers["Location"]).text


def test_mended_text_is_read_again(damaged: FlaskClient) -> None:
    whole = damaged.get("/bench/pad-60-dumbbell-curl/document.json").get_json() | {
        "id": VARIANT,
        "name": "Mended",
    }
    answer = damaged.post(f"{ADDRESS['variant']}/repair", data={"text": json.dumps(whole)})
    assert answer.status_code == 303
    assert "Mended" in damaged.get("/variants").text
    assert damaged.get(f"/bench/{VARIANT}").status_code == 200


def test_unknown_kinds_and_documents_are_refused(client: FlaskClient) -> None:
    assert client.get("/documents/secret/own-x").status_code == 400
    assert client.get("/documents/variant/own-x").status_code == 404
    assert client.post("/documents/lens/own-x/remove").status_code == 400
    assert client.post(f"{ADDRESS['variant']}/restore", data={"number": "9"}).status_code == 400
