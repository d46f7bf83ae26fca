"""Two to four set-ups side by side: strips, curves, figures and readings, on the same draws."""

from __future__ import annotations

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.answers.compare import CompareAnswer, CompareRequest, side_by_side
from curve_rank.answers.leaflets import comparison
from curve_rank.answers.plain import plain
from curve_rank.errors import BadInputError
from curve_rank.exchange.tables import comparison_table
from curve_rank.figures.svg import svg
from curve_rank.rating.targets import known
from curve_rank.store import people
from curve_rank.study.compare import MOST
from curve_rank.web import arms, current, files, publishing
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.question import client_for

blueprint = Blueprint("compare", __name__)


@blueprint.get("/compare")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The page; of more set-ups than can stand side by side the first, and what would be right."""
    query = CompareRequest.read(request.args)
    try:
        return _page(_answer(query))
    except BadInputError as error:
        if len(query.setups) <= MOST:
            raise
        fewer = query.model_copy(update={"setups": query.setups[:MOST]})
        return _page(_answer(fewer), problem=str(error)), 400


def _page(answer: CompareAnswer, problem: str = "") -> str:
    return render_template(
        "pages/compare/compare.html",
        answer=answer,
        problem=problem,
        asked=answer.asked,
        most=MOST,
        lenses=current.library().lenses,
        people=people.people_with_bodies(current.session(), current.viewer()),
        neighbours=current.library().of_group(answer.target.group),
        figure_at=lambda one, at: Markup(svg(one.at(at))),
    )


@blueprint.get("/compare.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The page's data."""
    return jsonify(plain(_answer(CompareRequest.read(request.args))))


@blueprint.get("/compare.csv")
@blueprint.get("/compare.md")
@allowed(*TEACHING)
def table() -> ResponseReturnValue:
    """The readings and their differences as CSV or Markdown."""
    answer = _answer(CompareRequest.read(request.args))
    names = [one.name for one in answer.variants]
    return files.table_file(comparison_table(names, answer.readings), "compare")


@blueprint.get("/compare/curves-<row:panel>.svg")
@blueprint.get("/compare/curves-<row:panel>.png")
@allowed(*TEACHING)
def picture(panel: int) -> ResponseReturnValue:
    """One panel of curves on its own, counted from 1."""
    pictures = _answer(CompareRequest.read(request.args)).overlay.pictures
    panels = {str(n): one for n, one in enumerate(pictures, 1)}
    return files.picture_file(known("panel", str(panel), panels))


@blueprint.post("/compare/publish")
@allowed(*TEACHING)
def publish() -> ResponseReturnValue:
    """Publish the comparison as it stands."""
    return publishing.keep(comparison(_answer(CompareRequest.read(request.args))))


def _answer(query: CompareRequest) -> CompareAnswer:
    asked = query.of(client_for(query.person), current.library())
    return side_by_side(arms.means(), asked)
