"""Patterns: every component of the interface once; only where the settings ask for it."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Blueprint, render_template
from flask.typing import ResponseReturnValue

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.figures.bars import score_bar, shares
from curve_rank.figures.curves import curves
from curve_rank.figures.figure import figure
from curve_rank.figures.projection import VIEWS
from curve_rank.figures.shapes import Picture
from curve_rank.figures.strip import SIZES
from curve_rank.figures.whisker import whisker
from curve_rank.rating.joints import strains
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.scoring import score_variant
from curve_rank.rating.targets import Target, long_head, targets
from curve_rank.web import current
from curve_rank.web.access import TEACHING, allowed

blueprint = Blueprint("patterns", __name__)

SHOWN = ("pad-45-dumbbell-curl", "bent-over-pull-back")


@dataclass(frozen=True)
class Example:
    """One variant's components."""

    modelled: VariantModel
    target: Target
    score_bar: Picture
    shares: Picture
    figures: dict[str, Picture]
    curves: Picture


@blueprint.get("/patterns")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The page."""
    effort = usual_effort()
    modelled = [current.modeller().one(find_variant(n, built_in()), Body(), effort=effort) for n in SHOWN]
    return render_template(
        "pages/patterns/patterns.html",
        examples=[_example(m) for m in modelled],
        sizes=list(SIZES),
        whisker=whisker(3, 17, 6, 80),
        strains_shown=strains(modelled[0].readings, modelled[0].body),
    )


def _example(modelled: VariantModel) -> Example:
    target = long_head(modelled.variant.group)
    parts = {head: modelled.of_head("work_share", head) for head in targets()[target.group].heads}
    return Example(
        modelled=modelled,
        target=target,
        shares=shares(target.group, parts),
        score_bar=score_bar(score_variant(modelled, target, lenses()["all_round"])[1]),
        figures={view: figure(modelled, view).at(modelled.hard) for view in VIEWS},
        curves=curves(modelled).picture,
    )
