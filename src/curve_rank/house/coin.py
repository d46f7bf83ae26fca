"""A coin over people: who does which way, and when it may be looked at."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

import numpy as np

from curve_rank.errors import BadInputError
from curve_rank.house.growth import Growth, GrowthLine, growth_line, people_needed
from curve_rank.practice.rules import rule

WAYS = (0.5, -0.5)
"""Either way as a dose: their difference is one."""


def way_of(seed: int, order: int) -> int:
    """Which way the coin gives to who joins next: of every two who join one after the other, one each."""
    first = int(np.random.default_rng((seed, order // 2)).integers(2))
    return first if order % 2 == 0 else 1 - first


def size_of(difference: float) -> int:
    """How many people a trial needs for a difference of arms' growth [cm].

    Raises
    ------
    BadInputError
    """
    low, high = rule("growth.least_difference"), rule("growth.most_difference")
    if not low <= difference <= high:
        raise BadInputError("difference", f"{difference:g} cm", f"{low:g} to {high:g} cm")
    return people_needed(difference, "arms")


def check_dates(begins: date, looks_on: date) -> None:
    """Refuse a trial that is over before an arm can have grown.

    Raises
    ------
    BadInputError
    """
    weeks = (looks_on - begins).days / 7
    if not rule("growth.least_weeks") <= weeks <= rule("growth.most_weeks"):
        right = f"{rule('growth.least_weeks'):.0f} to {rule('growth.most_weeks'):.0f} weeks after it begins"
        raise BadInputError("date to look", looks_on.isoformat(), right)


def answer_of(changes: Sequence[tuple[int, int, float, float]]) -> GrowthLine | None:
    """What a trial found: the first way over the second.

    Parameters
    ----------
    changes : sequence of tuple
        Person, way, change and its error [cm].
    """
    return answer_of_all([changes])


def answer_of_all(studies: Sequence[Sequence[tuple[int, int, float, float]]]) -> GrowthLine | None:
    """What several trials of one question found together: each with a mean of its own, one difference.

    Parameters
    ----------
    studies : sequence of sequence of tuple
        Of each trial, the changes as for `answer_of`. Somebody in two of them shares no sitting between them.
    """
    rows = [
        Growth(person, 2 * n, WAYS[way], change, error, n)
        for n, changes in enumerate(studies)
        for person, way, change, error in changes
    ]
    return growth_line(rows, by_coin=True)
