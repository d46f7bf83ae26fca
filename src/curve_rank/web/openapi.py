"""What scripts may ask, as an OpenAPI document: made of the forms that the routes read."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from pydantic.json_schema import models_json_schema

from curve_rank import __version__
from curve_rank.answers.bench_state import BenchRequest
from curve_rank.answers.board import BoardRequest
from curve_rank.answers.claims import ClaimsRequest
from curve_rank.answers.compare import CompareRequest
from curve_rank.answers.doubt import DoubtRequest
from curve_rank.answers.faults import FaultsRequest
from curve_rank.answers.heads import HeadRequest
from curve_rank.answers.requests import RequestForm
from curve_rank.answers.series import SeriesRequest
from curve_rank.answers.sets import SetRequest
from curve_rank.answers.stretches import StretchRequest
from curve_rank.answers.variants import VariantRequest
from curve_rank.web.forms import LoadsQuery, SchoolsQuery
from curve_rank.web.forms.taking import PictureTaken, Taken


@dataclass(frozen=True)
class Offer:
    """A route that is offered to scripts: what it answers, the form it reads, its method and kind."""

    rule: str
    words: str
    form: type[RequestForm] | None = None
    method: str = "get"
    kind: str = "application/json"


OFFERS = (
    Offer("/board.json", "A ranking, and how sure it is", BoardRequest),
    Offer("/compare.json", "Set-ups beside each other", CompareRequest),
    Offer("/compare/one-thing/<variant_id>.json", "One reading while one field changes", SeriesRequest),
    Offer("/bench/<variant_id>.json", "One repetition of a set-up, modelled", BenchRequest),
    Offer("/bench/<variant_id>/document.json", "A set-up’s document, with what is changed", BenchRequest),
    Offer("/variants.json", "All variants"),
    Offer("/variants/<variant_id>.json", "Everything about a variant", VariantRequest),
    Offer("/faults.json", "What faults cost", FaultsRequest),
    Offer("/heads/<head>.json", "A head: its maps, and what loads it", HeadRequest),
    Offer("/schools.json", "Lenses, and how the first ten move between them", SchoolsQuery),
    Offer("/claims.json", "Claims with their verdicts", ClaimsRequest),
    Offer("/claims/<key>.json", "One claim"),
    Offer("/evidence.json", "Published training comparisons, and what each lens says of them"),
    Offer("/doubt.json", "What a list would be with one number off", DoubtRequest),
    Offer("/loads.json", "What a known set is worth elsewhere", LoadsQuery),
    Offer("/sets.json", "The fewest set-ups that load some targets", SetRequest),
    Offer("/stretches.json", "Positions to hold", StretchRequest),
    Offer("/sources.json", "Every number of the model, with its source"),
    Offer("/take.json", "A page’s answer with all that must be read with it", Taken),
    Offer("/take.csv", "A page’s answer as a table", Taken, kind="text/csv"),
    Offer("/take.md", "A page’s answer as text", Taken, kind="text/markdown"),
    Offer("/take.pdf", "A page’s answer to print", Taken, kind="application/pdf"),
    Offer("/take.svg", "One of a page’s pictures", PictureTaken, kind="image/svg+xml"),
    Offer("/take.png", "One of a page’s pictures, for a slide or print", PictureTaken, kind="image/png"),
    Offer("/take/publish", "Freeze a page’s answer behind a link", Taken, method="post"),
)
PLACE = re.compile(r"<(?:\w+:)?(\w+)>")
PROBLEM = {
    "type": "object",
    "properties": {"error": {"type": "string"}, "field": {"type": "string"}},
    "required": ["error"],
}
ANSWERS = {
    "400": "It does not make sense: which field, what stood there, and what would be right",
    "401": "No token, or one that opens nothing",
    "403": "Not for whoever’s token it is, or not with a token that may only read",
    "404": "There is none",
    "429": "Too many requests; ask again after Retry-After",
}


def document(server: str) -> dict[str, Any]:
    """The OpenAPI document of an application that answers somewhere."""
    forms = list(dict.fromkeys(offer.form for offer in OFFERS if offer.form and offer.method == "post"))
    _, schemas = models_json_schema(
        [(form, "validation") for form in forms], by_alias=True, ref_template="#/components/schemas/{model}"
    )
    paths: dict[str, dict[str, Any]] = {}
    for offer in OFFERS:
        paths.setdefault(PLACE.sub(r"{\1}", offer.rule), {})[offer.method] = _operation(offer)
    return {
        "openapi": "3.1.0",
        "info": {
            "title": "Curve Rank",
            "version": __version__,
            "summary": "Biceps and triceps exercises as physics, ranked for a stated purpose",
        },
        "servers": [{"url": server}],
        "security": [{"token": []}],
        "paths": paths,
        "components": {
            "securitySchemes": {"token": {"type": "http", "scheme": "bearer"}},
            "schemas": schemas.get("$defs", {}) | {"Problem": PROBLEM},
        },
    }


def _operation(offer: Offer) -> dict[str, Any]:
    named = PLACE.sub(r"by_\1", offer.rule)
    answer = {"description": "The answer", "content": {offer.kind: {"schema": _schema(offer)}}}
    problem = {"application/json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
    responses = {"201" if offer.method == "post" else "200": answer}
    if offer.kind != "application/json":
        responses["202"] = {"description": "Its draws are being made; ask again after Retry-After"}
    responses |= {code: {"description": words, "content": problem} for code, words in ANSWERS.items()}
    found: dict[str, Any] = {
        "operationId": re.sub(r"\W+", "_", f"{offer.method} {named}").strip("_"),
        "summary": offer.words,
        "parameters": list(_parameters(offer)),
        "responses": responses,
    }
    if offer.method == "post" and offer.form:
        form = {"schema": {"$ref": f"#/components/schemas/{offer.form.__name__}"}}
        found["requestBody"] = {"content": {"application/x-www-form-urlencoded": form}, "required": True}
    return found


def _schema(offer: Offer) -> dict[str, Any]:
    if offer.kind == "application/json":
        return {"description": "Its keys stand in docs/formats.md"}
    return {"type": "string"} if offer.kind.startswith(("text/", "image/svg")) else {}


def _parameters(offer: Offer) -> Iterator[dict[str, Any]]:
    """What stands in the path, and what the form reads of the address."""
    for name in PLACE.findall(offer.rule):
        yield {"name": name, "in": "path", "required": True, "schema": {"type": "string"}}
    if offer.form is None or offer.method != "get":
        return
    for name, kind in offer.form.model_json_schema(by_alias=True).get("properties", {}).items():
        schema = {key: value for key, value in kind.items() if key != "title"}
        one: dict[str, Any] = {"name": name, "in": "query", "required": False, "schema": schema}
        if schema.get("type") == "array":
            one |= {"style": "form", "explode": True}
        yield one
