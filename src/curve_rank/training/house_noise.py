"""How much logs of a house scatter: own, day and week, found together from all who train there.

For each person the quadratic forms of MINQUE (Rao 1971), with the usual noise as the prior guess:

    q_k = y'P A_k P y,   M_kl = tr(P A_k P A_l),   P = V⁻¹ − V⁻¹X(X'V⁻¹X)⁻¹X'V⁻¹

A_k: same bout, same day, same week; X: a level an exercise and one slope. Whichever the noise,
E q = M·(own², day², week²), and both add up over people: who joins is added, who leaves is taken away.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from curve_rank.practice.rules import rule
from curve_rank.training.slopes import (
    Noise,
    SaidBout,
    covariance,
    slope_table,
    together,
    training_weeks,
    usual_noise,
)

DIGITS = 3
"""To which a house's noise is told: it then changes seldom."""


@dataclass(frozen=True)
class Scatter:
    """What one log says of the noise.

    Attributes
    ----------
    forms : tuple of float
        q: of bouts, days and weeks.
    weights : tuple of tuple of float
        M, 3 by 3.
    """

    forms: tuple[float, ...]
    weights: tuple[tuple[float, ...], ...]


def scatter_of(said: Sequence[SaidBout]) -> Scatter | None:
    """What a log says of the noise; None for fewer weeks or bouts than say anything.

    Parameters
    ----------
    said : sequence of SaidBout
        Of one person.
    """
    weeks = training_weeks(one.day for one in said)
    table = slope_table(said, np.ones((len(said), 1)))
    if len(weeks) < rule("noise.least_weeks") or table is None:
        return None
    inverse = np.linalg.inv(covariance(said, usual_noise()))
    seen = inverse @ table
    project = inverse - seen @ np.linalg.solve(table.T @ seen, seen.T)
    values = project @ np.array([one.value for one in said])
    kinds = together(said)
    forms = tuple(float(values @ kind @ values) for kind in kinds)
    through = [project @ kind for kind in kinds]
    weights = tuple(tuple(float((one * other.T).sum()) for other in through) for one in through)
    return Scatter(forms, weights)


def house_noise(people: Iterable[Scatter]) -> Noise:
    """The noise of a house; the usual one for fewer than ten people.

    Parameters
    ----------
    people : iterable of Scatter
        Of everyone whose log says something. The usual noise counts as some of them more.
    """
    found, usual = list(people), usual_noise()
    if len(found) < rule("noise.least_people"):
        return usual
    before = np.array([usual.own, usual.day, usual.week]) ** 2
    weights = np.sum([one.weights for one in found], axis=0)
    forms = np.sum([one.forms for one in found], axis=0)
    prior = rule("noise.usual_counts") * weights / len(found)
    squares = np.linalg.solve(weights + prior, forms + prior @ before)
    least = before * rule("noise.least_part") ** 2
    own, day, week = np.round(np.sqrt(np.maximum(squares, least)), DIGITS).tolist()
    return Noise(own, day, week)
