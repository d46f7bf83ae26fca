"""One slope a person: how all that they do rises together, and what stands apart, in the noise of a log.

Every bout of which somebody said what was left is one reading, and all of them lie on one line (equation S1):

    y = level + g·t + day + week + own

y: logarithm of the strength that explains the set; level: of its exercise, side and set number; g: growth a
training week; t: training weeks, of which one without training is none; day, week: better and worse ones,
shared by all that was done then; own: of the bout. Generalised least squares with the covariance

    V = own²·I + day²·[same day] + week²·[same week],    s² = (r'V⁻¹r + 20) / (n − p + 20),

so that few readings do not say how much they scatter. Each exercise's own slope lies on the same footing, the
shared form in its error. All are read one-sided, several at once by Holm's rule.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from math import ceil

import numpy as np
from scipy.linalg import cho_factor, cho_solve
from scipy.special import stdtr, stdtrit

from curve_rank.arm.arrays import Array
from curve_rank.practice.rules import rule
from curve_rank.training.log import Bout, LoggedSet

AS_SCATTERED = 20
"""Readings that the usual noise counts for, beside a person's own."""


def percent(part: float, digits: int = 1) -> str:
    """A part in per cent, with a true minus."""
    return f"{100 * part:z.{digits}f} %".replace("-", "−")


@dataclass(frozen=True)
class Noise:
    """By what same-effort strength scatters: of a bout, a day and a week, one standard deviation each [1]."""

    own: float
    day: float
    week: float


def usual_noise() -> Noise:
    """What is taken for granted of anybody."""
    return Noise(rule("noise.own"), rule("noise.day"), rule("noise.week"))


@dataclass(frozen=True)
class SaidBout:
    """What one bout said.

    Attributes
    ----------
    variant : str
    day : date
    level : tuple of (str, str, int)
        What it can be compared with: exercise, side and number of the set.
    value : float
        Logarithm of the strength [1].
    """

    variant: str
    day: date
    level: tuple[str, str, int]
    value: float


@dataclass(frozen=True)
class Slope:
    """Growth a training week.

    Attributes
    ----------
    weekly, error : float
        g, and one standard error [1 a week].
    free : int
        Degrees of freedom of the error.
    bouts, weeks : int
        It rests on.
    span : float
        From the first of them to the last [training weeks].
    """

    weekly: float
    error: float
    free: int
    bouts: int
    weeks: int
    span: float

    @property
    def wide(self) -> float:
        """Half of the interval in which it lies eight times in ten [1 a week]."""
        return float(stdtrit(self.free, 0.9)) * self.error

    @property
    def most(self) -> float:
        """What it is under, nine times in ten [1 a week]."""
        return self.weekly + self.wide

    @property
    def chance(self) -> float:
        """How seldom noise alone makes somebody who gains nothing climb so fast: 0 to 1."""
        return float(stdtr(self.free, -self.weekly / self.error))

    @property
    def climbs(self) -> bool:
        """Whether it is more than noise."""
        return self.chance < rule("slope.chance")

    @property
    def more_bouts(self) -> int:
        """About how many bouts are wanted yet before standing still can be told from growing; 0 for none."""
        wide = self.error / rule("slope.enough")
        if wide <= 1 and self.weeks >= rule("slope.least_weeks"):
            return 0
        # An error falls with the number and the square of the time, and bouts take time.
        by_error = self.bouts * (float(wide ** (2 / 3)) - 1)
        by_weeks = self.bouts * (rule("slope.least_weeks") / self.weeks - 1)
        return max(ceil(max(by_error, by_weeks)), 1)

    @property
    def stalls(self) -> bool:
        """Whether hardly anything is gained, and so little that growth would seldom look like it."""
        long = self.weeks >= rule("slope.least_weeks")
        return long and self.most < rule("slope.grows") and self.weekly < rule("slope.still")

    @property
    def says(self) -> str:
        """In a sentence."""
        if self.stalls:
            return (
                f"Gains less than {percent(rule('slope.grows'), 0)} a week: {percent(self.weekly)} over "
                f"{self.weeks} weeks, nine in ten under {percent(self.most)}."
            )
        if self.climbs:
            low = percent(self.weekly - self.wide)
            return f"Climbs {percent(self.weekly)} a week, nine in ten over {low}."
        if self.more_bouts:
            return f"Too early to say whether strength grows: about {self.more_bouts} more bouts."
        return "No gain is shown yet, and no standstill either."


