"""Sketches: where somebody thinks a set-up is hard, laid against where it is; and what to ask next.

What one got wrong comes back soon, what one got right later and later (a doubling interval, as in
spaced repetition since Leitner 1972).
"""

from __future__ import annotations

import random
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import targets
from curve_rank.rating.words import slack_words

PLACES = 9
"""Places along the rep at which a sketch is drawn, its ends among them."""
LEVEL = 0.5
"""Where a sketch begins: level, over the most it can be [1]."""
Kind = Literal["draw", "stretched", "longer"]
ENOUGH = 70.0
"""Points of 100 from which a sketch counts as right."""
PER_SHAPE, PER_TENTH = 1.5, 4.0
"""Points that a per cent of the peak of mean shape error costs, and a tenth of the rep of the hard spot's."""
FIRST_REST, AGAIN = timedelta(hours=12), timedelta(minutes=2)
"""Until what was right comes back the first time, and until what was wrong does."""
LAST_TRIED = 5
"""So many of the newest attempts make a family's score."""
APART = {"stretched": 0.25, "longer": 15.0}
"""How far apart two answers are at least: parts of the rep, per cent of a head's range."""


@dataclass(frozen=True)
class Judgement:
    """A sketch beside the truth.

    Attributes
    ----------
    drawn_hard, true_hard : float
        Where the sketch has its peak, and where the load asks most [degrees].
    hard_error : float
        Drawn less true [degrees].
    shape_error : float
        Mean distance of the two shapes, each over its own peak [%].
    points : float
        0 to 100.
    """

    drawn_hard: float
    true_hard: float
    hard_error: float
    shape_error: float
    points: float

    @property
    def right(self) -> bool:
        """Whether it is near enough."""
        return self.points >= ENOUGH


@dataclass(frozen=True)
class Quiz:
    """A quick question with two answers.

    Attributes
    ----------
    kind : str
    key : str
        The same for the same question.
    asks : str
    models : tuple of VariantModel
        One or two set-ups that it is about.
    answers : tuple of str
    right : int
        0 or 1.
    why : str
    """

    kind: Kind
    key: str
    asks: str
    models: tuple[VariantModel, ...]
    answers: tuple[str, str]
    right: int
    why: str


@dataclass(frozen=True)
class Attempt:
    """One answer that was given."""

    key: str
    family: str
    points: float
    at: datetime

    @property
    def right(self) -> bool:
        """Whether it was near enough."""
        return self.points >= ENOUGH


def shape_of(modelled: VariantModel) -> Array:
    """What the load asks at the places of a sketch, over the most of them, (PLACES,) [1]."""
    demand = np.maximum(modelled.along("demand"), 0.0)
    places = np.interp(np.linspace(0, 1, PLACES), np.linspace(0, 1, demand.size), demand)
    return np.asarray(places / max(float(places.max()), 1e-9))


def judge(modelled: VariantModel, drawn: Sequence[float]) -> Judgement:
    """Lay a sketch against the truth.

    Parameters
    ----------
    modelled : VariantModel
        The set-up, modelled.
    drawn : sequence of float
        How hard it is at each of the `PLACES`, on any scale from 0.
    """
    sketch = np.asarray(drawn, dtype=float)
    shape = sketch / max(float(sketch.max()), 1e-9)
    error = 100 * float(np.abs(shape - shape_of(modelled)).mean())
    place = _peak(shape)
    angle = modelled.along("angle")
    drawn_hard = float(np.interp(place, np.linspace(0, 1, angle.size), angle))
    true_hard, true_place = float(modelled.readings.hard_spot), float(modelled.readings.hard_at)
    points = 100 - PER_SHAPE * error - PER_TENTH * 10 * abs(place - true_place)
    return Judgement(drawn_hard, true_hard, drawn_hard - true_hard, error, float(np.clip(points, 0, 100)))


def why_there(modelled: VariantModel) -> str:
    """Why it is hard where it is: line, lever, strength."""
    lever, at = modelled.along("lever"), modelled.hard
    longest = int(np.nanargmax(lever)) if np.isfinite(lever).any() else None
    third = modelled.hard_third
    start = f"The load asks most at {modelled.readings.hard_spot:.0f}°, in the {third} third"
    if longest is None:
        return f"{start}: a machine’s own curve peaks there; {slack_words(modelled.told_slack)}."
    at_hard, most = 100 * float(lever[at]), 100 * float(lever[longest])
    if abs(longest - at) <= 2:
        reason = f"where the line of pull runs farthest from the elbow, {at_hard:.0f} cm"
    else:
        reason = f"with a lever of {at_hard:.0f} cm; it is longest elsewhere, {most:.0f} cm"
    return f"{start}, {reason}; {slack_words(modelled.told_slack)}."


