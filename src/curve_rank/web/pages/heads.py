"""Heads: a plate to choose from, each head in words, and its maps over the joints."""

from __future__ import annotations

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.heads import (
    MOST_WALKS,
    WALKS,
    HeadAnswer,
    HeadRequest,
    head_map_of,
    loaded_by,
    plates_of,
)
from curve_rank.answers.leaflets import a_plate
from curve_rank.answers.plain import plain
from curve_rank.answers.stretches import for_head
from curve_rank.arm.atlas import RANGES
from curve_rank.arm.body import Body
from curve_rank.arm.ranges import ELBOW_RANGE
from curve_rank.errors import BadInputError
from curve_rank.figures.arm_plate import VIEWS, layers_of
from curve_rank.figures.maps import KINDS
from curve_rank.figures.overlay import LETTERS
from curve_rank.figures.svg import svg
from curve_rank.store import people
from curve_rank.study.heads import head_named, heads
from curve_rank.web import arms, current, files, notices, publishing
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import PartForm
from curve_rank.web.problems import status_of

blueprint = Blueprint("heads", __name__)

FIRST = "biceps_long"


@blueprint.get("/heads")
@allowed(*TEACHING)
def index() -> ResponseReturnValue:
    """The first head's page."""
    return redirect(url_for("heads.show", head=FIRST))


@blueprint.get("/heads/<head>")
@allowed(*TEACHING)
def show(head: str) -> ResponseReturnValue:
    """One head."""
    return _page(_answer(head))


@blueprint.get("/heads/<head>.json")
@allowed(*TEACHING)
def data(head: str) -> ResponseReturnValue:
    """Its map as grids."""
    return jsonify(plain(_answer(head)))


@blueprint.get("/heads/<head>/arm.json")
@allowed(*TEACHING)
def arm(head: str) -> ResponseReturnValue:
    """The plate at another posture."""
    asked = HeadRequest.read(request.args).of(head, current.library())
    return jsonify({view: svg(one) for view, one in plates_of(asked, _address).items()})


@blueprint.get("/heads/<head>/map.svg")
@blueprint.get("/heads/<head>/map.png")
@allowed(*TEACHING)
def picture(head: str) -> ResponseReturnValue:
    """Its map on its own."""
    return files.picture_file(_answer(head).map)


@blueprint.post("/heads/<head>/part")
@allowed(*TEACHING)
def save_part(head: str) -> ResponseReturnValue:
    """Keep the triceps' part of the upper arm."""
    head_named(head)
    try:
        part = PartForm.read(request.form).part
        with current.writing() as session:
            people.save_triceps_part(session, current.viewer(), part / 100)
    except BadInputError as error:
        return _page(_answer(head), problem=str(error), typed=request.form.get("part", "")), status_of(error)
    notices.tell(f"Kept: triceps {part:g} % of the upper arm.")
    return redirect(url_for("heads.show", head=head), 303)


@blueprint.post("/heads/<head>/publish")
@allowed(*TEACHING)
def publish(head: str) -> ResponseReturnValue:
    """Publish a head's plate and the map as it stands."""
    return publishing.keep(a_plate(_answer(head)))


def _page(answer: HeadAnswer, problem: str = "", typed: str = "") -> str:
    head = answer.head
    library, part = current.library(), people.triceps_part(current.session(), current.viewer())
    return render_template(
        "pages/heads/heads.html",
        answer=answer,
        asked=answer.asked,
        head=head,
        heads=heads(),
        plates=plates_of(answer.asked, _address),
        views=VIEWS,
        layers=layers_of(head.key),
        loaded=loaded_by(arms.means(waits=True), head),
        held=for_head(current.modeller(), head, Body()),
        kinds=KINDS,
        letters=LETTERS.upper(),
        ranges={"elbow": ELBOW_RANGE} | RANGES,
        neighbours=library.of_group(head.group) if head.group in WALKS else library.variants,
        most=MOST_WALKS,
        part=100 * part,
        typed=typed,
        problem=problem,
    )


def _address(head: str) -> str:
    return url_for("heads.show", head=head)


def _answer(key: str) -> HeadAnswer:
    return head_map_of(arms.means(waits=True), HeadRequest.read(request.args).of(key, current.library()))
