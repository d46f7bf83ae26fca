"""What leaves: the card, the table, the calendar."""

from __future__ import annotations

from flask import request
from flask.typing import ResponseReturnValue

from curve_rank.answers.card import Card, first_of
from curve_rank.store import plans
from curve_rank.web import cards, current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms.coaching import BlockQuery
from curve_rank.web.pages.blocks import blueprint


@blueprint.get("/blocks/<row:number>/card.pdf")
@allowed(*TEACHING)
def card(number: int) -> ResponseReturnValue:
    """The card, on A4 or Letter."""
    return cards.card(_view(number), BlockQuery.read(request.args).paper)


@blueprint.get("/blocks/<row:number>.csv")
@allowed(*TEACHING)
def table(number: int) -> ResponseReturnValue:
    """Every set."""
    return cards.table(_view(number))


@blueprint.get("/blocks/<row:number>.ics")
@allowed(*TEACHING)
def dates(number: int) -> ResponseReturnValue:
    """Every session."""
    return cards.dates(_view(number))


def _view(number: int) -> Card:
    viewer = current.viewer()
    plan = plans.plan(current.session(), viewer, number)
    asked = BlockQuery.read(request.args).person
    return cards.card_of(plan, first_of(plan) if asked is None else asked, viewer)
