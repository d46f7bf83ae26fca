"""Trials: one way of training, then another, in an order that a coin says, compared with honesty."""

from __future__ import annotations

import secrets
from collections.abc import Sequence

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.plain import plain
from curve_rank.answers.requests import LONGEST_WHOLE
from curve_rank.answers.trials import TrialAnswer, trial_answer
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.practice.block import Block
from curve_rank.store import people, plans, trials
from curve_rank.training.follow_on import following_start
from curve_rank.training.review import GROUPS
from curve_rank.training.trial import (
    USUAL_WEEKS,
    WAYS,
    WEEKS,
    check_weeks,
    coin,
    in_way,
    one_after_the_other,
    power_words,
)
from curve_rank.web import arms, current
from curve_rank.web.access import EVERYONE, TEACHING, allowed
from curve_rank.web.forms.training import TrialForm
from curve_rank.web.planning import trainee
from curve_rank.web.problems import status_of

blueprint = Blueprint("trials", __name__)

POWERS = (6, 8, 12)
"""Weeks of each block for which a page says what can be shown."""


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
            ways = _crossed(form, done) if form.design == "crossed" else _in_turn(form, done)
            first, second = (ways[n] for n in coin(seed))
            base = done[0].block if done else first
            start = following_start(base, trainee(form.person, viewer).today)
            both = one_after_the_other(first, second, start)
            name = form.name or " against ".join(one.name for one in ways)
            crossed = form.design == "crossed"
            kept = trials.add_trial(session, viewer, form.person, name[:80], both, seed, crossed=crossed)
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


def _in_turn(form: TrialForm, done: Sequence[plans.KeptPlan]) -> tuple[Block, Block]:
    """One way and the other, each a block."""
    first, second = (_way(text, form, done) for text in (form.first, form.second))
    return first, second


def _crossed(form: TrialForm, done: Sequence[plans.KeptPlan]) -> tuple[Block, Block]:
    """Flexors one way and extensors the other, and swapped.

    Raises
    ------
    BadInputError
        Where a way is none of the usual two, both are one, or nothing is done that they could share.
    """
    for way in (form.first, form.second):
        if way not in WAYS:
            raise BadInputError(
                "way", way, f"crossed, one of: {', '.join(WAYS)}; a block goes one after the other"
            )
    if form.first == form.second:
        raise BadInputError("second", form.second, "another way than the first")
    pairs = ((form.first, form.second), (form.second, form.first))
    one, other = (
        in_way(_base(form, done), dict(zip(GROUPS, ways, strict=True)), _groups(), form.weeks, _name(ways))
        for ways in pairs
    )
    return one, other


def _name(ways: tuple[str, str]) -> str:
    """Of a crossed block."""
    return "Flexors {}; extensors {}".format(*(WAYS[way][0].lower() for way in ways))


def _base(form: TrialForm, done: Sequence[plans.KeptPlan]) -> Block:
    """What the person does now, upon which the usual ways are built."""
    if not done:
        right = "a client who does a block already, whose exercises both ways then share"
        raise BadInputError("for", form.person, right)
    return done[0].block


def _groups() -> dict[str, str]:
    """Which group each exercise is of."""
    return {variant.id: variant.group for variant in current.library().variants}


def _way(text: str, form: TrialForm, done: Sequence[plans.KeptPlan]) -> Block:
    """A way of training: one of the usual two upon what the person does now, or a block of the viewer's."""
    if text in WAYS:
        return in_way(_base(form, done), dict.fromkeys(GROUPS, text), _groups(), form.weeks, WAYS[text][0])
    if not (text.isascii() and text.isdigit() and len(text) <= LONGEST_WHOLE):
        raise BadInputError("way", text, f"one of: {', '.join(WAYS)}, or a block")
    block = plans.plan(current.session(), current.viewer(), int(text)).block
    check_weeks(len(block.weeks))
    return block


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
        usual_weeks=USUAL_WEEKS,
        powers={
            crossed: [power_words(weeks, crossed=crossed) for weeks in POWERS] for crossed in (True, False)
        },
        typed=request.form,
        problem=problem,
    )
