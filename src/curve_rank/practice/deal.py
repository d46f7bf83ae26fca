"""Dealing a pool of exercises out over a week: which on which day, with how many sets.

One integer programme (HiGHS by scipy). Hard: the minutes of each day, two sets at the least and four at the
most, one exercise once a day. Then as much as can be had, in this order of weight: every head's sets within
the week's range, the minutes used, every cell of the targets loaded, no curve too often, days that differ,
three or four sets of most, the best exercises first, little walking about.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import lil_array

from curve_rank.arm.arrays import Array, Index
from curve_rank.practice.coverage import ASKED, Cell, heads_of
from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rules import rule
from curve_rank.practice.weekly_sets import elsewhere

SECONDS = 20.0
"""How long a week may be dealt before the best that is known by then is taken [s]."""
PRESOLVE = False
"""Undoing it, the solver may print into what a shell reads as JSON."""
CLOSE = 0.02
"""A week that is so near to the best is taken [1]."""
SETS_OFF, UNCOVERED, MINUTES, ALIKE, AGAIN, FEW_SETS, WALK = 40.0, 20.0, 30.0, 15.0, 5.0, 2.5, 0.6
"""What a missing or surplus set of a head, a cell that nothing loads, the whole of a day's minutes unused, a
curve once too often, an exercise on two days running, two sets instead of three, and one more kind of
equipment a day cost."""
MOST_MISSED = 60.0 * 180
"""More is never missed: seconds of the longest session."""
INSIDE = 0.02
"""So far inside the week's range a head's sets are to be, that no rounding takes them out [sets]."""
MOST_ALIKE = 2
"""Exercises of nearly the same curve in a week."""
USED = 0.95
"""Part of the minutes that is to be used; longer rests take the others [1]."""
WORTH, LATER = 1.0, 0.06
"""What an exercise is worth once a week, and by how much less for each place further down the pool."""


@dataclass(frozen=True)
class Dealing:
    """What is dealt out.

    Attributes
    ----------
    pool : tuple of str
        Ids, best first.
    facts : mapping
        Of all of them, and of rows and presses on other days.
    profile : ClientProfile
        Targets and minutes.
    days : int
        In a week.
    low, high : float
        Hard sets a head a week.
    rests : mapping
        Of an exercise, and its share of a round's time where it is paired, by id: seconds a set [s].
    spent : float
        Of each day, before the first exercise: warm-ups and stretches [s].
    vary, every : bool
        Whether days are to differ; and whether all of the pool is to be done.
    """

    pool: tuple[str, ...]
    facts: Mapping[str, Facts]
    profile: ClientProfile
    days: int
    low: float
    high: float
    rests: Mapping[str, float]
    spent: float
    vary: bool = True
    every: bool = False


def deal(asked: Dealing) -> tuple[tuple[tuple[str, int], ...], ...]:
    """Days, each with its exercises and their sets; empty where not one exercise fits the minutes.

    Parameters
    ----------
    asked : Dealing
        The pool, and what the week is to be.
    """
    programme = _Programme(asked)
    found = milp(
        programme.goal,
        constraints=programme.limits,
        bounds=programme.bounds,
        integrality=programme.whole,
        options={"time_limit": SECONDS, "mip_rel_gap": CLOSE, "presolve": PRESOLVE},
    )
    if found.x is None:
        return ()
    sets = np.round(found.x[: programme.cells].reshape(len(asked.pool), asked.days)).astype(int)
    return tuple(
        tuple((key, int(count)) for key, count in zip(asked.pool, column, strict=True) if count)
        for column in sets.T
    )


class _Programme:
    """Columns: sets, whether done, whether with three or more, by exercise and day; then what is missed."""

    def __init__(self, asked: Dealing) -> None:
        self.asked, count = asked, len(asked.pool)
        self.cells = count * asked.days
        self._columns = 3 * self.cells
        self._rows: list[tuple[dict[int, float], float, float]] = []
        self._costs: dict[int, float] = {}
        self._whole = self._columns
        self._sets()
        self._minutes()
        self._heads()
        self._covered()
        self._alike()
        self._days()
        self._equipment()

    @property
    def goal(self) -> Array:
        """Least is best."""
        costs = np.zeros(self._columns)
        for column, cost in self._costs.items():
            costs[column] = cost
        return costs

    @property
    def limits(self) -> LinearConstraint:
        """All rows."""
        table = lil_array((len(self._rows), self._columns))
        for n, (row, _, _) in enumerate(self._rows):
            for column, value in row.items():
                table[n, column] = value
        low, high = (np.array([row[at] for row in self._rows]) for at in (1, 2))
        return LinearConstraint(table.tocsr(), low, high)

    @property
    def bounds(self) -> Bounds:
        """Sets up to four, yes or no, and what is missed."""
        high = np.full(self._columns, MOST_MISSED)
        high[: self.cells] = rule("session.most_main_sets")
        high[self.cells : 3 * self.cells] = 1
        return Bounds(np.zeros(self._columns), high)

    @property
    def whole(self) -> Index:
        """Which columns are whole numbers."""
        return (np.arange(self._columns) < self._whole).astype(int)

    def _at(self, kind: int, exercise: int, day: int) -> int:
        """Column of sets (0), done (1), with three or more (2)."""
        return kind * self.cells + exercise * self.asked.days + day

    def _miss(self, cost: float) -> int:
        """A new column for what is missed, which costs so much."""
        self._costs[self._columns] = cost
        self._columns += 1
        return self._columns - 1

    def _row(self, row: dict[int, float], low: float, high: float = np.inf) -> None:
        self._rows.append((row, low, high))

    def _every(self) -> list[tuple[int, int]]:
        return [(e, d) for e in range(len(self.asked.pool)) for d in range(self.asked.days)]

    def _sets(self) -> None:
        least, most = rule("session.least_sets"), rule("session.most_main_sets")
        for e, d in self._every():
            sets, done, many = (self._at(kind, e, d) for kind in range(3))
            self._row({sets: 1, done: -least, many: -1}, 0)
            self._row({sets: 1, done: -least, many: -(most - least)}, -np.inf, 0)
            self._row({done: 1, many: -1}, 0)
            self._costs[many] = -FEW_SETS
            self._costs[done] = FEW_SETS - WORTH * max(1 - LATER * e, 0.2)
        for e in range(len(self.asked.pool)) if self.asked.every else ():
            row = {self._at(1, e, d): 1.0 for d in range(self.asked.days)}
            self._row(row | {self._miss(UNCOVERED): 1.0}, 1)

    def _minutes(self) -> None:
        asked = self.asked
        there = 60.0 * asked.profile.minutes - asked.spent
        setting_up, most_unused = rule("session.set_up_s"), self._miss(MINUTES / max(there, 1.0))
        for d in range(asked.days):
            row: dict[int, float] = {}
            for e, key in enumerate(asked.pool):
                row[self._at(0, e, d)] = asked.rests[key]
                row[self._at(1, e, d)] = setting_up
            self._row(row, -np.inf, there)
            unused = self._miss(MINUTES / there)
            self._row(row | {unused: 1.0}, there * USED)
            self._row({most_unused: 1.0, unused: -1.0}, 0)  # so that no day is left empty for a full one
            self._row({self._at(1, e, d): 1 for e in range(len(asked.pool))}, 1)

    def _heads(self) -> None:
        asked = self.asked
        other = elsewhere(asked.profile, asked.facts)
        for head in heads_of(asked.profile.aims):
            row = {
                self._at(0, e, d): asked.facts[key].counts[head]
                for d in range(asked.days)
                for e, key in enumerate(asked.pool)
                if asked.facts[key].counts.get(head, 0.0) > 0
            }
            have = other.get(head, 0.0)
            short, over = self._miss(SETS_OFF), self._miss(SETS_OFF)
            self._row(row | {short: 1.0}, asked.low - have + INSIDE)
            self._row(row | {over: -1.0}, -np.inf, max(asked.high - have - INSIDE, 0.0))

    def _covered(self) -> None:
        asked = self.asked
        for head in heads_of(asked.profile.aims):
            for length in ASKED:
                cell = Cell(head, length).name
                able = [e for e, key in enumerate(asked.pool) if cell in asked.facts[key].covers]
                if able:
                    row = {self._at(1, e, d): 1.0 for e in able for d in range(asked.days)}
                    self._row(row | {self._miss(UNCOVERED): 1.0}, 1)

    def _alike(self) -> None:
        facts = [self.asked.facts[key] for key in self.asked.pool]
        alike = {
            a: [b for b, other in enumerate(facts) if b == a or one.alike(other)]
            for a, one in enumerate(facts)
        }
        for a, b in combinations(range(len(facts)), 2):
            if b in alike[a]:
                for d in range(self.asked.days):
                    row = {self._at(1, a, d): 1.0, self._at(1, b, d): 1.0}
                    self._row(row | {self._miss(ALIKE): -1.0}, -np.inf, 1)
        once = self._once()
        for group in {tuple(ones) for ones in alike.values() if len(ones) > MOST_ALIKE}:
            self._row({once[e]: 1.0 for e in group} | {self._miss(ALIKE): -1.0}, -np.inf, MOST_ALIKE)

    def _once(self) -> list[int]:
        """A column for each exercise: whether it is done at all."""
        asked, found = self.asked, []
        for e in range(len(asked.pool)):
            done = self._miss(0.0)
            found.append(done)
            for d in range(asked.days):
                self._row({done: 1, self._at(1, e, d): -1}, 0)
        return found

    def _days(self) -> None:
        asked = self.asked
        groups = {asked.facts[key].group for key in asked.pool}
        for d in range(asked.days):
            for group in groups:
                mine = {
                    self._at(1, e, d): 1.0
                    for e, key in enumerate(asked.pool)
                    if asked.facts[key].group == group
                }
                self._row(mine | {self._miss(UNCOVERED): 1.0}, 1)
        if not asked.vary:
            return
        for e in range(len(asked.pool)):
            for d in range(asked.days - 1):
                again = self._miss(AGAIN)
                self._row({self._at(1, e, d): 1, self._at(1, e, d + 1): 1, again: -1}, -np.inf, 1)

    def _equipment(self) -> None:
        asked = self.asked
        kinds = {kind for key in asked.pool for kind in asked.facts[key].variant.equipment.loads}
        for d in range(asked.days):
            for kind in sorted(kinds):
                used = self._miss(WALK)
                for e, key in enumerate(asked.pool):
                    if kind in asked.facts[key].variant.equipment.loads:
                        self._row({used: 1, self._at(1, e, d): -1}, 0)
