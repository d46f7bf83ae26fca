"""Houses that do not exist: what is estimated of them can be held against what they were made of."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.house.contributions import Contribution, contribution_of
from curve_rank.house.effects import Effects
from curve_rank.practice.rules import rule
from curve_rank.study.personal import Evidence, Prior, Strays

PER_REP = 0.022
"""What one repetition left is worth, eight or twelve to failure [of the load]."""
WEEKS, DAYS, EACH = 12, 2, (3, 5)
"""How long they train, how often a week, and how many exercises a day."""
KNOWS = (5, 14)
"""How many exercises one of them does, at least and at most."""
STAYS = 0.97
"""How likely somebody who trains comes in the week after."""


@dataclass(frozen=True)
class TrueHouse:
    """What a simulated house is made of.

    Attributes
    ----------
    offsets : array, shape (exercises,)
        f: by how much everybody lifts more than the middle arm, in logarithms [1].
    spreads : array, shape (numbers,)
        How far each number of the model is off.
    """

    offsets: Array
    spreads: Array


def house_of(
    rng: np.random.Generator, effects: Effects, own_error: float, spreads: Array | None = None
) -> TrueHouse:
    """A house drawn from what is taken for granted, or with numbers that are off as given."""
    drawn = rng.standard_normal(len(effects.names)) if spreads is None else spreads
    own = rng.normal(0, own_error, len(effects.variants))
    return TrueHouse(effects.whole(drawn) + own + rng.normal(0, rule("house.strength")), drawn)


@dataclass(frozen=True)
class Lifter:
    """One of them: how far they are from the middle arm on every exercise [1], and what they logged."""

    level: Array
    evidence: tuple[Evidence, ...]


def lifter_of(
    rng: np.random.Generator, true: TrueHouse, prior: Prior, strays: Strays, *, weeks: int = WEEKS
) -> Lifter:
    """Somebody of a house, with some weeks of their log."""
    names = list(strays.places)
    size = len(names)
    arm = _factor(strays) @ rng.standard_normal(size)
    strength = rng.normal(0, prior.strength)
    level = strays.middle + true.offsets + arm + strength + rng.normal(0, prior.between, size)
    growth = prior.growth + rng.normal(0, prior.growth_spread)
    misjudged = rng.normal(0, prior.misjudged) * PER_REP
    does = rng.choice(size, size=int(rng.integers(KNOWS[0], KNOWS[1] + 1)), replace=False)
    found = []
    for week in range(-weeks + 1, 1):
        if week > -weeks + 1 and rng.random() > STAYS:
            break
        for day in range(DAYS):
            form = rng.normal(0, prior.form)
            today = rng.choice(
                does, size=min(len(does), int(rng.integers(EACH[0], EACH[1] + 1))), replace=False
            )
            for at in today:
                noise = float(np.hypot(rule("personal.noise"), rule("personal.reps_error") * PER_REP))
                value = level[at] + growth * week - misjudged + form + rng.normal(0, noise)
                found.append(
                    Evidence(names[at], float(value), 1.0, PER_REP, noise, float(week), 10 * week + day)
                )
    return Lifter(level, tuple(found))


def logged(
    rng: np.random.Generator, true: TrueHouse, people: int, prior: Prior, strays: Strays
) -> list[Contribution]:
    """What the logs of a house's people say, one by one."""
    made = (lifter_of(rng, true, prior, strays) for _ in range(people))
    said = (contribution_of(one.evidence, prior, strays) for one in made)
    return [one for one in said if one is not None]


def off_by(effects: Effects, offs: Sequence[tuple[str, float]]) -> Array:
    """Numbers off as named, by spreads; all others as published."""
    spreads = np.zeros(len(effects.names))
    for name, by in offs:
        spreads[effects.names.index(name)] = by
    return spreads


def _factor(strays: Strays) -> Array:
    values, vectors = np.linalg.eigh(strays.together)
    return np.asarray(vectors * np.sqrt(np.maximum(values, 0.0)))
