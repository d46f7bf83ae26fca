"""A block's end: what was planned and done, what it brought, what to keep, and one click to the next."""

from __future__ import annotations

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.people import Trainee
from curve_rank.answers.plain import plain
from curve_rank.answers.review import ReviewAnswer, following, review_answer
from curve_rank.errors import UnknownNameError
from curve_rank.rating.targets import targets
from curve_rank.store import plans
from curve_rank.store.plans import KeptPlan
from curve_rank.web import arms, current, notices
from curve_rank.web.access import EVERYONE, TEACHING, allowed
from curve_rank.web.forms.training import ReviewQuery
from curve_rank.web.planning import trainee

blueprint = Blueprint("reviews", __name__)


@blueprint.get("/reviews/<row:number>")
@allowed(*EVERYONE)
def show(number: int) -> ResponseReturnValue:
    """The review of a block."""
    answer = _answer(number)
    is_me = answer.person == current.viewer().person
    return render_template("pages/reviews/review.html", answer=answer, heads=targets(), is_me=is_me)


@blueprint.get("/reviews/<row:number>.json")
@allowed(*EVERYONE)
def data(number: int) -> ResponseReturnValue:
    """The same for other programs."""
    return jsonify(plain(_answer(number)))


@blueprint.post("/reviews/<row:number>/next")
@allowed(*TEACHING)
def follow(number: int) -> ResponseReturnValue:
    """The next block, in one step: what climbs stays, what is to rotate is swapped."""
    who, plan = _asked(number)
    made = following(who, plan)
    with current.writing() as session:
        kept = plans.add_plan(session, who.viewer, made, (who.person,))
    notices.tell("The next block is made. Look it over, then hand it over.")
    return redirect(f"{url_for('blocks.show', number=kept)}?for={who.person}", 303)


def _answer(number: int) -> ReviewAnswer:
    return review_answer(*_asked(number), arms.means())


def _asked(number: int) -> tuple[Trainee, KeptPlan]:
    viewer = current.viewer()
    person = ReviewQuery.read(request.args).person or viewer.person
    for plan in plans.done_by(current.session(), viewer, person):
        if plan.id == number:
            return trainee(person, viewer, plan), plan
    raise UnknownNameError("block", number, "one that this person does")
