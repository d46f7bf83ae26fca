"""The second pan of a claim about loads: what the logs of those who agreed say of it, beside the model."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from scipy.special import stdtr, stdtrit

from curve_rank.answers.means import Means
from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.house.shares import Share
from curve_rank.house.surprise import LEAST_BOTH
from curve_rank.practice.facts import Line, lines_for
from curve_rank.store.house import pooling
from curve_rank.study.claims import Claim, ClaimTest

if TYPE_CHECKING:
    from curve_rank.store.database import DbSession
    from curve_rank.store.viewers import Viewer

LOADS = ("load",)
"""Readings that logs say something of."""


@dataclass(frozen=True)
class HousePan:
    """What is lifted here by whoever does both sides of a claim.

    Attributes
    ----------
    people : int
    more, low, high : float
        How much more the first side lifts, with the 80 % interval of the mean over people [%].
    chance : float
        How sure it is that the left is right, by these people [1].
    """

    people: int
    more: float
    low: float
    high: float
    chance: float


def house_pan(db: DbSession, viewer: Viewer, means: Means, claim: Claim) -> HousePan | None:
    """What the newest month says of a claim about loads.

    None for another claim, set-ups that are changed, and fewer than three people who do both.
    """
    test = claim.test
    if test is None or test.reading not in LOADS or not test.less or any("~" in line for line in test.setups):
        return None
    there = pooling.months(db, viewer)
    shares = [Share.read(text) for text in pooling.shares(db, viewer, there[0])] if there else []
    wanted = tuple(v for v in means.variants if v.id in test.setups)
    lines = lines_for(wanted, Body(), means.modeller)
    pairs = [_of_person(share, test, lines) for share in shares]
    found = np.array([one for one in pairs if one is not None])
    if len(found) < LEAST_BOTH:
        return None
    parts, apart = found[:, 0], found[:, 1]
    sign = 1.0 if test.way == "up" else -1.0
    beyond = (sign * float(apart.mean()) - test.by) / _error(apart)
    wide = float(stdtrit(len(found) - 1, 0.9)) * _error(parts)
    low, more, high = (100 * float(np.expm1(parts.mean() + off)) for off in (-wide, 0.0, wide))
    return HousePan(len(found), more, low, high, float(stdtr(len(found) - 1, beyond)))


def _error(values: Array) -> float:
    """Of the mean over people."""
    return max(float(np.std(values, ddof=1) / np.sqrt(len(values))), 1e-6)


def _of_person(share: Share, test: ClaimTest, lines: dict[str, Line]) -> tuple[float, float] | None:
    """How one person's first side lies to the other: logarithm of the ratio, and what lies between [kg]."""
    loads = [
        (_load(lines[one], share.lifted[one].level), _load(lines[other], share.lifted[other].level))
        for one, other in zip(test.more, test.less, strict=True)
        if {one, other} <= lines.keys() and {one, other} <= share.lifted.keys()
    ]
    if not loads or min(min(pair) for pair in loads) <= 0:
        return None
    parts = [float(np.log(one / other)) for one, other in loads]
    return float(np.mean(parts)), float(np.mean([one - other for one, other in loads]))


def _load(line: Line, level: float) -> float:
    """The default body's load for the usual repetitions, as somebody's log has it [kg]."""
    hands = line.base + line.slope * usual_effort() + line.on_hands
    return float(hands * np.exp(level)) - line.on_hands
