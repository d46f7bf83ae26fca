"""Where a house's loads surprise the model: what is lifted, against all that the same people lift."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.house.shares import Share
from curve_rank.practice.rules import rule
from curve_rank.rating.spreads import Spread
from curve_rank.study.personal import TENTH, Strays

LEAST_BOTH = 3
"""So many people have done both of a pair, or one exercise, before anything is said of it."""


@dataclass(frozen=True)
class Surprise:
    """One exercise, or one over another, as it was lifted and as the model has it; parts of the load [1].

    Attributes
    ----------
    variants : tuple of str
        One exercise, or two: the first over the second.
    lifted : Spread
        Median of the people, and between which of them eight in ten lie.
    model : Spread
        The model's middle and its 80 % interval for one person.
    days : float
        How far one person's days lie apart, one standard deviation [1].
    people : int
    """

    variants: tuple[str, ...]
    lifted: Spread
    model: Spread
    days: float
    people: int

    @property
    def size(self) -> float:
        """How far the people's median lies from the model's, in half widths of its interval [1]."""
        half = (self.model.high - self.model.low) / 2
        return abs(self.lifted.median - self.model.median) / max(half, 1e-9)


def surprises(shares: Sequence[Share], strays: Strays) -> tuple[Surprise, ...]:
    """Each exercise against all that the same people do, the most surprising first."""
    names = [key for key in strays.places if any(key in one.lifted for one in shares)]
    table = _levels(shares, names, strays)
    whole = np.array([np.nanmean(row) if np.isfinite(row).any() else np.nan for row in table])
    found = []
    for n, key in enumerate(names):
        off = (table[:, n] - whole)[np.isfinite(table[:, n])]
        if off.size < LEAST_BOTH:
            continue
        weights = np.full(len(names), -1.0 / len(names))
        weights[n] += 1.0
        found.append(_surprise((key,), off, weights, names, strays, shares))
    return tuple(sorted(found, key=lambda one: -one.size))


def pairs(shares: Sequence[Share], strays: Strays) -> tuple[Surprise, ...]:
    """One exercise over another, by the same people, the most surprising first."""
    names = [key for key in strays.places if any(key in one.lifted for one in shares)]
    table = _levels(shares, names, strays)
    found = []
    for n, m in combinations(range(len(names)), 2):
        off = table[:, n] - table[:, m]
        off = off[np.isfinite(off)]
        if off.size < LEAST_BOTH:
            continue
        weights = np.zeros(len(names))
        weights[n], weights[m] = 1.0, -1.0
        found.append(_surprise((names[n], names[m]), off, weights, names, strays, shares))
    return tuple(sorted(found, key=lambda one: -one.size))


def _surprise(
    variants: tuple[str, ...],
    off: Array,
    weights: Array,
    names: Sequence[str],
    strays: Strays,
    shares: Sequence[Share],
) -> Surprise:
    at = [strays.places[key] for key in names]
    practised = rule("personal.between") ** 2 * float(weights @ weights)
    wide = TENTH * float(np.sqrt(weights @ strays.together[np.ix_(at, at)] @ weights + practised))
    low, middle, high = np.expm1(np.quantile(off, (0.1, 0.5, 0.9))).tolist()
    days = [
        one.lifted[variants[0]].scatter
        for one in shares
        if variants[0] in one.lifted and one.lifted[variants[0]].readings > 1
    ]
    return Surprise(
        variants,
        Spread(middle, low, high),
        Spread(0.0, float(np.expm1(-wide)), float(np.expm1(wide))),
        float(np.sqrt(np.mean(np.square(days)))) if days else 0.0,
        off.size,
    )


def _levels(shares: Sequence[Share], names: Sequence[str], strays: Strays) -> Array:
    """What each person lifts over the model's middle arm, (people, exercises); NaN where they do not."""
    return np.array(
        [
            [
                one.lifted[key].level - strays.middle[strays.places[key]] if key in one.lifted else np.nan
                for key in names
            ]
            for one in shares
        ]
    ).reshape(len(shares), len(names))
