"""A person's record, for themselves and for their coach; corrections, comments, and what was learned."""

from __future__ import annotations

import time

from flask import redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.record import RecordRequest, record, unsettled
from curve_rank.errors import BadInputError
from curve_rank.rating.joints import joints
from curve_rank.store import comments, inbox, logs, people, plans, profiles
from curve_rank.study.claim_words import parameter_words
from curve_rank.study.strictness import MANNERS
from curve_rank.training.log import GAVE_OUT, KINDS, Message, checked_set
from curve_rank.web import arms, current, notices
from curve_rank.web.access import EVERYONE, allowed
from curve_rank.web.forms.training import CommentForm, CorrectForm, LoadsForm, OnForm, SettleForm
from curve_rank.web.pages.record import blueprint
from curve_rank.web.planning import learn_soon, trainee
from curve_rank.web.problems import status_of

MOST_CONFIRMED = 4.0
"""Strength over the body's that can be said to be right [1]."""


@blueprint.get("/my-record")
@allowed(*EVERYONE)
def mine() -> ResponseReturnValue:
    """One's own record."""
    return _page(current.viewer().person)


@blueprint.get("/record/<row:person>")
@allowed(*EVERYONE)
def show(person: int) -> ResponseReturnValue:
    """Somebody's record, for whoever may see them."""
    return _page(person)


@blueprint.get("/record/<row:person>/sets/<key>")
@allowed(*EVERYONE)
def one(person: int, key: str) -> ResponseReturnValue:
    """One set with its history, to be corrected."""
    return _set_page(person, key)


@blueprint.post("/record/<row:person>/sets/<key>")
@allowed(*EVERYONE)
def correct(person: int, key: str) -> ResponseReturnValue:
    """Correct a set, or take it back; what it was stays in its history."""
    viewer = current.viewer()
    kept, _ = logs.history(current.session(), viewer, person, key)
    profile, _ = profiles.profile_of(current.session(), viewer, person)
    try:
        form = CorrectForm.read(request.form)
        told = {
            name: getattr(form, name)
            for name in ("reps", "reserve", "kind", "done", "gave_out", "soreness", "note")
        }
        told["as_planned"] = kept.set.as_planned and form.reserve == kept.set.reserve
        told |= {"pain_joint": form.pain_joint, "pain": form.pain if form.pain_joint else 0}
        load = round(form.load * profile.kg_per_unit, 3)
        shown = round(kept.set.load_kg / profile.kg_per_unit, 2)
        told["load_kg"] = kept.set.load_kg if form.load == shown else load
        new = checked_set(kept.set.model_dump() | told | {"sharp": form.sharp == "yes"})
        message = Message(
            device=f"page-{viewer.person}",
            written=int(time.time() * 1000),
            seen=form.seen,
            removed=form.remove == "yes",
            set=new,
        )
        with current.writing() as session:
            (receipt,) = inbox.take(session, viewer, person, [message])
    except BadInputError as error:
        return _set_page(person, key, str(error)), status_of(error)
    if receipt.state == "aside":
        notices.tell("Another device has changed this set meanwhile. Both are kept: choose one.")
    else:
        notices.tell("Taken back." if message.removed else "Corrected.")
    return redirect(url_for("record.one", person=person, key=key), 303)


@blueprint.post("/record/<row:person>/sets/<key>/settle")
@allowed(*EVERYONE)
def settle(person: int, key: str) -> ResponseReturnValue:
    """Choose between what two devices wrote."""
    form = SettleForm.read(request.form)
    with current.writing() as session:
        inbox.settle(session, current.viewer(), person, key, form.version, take_it=form.take == "yes")
    notices.tell("Chosen; the other stays in the set’s history.")
    return redirect(url_for("record.show", person=person), 303)


@blueprint.post("/record/<row:person>/comments")
@allowed(*EVERYONE)
def comment(person: int) -> ResponseReturnValue:
    """Write something to whoever trains, or to their coach."""
    try:
        with current.writing() as session:
            comments.add_comment(session, current.viewer(), person, CommentForm.read(request.form).text)
    except BadInputError as error:
        return _page(person, str(error)), status_of(error)
    return redirect(url_for("record.show", person=person) + "#comments", 303)


@blueprint.post("/record/<row:person>/learning")
@allowed(*EVERYONE)
def learning(person: int) -> ResponseReturnValue:
    """Let loads follow what was learned, or not."""
    on = OnForm.read(request.form).on == "yes"
    with current.writing() as session:
        logs.set_learning(session, current.viewer(), person, on=on)
    notices.tell("Loads follow the log now." if on else "Loads follow the known set alone again.")
    return redirect(url_for("record.show", person=person) + "#learned", 303)


@blueprint.post("/record/<row:person>/loads-are-right")
@allowed(*EVERYONE)
def loads_are_right(person: int) -> ResponseReturnValue:
    """Learn from loads that were asked about."""
    people.known_person(current.session(), current.viewer(), person)
    strength = min(max(LoadsForm.read(request.form).strength, 1.0), MOST_CONFIRMED)
    with current.writing() as session:
        logs.confirm_strength(session, current.viewer(), person, strength)
    notices.tell("They are learned from now.")
    return redirect(url_for("record.show", person=person) + "#learned", 303)


def _page(person: int, problem: str = "") -> str:
    viewer, session = current.viewer(), current.session()
    asked = RecordRequest.read(request.args)
    found = people.known_person(session, viewer, person)
    if not found.bodies:
        return render_template("pages/record/none.html", person=found)
    run, who = learn_soon(person, viewer), trainee(person, viewer)
    return render_template(
        "pages/record/record.html",
        answer=record(who, arms.means(viewer), asked),
        person=found,
        is_me=person == viewer.person,
        problem=problem,
        written=comments.comments(session, viewer, person),
        unsettled=unsettled(who),
        blocks=plans.done_by(session, viewer, person),
        run=run,
        parameter_words=parameter_words,
    )


def _set_page(person: int, key: str, problem: str = "") -> str:
    viewer = current.viewer()
    kept, versions = logs.history(current.session(), viewer, person, key)
    who = trainee(person, viewer)
    return render_template(
        "pages/record/set.html",
        kept=kept,
        name=who.name(kept.set.variant),
        unit=who.profile.mass_unit,
        versions=versions,
        person=person,
        problem=problem,
        kinds=KINDS,
        gave_out=GAVE_OUT,
        manners=MANNERS,
        joints=joints(),
        per_kg=1 / who.profile.kg_per_unit,
    )
