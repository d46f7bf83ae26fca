"""A block's end: what was planned and done of it, what it brought, what to keep and what to rotate."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from markupsafe import Markup
from pydantic import model_serializer

from curve_rank.answers.drawn import strip_of
from curve_rank.answers.means import Means
from curve_rank.answers.people import Trainee
from curve_rank.answers.plain import SHAPES
from curve_rank.exchange.training_views import review_view
from curve_rank.practice.block import Block
from curve_rank.store import logs, measures
from curve_rank.store.plans import KeptPlan
from curve_rank.training.circumference import hopes
from curve_rank.training.follow_on import following_start, next_block
from curve_rank.training.log import LoggedSet, sets_in_words
from curve_rank.training.review import Review, review


@dataclass(frozen=True)
class ReviewAnswer:
    """A review, with everything that is said of it anywhere.

    Attributes
    ----------
    person, plan : int
    unit : str
        In which they read loads.
    found : Review
    hopes : str
        What may honestly be hoped for of the arm.
    starts : date
        When the next block would start.
    names : mapping
        Of the exercises.
    strips : mapping
        Of those that can still be done.
    """

    __pydantic_config__ = SHAPES

    person: int
    plan: int
    unit: str
    found: Review
    hopes: str
    starts: date
    names: Mapping[str, str]
    strips: Mapping[str, Markup]

    @model_serializer
    def as_data(self) -> dict[str, Any]:
        """As it is handed out."""
        return review_view(self.found)

    def set(self, one: LoggedSet) -> str:
        """A set in their unit."""
        return sets_in_words([one], self.unit)


def review_answer(who: Trainee, plan: KeptPlan, means: Means) -> ReviewAnswer:
    """The review of a block that somebody does."""
    found = reviewed(who, plan)
    keys = {one.variant for one in found.advice} | {one.variant for one in found.loads}
    keys |= {one.variant for one in (*found.pain, *found.swaps)} | {one.instead_of for one in found.swaps}
    able = [one.variant for one in found.advice if one.variant in who.context.facts]
    return ReviewAnswer(
        person=who.person,
        plan=plan.id,
        unit=who.profile.mass_unit,
        found=found,
        hopes=hopes(len(plan.block.weeks)),
        starts=following_start(plan.block, who.today),
        names={key: who.name(key) for key in keys},
        strips={key: strip_of(means.modeller, who.modelled(key), who.target(key)) for key in able},
    )


def following(who: Trainee, plan: KeptPlan) -> Block:
    """The next block: what climbs stays, what is to rotate is swapped."""
    return next_block(plan.block, reviewed(who, plan).advice, who.context, who.today)


def reviewed(who: Trainee, plan: KeptPlan) -> Review:
    """The review of a block that somebody does: of everything they logged from its first day on."""
    return review(
        plan.block,
        logs.log_of(who.db, who.viewer, who.person, since=plan.block.start or who.today),
        who.context.facts,
        who.today,
        number=plan.id,
        events=[note.model_dump() for note in who.notes(plan.id)],
        changes=measures.changes_over(measures.sittings(who.db, who.viewer, who.person), plan.id),
        pain=who.pain,
        noise=who.noise,
    )
