"""Evidence: what the lenses say of published training comparisons."""

from __future__ import annotations

from typing import Any

from flask import Blueprint, jsonify, render_template
from flask.typing import ResponseReturnValue

from curve_rank.rating.evidence import Comparison, Verdict, comparisons, verdicts
from curve_rank.web.library import all_lenses, modeller

blueprint = Blueprint("evidence", __name__)


@blueprint.get("/evidence")
def show() -> ResponseReturnValue:
    """The page."""
    return render_template("evidence/evidence.html", found=_found(), lenses=all_lenses())


@blueprint.get("/evidence.json")
def data() -> ResponseReturnValue:
    """The page's data."""
    return jsonify([_view(comparison, said) for comparison, said in _found()])


def _found() -> list[tuple[Comparison, tuple[Verdict, ...]]]:
    table = tuple(all_lenses().values())
    return [(comparison, verdicts(comparison, table, modeller())) for comparison in comparisons()]


def _view(comparison: Comparison, said: tuple[Verdict, ...]) -> dict[str, Any]:
    return {
        "title": comparison.title,
        "source": comparison.source,
        "found": comparison.found,
        "verdicts": [
            {
                "lens": v.lens.key,
                "target": v.target.key,
                "more": round(v.more, 2),
                "less": round(v.less, 2),
                "says": v.says,
            }
            for v in said
        ],
    }
