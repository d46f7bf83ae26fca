"""Handouts: one variant on a page, or several as a booklet with contents, drawn in the background."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

import segno
from flask import jsonify, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.arm.parameters import parameter_set
from curve_rank.background.booklets import BookletRun
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.exchange.paper import on_paper
from curve_rank.exchange.pdf import pdf
from curve_rank.figures.curves import curves
from curve_rank.figures.strip import strip
from curve_rank.figures.svg import ByColour, svg
from curve_rank.rating.targets import known
from curve_rank.store.tables import now
from curve_rank.store.verdicts import Stamp
from curve_rank.web import current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.files import named_file
from curve_rank.web.forms import HandoutQuery
from curve_rank.web.pages.variants.variant import HandoutView, blueprint, handout_view, subject_of
from curve_rank.web.problems import status_of

MOST = 40
"""Variants in one booklet."""
YEAR = re.compile(r"^(\w+) [A-Z]+(,| et al)?.*? ?\((\d{4})\)", re.MULTILINE)
"""First name, whether there are more, and year of a publication."""
PAPERS = {"a4": "A4", "letter": "letter"}


@blueprint.get("/variants/<variant_id>.pdf")
@allowed(*TEACHING)
def handout(variant_id: str) -> ResponseReturnValue:
    """One page to print or hand out."""
    paper = known("paper", HandoutQuery.read(request.args).paper, PAPERS)
    html = _page_of(handout_view(subject_of(variant_id)), paper)
    return named_file(pdf(html), "application/pdf", f"{variant_id}.pdf", inline=True)


@blueprint.get("/variants/booklet")
@allowed(*TEACHING)
def booklet_page() -> ResponseReturnValue:
    """What goes into a booklet."""
    return _form(HandoutQuery.read(request.args))


@blueprint.post("/variants/booklet")
@allowed(*TEACHING)
def booklet_begin() -> ResponseReturnValue:
    """Draw it, or join the drawing that is under way for the same."""
    query = HandoutQuery.read(request.form)
    try:
        variants, paper = _asked(query)
        views = [handout_view(subject_of(v.id)) for v in variants]
    except BadInputError as error:
        return _form(query, problem=str(error)), status_of(error)
    person, html = current.viewer().person, _booklet_of(views, paper)
    run = current.desk().booklets.start(person, html, len(views) + 1)
    return _form(query, run=run)


@blueprint.get("/variants/booklet/run.json")
@allowed(*TEACHING)
def booklet_run() -> ResponseReturnValue:
    """How far it is."""
    return jsonify(_run().told)


@blueprint.get("/variants/booklet.pdf")
@allowed(*TEACHING)
def booklet_file() -> ResponseReturnValue:
    """The booklet, once it is drawn."""
    run = _run()
    if not run.made:
        raise BadInputError("booklet", run.state, "one that is drawn; it is not yet")
    return named_file(run.made, "application/pdf", "curve-rank-booklet.pdf")


def handouts(ids: Sequence[str], paper: str) -> bytes:
    """A handout of one variant, or a booklet of several, within a request.

    Raises
    ------
    CurveRankError
    """
    variants, size = _asked(HandoutQuery(variants=tuple(ids), paper=paper))
    views = [handout_view(subject_of(v.id)) for v in variants]
    html = _page_of(views[0], size) if len(views) == 1 else _booklet_of(views, size)
    return pdf(html)


def _asked(query: HandoutQuery) -> tuple[tuple[Variant, ...], str]:
    paper = known("paper", query.paper, PAPERS)
    if not 1 <= len(query.variants) <= MOST:
        raise BadInputError("variants", len(query.variants), f"1 to {MOST} in one booklet")
    return tuple(current.variant_named(key) for key in query.variants), paper


def _page_of(view: HandoutView, paper: str, template: str = "variant") -> str:
    paint, link = ByColour("light"), url_for("variants.show", variant_id=view.variant.id, _external=True)
    return on_paper(
        f"print/{template}",
        view=view,
        paper=paper,
        in_booklet=template != "variant",
        strip=svg(strip(view.modelled, view.target, "large"), paint),
        figures={name: svg(shown, paint) for name, shown in view.figures(whole=False).items()},
        curves=svg(curves(view.modelled).picture, paint),
        link=link,
        code=Markup(segno.make(link, error="m").svg_inline(scale=2, border=0)),
        **_made(),
    )


def _made() -> dict[str, Any]:
    """When it is printed, by which model, and after whom."""
    found = YEAR.findall("\n".join(dict(parameter_set().sources).values()))
    return {
        "printed_at": now().strftime("%-d %b %Y"),
        "stamp": Stamp.of(""),
        "citations": [f"{first}{' and others' if more else ''} {year}" for first, more, year in found],
    }


def _booklet_of(views: Sequence[HandoutView], paper: str) -> str:
    parts = [(view, Markup(_page_of(view, paper, "handout"))) for view in views]
    return on_paper("print/booklet", parts=parts, paper=paper, **_made())


def _run() -> BookletRun:
    query = HandoutQuery.read(request.args)
    run = current.desk().booklets.run(current.viewer().person, query.key, query.run)
    if run is None:
        raise UnknownNameError("booklet", query.run, "one that was begun a moment ago")
    return run


def _form(query: HandoutQuery, *, run: BookletRun | None = None, problem: str = "") -> str:
    chosen = set(query.variants)
    return render_template(
        "pages/variants/booklet.html",
        query=query,
        chosen=chosen,
        variants=current.all_variants(),
        papers=PAPERS,
        run=run,
        problem=problem,
        most=MOST,
    )
