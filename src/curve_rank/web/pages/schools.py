"""Schools: the schools of thought side by side, and an editor for lenses of one's own."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any
from urllib.parse import quote

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.schools import TriedLens, try_lens
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.rating.criteria import criteria
from curve_rank.rating.lenses import Lens, LensDocument, document_of, lenses, validate_lens
from curve_rank.rating.targets import Target, known, targets
from curve_rank.store import documents, sharing
from curve_rank.store.documents import Unreadable, VersionLine
from curve_rank.study.evidence import Tally, every_comparison, tally
from curve_rank.study.schools import Mover, movers
from curve_rank.web import arms, current, notices
from curve_rank.web.access import ANYONE, TEACHING, allowed
from curve_rank.web.forms import LensQuery, LensTrial, SchoolsQuery, lens_data
from curve_rank.web.parts import asks_for

blueprint = Blueprint("schools", __name__)

KIND = "lens"


@dataclass(frozen=True)
class SchoolsView:
    """What each school holds, and how the first ten move between them."""

    target: Target
    lenses: dict[str, Lens]
    movers: tuple[Mover, ...]
    tallies: dict[str, Tally]
    damaged: tuple[Unreadable, ...]

    def as_data(self) -> dict[str, Any]:
        """The page's JSON twin."""
        return {
            "target": self.target.key,
            "lenses": {key: document_of(lens).model_dump(mode="json") for key, lens in self.lenses.items()},
            "foretells": {
                key: {"expected": round(one.expected, 2), "low": one.low, "high": one.high, "of": one.studies}
                for key, one in self.tallies.items()
            },
            "movers": [{"variant": m.modelled.variant.id, "ranks": m.ranks} for m in self.movers],
            "unreadable": [vars(one) for one in self.damaged],
        }


@dataclass(frozen=True)
class EditorView:
    """The lens editor: what stands in its fields, and the history of the lens."""

    typed: dict[str, str]
    key: str = ""
    versions: tuple[VersionLine, ...] = ()
    problem: str = ""
    start: str = "all_round"
    target: str = "biceps_long"
    tried: TriedLens | None = None

    @property
    def counting(self) -> list[str]:
        """Criteria for which a weight is typed."""
        return [key for key in criteria() if self.typed.get(f"weight-{key}", "").strip() not in ("", "0")]

    @property
    def others(self) -> list[str]:
        """Criteria that count nothing."""
        return [key for key in criteria() if key not in self.counting]

    @property
    def is_scaled(self) -> bool:
        """Whether a scale or a limit of one's own is typed."""
        return any(
            v.strip() for k, v in self.typed.items() if k.startswith(("zero-", "full-", "least-", "most-"))
        )


@blueprint.get("/schools")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The page."""
    return render_template("pages/schools/schools.html", view=_view(), criteria=criteria(), is_own=_is_mine)


def _is_mine(key: str) -> bool:
    return sharing.is_mine(current.session(), current.viewer(), KIND, key)


@blueprint.get("/schools.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The page's data."""
    return jsonify(_view().as_data())


@blueprint.get("/schools/new")
@allowed(*TEACHING)
def new() -> ResponseReturnValue:
    """The editor, starting from a lens that there is."""
    start = known("lens", LensQuery.read(request.args).start, current.library().lenses)
    typed = _typed(document_of(start).model_copy(update={"name": ""}))
    return _editor(EditorView(typed, start=start.key))


@blueprint.post("/schools/try")
@allowed(*TEACHING)
def try_out() -> ResponseReturnValue:
    """What a lens that is being made would rank first; only that when a script asks for it."""
    is_part, asked = asks_for("trial"), LensTrial.read(request.form)
    named = {"name": "Being made", "school": "Being made"}
    view = EditorView(dict(request.form), start=asked.start, target=asked.target)
    try:
        start = known("lens", asked.start, current.library().lenses)
        lens = validate_lens(lens_data(request.form) | named).lens("being-made")
        tried = try_lens(arms.means(), known("target", asked.target, targets()), lens, start)
    except (BadInputError, UnknownNameError) as error:
        return _editor(replace(view, problem=str(error)), part=is_part), 400
    return _editor(replace(view, tried=tried), part=is_part)


