"""What scripts may ask: the document is of this application, and every route in it answers as it says."""

from __future__ import annotations

import re

import jsonschema
import pytest
from flask.testing import FlaskClient

from curve_rank.web.openapi import OFFERS, document

PLACES = {"variant_id": "chin-up", "head": "biceps_long", "key": "lower_bench_longer"}
ASKS = {
    "/compare/one-thing/{variant_id}.json": "?field=posture.forearm&from=-90&to=90&step=90",
    "/sets.json": "?target=biceps_long&with=dumbbell",
} | {f"/take.{ending}": "?page=/variants/chin-up" for ending in ("json", "csv", "md", "pdf", "svg", "png")}


@pytest.mark.parametrize("offer", [one for one in OFFERS if one.method == "get"], ids=lambda one: one.rule)
def test_every_route_in_the_document_answers_in_its_kind(client: FlaskClient, offer) -> None:  # type: ignore[no-untyped-def]
    path = re.sub(r"<(?:\w+:)?(\w+)>", r"{\1}", offer.rule)
    operation = document("http://localhost")["paths"][path]["get"]
    answer = client.get(path.format(**PLACES) + ASKS.get(path, ""))
    assert answer.status_code == 200, answer.text[:200]
    (kind,) = operation["responses"]["200"]["content"]
    assert answer.mimetype == kind
    for parameter in operation["parameters"]:  # what the document names, the form reads
        if parameter["in"] == "query" and parameter["schema"].get("type") == "integer":
            wrong = client.get(path.format(**PLACES) + f"?{parameter['name']}=x")
            assert wrong.status_code == 400
            assert parameter["name"] in wrong.text


def test_the_document_is_sound_and_complete(client: FlaskClient) -> None:
    told = client.get("/api/openapi.json").get_json()
    assert told == document("http://localhost")
    operations = [one for path in told["paths"].values() for one in path.values()]
    assert len(operations) == len(OFFERS) >= 25
    assert len({one["operationId"] for one in operations}) == len(operations)
    for path, methods in told["paths"].items():
        for one in methods.values():
            named = [p["name"] for p in one["parameters"] if p["in"] == "path"]
            assert named == re.findall(r"{(\w+)}", path)
            for parameter in one["parameters"]:
                jsonschema.Draft202012Validator.check_schema(parameter["schema"])
    refs = set(re.findall(r"#/components/schemas/(\w+)", client.get("/api/openapi.json").text))
    assert refs == set(told["components"]["schemas"])


def test_the_reference_names_every_route(client: FlaskClient) -> None:
    page = client.get("/api").text
    assert all(path in page for path in document("")["paths"])
