"""What a ranking and the claims become when one number of the model is something else.

The number alone is off; what that does to the arm of which every other number is as published is added to
what the draws say. With nothing off a list and a verdict are thus just as they stand everywhere else.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.draws import uncertain
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.certainty import TOP, drawn_scores
from curve_rank.rating.draws import off_draws
from curve_rank.rating.ranking import Ranking
from curve_rank.study.verdicts import ClaimSetups, Outcome, effects, outcome_of

MOST_SPREADS = 3.0
"""So far off a number may be doubted."""
STOPS = tuple(float(stop) for stop in np.arange(-MOST_SPREADS, MOST_SPREADS + 0.1, 0.5))
"""By how many spreads a number is off, one after the other."""
AS_IT_IS = STOPS.index(0.0)


@dataclass(frozen=True)
class Doubted:
    """A ranking with one number alone off.

    Attributes
    ----------
    ranking : Ranking
        As it stands.
    scores, loads : array, shape (rows, stops)
        What every row would score and take [kg]; rows as they stand.
    """

    ranking: Ranking
    scores: Array
    loads: Array

    def order(self, stop: int) -> tuple[int, ...]:
        """The rows' places in `ranking.rows` at a stop, best first; equal scores by name."""
        rows, at = self.ranking.rows, self.scores[:, stop]
        return tuple(sorted(range(len(rows)), key=lambda n: (-at[n], rows[n].variant.name)))


@dataclass(frozen=True)
class StandsOn:
    """A number that a list stands on.

    Attributes
    ----------
    parameter : str
    part : float
        Of what all numbers, each by one spread, do to the differences of the first ten [1].
    other_first : tuple of str
        Which variants would be first instead, with it a spread lower or higher.
    """

    parameter: str
    part: float
    other_first: tuple[str, ...]


def doubted(ranking: Ranking, parameter: str, besides: Mapping[str, float] = MappingProxyType({})) -> Doubted:
    """A ranking at every stop of a number.

    Parameters
    ----------
    ranking : Ranking
        Of at least one row.
    parameter : str
        One of `uncertain()`.
    besides : mapping, optional
        Others that are off at every stop, and by how many of their spreads.
    """
    asked = ranking.question
    variants = tuple(row.variant for row in ranking.rows)
    drawn = off_draws(variants, asked.body, asked.effort, _stops(parameter, besides))
    rows = ranking.rows
    at, loads = _scores(ranking, drawn), np.stack([one.load for one in drawn])
    return Doubted(
        ranking,
        np.clip(np.array([[row.score] for row in rows]) + _off(at), 0.0, 100.0),
        np.array([[row.load.median] for row in rows]) + _off(loads),
    )


def stands_on(ranking: Ranking, apart: tuple[Readings, ...]) -> tuple[StandsOn, ...]:
    """The numbers that the first ten of a list stand on, the most important first.

    Parameters
    ----------
    ranking : Ranking
        As it stands.
    apart : tuple of Readings
        Of every row's variant, S = (draws,): those in which one number alone is off.
    """
    top = ranking.rows[:TOP]
    if len(top) < 2:
        return ()
    at = _scores(ranking, apart)
    printed = np.array([[row.score] for row in ranking.rows]) + at - at[:, :1]
    by_spread = effects(at[: len(top)])
    apart_by = np.stack([by_spread[n] - by_spread[n + 1 :].mean(axis=0) for n in range(len(top) - 1)])
    whole = float((apart_by**2).sum())
    first = [ranking.rows[int(n)].variant.id for n in printed.argmax(axis=0)]
    found = [
        StandsOn(
            name,
            float((apart_by[:, k] ** 2).sum()) / whole,
            tuple(dict.fromkeys(one for one in first[2 * k + 1 : 2 * k + 3] if one != first[0])),
        )
        for k, name in enumerate(uncertain())
        if whole > 0
    ]
    return tuple(sorted(found, key=lambda one: -one.part))


@dataclass(frozen=True)
class DoubtedClaim:
    """What is said of a claim as all is published, and at every stop of a number."""

    key: str
    now: Outcome
    outcomes: tuple[Outcome, ...]

    @property
    def stands(self) -> bool:
        """Whether it reads the same at all of them."""
        return len(set(self.outcomes)) == 1


def doubted_claims(
    asked: dict[str, ClaimSetups],
    parameter: str,
    draw: Callable[[tuple[Variant, ...]], tuple[Readings, ...]],
    body: Body,
    effort: float,
    besides: Mapping[str, float] = MappingProxyType({}),
) -> tuple[DoubtedClaim, ...]:
    """Claims at every stop of a number.

    Parameters
    ----------
    asked : dict of ClaimSetups
        By key.
    parameter : str
        One of `uncertain()`.
    draw : callable
        Makes the fixed draws of set-ups.
    body, effort
        Whose, and of what repetitions.
    besides : mapping, optional
        As for `doubted`.
    """
    setups = tuple(dict.fromkeys(v for one in asked.values() for v in one.setups))
    made = off_draws(setups, body, effort, _stops(parameter, besides))
    fixed, off = (dict(zip(setups, some, strict=True)) for some in (draw(setups), made))
    found = []
    for key, one in asked.items():
        drawn, moved = (
            one.margins(one.sizes(tuple(some[v] for v in one.setups), body)) for some in (fixed, off)
        )
        outcomes = tuple(outcome_of(drawn + by)[0] for by in _off(moved))
        found.append(DoubtedClaim(key, outcome_of(drawn)[0], outcomes))
    return tuple(found)


def _scores(ranking: Ranking, drawn: tuple[Readings, ...]) -> Array:
    """Scores of every row, (rows, draws)."""
    by_row = {row.variant.id: one for row, one in zip(ranking.rows, drawn, strict=True)}
    return drawn_scores(ranking, by_row).T


def _stops(parameter: str, besides: Mapping[str, float]) -> list[dict[int, float]]:
    """What is off: nothing, and then at every stop the number and all that is off besides."""
    places = {name: place for place, name in enumerate(uncertain())}
    others = {places[name]: spreads for name, spreads in besides.items()}
    return [{}, *(others | {places[parameter]: stop} for stop in STOPS)]


def _off(at: Array) -> Array:
    """What being off does at every stop, the last axis, from values as published and at every stop."""
    return np.asarray(at[..., 1:] - at[..., :1])
