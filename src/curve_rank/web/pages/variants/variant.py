"""One variant: everything about it, as a page, data, a handout and pictures."""

from __future__ import annotations

from collections.abc import Callable

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.handout import Handout, Subject, handout
from curve_rank.answers.leaflets import a_variant
from curve_rank.answers.plain import plain
from curve_rank.answers.variants import (
    VariantAnswer,
    VariantRequest,
    about_a_variant,
    faults_of,
    schemes_of,
    shown_variant,
)
from curve_rank.errors import LoadError, PostureError
from curve_rank.figures.curves import curves
from curve_rank.figures.shapes import Picture
from curve_rank.figures.strip import strip
from curve_rank.rating.spreads import interval
from curve_rank.rating.targets import known
from curve_rank.store.names import is_own
from curve_rank.store.sharing import is_mine
from curve_rank.web import arms, current, files, publishing
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.parts import asks_for
from curve_rank.web.question import client_for

blueprint = Blueprint("variants", __name__)


@blueprint.get("/variants/<variant_id>")
@allowed(*TEACHING)
def show(variant_id: str) -> ResponseReturnValue:
    """Everything about one variant."""
    try:
        view = shown_variant(arms.means(waits=True), subject_of(variant_id))
    except (PostureError, LoadError):
        if not is_own(variant_id):
            raise
        return redirect(url_for("documents.show", kind="variant", slug=variant_id))
    return render_template(
        "pages/variants/variant.html",
        view=view,
        interval=round(100 * interval()),
        is_mine=_is_mine(variant_id),
    )


@blueprint.get("/variants/<variant_id>/schemes")
@allowed(*TEACHING)
def schemes_inside(variant_id: str) -> ResponseReturnValue:
    """Where rep schemes place tension; only the table when a script asks for that."""
    subject = subject_of(variant_id)
    readings = schemes_of(arms.means(waits=True), subject)
    name = "schemes" if asks_for("inside") else "schemes_page"
    return render_template(f"pages/variants/{name}.html", subject=subject, schemes=readings)


@blueprint.get("/variants/<variant_id>/faults")
@allowed(*TEACHING)
def faults_inside(variant_id: str) -> ResponseReturnValue:
    """What its faults cost; only the table when a script asks for that."""
    subject = subject_of(variant_id)
    answer = faults_of(arms.means(waits=True), subject)
    name = "faults" if asks_for("inside") else "faults_page"
    return render_template(f"pages/variants/{name}.html", subject=subject, answer=answer)


@blueprint.get("/variants/<variant_id>.json")
@allowed(*TEACHING)
def data(variant_id: str) -> ResponseReturnValue:
    """The page's data."""
    return jsonify(plain(_answer(variant_id)))


@blueprint.post("/variants/<variant_id>/publish")
@allowed(*TEACHING)
def publish(variant_id: str) -> ResponseReturnValue:
    """Publish a variant as it stands."""
    return publishing.keep(a_variant(_answer(variant_id)))


@blueprint.get("/variants/<variant_id>/<name>.svg")
@blueprint.get("/variants/<variant_id>/<name>.png")
@allowed(*TEACHING)
def picture_file(variant_id: str, name: str) -> ResponseReturnValue:
    """One picture on its own: its strip, figure or curves, on light or dark paper."""
    subject = subject_of(variant_id)
    makers: dict[str, Callable[[], Picture]] = {
        "strip": lambda: strip(subject.modelled, subject.target, "large"),
        "figure": lambda: subject.figures()["hard spot"],
        "curves": lambda: curves(subject.modelled).picture,
    }
    return files.picture_file(known("picture", name, makers)())


def subject_of(variant_id: str) -> Subject:
    """A variant as the address asks for it, modelled.

    Raises
    ------
    CurveRankError
        For what is not there, or cannot be modelled.
    """
    query = VariantRequest.read(request.args)
    return query.of(variant_id, client_for(query.person), arms.means(waits=True))


def handout_of(asked: Subject) -> Handout:
    """What is printed of a variant, as `answers.handout` has it."""
    return handout(arms.means(waits=True), asked)


def _is_mine(variant_id: str) -> bool:
    return is_mine(current.session(), current.viewer(), "variant", variant_id)


def _answer(variant_id: str) -> VariantAnswer:
    return about_a_variant(arms.means(waits=True), subject_of(variant_id))
