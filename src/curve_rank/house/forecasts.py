"""Forecasts that are scored: what was foretold of a set beside what was done, and an alarm for drift.

A forecast is a normal distribution of the repetitions to failure with the load that was aimed at. It holds
when what was done lies in the 80 % interval eight times in ten; it is sharp when that interval is narrow.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from scipy.special import ndtri, stdtr

from curve_rank.arm.rep_setup import reps_of
from curve_rank.practice.facts import Facts
from curve_rank.practice.rules import rule
from curve_rank.study.personal import TENTH
from curve_rank.training.log import MOST_TRUSTED_REPS, Bout
from curve_rank.training.same_effort import point_of
from curve_rank.training.slopes import Noise

SHIFTS = (-2.0, -1.0, -0.5, 0.5, 1.0, 2.0)
"""Drifts that the alarm bets on, as weekly means in their own spread [1]."""
LATELY = 3
"""The newest bouts of an exercise that a forecast rests on."""


@dataclass(frozen=True)
class Forecast:
    """One set, foretold and done.

    Attributes
    ----------
    person : int
    day : date
    variant, room, edition : str
    expected : float
        Repetitions to failure [1].
    spread : float
        Of that, one standard deviation [1].
    done : float
        What they were, with what was said to be left.
    """

    person: int
    day: date
    variant: str
    room: str
    edition: str
    expected: float
    spread: float
    done: float

    @property
    def off(self) -> float:
        """By how many of its spreads it was off [1]."""
        return (self.done - self.expected) / self.spread


def foretell(fact: Facts, rows: Sequence[Bout], load: float, noise: Noise) -> tuple[float, float] | None:
    """Repetitions to failure of the next first set with a load, and one standard deviation of them.

    None for so many that they say little: of a ramp's light sets nothing is foretold.

    Parameters
    ----------
    fact : Facts
        Of the exercise, as it is known of the person.
    rows : sequence of Bout
        What they did of it, oldest first; of the newest that said anything the strength is taken.
    load : float
        [kg]
    noise : Noise
        In which their log is read.
    """
    said = [found.strength for bout in rows if (found := point_of(bout, fact)) is not None][-LATELY:]
    once = noise.own**2 + noise.day**2 + noise.week**2
    if said:
        strength, wide = float(np.mean(said)), float(np.sqrt(once * (1 + 1 / len(said))))
    else:
        strength, wide = 1.0, float(np.hypot(np.sqrt(once), np.log(1 / fact.low_ratio) / TENTH))
    expected, fewer, more = (_reps(fact, load, strength * np.exp(by)) for by in (0.0, -wide, wide))
    if expected >= MOST_TRUSTED_REPS:
        return None
    return expected, float(np.hypot((more - fewer) / 2, rule("personal.reps_error")))


def _reps(fact: Facts, load: float, strength: float) -> float:
    """Repetitions to failure of a strength over that of the facts [1]."""
    effort = (load - fact.base) / max(fact.slope * strength, 1e-9)
    return float(np.clip(reps_of(float(np.clip(effort, 0.05, 1.0))), 0.0, MOST_TRUSTED_REPS))


@dataclass(frozen=True)
class Calibration:
    """How forecasts of one kind did.

    Attributes
    ----------
    name : str
    forecasts : int
    inside : float
        Part of what was done that lay in the 80 % interval [1].
    low, high : float
        Where that part lies with 80 % confidence, people counted as wholes [1].
    off : float
        Mean of what was done over what was foretold [repetitions].
    wide : float
        Mean width of the interval: how sharp it was [repetitions].
    """

    name: str
    forecasts: int
    inside: float
    low: float
    high: float
    off: float
    wide: float

    @property
    def holds(self) -> bool:
        """Whether eight in ten is a part that may be."""
        return self.low <= 0.8 <= self.high


def calibrated(forecasts: Iterable[Forecast], by: Callable[[Forecast], str]) -> tuple[Calibration, ...]:
    """How forecasts did, by exercise, room, person or edition; the most forecasts first."""
    groups: dict[str, list[Forecast]] = defaultdict(list)
    for one in forecasts:
        groups[by(one)].append(one)
    return tuple(sorted((_of(name, rows) for name, rows in groups.items()), key=lambda one: -one.forecasts))


def _of(name: str, rows: Sequence[Forecast]) -> Calibration:
    inside = np.array([abs(one.off) <= TENTH for one in rows])
    low, high = _ends(inside, [one.person for one in rows])
    off = float(np.mean([one.done - one.expected for one in rows]))
    wide = float(np.mean([2 * TENTH * one.spread for one in rows]))
    return Calibration(name, len(rows), float(inside.mean()), low, high, off, wide)


def _ends(inside: np.ndarray, people: Sequence[Hashable]) -> tuple[float, float]:
    """The 80 % interval of a part (Agresti & Coull 1998), by as many as people who are each one voice count
    for."""
    count = len(inside)
    by_person: dict[Hashable, list[float]] = defaultdict(list)
    for person, one in zip(people, inside.tolist(), strict=True):
        by_person[person].append(float(one))
    mean = float(inside.mean())
    if len(by_person) > 1 and 0 < mean < 1:  # sets of one person go together
        sums = np.array([sum(rows) - len(rows) * mean for rows in by_person.values()])
        wider = float(sums @ sums) / (count * mean * (1 - mean)) * len(by_person) / (len(by_person) - 1)
        count = max(int(count / max(wider, 1.0)), 1)
    added = TENTH**2
    middle = (mean * count + added / 2) / (count + added)
    half = TENTH * float(np.sqrt(middle * (1 - middle) / (count + added)))
    return max(middle - half, 0.0), min(middle + half, 1.0)


@dataclass(frozen=True)
class Drift:
    """Whether what is done drifts away from what is foretold.

    Attributes
    ----------
    evidence : float
        What a bet on drift, begun with 1, would have grown to at most.
    since : date or None
        The week in which it grew beyond what chance allows; None while it has not.
    weeks : int
        Looked at.
    """

    evidence: float
    since: date | None
    weeks: int


def drift(forecasts: Iterable[Forecast]) -> Drift:
    """Look every week whether all are off together; false in at most one house of twenty, however long it
    looks.

    Each week's mean over people, in its own error, is a standard normal number while nothing drifts. A bet
    on some shifts grows by the odds of each week; under no drift it exceeds 20 at any time at most once in
    twenty (Ville 1939).
    """
    weeks: dict[date, dict[int, list[float]]] = defaultdict(lambda: defaultdict(list))
    for one in forecasts:
        monday = date.fromordinal(one.day.toordinal() - one.day.weekday())
        weeks[monday][one.person].append(one.off)
    bets, best, since, looked = np.full(len(SHIFTS), 1 / len(SHIFTS)), 1.0, None, 0
    for monday, people in sorted(weeks.items()):
        means = np.array([np.mean(rows) for rows in people.values()])
        if len(means) < rule("forecast.least_people"):
            continue
        looked += 1
        told = float(means.mean() / max(means.std(ddof=1) / np.sqrt(len(means)), 1e-9))
        part = np.clip(stdtr(len(means) - 1, told), 1e-12, 1 - 1e-12)
        normal = float(ndtri(part))
        bets = bets * np.exp([shift * normal - shift**2 / 2 for shift in SHIFTS])
        worth = float(bets.sum())
        best = max(best, worth)
        if since is None and worth >= 1 / rule("forecast.false_alarm"):
            since = monday
    return Drift(best, since, looked)