def said_bouts(
    by_variant: Mapping[str, Sequence[Bout]],
    strength: Callable[[LoggedSet], float | None],
    lighter: Collection[tuple[int | None, int | None]] = (),
) -> tuple[SaidBout, ...]:
    """Every bout's first set of which somebody said what was left, on each side, oldest first.

    Left out are lighter weeks, and the first bouts of an exercise that was begun later than the log: in
    those it is learned, not trained.

    Parameters
    ----------
    by_variant : mapping
        Bouts by variant, oldest first.
    strength : callable
        What a set says of the strength, over any that is the same for all sets of an exercise.
    lighter : collection of (int, int)
        Blocks' numbers with weeks that are lighter on purpose.
    """
    begun = min((rows[0].day for rows in by_variant.values() if rows), default=date.min)
    found = []
    for variant, rows in by_variant.items():
        new = bool(rows) and rows[0].day > begun + timedelta(days=7)
        for bout in rows[int(rule("slope.learned_in")) if new else 0 :]:
            first: dict[str, LoggedSet] = {}
            for one in bout.sets:
                if one.teaches and (one.plan, one.week) not in lighter:
                    first.setdefault(one.side, one)
            for side, one in first.items():
                value = strength(one)
                if value is not None and value > 0:
                    level = (variant, side, one.set)
                    found.append(SaidBout(variant, bout.day, level, float(np.log(value))))
    return tuple(sorted(found, key=lambda one: (one.day, one.level)))


def lately(said: Sequence[SaidBout]) -> tuple[SaidBout, ...]:
    """Those of the last training weeks that a slope is read from."""
    weeks = sorted({week_of(one.day) for one in said})[-int(rule("slope.weeks")) :]
    return tuple(one for one in said if weeks and week_of(one.day) >= weeks[0])


def slope_of(said: Sequence[SaidBout], noise: Noise) -> Slope | None:
    """One slope for all that somebody did; None for too few bouts.

    Parameters
    ----------
    said : sequence of SaidBout
        Of one person.
    noise : Noise
        As it is usual, or as the house has learned it.
    """
    fit = _fitted(said, noise, np.ones((len(said), 1)))
    if fit is None:
        return None
    error = float(np.sqrt(fit.spread[0, 0]))
    return Slope(float(fit.slopes[0]), error, fit.free, len(said), fit.weeks, fit.span)


def slopes_by_exercise(said: Sequence[SaidBout], noise: Noise) -> dict[str, tuple[Slope, Slope]]:
    """Each exercise's own slope, and by how much it is under the mean of all, for those with enough bouts.

    Parameters
    ----------
    said : sequence of SaidBout
        Of one person; what is read of one exercise holds the form that all share.
    noise : Noise
        As in `slope_of`.
    """
    counts = {key: sum(one.variant == key for one in said) for key in dict.fromkeys(o.variant for o in said)}
    keys = [key for key, count in counts.items() if count >= rule("slope.least_bouts")]
    mine = [one for one in said if one.variant in keys]
    which = np.array([[one.variant == key for key in keys] for one in mine], dtype=float)
    fit = _fitted(mine, noise, which) if keys else None
    if fit is None:
        return {}
    found = {}
    for at, key in enumerate(keys):
        error = float(np.sqrt(fit.spread[at, at]))
        own = Slope(float(fit.slopes[at]), error, fit.free, counts[key], fit.weeks, fit.span)
        against = np.full(len(keys), 1 / len(keys))
        against[at] -= 1
        apart = float(np.sqrt(max(against @ fit.spread @ against, 1e-18)))
        found[key] = (own, replace(own, weekly=float(against @ fit.slopes), error=apart))
    return found


