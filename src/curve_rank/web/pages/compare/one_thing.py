"""Change one thing: a set-up along the steps of one field, as small strips and a reading's thread."""

from __future__ import annotations

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from curve_rank.answers.leaflets import steps
from curve_rank.answers.plain import plain
from curve_rank.answers.series import AddressedSeries, SeriesAnswer, SeriesRequest, stepped
from curve_rank.catalogue.controls import controls
from curve_rank.exchange.tables import series_table
from curve_rank.rating.readings import all_readings
from curve_rank.store import people
from curve_rank.web import arms, current, files, publishing
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.question import client_for


def register(blueprint: Blueprint) -> None:
    """The routes, beside those of the page they belong to."""
    endings = {"": show, ".json": data, ".csv": table, ".md": table}
    endings |= {"/thread.svg": picture, "/thread.png": picture}
    for ending, view in endings.items():
        name = f"series_{view.__name__}"
        blueprint.add_url_rule(f"/compare/one-thing/<variant_id>{ending}", name, allowed(*TEACHING)(view))
    blueprint.add_url_rule(
        "/compare/one-thing/<variant_id>/publish",
        "series_publish",
        allowed(*TEACHING)(publish),
        methods=["POST"],
    )


def show(variant_id: str) -> ResponseReturnValue:
    """The page."""
    asked = _asked(variant_id)
    return render_template(
        "pages/compare/one_thing.html",
        answer=stepped(arms.means(waits=True), asked.question, current.unit()),
        asked=asked,
        controls=controls(asked.question.variant),
        readings=all_readings(),
        people=people.people_with_bodies(current.session(), current.viewer()),
    )


def data(variant_id: str) -> ResponseReturnValue:
    """The page's data."""
    return jsonify(plain(_answer(variant_id)))


def table(variant_id: str) -> ResponseReturnValue:
    """The reading step by step as CSV or Markdown."""
    answer = _answer(variant_id)
    rows = [(one.value, one.spread, one.problem) for one in answer.steps]
    return files.table_file(series_table(answer.field, answer.reading, rows), f"{variant_id}-steps")


def picture(variant_id: str) -> ResponseReturnValue:
    """The thread on its own."""
    return files.picture_file(_answer(variant_id).thread)


def publish(variant_id: str) -> ResponseReturnValue:
    """Publish the series as it stands."""
    return publishing.keep(steps(_answer(variant_id)))


def _answer(variant_id: str) -> SeriesAnswer:
    return stepped(arms.means(waits=True), _asked(variant_id).question, current.unit())


def _asked(variant_id: str) -> AddressedSeries:
    query = SeriesRequest.read(request.args)
    return query.of(current.library().variant(variant_id), client_for(query.person))
