"""Evidence: what the lenses say of published training comparisons."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, jsonify, render_template
from flask.typing import ResponseReturnValue

from curve_rank.exchange.json_views import comparison_view
from curve_rank.rating.lenses import Lens
from curve_rank.study.evidence import Found, Tally, TrainingStudy, every_comparison, tally, unforetold
from curve_rank.web import current
from curve_rank.web.access import TEACHING, allowed

blueprint = Blueprint("evidence", __name__)


@dataclass(frozen=True)
class EvidenceView:
    """Every comparison, and what each lens says of it."""

    lenses: dict[str, Lens]
    found: tuple[Found, ...]
    tallies: tuple[Tally, ...]
    unforetold: tuple[TrainingStudy, ...]

    def as_data(self) -> list[dict[str, Any]]:
        """The page's JSON twin."""
        return [comparison_view(comparison, said) for comparison, said in self.found]


@blueprint.get("/evidence")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The page."""
    return render_template("pages/evidence/evidence.html", view=_view())


@blueprint.get("/evidence.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The page's data."""
    return jsonify(_view().as_data())


def _view() -> EvidenceView:
    table = current.library().lenses
    found = every_comparison(tuple(table.values()), current.modeller())
    tallies = tuple(tally(found, lens) for lens in table.values())
    return EvidenceView(table, found, tallies, unforetold(found))
