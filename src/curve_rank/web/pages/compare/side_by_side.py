"""Two to four set-ups side by side: strips, curves, figures and readings, on the same draws."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any
from urllib.parse import urlencode

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.answers.people import Client
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import SetupAddress, parse_setup
from curve_rank.errors import BadInputError
from curve_rank.exchange.study_views import comparison_view
from curve_rank.exchange.tables import comparison_table
from curve_rank.figures.figure import figure
from curve_rank.figures.gaps import gaps
from curve_rank.figures.overlay import LETTERS, Axis, Overlay, overlay
from curve_rank.figures.projection import best_view
from curve_rank.figures.shapes import Picture
from curve_rank.figures.strip import strips
from curve_rank.figures.svg import svg
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target, known, long_head, targets
from curve_rank.rating.words import chance_words
from curve_rank.store import people
from curve_rank.study.compare import FEWEST, MOST, Comparison, compare, resolved
from curve_rank.web import arms, current, files, publishing
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import CompareQuery
from curve_rank.web.question import client_for

blueprint = Blueprint("compare", __name__)

FIRST = ("reclined-60-dumbbell-curl", "pad-45-dumbbell-curl")


@dataclass(frozen=True)
class CompareQuestion:
    """What stands side by side, and for what."""

    setups: tuple[SetupAddress, ...]
    variants: tuple[Variant, ...]
    target: Target
    lens: Lens
    axis: Axis
    client: Client
    reps: int

    def address(self, **replaced: object) -> str:
        """The question as a query string, with some of it replaced."""
        values: dict[str, object] = {
            "with": [setup.text for setup in self.setups],
            "target": self.target.key,
            "lens": self.lens.key,
            "axis": self.axis,
            "for": self.client.person,
            "reps": self.reps,
        }
        values |= replaced
        defaults = {"axis": "place", "reps": DEFAULT_EFFORT_REPS, "lens": "long_length"}
        kept = {k: v for k, v in values.items() if v is not None and v != defaults.get(k)}
        return urlencode(kept, doseq=True)

    def without(self, n: int) -> str:
        """The address without one of the columns."""
        return self.address(**{"with": [s.text for k, s in enumerate(self.setups) if k != n]})

    def first(self, n: int) -> str:
        """The address with one of the columns in front, from which differences are counted."""
        texts = [s.text for s in self.setups]
        return self.address(**{"with": [texts[n], *texts[:n], *texts[n + 1 :]]})


@dataclass(frozen=True)
class CompareView:
    """The page: the columns modelled, and their comparison."""

    asked: CompareQuestion
    comparison: Comparison

    @property
    def columns(self) -> tuple[VariantModel, ...]:
        """The set-ups, modelled."""
        return self.comparison.columns

    @cached_property
    def strips(self) -> list[Picture]:
        """A strip each, all on the scale of the largest moment asked."""
        return strips(self.columns, self.asked.target, "large")

    @cached_property
    def overlay(self) -> Overlay:
        """Their curves over the chosen axis."""
        return overlay(self.columns, self.asked.target, self.asked.axis)

    @property
    def view(self) -> str:
        """The view all figures are shown in: that which shows most of the first."""
        return best_view(self.columns[0].variant)

    @cached_property
    def figures(self) -> list[Any]:
        """A figure each."""
        return [figure(m, self.view) for m in self.columns]

    @cached_property
    def along(self) -> list[dict[str, list[float]]]:
        """What is read off at each place of the rep, column by column."""
        head = self.asked.target.heads[0]
        return [
            {
                "angle": [round(v) + 0.0 for v in m.along("angle").tolist()],
                "demand": [round(v, 1) + 0.0 for v in m.along("demand").tolist()],
                "effort": [round(100 * v) + 0.0 for v in m.along("effort").tolist()],
                "length": [round(v) + 0.0 for v in m.length_along(head).tolist()],
            }
            for m in self.columns
        ]

    def as_script(self) -> dict[str, Any]:
        """What the page's script moves."""
        return {
            "figures": [one.as_data() for one in self.figures],
            "overlay": self.overlay.as_data(),
            "along": self.along,
            "hard": [m.hard for m in self.columns],
        }


