"""What it costs to do it wrong: the dearest faults of a family, under a lens, with how sure each price is."""

from __future__ import annotations

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.answers.faults import FaultsAnswer, FaultsRequest, faults_priced
from curve_rank.answers.means import Means
from curve_rank.answers.plain import plain
from curve_rank.catalogue import words
from curve_rank.figures.svg import svg
from curve_rank.figures.whisker import change_whisker
from curve_rank.store import people
from curve_rank.store.documents import own_faults, unreadable
from curve_rank.study.fault_prices import FaultPrice
from curve_rank.web import arms, current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.question import client_for

blueprint = Blueprint("faults", __name__)


@blueprint.get("/faults")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The page."""
    answer = _answer(arms.means())
    session, viewer = current.session(), current.viewer()
    return render_template(
        "pages/faults/faults.html",
        answer=answer,
        asked=answer.asked,
        families=words.families(),
        lenses=current.library().lenses,
        people=people.people_with_bodies(session, viewer),
        on_scale=_on_scale,
        own=own_faults(session, viewer),
        damaged_faults=unreadable(session, viewer, "fault"),
    )


@blueprint.get("/faults.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The page's data."""
    return jsonify(plain(_answer(arms.means(waits=True))))


def _on_scale(price: FaultPrice, ends: tuple[float, float]) -> Markup:
    """A price's interval on the scale that all share."""
    assert price.price is not None
    told = price.price.spread
    return Markup(svg(change_whisker(told.median, told.low, told.high, ends)))


def _answer(means: Means) -> FaultsAnswer:
    query = FaultsRequest.read(request.args)
    return faults_priced(means, query.of(client_for(query.person), current.library()))
