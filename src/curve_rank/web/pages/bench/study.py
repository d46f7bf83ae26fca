"""The bench's routes: its page, data and files, and keeping what was changed."""

from __future__ import annotations

from dataclasses import replace

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.answers.bench import BenchView, view_after
from curve_rank.answers.bench_state import BenchRequest, BenchState, PullRequest
from curve_rank.answers.own_words import words_offered
from curve_rank.catalogue import words
from curve_rank.catalogue.changes import value_at
from curve_rank.catalogue.controls import controls
from curve_rank.catalogue.library import validate_fault
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.errors import BadInputError, CurveRankError, UnavailableError
from curve_rank.exchange.json_views import model_view
from curve_rank.exchange.tables import rep_table
from curve_rank.figures.svg import svg
from curve_rank.practice.units import masses_of
from curve_rank.rating.readings import all_readings
from curve_rank.store import documents, people, sharing
from curve_rank.store.names import is_own
from curve_rank.study.own_words import OfferedWords
from curve_rank.study.schemes import tempo_of
from curve_rank.study.trying import try_out
from curve_rank.web import arms, current, files, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.files import named_file
from curve_rank.web.forms import FaultForm, NumberForm, SaveForm
from curve_rank.web.pages.bench.state import state_asked
from curve_rank.web.problems import status_of
from curve_rank.web.question import client_for

blueprint = Blueprint("bench", __name__, url_prefix="/bench")

FIRST = "reclined-60-dumbbell-curl"
KIND = "variant"
REPS = (5, 8, 10, 12, 15, 20)


@blueprint.get("")
@allowed(*TEACHING)
def index() -> ResponseReturnValue:
    """The bench of a first variant."""
    return redirect(url_for("bench.show", variant_id=FIRST))


@blueprint.get("/<variant_id>")
@allowed(*TEACHING)
def show(variant_id: str) -> ResponseReturnValue:
    """The page; of an own variant that cannot be modelled, what is stored and its history."""
    state = state_asked(variant_id, request.args)
    try:
        return _page(state)
    except CurveRankError:
        if state.is_changed or not is_own(variant_id):
            raise
        return redirect(url_for("documents.show", kind=KIND, slug=variant_id))


@blueprint.get("/<variant_id>.json")
@allowed(*TEACHING)
def data(variant_id: str) -> ResponseReturnValue:
    """The page's data, and with `part=bench` what its script redraws from."""
    if request.args.get("part") != "bench":
        return jsonify(model_view(state_asked(variant_id, request.args).model()))
    query = BenchRequest.read(request.args)
    view = view_after(
        arms.means(), variant_id, query, PullRequest.read(request.args), client_for(query.person)
    )
    return jsonify(masses_of(view.as_script(), current.unit()))


@blueprint.get("/<variant_id>.csv")
@blueprint.get("/<variant_id>.md")
@allowed(*TEACHING)
def table(variant_id: str) -> ResponseReturnValue:
    """The curves as CSV or Markdown."""
    return files.table_file(rep_table(state_asked(variant_id, request.args).model()), variant_id)


@blueprint.get("/<variant_id>/document.json")
@allowed(*TEACHING)
def document(variant_id: str) -> ResponseReturnValue:
    """The variant's document, as changed in the address."""
    text = state_asked(variant_id, request.args).changed.model_dump_json(indent=2)
    return named_file(text, "application/json", f"{variant_id}.json")


