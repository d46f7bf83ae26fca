"""A block's end: what was planned and done of it, what it brought, what to keep and what to rotate."""

from __future__ import annotations

from curve_rank.answers.people import Trainee
from curve_rank.store import logs, measures
from curve_rank.store.plans import KeptPlan
from curve_rank.training.log import LoggedSet
from curve_rank.training.review import Review, review


def log_of_block(who: Trainee, plan: KeptPlan) -> tuple[LoggedSet, ...]:
    """Everything somebody has logged from a block's first day on, however long ago that is."""
    return logs.log_of(who.db, who.viewer, who.person, since=plan.block.start or who.today)


def reviewed(who: Trainee, plan: KeptPlan) -> Review:
    """The review of a block that somebody does."""
    return review(
        plan.block,
        log_of_block(who, plan),
        who.context.facts,
        who.today,
        number=plan.id,
        events=[note.model_dump() for note in who.notes(plan.id)],
        changes=measures.changes_over(measures.sittings(who.db, who.viewer, who.person), plan.id),
        pain=who.pain,
    )