@blueprint.post("/schools/new")
@allowed(*TEACHING)
def save_new() -> ResponseReturnValue:
    """Keep a new lens."""
    try:
        document = validate_lens(lens_data(request.form))
        with current.writing() as session:
            key = documents.save_new(session, current.viewer(), KIND, document, name=document.name)
    except BadInputError as error:
        return _editor(EditorView(dict(request.form), problem=str(error))), 400
    notices.tell("Kept. It stands in the question with the others.")
    return redirect(url_for("board.show", lens=key), 303)


@blueprint.get("/schools/<key>/edit")
@allowed(*TEACHING)
def edit(key: str) -> ResponseReturnValue:
    """The editor on an own lens."""
    session, viewer = current.session(), current.viewer()
    document = documents.version(session, viewer, KIND, key, LensQuery.read(request.args).version)
    assert isinstance(document, LensDocument)
    versions = documents.versions(session, viewer, KIND, key)
    return _editor(EditorView(_typed(document), key, versions, start=key))


@blueprint.post("/schools/<key>/edit")
@allowed(*TEACHING)
def save_version(key: str) -> ResponseReturnValue:
    """Keep a changed lens as its next version."""
    try:
        document = validate_lens(lens_data(request.form))
        with current.writing() as session:
            number = documents.save_version(session, current.viewer(), KIND, key, document)
    except BadInputError as error:
        versions = documents.versions(current.session(), current.viewer(), KIND, key)
        return _editor(EditorView(dict(request.form), key, versions, str(error), start=key)), 400
    notices.tell(f"Kept as version {number}.")
    return redirect(url_for("board.show", lens=key), 303)


@blueprint.post("/schools/<key>/remove")
@allowed(*TEACHING)
def remove(key: str) -> ResponseReturnValue:
    """Take an own lens off the lists, with a way back."""
    with current.writing() as session:
        name = documents.set_removed(session, current.viewer(), KIND, key, removed=True)
    notices.tell(f"“{name}” is off the lists.", undo=url_for("schools.put_back", key=key))
    return redirect(url_for("schools.show"), 303)


@blueprint.post("/schools/<key>/put-back")
@allowed(*TEACHING)
def put_back(key: str) -> ResponseReturnValue:
    """Undo a removal."""
    with current.writing() as session:
        documents.set_removed(session, current.viewer(), KIND, key, removed=False)
    return redirect(url_for("schools.show"), 303)


@blueprint.route("/lenses", defaults={"rest": ""}, methods=["GET", "POST"])
@blueprint.route("/lenses.json", defaults={"rest": ".json"})
@blueprint.route("/lenses/<path:rest>", methods=["GET", "POST"])
@allowed(ANYONE)
def moved(rest: str) -> ResponseReturnValue:
    """Where the page stood before; a form that was sent there is sent on."""
    apart = "" if rest.startswith(".") or not rest else "/"
    query = f"?{request.query_string.decode()}" if request.query_string else ""
    return redirect(f"/schools{apart}{quote(rest)}{query}", 308)


def _view() -> SchoolsView:
    target = known("target", SchoolsQuery.read(request.args).target, targets())
    table, modeller = current.library().lenses, current.modeller()
    found = every_comparison(tuple(table.values()), modeller)
    return SchoolsView(
        target=target,
        lenses=table,
        movers=movers(target, table, current.library().variants, modeller),
        tallies={key: tally(found, lens) for key, lens in table.items()},
        damaged=documents.unreadable(current.session(), current.viewer(), KIND),
    )


def _editor(view: EditorView, *, part: bool = False) -> str:
    template = "trial" if part else "editor"
    return render_template(f"pages/schools/{template}.html", view=view, criteria=criteria(), starts=lenses())


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
