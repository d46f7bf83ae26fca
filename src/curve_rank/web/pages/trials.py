"""Trials: one way of training, then another, in an order that a coin says, compared with honesty."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from functools import cached_property

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.people import Trainee
from curve_rank.answers.requests import LONGEST_WHOLE
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.exchange.training_views import trial_view
from curve_rank.practice.block import Block
from curve_rank.store import logs, measures, people, plans, trials
from curve_rank.store.trials import KeptTrial
from curve_rank.training.follow_on import following_start
from curve_rank.training.log import LoggedSet, bouts
from curve_rank.training.review import GROUPS, in_block
from curve_rank.training.same_effort import points_of
from curve_rank.training.trial import (
    WAYS,
    WEEKS,
    Comparison,
    Gain,
    coin,
    compared,
    in_way,
    one_after_the_other,
    strength_gain,
    tape_gain,
    verdict,
)
from curve_rank.web import current
from curve_rank.web.access import EVERYONE, TEACHING, allowed
from curve_rank.web.forms.training import TrialForm
from curve_rank.web.planning import trainee
from curve_rank.web.problems import status_of

blueprint = Blueprint("trials", __name__)
GROUP_NAMES = {"flexors": "Strength of the flexors", "extensors": "Strength of the extensors"}


@dataclass(frozen=True)
class TrialView:
    """A trial, and what its blocks brought."""

    who: Trainee
    kept: KeptTrial
    blocks: tuple[Block, Block]

    @cached_property
    def found(self) -> tuple[Comparison, ...]:
        """By each measure that both blocks have."""
        since = self.blocks[0].start or self.who.today
        log = logs.log_of(current.session(), self.who.viewer, self.who.person, since=since)
        sittings = measures.sittings(current.session(), self.who.viewer, self.who.person)
        numbers = (self.kept.first, self.kept.second)
        told: list[Comparison | None] = []
        for group in GROUPS:
            pairs = zip(numbers, self.blocks, strict=True)
            gains = [self._strength(group, log, number, block) for number, block in pairs]
            told.append(compared(GROUP_NAMES[group], "%", gains[0], gains[1]))
        changes = [measures.changes_over(sittings, number) for number in numbers]
        told.append(compared("Arm, flexed", "cm", *(tape_gain(change) for change in changes)))
        return tuple(one for one in told if one is not None)

    @property
    def verdict(self) -> str:
        """What may be said."""
        return verdict(self.found)

    def _strength(self, group: str, log: tuple[LoggedSet, ...], number: int, block: Block) -> Gain | None:
        facts = self.who.context.facts
        return strength_gain(points_of(bouts(in_block(log, block, number)), facts, group))


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
    view = _view(number)
    return render_template("pages/trials/trial.html", view=view)


@blueprint.get("/trials/<row:number>.json")
@allowed(*EVERYONE)
def data(number: int) -> ResponseReturnValue:
    """The same for other programs."""
    view = _view(number)
    return jsonify({"name": view.kept.name, "coin": view.kept.seed} | trial_view(view.found))


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


def _view(number: int) -> TrialView:
    viewer, session = current.viewer(), current.session()
    kept = trials.trial(session, viewer, number)
    done = {plan.id: plan.block for plan in plans.done_by(session, viewer, kept.person)}
    if kept.first not in done or kept.second not in done:
        raise UnknownNameError("trial", number, "one whose blocks are both handed over, and still there")
    return TrialView(trainee(kept.person, viewer), kept, (done[kept.first], done[kept.second]))


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
