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
from curve_rank.training.log import LoggedSet, bouts
from curve_rank.training.review import GROUPS, in_block
from curve_rank.training.same_effort import points_of
from curve_rank.training.trial import Gain, TrialMeasure, compared, strength_gain, tape_gain, verdict

GROUP_NAMES = {"flexors": "Strength of the flexors", "extensors": "Strength of the extensors"}


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
        return {"name": self.kept.name, "coin": self.kept.seed} | trial_view(self.found)

    @property
    def verdict(self) -> str:
        """What may be said."""
        return verdict(self.found)


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
    return TrialAnswer(kept, blocks, _compared(who, (kept.first, kept.second), blocks))


def _compared(
    who: Trainee, numbers: tuple[int, int], blocks: tuple[Block, Block]
) -> tuple[TrialMeasure, ...]:
    log = logs.log_of(who.db, who.viewer, who.person, since=blocks[0].start or who.today)
    sittings = measures.sittings(who.db, who.viewer, who.person)
    told: list[TrialMeasure | None] = []
    for group in GROUPS:
        first, second = (_strength(who, group, log, *one) for one in zip(numbers, blocks, strict=True))
        told.append(compared(GROUP_NAMES[group], "%", first, second))
    changes = [tape_gain(measures.changes_over(sittings, number)) for number in numbers]
    told.append(compared("Arm, flexed", "cm", *changes))
    return tuple(one for one in told if one is not None)


def _strength(who: Trainee, group: str, log: tuple[LoggedSet, ...], number: int, block: Block) -> Gain | None:
    return strength_gain(points_of(bouts(in_block(log, block, number)), who.context.facts, group))
