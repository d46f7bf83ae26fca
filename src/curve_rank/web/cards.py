"""A block's card, table and calendar as files, for whoever is here or another viewer."""

from __future__ import annotations

from flask import Response

from curve_rank.answers import card as answers
from curve_rank.answers.card import Card
from curve_rank.store.plans import KeptPlan
from curve_rank.store.viewers import Viewer
from curve_rank.web import arms, current
from curve_rank.web.files import named_file


def card_of(plan: KeptPlan, person: int | None, viewer: Viewer) -> Card:
    """As `answers.card.card`, for a request."""
    return answers.card(current.session(), viewer, plan, person, arms.means(viewer))


def card(made: Card, paper: str) -> Response:
    """The printed card."""
    return named_file(answers.card_pdf(made, paper), "application/pdf", "curve-rank-block.pdf", inline=True)


def table(made: Card) -> Response:
    """Every set as CSV."""
    return named_file(answers.card_table(made), "text/csv", "curve-rank-block.csv")


def dates(made: Card) -> Response:
    """Every session as iCalendar."""
    return named_file(answers.card_dates(made), "text/calendar", "curve-rank-block.ics")
