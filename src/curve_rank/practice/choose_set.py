"""Choosing a set: the fewest set-ups that cover most of what is asked, and of those the best by the lens.

Solved exactly, one wish after another: first as many cells as can be covered, then as few set-ups, then the
highest sum of scores. Each step is an integer programme (HiGHS by scipy) that holds what the steps before it
have reached.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, OptimizeResult, milp
from scipy.sparse import csr_array, hstack, vstack

from curve_rank.arm.arrays import Array, BoolArray, Index
from curve_rank.errors import BadInputError
from curve_rank.practice.rules import rule

SECONDS = 20.0
"""How long one step may take before the best that is known by then is taken [s]."""
CLOSE = 1e-6


@dataclass(frozen=True)
class Candidates:
    """Set-ups among which a set is chosen.

    Attributes
    ----------
    ids : tuple of str
    covers : array of bool, shape (set-ups, cells)
        The cells that are asked for alone.
    scores : array, shape (set-ups,)
        0 to 100.
    minutes : array, shape (set-ups,)
        Of one exercise with its sets and rests [min].
    heavy, brachialis : array of bool, shape (set-ups,)
        Whether it is a heavy basic lift, and whether it covers something of the brachialis.
    alike : array of bool, shape (set-ups, set-ups)
        Whether two have nearly the same curve.
    """

    ids: tuple[str, ...]
    covers: BoolArray
    scores: Array
    minutes: Array
    heavy: BoolArray
    brachialis: BoolArray
    alike: BoolArray


@dataclass(frozen=True)
class Wishes:
    """What a set must be.

    Attributes
    ----------
    at_most : int
    minutes : float, optional
        In which the whole set is done.
    heavy, brachialis : bool
        Whether one of such is asked for.
    pinned, banned : frozenset of str
        Ids that must, and must not, be in it.
    """

    at_most: int = 5
    minutes: float | None = None
    heavy: bool = False
    brachialis: bool = False
    pinned: frozenset[str] = field(default_factory=frozenset)
    banned: frozenset[str] = field(default_factory=frozenset)


@dataclass(frozen=True)
class SetChoice:
    """A chosen set, in the order of the candidates.

    Attributes
    ----------
    picks : tuple of int
        Places among the candidates.
    covered : array of bool, shape (cells,)
    optimal : bool
        Whether it is proven that none is better.
    """

    picks: tuple[int, ...]
    covered: BoolArray
    optimal: bool


@dataclass(frozen=True)
class PickSwap:
    """One pick exchanged for another: what it does to cells covered and to the score."""

    other: int
    cells: int
    score: float


class ImpossibleWishError(BadInputError):
    """No set is what was wished; `giving_up` names the single wishes without which there is one."""

    def __init__(self, giving_up: tuple[str, ...]) -> None:
        self.giving_up = giving_up
        right = "give up " + " or ".join(giving_up) if giving_up else "fewer wishes at once"
        super().__init__("wishes", "no set is all of this", right)


def choose(candidates: Candidates, wishes: Wishes) -> SetChoice:
    """The best set.

    Parameters
    ----------
    candidates : Candidates
        Set-ups, with what each covers and scores.
    wishes : Wishes
        What the set must keep to.

    Raises
    ------
    BadInputError
        For ids that are none, and numbers that make no sense.
    ImpossibleWishError
        When no set is what was wished, with the single wishes to give up.
    """
    if not candidates.ids:
        right = "equipment and joints that leave something to choose from"
        raise BadInputError("set-ups", "none", right)
    _check(candidates, wishes)
    found = _solve(candidates, wishes)
    if found is None:
        raise ImpossibleWishError(_giving_up(candidates, wishes))
    return found


def swaps(
    candidates: Candidates, wishes: Wishes, choice: SetChoice, most: int = 3
) -> dict[int, tuple[PickSwap, ...]]:
    """For each pick the next best others in its place, with what they cost; pinned ones have none."""
    found: dict[int, tuple[PickSwap, ...]] = {}
    for pick in choice.picks:
        others = [n for n in choice.picks if n != pick]
        if candidates.ids[pick] in wishes.pinned:
            found[pick] = ()
            continue
        listed = []
        for n in range(len(candidates.ids)):
            if n in choice.picks or not _is_allowed(candidates, wishes, [*others, n]):
                continue
            covered = candidates.covers[[*others, n]].any(axis=0)
            cells = int(covered.sum() - choice.covered.sum())
            listed.append(PickSwap(n, cells, float(candidates.scores[n] - candidates.scores[pick])))
        found[pick] = tuple(
            sorted(listed, key=lambda s: (-s.cells, -s.score, candidates.ids[s.other]))[:most]
        )
    return found


def _is_allowed(candidates: Candidates, wishes: Wishes, picks: Sequence[int]) -> bool:
    """Whether a set is what was wished."""
    ids = {candidates.ids[n] for n in picks}
    alike = candidates.alike[np.ix_(picks, picks)] & ~np.eye(len(picks), dtype=bool)
    return (
        len(picks) <= wishes.at_most
        and wishes.pinned <= ids
        and not wishes.banned & ids
        and (wishes.minutes is None or float(candidates.minutes[list(picks)].sum()) <= wishes.minutes + CLOSE)
        and (not wishes.heavy or bool(candidates.heavy[list(picks)].any()))
        and (not wishes.brachialis or bool(candidates.brachialis[list(picks)].any()))
        and not alike.any()
    )


def _check(candidates: Candidates, wishes: Wishes) -> None:
    most = int(rule("choose.most_picks"))
    if not 1 <= wishes.at_most <= most:
        raise BadInputError("at most", wishes.at_most, f"1 to {most} exercises")
    if wishes.minutes is not None and not 0 < wishes.minutes <= 600:
        raise BadInputError("minutes", wishes.minutes, "more than 0, at most 600")
    unknown = wishes.pinned - set(candidates.ids)
    if unknown:
        right = "set-ups that this equipment and these joints allow"
        raise BadInputError("pinned", ", ".join(sorted(unknown)), right)
    both = wishes.pinned & wishes.banned
    if both:
        raise BadInputError("pinned", ", ".join(sorted(both)), "set-ups that are not banned as well")


def _solve(candidates: Candidates, wishes: Wishes) -> SetChoice | None:
    """The set by one programme after another; None where no set is what was wished."""
    count, cells = candidates.covers.shape
    rows, low, high = _limits(candidates, wishes)
    # A cell may count as covered only where a chosen set-up covers it: y ≤ Σ x.
    link = hstack([csr_array(candidates.covers.T.astype(float)), -csr_array(np.eye(cells))])
    matrix = vstack([hstack([rows, csr_array((rows.shape[0], cells))]), link])
    low = np.concatenate([low, np.zeros(cells)])
    high = np.concatenate([high, np.full(cells, np.inf)])
    goals = (
        np.concatenate([np.zeros(count), -np.ones(cells)]),  # cover most
        np.concatenate([np.ones(count), np.zeros(cells)]),  # by fewest
        np.concatenate([-candidates.scores, np.zeros(cells)]),  # scoring best
    )
    whole = np.concatenate([np.ones(count, dtype=int), np.zeros(cells, dtype=int)])
    bounds, optimal, x = _may_be(candidates, wishes, cells), True, np.zeros(count)
    for goal in goals:
        found = _programme(goal, LinearConstraint(matrix, low, high), bounds, whole)
        if found.x is None:
            return None
        optimal = optimal and found.status == 0
        x = np.round(found.x[:count])
        matrix = vstack([matrix, csr_array(goal.reshape(1, -1))])
        low = np.append(low, -np.inf)
        high = np.append(high, _reached(goal, candidates, x))
    picks = tuple(int(n) for n in np.flatnonzero(x))
    covered = np.asarray(candidates.covers[list(picks)].any(axis=0))
    return SetChoice(picks, covered, optimal)


def _reached(goal: Array, candidates: Candidates, x: Array) -> float:
    """What a goal has reached, worked out from the chosen set itself, and a hair more."""
    covered = (candidates.covers.T.astype(float) @ x > 0).astype(float)
    return float(goal @ np.concatenate([x, covered])) + CLOSE


def _limits(candidates: Candidates, wishes: Wishes) -> tuple[csr_array, Array, Array]:
    """Rows over the set-ups, and between what each must lie."""
    count = len(candidates.ids)
    rows: list[Array] = [np.ones(count)]
    low, high = [0.0], [float(wishes.at_most)]
    if wishes.minutes is not None:
        rows.append(candidates.minutes)
        low.append(0.0)
        high.append(wishes.minutes)
    for wanted, which in ((wishes.heavy, candidates.heavy), (wishes.brachialis, candidates.brachialis)):
        if wanted:
            rows.append(which.astype(float))
            low.append(1.0)
            high.append(np.inf)
    for members in _cliques(candidates.alike):
        rows.append(np.zeros(count))
        rows[-1][members] = 1.0
        low.append(0.0)
        high.append(1.0)
    return csr_array(np.array(rows)), np.array(low), np.array(high)


def _cliques(alike: BoolArray) -> Iterable[Index]:
    """Groups that are all alike and together hold every alike pair: at most one of each is chosen."""
    left = np.triu(alike, 1)
    while left.any():
        first = int(np.flatnonzero(left.any(axis=1))[0])
        group = [first]
        for n in np.flatnonzero(left[first]).tolist():
            if alike[n, group].all():
                group.append(n)
        members = np.array(group)
        left[np.ix_(members, members)] = False
        yield members


def _giving_up(candidates: Candidates, wishes: Wishes) -> tuple[str, ...]:
    """The single wishes without which there is a set; the smallest change of a number."""
    each = np.ones(len(candidates.ids))
    single = [("the heavy basic lift", replace(wishes, heavy=False))] if wishes.heavy else []
    if wishes.brachialis:
        single.append(("something for the brachialis", replace(wishes, brachialis=False)))
    pinned, banned = wishes.pinned, wishes.banned
    single += [(f"the pinned {one}", replace(wishes, pinned=pinned - {one})) for one in sorted(pinned)]
    single += [(f"the ban of {one}", replace(wishes, banned=banned - {one})) for one in sorted(banned)]
    found = [name for name, without in single if _least(candidates, without, each) is not None]
    fewest = _least(candidates, replace(wishes, at_most=int(rule("choose.most_picks"))), each)
    if fewest is not None and fewest > wishes.at_most:
        found.append(f"the limit of {wishes.at_most}: {fewest:.0f} are enough")
    if wishes.minutes is not None:
        shortest = _least(candidates, replace(wishes, minutes=None), candidates.minutes)
        if shortest is not None and np.ceil(shortest - CLOSE) > wishes.minutes:
            found.append(f"the {wishes.minutes:g} minutes: {np.ceil(shortest - CLOSE):.0f} are enough")
    return tuple(found)


def _least(candidates: Candidates, wishes: Wishes, costs: Array) -> float | None:
    """The least sum of costs of a set that is what was wished; None where there is none."""
    rows, low, high = _limits(candidates, wishes)
    count = len(candidates.ids)
    found = _programme(
        costs, LinearConstraint(rows, low, high), _may_be(candidates, wishes), np.ones(count, int)
    )
    return None if found.x is None else float(costs @ np.round(found.x))


def _may_be(candidates: Candidates, wishes: Wishes, cells: int = 0) -> Bounds:
    """Pinned set-ups are chosen, banned ones never, the others may be; then some cells, which may be."""
    pinned = [one in wishes.pinned for one in candidates.ids]
    free = [one not in wishes.banned for one in candidates.ids]
    return Bounds(np.array(pinned + [False] * cells, float), np.array(free + [True] * cells, float))


def _programme(goal: Array, limits: LinearConstraint, bounds: Bounds, whole: Index) -> OptimizeResult:
    """The least of a goal, proven where the time is enough."""
    return milp(
        goal,
        constraints=limits,
        bounds=bounds,
        integrality=whole,
        options={"time_limit": SECONDS, "mip_rel_gap": 0.0},
    )
