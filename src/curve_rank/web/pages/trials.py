"""Trials: one way of training, then another, in an order that a coin says, compared with honesty."""

from __future__ import annotations

import secrets

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.plain import plain
from curve_rank.answers.requests import LONGEST_WHOLE
from curve_rank.answers.trials import TrialAnswer, trial_answer
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.practice.block import Block
from curve_rank.store import people, plans, trials
from curve_rank.training.follow_on import following_start
from curve_rank.training.trial import WAYS, WEEKS, coin, in_way, one_after_the_other
from curve_rank.web import arms, current
from curve_rank.web.access import EVERYONE, TEACHING, allowed
from curve_rank.web.forms.training import TrialForm
from curve_rank.web.planning import trainee
from curve_rank.web.problems import status_of

blueprint = Blueprint("trials", __name__)


@blueprint.get("/trials")
@allowed(*TEACHING)
def index() -> ResponseReturnValue:
    """All trials, and a new one."""
    return _index()


@blueprint.post("/trials")
@allowed(*TEACHING)
def make() -> ResponseReturnValue:
    """Plan one: a coin says which way comes first."""
    try:
        form = TrialForm.read(request.form)
        seed = secrets.randbelow(2**31)
        with current.writing() as session:
            viewer = current.viewer()
            done = plans.done_by(session, viewer, form.person)
            ways = (_way(form.first, form, done), _way(form.second, form, done))
            first, second = (ways[n] for n in coin(seed))
            base = done[0].block if done else first
            start = following_start(base, trainee(form.person, viewer).today)
            both = one_after_the_other(first, second, start)
            name = form.name or f"{ways[0].name} against {ways[1].name}"[:80]
            kept = trials.add_trial(session, viewer, form.person, name, both, seed)
    except (BadInputError, UnknownNameError) as error:
        return _index(str(error)), status_of(error)
    return redirect(url_for("trials.show", number=kept), 303)


@blueprint.get("/trials/<row:number>")
@allowed(*EVERYONE)
def show(number: int) -> ResponseReturnValue:
    """One trial, and what may be said of it."""
    return render_template("pages/trials/trial.html", answer=_answer(number))


@blueprint.get("/trials/<row:number>.json")
@allowed(*EVERYONE)
def data(number: int) -> ResponseReturnValue:
    """The same for other programs."""
    return jsonify(plain(_answer(number)))


def _way(text: str, form: TrialForm, done: tuple[plans.KeptPlan, ...]) -> Block:
    """A way of training: one of the usual two upon what the person does now, or a block of the viewer's."""
    if text in WAYS:
        if not done:
            right = "a client who does a block already, whose exercises both ways then share"
            raise BadInputError("for", form.person, right)
        return in_way(done[0].block, text, form.weeks, WAYS[text][0])
    if not (text.isascii() and text.isdigit() and len(text) <= LONGEST_WHOLE):
        raise BadInputError("way", text, f"one of: {', '.join(WAYS)}, or a block")
    return plans.plan(current.session(), current.viewer(), int(text)).block


def _answer(number: int) -> TrialAnswer:
    return trial_answer(current.session(), current.viewer(), arms.means(), number)


def _index(problem: str = "") -> str:
    session, viewer = current.session(), current.viewer()
    return render_template(
        "pages/trials/trials.html",
        trials=trials.trials(session, viewer),
        clients=[person for person in people.clients(session, viewer) if person.bodies],
        blocks=plans.plans(session, viewer),
        ways=WAYS,
        weeks=WEEKS,
        typed=request.form,
        problem=problem,
    )
