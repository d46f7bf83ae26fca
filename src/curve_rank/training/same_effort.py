"""Sets of different exercises on one line: what each says of strength, and the load it is worth."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_of, usual_effort
from curve_rank.practice.facts import Facts
from curve_rank.training.log import MOST_TRUSTED_REPS, Bout, LoggedSet
from curve_rank.training.slopes import SaidBout, Slope, said_bouts

REFERENCE = {"flexors": "standing-dumbbell-curl", "extensors": "rope-press-down"}
"""On which exercise a group's line is read."""
USUAL_LEFT = 2
"""Repetitions that are taken to have been left where nobody said."""
FEWEST = 3
"""Points that a trend needs."""


@dataclass(frozen=True)
class EffortPoint:
    """What one bout says.

    Attributes
    ----------
    day : date
    variant : str
    strength : float
        Over that of the body that the facts are of [1].
    best : LoggedSet
        The set it was read from.
    """

    day: date
    variant: str
    strength: float
    best: LoggedSet


@dataclass(frozen=True)
class Trend:
    """A straight line through points: how much a week, of the value at its start [1], with its 80 % interval.

    `low` and `high` are of the whole gain; `gain` from the first day to the last.
    """

    gain: float
    low: float
    high: float
    per_week: float
    points: int


def strength_of(one: LoggedSet, fact: Facts) -> float | None:
    """Strength that explains a set, over that of the facts' body; None where a set says nothing [1].

    The load over the effort is a line, base + slope · effort; a stronger arm makes the same moment at a lower
    effort, so the effort it would take stands for the strength. What trunk and elbows helped with says
    nothing here: how much they did is not known.
    """
    if not (one.works and one.is_strict) or one.to_failure > MOST_TRUSTED_REPS or fact.slope <= 0:
        return None
    found = (one.load_kg - fact.base) / (fact.slope * effort_of(one.to_failure))
    return found if found > 0 else None


def apparent_strength(sets: Iterable[LoggedSet], expected: Mapping[str, tuple[float, float]]) -> float:
    """How much more somebody lifts than is expected, the median of their sets; 1 where none says it [1].

    Parameters
    ----------
    sets : iterable of LoggedSet
        Where nobody said what was left, two are taken.
    expected : mapping
        Per variant the load for the usual repetitions, and what the hands carry of the body besides [kg].
    """
    found = []
    for one in sets:
        reps = one.reps + (USUAL_LEFT if one.reserve is None else one.reserve)
        if one.variant in expected and one.works and one.is_strict and reps <= MOST_TRUSTED_REPS:
            load, hands = expected[one.variant]
            if load + hands > 0:
                found.append((one.load_kg + hands) / (load + hands) * usual_effort() / effort_of(reps))
    return float(np.median(found)) if found else 1.0


def load_at(strength: float, fact: Facts, reps: float = DEFAULT_EFFORT_REPS) -> float:
    """The load that a strength has on an exercise for so many repetitions to failure [kg]."""
    return fact.base + fact.slope * effort_of(reps) * strength


def point_of(bout: Bout, fact: Facts, side: str = "") -> EffortPoint | None:
    """The best set of a bout, on one side or any; None where none of them says anything.

    Where somebody said of some what was left, those alone are looked at: of the others it was only planned.
    """
    said = [one for one in bout.sets if not one.as_planned]
    told = [
        (value, one)
        for one in said or bout.sets
        if side in ("", one.side) and not one.hurts and (value := strength_of(one, fact)) is not None
    ]
    if not told:
        return None
    value, best = max(told, key=lambda pair: pair[0])
    return EffortPoint(bout.day, bout.variant, value, best)


def points_of(
    by_variant: Mapping[str, Sequence[Bout]], facts: Mapping[str, Facts], group: str, side: str = ""
) -> tuple[EffortPoint, ...]:
    """The line of a group: every bout of any of its exercises, oldest first."""
    found = [
        point
        for variant, rows in by_variant.items()
        if variant in facts and facts[variant].group == group
        for bout in rows
        if (point := point_of(bout, facts[variant], side)) is not None
    ]
    return tuple(sorted(found, key=lambda point: point.day))


def records_of(points: Iterable[EffortPoint]) -> tuple[EffortPoint, ...]:
    """Those that were better than all before them."""
    best, found = 0.0, []
    for point in points:
        if point.strength > best * 1.0001:
            best = point.strength
            found.append(point)
    return tuple(found)


def said_of(
    by_variant: Mapping[str, Sequence[Bout]],
    facts: Mapping[str, Facts],
    group: str = "",
    lighter: Collection[tuple[int | None, int | None]] = (),
) -> tuple[SaidBout, ...]:
    """What bouts said of strength, of one group's exercises or of all; as in `said_bouts`."""
    mine = {key: rows for key, rows in by_variant.items() if key in facts and group in ("", facts[key].group)}
    return said_bouts(mine, lambda one: strength_of(one, facts[one.variant]), lighter)


def trend_of(slope: Slope | None) -> Trend | None:
    """A slope over its whole time; None for too few bouts."""
    if slope is None or slope.bouts < FEWEST:
        return None
    low, middle, high = (
        float(np.expm1(slope.span * (slope.weekly + off))) for off in (-slope.wide, 0.0, slope.wide)
    )
    return Trend(middle, low, high, float(np.expm1(slope.weekly)), slope.bouts)
