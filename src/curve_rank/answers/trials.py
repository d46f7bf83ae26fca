"""Trials: one way of training, then another, compared with honesty."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from pydantic import model_serializer

from curve_rank.answers.means import Means
from curve_rank.answers.people import Trainee, trainee
from curve_rank.answers.plain import SHAPES
from curve_rank.errors import UnknownNameError
from curve_rank.exchange.training_views import trial_view
from curve_rank.practice.block import Block
from curve_rank.store import logs, measures, plans, trials
from curve_rank.store.database import DbSession
from curve_rank.store.trials import KeptTrial
from curve_rank.store.viewers import Viewer
from curve_rank.training.log import bouts
from curve_rank.training.review import in_block
from curve_rank.training.same_effort import said_of
from curve_rank.training.trial import (
    TrialMeasure,
    power_words,
    strength_compared,
    tape_compared,
    tape_gain,
    verdict,
)


@dataclass(frozen=True)
class TrialAnswer:
    """A trial, and what its blocks brought: by each measure that both have."""

    __pydantic_config__ = SHAPES

    kept: KeptTrial
    blocks: tuple[Block, Block]
    found: tuple[TrialMeasure, ...]

    @model_serializer
    def as_data(self) -> dict[str, Any]:
        """As it is handed out."""
        return {"name": self.kept.name, "coin": self.kept.seed, "crossed": self.kept.crossed} | trial_view(
            self.found
        )

    @property
    def verdict(self) -> str:
        """What may be said."""
        return verdict(self.found)

    @property
    def power(self) -> str:
        """What it can show at all."""
        return power_words(min(len(block.weeks) for block in self.blocks), crossed=self.kept.crossed)

    @property
    def columns(self) -> tuple[str, str]:
        """What the means of both are of: blocks, or crossed the ways."""
        return (
            ("The flexors’ first way", "Their second")
            if self.kept.crossed
            else (self.blocks[0].name, self.blocks[1].name)
        )


def trial_answer(db: DbSession, viewer: Viewer, means: Means, number: int) -> TrialAnswer:
    """A trial of somebody whom a viewer may see.

    Raises
    ------
    UnknownNameError
        Where there is none, or one of its blocks is gone.
    """
    kept = trials.trial(db, viewer, number)
    done = {plan.id: plan.block for plan in plans.done_by(db, viewer, kept.person)}
    if kept.first not in done or kept.second not in done:
        raise UnknownNameError("trial", number, "one whose blocks are both handed over, and still there")
    blocks = (done[kept.first], done[kept.second])
    who = trainee(db, viewer, kept.person, means)
    return TrialAnswer(kept, blocks, _compared(who, kept, blocks))


def _compared(who: Trainee, kept: KeptTrial, blocks: tuple[Block, Block]) -> tuple[TrialMeasure, ...]:
    numbers, facts = (kept.first, kept.second), who.context.facts
    log = logs.log_of(who.db, who.viewer, who.person, since=blocks[0].start or who.today)
    sittings = measures.sittings(who.db, who.viewer, who.person)
    first, second = (
        said_of(bouts(in_block(log, block, number)), facts)
        for number, block in zip(numbers, blocks, strict=True)
    )
    groups = {key: fact.group for key, fact in facts.items()}
    found = [strength_compared(first, second, groups, crossed=kept.crossed)]
    if not kept.crossed:  # crossed, both ways have been done at the end of either block
        found.append(tape_compared(*(tape_gain(measures.changes_over(sittings, n)) for n in numbers)))
    return tuple(one for one in found if one is not None)