def stretched_quiz(one: VariantModel, other: VariantModel) -> Quiz | None:
    """Which of two is hard nearer its stretched end; None where they are too much alike."""
    places = float(one.readings.hard_at), float(other.readings.hard_at)
    if abs(places[0] - places[1]) < APART["stretched"]:
        return None
    right = int(places[1] < places[0])
    first, second = one.variant.name, other.variant.name
    told = [
        f"{m.variant.name.lower()} in the {m.hard_third} third, at {m.readings.hard_spot:.0f}°"
        for m in (one, other)
    ]
    return Quiz(
        "stretched", f"stretched {one.variant.id} {other.variant.id}",
        "Which of these two is hard nearer its stretched end?",
        (one, other), (first, second), right, f"Hardest: {told[0]}; {told[1]}.",
    )  # fmt: skip


def longer_quiz(modelled: VariantModel, one: str, other: str) -> Quiz | None:
    """Which of two heads is longer at the hard spot; None where they are too much alike."""
    lengths = [modelled.of_head("length_at_hard_spot", head) for head in (one, other)]
    if abs(lengths[0] - lengths[1]) < APART["longer"]:
        return None
    names = tuple(targets()[head].name for head in (one, other))
    told = [f"{name} at {length:.0f} %" for name, length in zip(names, lengths, strict=True)]
    return Quiz(
        "longer", f"longer {modelled.variant.id} {one} {other}",
        "At its hard spot, which head is longer, of its own range?",
        (modelled,), (names[0], names[1]), int(lengths[1] > lengths[0]),
        f"{told[0]} of its range, {told[1]}.",
    )  # fmt: skip


def quizzes(models: Iterable[VariantModel], seed: int, most: int = 60) -> list[Quiz]:
    """Quick questions from set-ups, the same for the same seed; only ones with a clear answer."""
    chance, pool = random.Random(seed), list(models)
    found: list[Quiz] = []
    for _ in range(4 * most):
        if len(found) >= most or len(pool) < 2:
            break
        one, other = chance.sample(pool, 2)
        if chance.random() < 0.5:
            made = stretched_quiz(one, other) if one.variant.group == other.variant.group else None
        else:
            made = longer_quiz(one, *chance.sample(list(targets()[one.variant.group].heads), 2))
        if made is not None:
            found.append(made)
    return found


def quiz_of(key: str, models: Mapping[str, VariantModel]) -> Quiz | None:
    """A quick question again by its key; None where it is none, or has no clear answer any more."""
    kind, *named = key.split(" ")
    if kind == "stretched" and len(named) == 2 and all(one in models for one in named):
        return stretched_quiz(models[named[0]], models[named[1]])
    if kind == "longer" and len(named) == 3 and named[0] in models:
        heads = targets()[models[named[0]].variant.group].heads
        if all(head in heads for head in named[1:]):
            return longer_quiz(models[named[0]], named[1], named[2])
    return None


def due(attempts: Sequence[Attempt], now: datetime) -> list[str]:
    """Keys that are to be asked again by now, the longest overdue first."""
    return [key for when, key in sorted((at, key) for key, at in _next(attempts).items()) if when <= now]


def next_draw(attempts: Sequence[Attempt], pool: Mapping[str, str], now: datetime, seed: int) -> str:
    """The variant to sketch next: what is due, else a new one of the family with the fewest points.

    Parameters
    ----------
    attempts : sequence of Attempt
        At drawing, oldest first.
    pool : mapping of str
        The family of each variant's id.
    now : datetime
        When it is asked.
    seed : int
        Chooses among what is as good.
    """
    for key in due(attempts, now):
        if key in pool:
            return key
    seen = {attempt.key for attempt in attempts}
    fresh = [key for key in pool if key not in seen]
    scores = family_scores(attempts)
    chance = random.Random(seed)
    if fresh:
        lowest = min(scores.get(pool[key], 50.0) for key in fresh)
        return chance.choice([key for key in fresh if scores.get(pool[key], 50.0) == lowest])
    waits = _next(attempts)
    return min((key for key in pool if key in waits), key=lambda key: waits[key], default=next(iter(pool)))


def family_scores(attempts: Sequence[Attempt]) -> dict[str, float]:
    """Per family the mean points of the newest attempts."""
    by_family: dict[str, list[float]] = defaultdict(list)
    for attempt in attempts:
        by_family[attempt.family].append(attempt.points)
    return {family: float(np.mean(points[-LAST_TRIED:])) for family, points in by_family.items()}


def _next(attempts: Sequence[Attempt]) -> dict[str, datetime]:
    """When each key is to be asked again: doubling after each right answer, soon after a wrong one."""
    when: dict[str, datetime] = {}
    streak: dict[str, int] = defaultdict(int)
    for attempt in sorted(attempts, key=lambda one: one.at):
        streak[attempt.key] = streak[attempt.key] + 1 if attempt.right else 0
        rest = FIRST_REST * 2 ** (streak[attempt.key] - 1) if attempt.right else AGAIN
        when[attempt.key] = attempt.at + min(rest, timedelta(days=90))
    return when


def _peak(shape: Array) -> float:
    """Where a sketch peaks, as part of the rep: the middle of its highest places."""
    highest = np.flatnonzero(shape >= shape.max() - 1e-9)
    return float(highest.mean() / (PLACES - 1))