@blueprint.get("/compare")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The page; of more set-ups than can stand side by side the first, and what would be right."""
    query = CompareQuery.read(request.args)
    try:
        return _page(_view(query))
    except BadInputError as error:
        if len(query.setups) <= MOST:
            raise
        fewer = query.model_copy(update={"setups": query.setups[:MOST]})
        return _page(_view(fewer), problem=str(error)), 400


def _page(view: CompareView, problem: str = "") -> str:
    return render_template(
        "pages/compare/compare.html",
        view=view,
        problem=problem,
        asked=view.asked,
        letters=LETTERS.upper(),
        most=MOST,
        lenses=current.all_lenses(),
        people=people.people_with_bodies(current.session(), current.viewer()),
        neighbours=[v for v in current.all_variants() if v.group == view.asked.target.group],
        figure_at=lambda one, at: Markup(svg(one.at(at))),
        strips=[Markup(svg(one)) for one in view.strips],
        panels=[Markup(svg(one)) for one in view.overlay.pictures],
        gaps=lambda reading: Markup(svg(gaps(reading))),
        chance_words=chance_words,
        resolved=resolved(),
    )


@blueprint.get("/compare.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The page's data."""
    return jsonify(comparison_view(_view(CompareQuery.read(request.args)).comparison))


@blueprint.get("/compare.csv")
@blueprint.get("/compare.md")
@allowed(*TEACHING)
def table() -> ResponseReturnValue:
    """The readings and their differences as CSV or Markdown."""
    return files.table_file(comparison_table(_view(CompareQuery.read(request.args)).comparison), "compare")


@blueprint.get("/compare/curves-<row:panel>.svg")
@blueprint.get("/compare/curves-<row:panel>.png")
@allowed(*TEACHING)
def picture(panel: int) -> ResponseReturnValue:
    """One panel of curves on its own, counted from 1."""
    pictures = _view(CompareQuery.read(request.args)).overlay.pictures
    panels = {str(n): one for n, one in enumerate(pictures, 1)}
    return files.picture_file(known("panel", str(panel), panels))


@blueprint.post("/compare/publish")
@allowed(*TEACHING)
def publish() -> ResponseReturnValue:
    """Publish the comparison as it stands."""
    view = _view(CompareQuery.read(request.args))
    return publishing.keep(
        "comparison",
        " against ".join(m.variant.name for m in view.columns),
        comparison_view(view.comparison),
        view=view,
        asked=view.asked,
        letters=LETTERS.upper(),
        strips=view.strips,
        resolved=resolved(),
    )


def _view(query: CompareQuery) -> CompareView:
    asked = _asked(query)
    body, effort = asked.client.body, effort_for_reps(asked.reps)
    models = tuple(current.modeller().one(v, body, effort=effort) for v in asked.variants)
    drawn = arms.drawn(asked.variants, body, effort)
    return CompareView(asked, compare(models, drawn, asked.target, asked.lens))


def _asked(query: CompareQuery) -> CompareQuestion:
    """What an address asks.

    Raises
    ------
    CurveRankError
    """
    setups = tuple(parse_setup(text) for text in query.setups)
    if len(setups) == 1:
        setups += (parse_setup(FIRST[0] if setups[0].variant != FIRST[0] else FIRST[1]),)
    setups = setups or tuple(map(parse_setup, FIRST))
    if len(setups) > MOST:
        raise BadInputError("with", f"{len(setups)} set-ups", f"{FEWEST} to {MOST} to compare; take one out")
    variants = tuple(current.setup_of(setup) for setup in setups)
    target = known("target", query.target, targets()) if query.target else None
    if target is None or target.group != variants[0].group:
        target = long_head(variants[0].group)
    lens = known("lens", query.lens, current.lenses_for(query.lens))
    return CompareQuestion(setups, variants, target, lens, query.axis, client_for(query.person), query.reps)
