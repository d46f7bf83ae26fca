"""Patterns: every component of the interface once; only with CURVE_RANK_PATTERNS=1."""

from __future__ import annotations

import os

from flask import Blueprint, render_template
from flask.typing import ResponseReturnValue

from curve_rank.arm.body import Body
from curve_rank.arm.setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.rating.certainty import RowCertainty
from curve_rank.rating.modelling import model_variants
from curve_rank.rating.scoring import score_variant, strains
from curve_rank.rating.vocabulary import aims, lenses
from curve_rank.web.sheet import figure_svg
from curve_rank.web.strip import SIZES
from curve_rank.web.whisker import whisker_svg

blueprint = Blueprint("patterns", __name__)

SHOWN = ("pad-45-dumbbell-curl", "bent-over-pull-back")


def wanted() -> bool:
    """Whether the page is asked for."""
    return os.environ.get("CURVE_RANK_PATTERNS") == "1"


@blueprint.get("/patterns")
def show() -> ResponseReturnValue:
    """The page."""
    variants = tuple(find_variant(name, built_in()) for name in SHOWN)
    modelled = model_variants(variants, Body(), effort=effort_for_reps(DEFAULT_EFFORT_REPS))
    targets = (aims()["biceps_long"], aims()["triceps_long"])
    parts = [
        score_variant(m, aim, lenses()["all_round"])[1] for m, aim in zip(modelled, targets, strict=True)
    ]
    sure = RowCertainty("x", 3, 17, 40.0, 60.0, 0.6, 1)
    return render_template(
        "patterns/patterns.html",
        pairs=list(zip(modelled, targets, parts, strict=True)),
        sizes=list(SIZES),
        whisker=whisker_svg(sure, 6, 80),
        strains=strains(modelled[0]),
        figures=[figure_svg(modelled[0], view) for view in ("side", "front", "top")],
        aims=aims(),
    )
