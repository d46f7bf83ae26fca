"""Sets of different exercises on one line: what each says of strength, and the load it is worth."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from scipy.special import stdtrit

from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_of, usual_effort
from curve_rank.practice.facts import Facts
from curve_rank.training.log import MOST_TRUSTED_REPS, Bout, LoggedSet

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
    effort, so the effort it would take stands for the strength.
    """
    if not one.works or one.to_failure > MOST_TRUSTED_REPS or fact.slope <= 0:
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
        if one.variant in expected and one.works and reps <= MOST_TRUSTED_REPS:
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


def trend_of(points: Sequence[EffortPoint]) -> Trend | None:
    """The trend of a line, each exercise about its own level; None for too few points.

    Exercises differ in what the model makes of them, so each has a level of its own and all share one slope
    (least squares; Student's t for the interval).
    """
    known = sorted({point.variant for point in points})
    free = len(points) - len(known) - 1
    if len(points) < FEWEST or free < 1:
        return None
    days = np.array([point.day.toordinal() for point in points], dtype=float)
    span = float(days.max() - days.min())
    if span <= 0:
        return None
    values = np.log([point.strength for point in points])
    columns = np.array([[point.variant == key for key in known] for point in points], dtype=float)
    table = np.column_stack([(days - days.mean()) / 7, columns])
    if np.linalg.matrix_rank(table) < table.shape[1]:
        return None
    fit, *_ = np.linalg.lstsq(table, values, rcond=None)
    left = values - table @ fit
    spread = float(np.sqrt(left @ left / free * np.linalg.inv(table.T @ table)[0, 0]))
    wide = float(stdtrit(free, 0.9)) * spread * span / 7
    gain = float(fit[0]) * span / 7
    low, middle, high = (float(np.expm1(v)) for v in (gain - wide, gain, gain + wide))
    return Trend(middle, low, high, float(np.expm1(fit[0])), len(points))