def lagging(whole: Slope | None, by_exercise: Mapping[str, tuple[Slope, Slope]]) -> frozenset[str]:
    """Exercises that lag the rest, where the rest climbs.

    Parameters
    ----------
    whole : Slope, optional
        Of all together.
    by_exercise : mapping
        As `slopes_by_exercise` gives them.
    """
    if whole is None or not whole.climbs:
        return frozenset()
    return by_holm({key: behind.chance for key, (_, behind) in by_exercise.items()}, rule("slope.chance"))


def by_holm(chances: Mapping[str, float], chance: float) -> frozenset[str]:
    """Those of several that can be said, so that any word is false at most so seldom [1]."""
    found: set[str] = set()
    for place, key in enumerate(sorted(chances, key=lambda one: chances[one])):
        if chances[key] >= chance / (len(chances) - place):
            break
        found.add(key)
    return frozenset(found)


@dataclass(frozen=True)
class _Fit:
    slopes: Array
    spread: Array
    free: int
    weeks: int
    span: float


def _fitted(said: Sequence[SaidBout], noise: Noise, which: Array) -> _Fit | None:
    """Slopes by equation S1, each of the readings that a column marks; None where there are too few."""
    table = slope_table(said, which)
    if table is None:
        return None
    values, solve = np.array([one.value for one in said]), cho_factor(covariance(said, noise), lower=True)
    inside = table.T @ cho_solve(solve, table)
    fit = np.linalg.solve(inside, table.T @ cho_solve(solve, values))
    left = values - table @ fit
    free = len(said) - table.shape[1] + AS_SCATTERED
    scale = float(left @ cho_solve(solve, left) + AS_SCATTERED) / free
    count, at = which.shape[1], _times(said)
    weeks = len(training_weeks(one.day for one in said))
    spread = np.asarray(scale * np.linalg.inv(inside)[:count, :count])
    return _Fit(np.asarray(fit[:count]), spread, free, weeks, float(np.ptp(at)))


def _times(said: Sequence[SaidBout]) -> Array:
    """When each reading is of [training weeks]."""
    weeks = training_weeks(one.day for one in said)
    return np.array([weeks[week_of(one.day)] + one.day.weekday() / 7 for one in said])


def slope_table(said: Sequence[SaidBout], which: Array) -> Array | None:
    """Columns of equation S1: a slope for the readings that each column marks, and a level for each kind.

    None where the readings are too few, or of one week.
    """
    levels = list(dict.fromkeys(one.level for one in said))
    at, numbers = _times(said), which.shape[1] + len(levels)
    if len(said) <= numbers or len({week_of(one.day) for one in said}) < 2:
        return None
    table = np.column_stack(
        [which * (at - at.mean())[:, None]]
        + [np.array([one.level == level for one in said], dtype=float) for level in levels]
    )
    return table if np.linalg.matrix_rank(table) == numbers else None


def covariance(said: Sequence[SaidBout], noise: Noise) -> Array:
    """V of equation S1, shape (bouts, bouts) [1]."""
    bout, day, week = together(said)
    return np.asarray(noise.own**2 * bout + noise.day**2 * day + noise.week**2 * week)


def together(said: Sequence[SaidBout]) -> tuple[Array, Array, Array]:
    """Which readings share a bout, a day, a week, each shape (bouts, bouts), 1 or 0."""
    day = np.array([one.day.toordinal() for one in said])
    week = np.array([week_of(one.day) for one in said])
    same = [(at[:, None] == at).astype(float) for at in (day, week)]
    return np.eye(len(said)), same[0], same[1]


def week_of(day: date) -> int:
    """Weeks since a Monday long ago."""
    return (day.toordinal() - 1) // 7


def training_weeks(days: Iterable[date]) -> dict[int, int]:
    """Weeks in which something was done, numbered from 0."""
    return {week: n for n, week in enumerate(sorted({week_of(day) for day in days}))}
