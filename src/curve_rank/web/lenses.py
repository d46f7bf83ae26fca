"""Lenses: the schools of thought side by side, and an editor for one's own."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, flash, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from werkzeug.datastructures import MultiDict

from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.rating.lens import LensDocument, document_of, validate_lens
from curve_rank.rating.modelling import Modelled
from curve_rank.rating.ranking import Question, rank
from curve_rank.rating.vocabulary import Aim, Lens, aims, criteria, known, lenses
from curve_rank.store import lenses as kept
from curve_rank.store.database import local_educator
from curve_rank.web.library import all_lenses, all_variants, modeller, store

blueprint = Blueprint("lenses", __name__)

TOP = 10
ENTRIES = ("weight", "zero", "full", "least", "most")


@dataclass(frozen=True)
class Mover:
    """A variant that is among the first ten of some school, and its rank in each."""

    modelled: Modelled
    ranks: dict[str, int | None]


@blueprint.get("/lenses")
def show() -> ResponseReturnValue:
    """The schools: what each holds, its weights, and how the first ten move between them."""
    aim = _aim()
    table = all_lenses()
    return render_template(
        "lenses/lenses.html",
        aim=aim,
        aims=aims(),
        lenses=table,
        criteria=criteria(),
        movers=movers(aim, table),
        is_own=kept.is_own,
    )


@blueprint.get("/lenses.json")
def data() -> ResponseReturnValue:
    """The page's data."""
    table = all_lenses()
    return jsonify(
        target=_aim().key,
        lenses={key: document_of(lens).model_dump(mode="json") for key, lens in table.items()},
        movers=[{"variant": m.modelled.variant.id, "ranks": m.ranks} for m in movers(_aim(), table)],
    )


@blueprint.get("/lenses/new")
def new() -> ResponseReturnValue:
    """The editor, starting from a lens that there is."""
    start = known("lens", request.args.get("from", "all_round"), all_lenses())
    document = document_of(start).model_copy(update={"name": ""})
    return _editor(_typed(document), key="")


@blueprint.post("/lenses/new")
def save_new() -> ResponseReturnValue:
    """Keep a new lens."""
    try:
        document = _document(request.form)
        with store().session() as session:
            key = kept.save_lens(session, local_educator(session), document)
    except CurveRankError as error:
        return _editor(dict(request.form), key="", problem=str(error)), 400
    flash("Kept. The board offers it with the others.", "saved")
    return redirect(url_for("board.show", lens=key), 303)


@blueprint.get("/lenses/<key>/edit")
def edit(key: str) -> ResponseReturnValue:
    """The editor on an own lens."""
    with store().session() as session:
        row = kept.own_lens(session, key)
        versions = [(v.number, v.created_at) for v in row.versions]
        number = request.args.get("version", "")
        chosen = next((v for v in row.versions if str(v.number) == number), row.versions[-1])
        document = validate_lens(chosen.document)
    return _editor(_typed(document), key=key, versions=versions)


@blueprint.post("/lenses/<key>/edit")
def save_version(key: str) -> ResponseReturnValue:
    """Keep a changed lens as its next version."""
    try:
        document = _document(request.form)
        with store().session() as session:
            number = kept.save_lens_version(session, local_educator(session), key, document)
    except BadInputError as error:
        return _editor(dict(request.form), key=key, problem=str(error)), 400
    flash(f"Kept as version {number}.", "saved")
    return redirect(url_for("board.show", lens=key), 303)


@blueprint.post("/lenses/<key>/remove")
def remove(key: str) -> ResponseReturnValue:
    """Take an own lens off the lists, with a way back."""
    with store().session() as session:
        kept.set_lens_removed(session, key, removed=True)
    flash(key, "lens-removed")
    return redirect(url_for(".show"), 303)


@blueprint.post("/lenses/<key>/put-back")
def put_back(key: str) -> ResponseReturnValue:
    """Undo a removal."""
    with store().session() as session:
        kept.set_lens_removed(session, key, removed=False)
    return redirect(url_for(".show"), 303)


def movers(aim: Aim, table: dict[str, Lens]) -> list[Mover]:
    """Every variant among the first ten of a school, best placed first."""
    places: dict[str, dict[str, int]] = {}
    modelled: dict[str, Modelled] = {}
    for key, lens in table.items():
        own = lens if kept.is_own(key) else None
        for row in rank(Question(aim.key, key, own_lens=own), all_variants(), modeller()).rows:
            places.setdefault(row.variant.id, {})[key] = row.rank
            modelled[row.variant.id] = row.modelled
    found = [
        Mover(modelled[variant], {key: ranks.get(key) for key in table})
        for variant, ranks in places.items()
        if min(ranks.values()) <= TOP
    ]
    return sorted(found, key=lambda m: sorted(r for r in m.ranks.values() if r is not None))


def _aim() -> Aim:
    aim: Aim = known("target", request.args.get("target", "biceps_long"), aims())
    return aim


def _typed(document: LensDocument) -> dict[str, str]:
    """A document as what would be typed into the form."""
    typed = {"name": document.name, "school": document.school}
    for key in criteria():
        curve, limit = document.curves.get(key), document.limits.get(key)
        values = {
            "weight": document.weights.get(key),
            "zero": curve.zero if curve else None,
            "full": curve.full if curve else None,
            "least": limit.at_least if limit else None,
            "most": limit.at_most if limit else None,
        }
        typed |= {f"{name}-{key}": f"{value:g}" for name, value in values.items() if value is not None}
    return typed


def _document(form: MultiDict[str, str]) -> LensDocument:
    """The lens that a form describes.

    Raises
    ------
    BadInputError
    """
    data: dict[str, Any] = {
        "name": " ".join(form.get("name", "").split()),
        "school": " ".join(form.get("school", "").split()),
        "weights": {},
        "curves": {},
        "limits": {},
    }
    for key in criteria():
        weight, zero, full, least, most = (_number(form, f"{name}-{key}") for name in ENTRIES)
        if weight:
            data["weights"][key] = weight
        if zero is not None or full is not None:
            data["curves"][key] = {
                "zero": criteria()[key].zero if zero is None else zero,
                "full": criteria()[key].full if full is None else full,
            }
        if least is not None or most is not None:
            data["limits"][key] = {"at_least": least, "at_most": most}
    return validate_lens(data)


def _number(form: MultiDict[str, str], name: str) -> float | None:
    text = form.get(name, "").strip()
    if not text:
        return None
    try:
        return float(text)
    except ValueError as error:
        raise BadInputError(name, text, "a number, or nothing") from error


def _editor(typed: dict[str, str], *, key: str, versions: list[Any] | None = None, problem: str = "") -> str:
    return render_template(
        "lenses/editor.html",
        typed=typed,
        key=key,
        versions=versions or [],
        problem=problem,
        criteria=criteria(),
        starts=lenses(),
    )
