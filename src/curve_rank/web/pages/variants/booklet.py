"""Handouts: one variant on a page, or several as a booklet with contents, drawn in the background."""

from __future__ import annotations

from flask import jsonify, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.handout import MOST, PAPERS, Sheet, booklet, check_number, page
from curve_rank.background.booklets import BookletRun
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.exchange.pdf import pdf
from curve_rank.rating.targets import known
from curve_rank.web import current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.files import named_file
from curve_rank.web.forms import HandoutQuery
from curve_rank.web.pages.variants.variant import blueprint, handout_of, subject_of
from curve_rank.web.problems import status_of


@blueprint.get("/variants/<variant_id>.pdf")
@allowed(*TEACHING)
def handout(variant_id: str) -> ResponseReturnValue:
    """One page to print or hand out."""
    paper = known("paper", HandoutQuery.read(request.args).paper, PAPERS)
    made = handout_of(subject_of(variant_id))
    html = page(made, paper, _link(variant_id), current.unit())
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
        views = [handout_of(subject_of(v.id)) for v in variants]
    except BadInputError as error:
        return _form(query, problem=str(error)), status_of(error)
    sheet = Sheet(query.title.strip(), query.words.strip(), two=bool(query.two), unit=current.unit())
    person, html = current.viewer().person, booklet(views, paper, _link, sheet)
    pages = -(-len(views) // 2) if sheet.two else len(views) + 1
    run = current.desk().booklets.start(person, html, pages)
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


def _asked(query: HandoutQuery) -> tuple[tuple[Variant, ...], str]:
    paper = known("paper", query.paper, PAPERS)
    check_number(len(query.variants))
    places = {v.id: place for v, place in zip(current.library().variants, query.at, strict=False)}

    def place(key: str) -> tuple[bool, int]:
        text = places.get(key, "").strip()
        if text and not (text.isdigit() and len(text) <= 3):
            raise BadInputError("place", text, "a whole number, as 1 for the first")
        return not text, int(text or 0)

    return tuple(current.library().variant(key) for key in sorted(query.variants, key=place)), paper


def _link(variant_id: str) -> str:
    return url_for("variants.show", variant_id=variant_id, _external=True)


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
        order=dict(zip((v.id for v in current.library().variants), query.at, strict=False)),
        variants=current.library().variants,
        papers=PAPERS,
        run=run,
        problem=problem,
        most=MOST,
    )
