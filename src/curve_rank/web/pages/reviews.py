"""A block's end: what was planned and done, what it brought, what to keep, and one click to the next."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.people import Trainee
from curve_rank.answers.review import log_of_block, reviewed
from curve_rank.errors import UnknownNameError
from curve_rank.exchange.training_views import review_view
from curve_rank.rating.targets import targets
from curve_rank.store import plans
from curve_rank.store.plans import KeptPlan
from curve_rank.training.circumference import hopes
from curve_rank.training.follow_on import following_start, next_block
from curve_rank.training.log import LoggedSet
from curve_rank.training.review import Review
from curve_rank.web import current, notices
from curve_rank.web.access import EVERYONE, TEACHING, allowed
from curve_rank.web.forms.training import ReviewQuery
from curve_rank.web.planning import trainee
from curve_rank.web.records import TrainingView

blueprint = Blueprint("reviews", __name__)
LONGEST = 150


@dataclass(frozen=True)
class ReviewView:
    """A review, and what it is drawn from."""

    who: Trainee
    plan: KeptPlan

    @cached_property
    def log(self) -> tuple[LoggedSet, ...]:
        """Everything from the block's first day on."""
        return log_of_block(self.who, self.plan)

    @cached_property
    def found(self) -> Review:
        """The review."""
        return reviewed(self.who, self.plan)

    @cached_property
    def training(self) -> TrainingView:
        """For names, loads and strips."""
        return TrainingView(self.who, "flexors", LONGEST)

    @property
    def hopes(self) -> str:
        """What may honestly be hoped for."""
        return hopes(len(self.plan.block.weeks))


@blueprint.get("/reviews/<row:number>")
@allowed(*EVERYONE)
def show(number: int) -> ResponseReturnValue:
    """The review of a block."""
    view = _view(number)
    return render_template(
        "pages/reviews/review.html",
        view=view,
        found=view.found,
        heads=targets(),
        is_me=view.who.person == view.who.viewer.person,
        starts=following_start(view.plan.block, view.who.today),
    )


@blueprint.get("/reviews/<row:number>.json")
@allowed(*EVERYONE)
def data(number: int) -> ResponseReturnValue:
    """The same for other programs."""
    return jsonify(review_view(_view(number).found))


@blueprint.post("/reviews/<row:number>/next")
@allowed(*TEACHING)
def follow(number: int) -> ResponseReturnValue:
    """The next block, in one step: what climbs stays, what is to rotate is swapped."""
    view = _view(number)
    made = next_block(view.plan.block, view.found.advice, view.who.context, view.who.today)
    with current.writing() as session:
        kept = plans.add_plan(session, view.who.viewer, made, (view.who.person,))
    notices.tell("The next block is made. Look it over, then hand it over.")
    return redirect(f"{url_for('blocks.show', number=kept)}?for={view.who.person}", 303)


def _view(number: int) -> ReviewView:
    viewer = current.viewer()
    person = ReviewQuery.read(request.args).person or viewer.person
    for plan in plans.done_by(current.session(), viewer, person):
        if plan.id == number:
            return ReviewView(trainee(person, viewer, plan), plan)
    raise UnknownNameError("block", number, "one that this person does")
