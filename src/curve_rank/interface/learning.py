"""A lifter's arm, learned from what they logged."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS
from curve_rank.interface.arm import Arm, KnownSet
from curve_rank.interface.here import means
from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room
from curve_rank.rating.spreads import Spread
from curve_rank.rating.words import counted
from curve_rank.study.draw_bank import DrawBank
from curve_rank.training import learning
from curve_rank.training.log import LoggedSet, checked_set
from curve_rank.training.planning import Planner


@dataclass(frozen=True, eq=False)
class Learned:
    """What a log says of an arm."""

    found: learning.LogFindings
    facts: Mapping[str, Facts]

    @property
    def why_not(self) -> str:
        """Why nothing is learned; empty where something is."""
        return self.found.why_not

    @property
    def factors(self) -> dict[str, Spread]:
        """What the hands hold over what the arm's size and known set foretell [1], by variant."""
        return {key: Spread(one.median, one.low, one.high) for key, one in self.found.factors.items()}

    @property
    def strength(self) -> float:
        """What the readings alone say of the strength, over the arm's [1]."""
        return self.found.strength

    def loads_kg(self, reps: int = DEFAULT_EFFORT_REPS) -> dict[str, Spread]:
        """Loads for so many repetitions to failure, with their 80 % intervals [kg], by variant."""
        return learning.loads_of(self.facts, self.found, reps)

    def __repr__(self) -> str:
        if self.why_not:
            return f"<Learned nothing: {self.why_not}>"
        return f"<Learned from {counted(self.found.sets, 'reading')} on {self.found.variants} exercises>"


def learn(
    log: Iterable[Mapping[str, Any]],
    *,
    arm: Arm | None = None,
    today: date | None = None,
    variants: Iterable[str] = (),
) -> Learned:
    """Learn an arm from logged sets.

    Parameters
    ----------
    log : iterable of mappings
        Oldest first; each with ``day``, ``variant``, ``load_kg``, ``reps`` and, to teach anything,
        ``reserve`` (repetitions that were left), as an exported log has them.
    arm : Arm, optional
        Size, and a known set where there is one.
    today : date, optional
        The day it is; else that of the newest set.
    variants : iterable of str
        Variants whose loads are wanted besides those of the log.

    Returns
    -------
    Learned

    Raises
    ------
    BadInputError
        Naming the set, the field and what would be right.
    """
    sets = [_set_of(n, one) for n, one in enumerate(log, 1)]
    whose, here = arm or Arm(), means()
    known = KnownSet(*whose.known).variant if whose.known else ""
    wanted = dict.fromkeys([*(one.variant for one in sets), *variants, *([known] if known else [])])
    there = tuple(here.library.variant(key) for key in wanted)
    planner = Planner(ClientProfile(), whose.body, Room(), there, here.modeller, here.draw)
    facts = planner.context().facts
    day = today or max((one.day for one in sets), default=date.min)
    found = learning.learn(
        sets, facts, day, DrawBank(here.modeller).strays,
        known=known, helped=learning.helped_by(whose.body, here.modeller),
    )  # fmt: skip
    return Learned(found, facts)


def _set_of(n: int, data: Mapping[str, Any]) -> LoggedSet:
    return checked_set({"key": f"logged-{n:06d}"} | dict(data), name=f"set {n}")
