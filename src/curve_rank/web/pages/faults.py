"""What it costs to do it wrong: the dearest faults of a family, under a lens, with how sure each price is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from urllib.parse import urlencode

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from curve_rank.answers.people import Client
from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue import words
from curve_rank.catalogue.schema import Variant
from curve_rank.exchange.study_views import price_view
from curve_rank.rating.lenses import Lens
from curve_rank.rating.targets import Target, known, long_head, targets
from curve_rank.rating.words import chance_words
from curve_rank.store import people
from curve_rank.store.documents import own_faults, unreadable
from curve_rank.study.fault_prices import FaultPrice, fault_prices
from curve_rank.web import arms, current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import FaultsQuery
from curve_rank.web.question import client_for

blueprint = Blueprint("faults", __name__)


@dataclass(frozen=True)
class FaultsView:
    """The page."""

    family: str
    target: Target
    lens: Lens
    client: Client
    prices: tuple[FaultPrice, ...]

    @property
    def address(self) -> str:
        """The question as a query string."""
        values = {
            "family": self.family,
            "target": self.target.key,
            "lens": self.lens.key,
            "for": self.client.person,
        }
        return urlencode({key: value for key, value in values.items() if value is not None})


@blueprint.get("/faults")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The page."""
    view = _view(arms.drawn_soon)
    session, viewer = current.session(), current.viewer()
    return render_template(
        "pages/faults/faults.html",
        view=view,
        families=words.families(),
        lenses=current.library().lenses,
        people=people.people_with_bodies(session, viewer),
        chance_words=chance_words,
        own=own_faults(session, viewer),
        damaged_faults=unreadable(session, viewer, "fault"),
    )


@blueprint.get("/faults.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The page's data."""
    return jsonify([price_view(price) for price in _view(arms.drawn).prices])


def _view(draw: Callable[[tuple[Variant, ...], Body, float], tuple[Readings, ...]]) -> FaultsView:
    query = FaultsQuery.read(request.args)
    known("family", query.family, words.families())
    lens = current.library().lens(query.lens)
    family = tuple(v for v in current.library().variants if v.family == query.family)
    asked = known("target", query.target, targets()) if query.target else None
    group = asked.group if asked and any(v.group == asked.group for v in family) else family[0].group
    target = asked if asked and asked.group == group else long_head(group)
    client, effort = client_for(query.person), usual_effort()
    variants = tuple(v for v in family if v.group == group)
    prices = fault_prices(
        variants, target, lens,
        body=client.body, effort=effort, modeller=current.modeller(),
        faults={v.id: current.library().faults_of(v) for v in variants},
        draw=lambda drawn: draw(drawn, client.body, effort),
    )  # fmt: skip
    return FaultsView(query.family, target, lens, client, prices)