@blueprint.post("/<variant_id>/save")
@allowed(*TEACHING)
def save(variant_id: str) -> ResponseReturnValue:
    """Save the changed set-up, as a new variant or one's own next version; no fault goes into it."""
    state, form = state_asked(variant_id, request.form), SaveForm.read(request.form)
    try:
        state.model()
        right = state.by_hand
        try_out(right, state.client.body)
        with current.writing() as session:
            if form.kind == "version":
                number = documents.save_version(session, current.viewer(), KIND, variant_id, right)
                kept, message = variant_id, f"Saved as version {number}."
            else:
                offered = words_offered(arms.means(waits=True), variant_id, right)
                said = offered.kept_in(right) if offered else right
                kept = documents.save_new(
                    session, current.viewer(), KIND, said, name=form.name, made_from=variant_id
                )
                message = _saved(offered)
    except UnavailableError:
        raise
    except CurveRankError as error:
        return _page(state, problem=str(error), typed_name=form.name), status_of(error)
    if state.faults:
        message += " It is done right: what was switched on under “Done wrong” is no part of it."
    notices.tell(message)
    return redirect(url_for("bench.show", variant_id=kept, target=state.target.key), 303)


@blueprint.post("/<variant_id>/fault")
@allowed(*TEACHING)
def keep_fault(variant_id: str) -> ResponseReturnValue:
    """Keep what is changed as a fault of one's own, beside the variant."""
    state, form = state_asked(variant_id, request.form), FaultForm.read(request.form)
    try:
        if not state.changes:
            raise BadInputError("fault", form.name, "a change to the set-up, made above, that is the fault")
        state.model()
        fault = validate_fault(
            {
                "name": form.name,
                "cue": form.cue,
                "variant": state.saved.id,
                "changes": [_as_addition(state.saved, change) for change in state.changes],
            }
        )
        with current.writing() as session:
            documents.save_new(
                session, current.viewer(), "fault", fault, name=fault.name, made_from=variant_id
            )
    except UnavailableError:
        raise
    except CurveRankError as error:
        return _page(state, problem=str(error), typed_fault=form), status_of(error)
    notices.tell(f"“{fault.name}” stands among the faults; the bench shows it done right again.")
    address = replace(state, changes=(), faults=()).address()
    return redirect(f"{url_for('bench.show', variant_id=variant_id)}?{address}", 303)


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


def _saved(offered: OfferedWords | None) -> str:
    message = "Saved. It stands on the board with the others."
    if not offered or not offered.struck:
        return message
    count = len(offered.struck)
    left = "One sentence" if count == 1 else f"{count} sentences"
    return (
        f"{message} {left} of “{offered.parent.name}” that it does not bear out"
        f" {'is' if count == 1 else 'are'} left behind; see “Change the words”."
    )


def _as_addition(variant: Variant, change: Change) -> dict[str, object]:
    """A change as what it adds to the saved set-up, so that it can be made of a changed one as well."""
    before = value_at(variant, change.field)
    if isinstance(change.set, float) and isinstance(before, int | float):
        return {"field": change.field, "add": round(change.set - before, 6)}
    return {"field": change.field, "set": change.set}


def _page(
    state: BenchState, *, problem: str = "", typed_name: str = "", typed_fault: FaultForm | None = None
) -> str:
    """The page; with a problem the saved state is shown, and what was typed stays in the forms."""
    view = BenchView(state, state.model_saved() if problem else state.model())
    own = sharing.is_mine(current.session(), current.viewer(), KIND, state.saved.id)
    versions = documents.versions(current.session(), current.viewer(), KIND, state.saved.id) if own else ()
    whole = state.frame == "whole"
    return render_template(
        "pages/bench/bench.html",
        view=view,
        state=state,
        controls=controls(state.by_hand),
        handles=words.handles(),
        versions=versions,
        figure=Markup(svg(view.figure.at(view.at, whole=whole, ghosts=view.ghost_figures))),
        curves=Markup(view.curves_picture),
        strip_picture=Markup(view.strip),
        problem=problem or state.problem,
        saved={c.field: c.shown for c in controls(state.saved)},
        usual_tempo=tempo_of(state.saved).text,
        readings=all_readings(),
        reps_choices=REPS,
        people=people.people_with_bodies(current.session(), current.viewer()),
        typed_name=typed_name,
        typed_fault=typed_fault or FaultForm(),
        faults=current.library().faults_of(state.saved),
        neighbours=[(v.id, v.name) for v in current.library().variants if v.group == state.saved.group],
    )
