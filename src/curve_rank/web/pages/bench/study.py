"""The bench's routes: its page, data and files, and keeping what was changed."""

from __future__ import annotations

from flask import Blueprint, Response, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.catalogue import words
from curve_rank.errors import CurveRankError, UnavailableError
from curve_rank.exchange.json_views import model_view
from curve_rank.exchange.tables import rep_table, to_csv
from curve_rank.figures.svg import svg
from curve_rank.rating.trying import try_out
from curve_rank.store import documents
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import BenchQuery, NumberForm, SaveForm
from curve_rank.web.pages.bench.controls import controls
from curve_rank.web.pages.bench.view import BenchState, BenchView, state_of
from curve_rank.web.problems import status_of

blueprint = Blueprint("bench", __name__, url_prefix="/bench")

FIRST = "reclined-60-dumbbell-curl"
KIND = "variant"


@blueprint.get("")
@allowed(*TEACHING)
def index() -> ResponseReturnValue:
    """The bench of a first variant."""
    return redirect(url_for("bench.show", variant_id=FIRST))


@blueprint.get("/<variant_id>")
@allowed(*TEACHING)
def show(variant_id: str) -> ResponseReturnValue:
    """The page; of an own variant that cannot be modelled, what is stored and its history."""
    state = _state(variant_id)
    try:
        return _page(state)
    except CurveRankError:
        if state.is_changed or not documents.is_own(variant_id):
            raise
        return redirect(url_for("documents.show", kind=KIND, slug=variant_id))


@blueprint.get("/<variant_id>.json")
@allowed(*TEACHING)
def data(variant_id: str) -> ResponseReturnValue:
    """The page's data, and with `part=bench` what its script redraws from."""
    state = _state(variant_id)
    modelled = state.model()
    if request.args.get("part") == "bench":
        return jsonify(
            BenchView(state, modelled, state.model_saved()).as_script(with_ghost="ghost" in request.args)
        )
    return jsonify(model_view(modelled))


@blueprint.get("/<variant_id>.csv")
@allowed(*TEACHING)
def table(variant_id: str) -> ResponseReturnValue:
    """The curves as CSV."""
    text = to_csv(rep_table(_state(variant_id).model()))
    return _download(text, "text/csv", f"{variant_id}.csv")


@blueprint.get("/<variant_id>/document.json")
@allowed(*TEACHING)
def document(variant_id: str) -> ResponseReturnValue:
    """The variant's document, as changed in the address."""
    text = _state(variant_id).changed.model_dump_json(indent=2)
    return _download(text, "application/json", f"{variant_id}.json")


@blueprint.post("/<variant_id>/save")
@allowed(*TEACHING)
def save(variant_id: str) -> ResponseReturnValue:
    """Save the changed set-up: as a new variant, or as the next version of one's own."""
    state, form = state_of(variant_id, BenchQuery.read(request.form)), SaveForm.read(request.form)
    try:
        state.model()
        try_out(state.changed, state.client.body)
        with current.writing() as session:
            if form.kind == "version":
                number = documents.save_version(session, current.viewer(), KIND, variant_id, state.changed)
                kept, message = variant_id, f"Saved as version {number}."
            else:
                kept = documents.save_new(
                    session, current.viewer(), KIND, state.changed, name=form.name, made_from=variant_id
                )
                message = "Saved. It stands on the board with the others."
    except UnavailableError:
        raise
    except CurveRankError as error:
        return _page(state, problem=str(error), typed_name=form.name), status_of(error)
    notices.tell(message)
    return redirect(url_for("bench.show", variant_id=kept, target=state.target.key), 303)


@blueprint.post("/<variant_id>/restore")
@allowed(*TEACHING)
def restore(variant_id: str) -> ResponseReturnValue:
    """Make an earlier version of an own variant the newest."""
    number = NumberForm.read(request.form).number
    with current.writing() as session:
        made = documents.restore_version(session, current.viewer(), KIND, variant_id, number)
    notices.tell(f"Version {number} is back, as version {made}.")
    return redirect(url_for("bench.show", variant_id=variant_id), 303)


@blueprint.post("/<variant_id>/remove")
@allowed(*TEACHING)
def remove(variant_id: str) -> ResponseReturnValue:
    """Take an own variant off the board, with a way back."""
    with current.writing() as session:
        name = documents.set_removed(session, current.viewer(), KIND, variant_id, removed=True)
    notices.tell(f"“{name}” is off the board.", undo=url_for("bench.put_back", variant_id=variant_id))
    return redirect(url_for("board.show"), 303)


@blueprint.post("/<variant_id>/put-back")
@allowed(*TEACHING)
def put_back(variant_id: str) -> ResponseReturnValue:
    """Undo a removal."""
    with current.writing() as session:
        documents.set_removed(session, current.viewer(), KIND, variant_id, removed=False)
    return redirect(url_for("bench.show", variant_id=variant_id), 303)


def _state(variant_id: str) -> BenchState:
    return state_of(variant_id, BenchQuery.read(request.args))


def _page(state: BenchState, *, problem: str = "", typed_name: str = "") -> str:
    """The page; with a problem the saved state is shown, and what was typed stays in the forms."""
    ghost = state.model_saved()
    view = BenchView(state, ghost if problem else state.model(), ghost)
    own, shown = documents.is_own(state.saved.id), state.changed
    versions = documents.versions(current.session(), current.viewer(), KIND, state.saved.id) if own else ()
    whole = state.frame == "whole"
    return render_template(
        "pages/bench/bench.html",
        view=view,
        state=state,
        controls=controls(shown),
        handles=words.handles(),
        versions=versions,
        figure=Markup(svg(view.figure.at(view.at, whole=whole, ghost=view.ghost_figure))),
        curves=Markup(view.curves_picture),
        strip_picture=Markup(view.strip),
        problem=problem,
        typed_name=typed_name,
        neighbours=[(v.id, v.name) for v in current.all_variants() if v.group == state.saved.group],
    )


def _download(text: str, kind: str, name: str) -> Response:
    response = Response(text, mimetype=kind)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
