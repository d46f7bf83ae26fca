"""Which arms explain a person: draws weighted by how well they predict the loads that were logged.

Every draw of a bank is an arm in the default body; how its loads stray from the middle arm's hardly
depends on whose body it is in, so one bank serves everybody. A draw says, in logarithms, by how much the
hands hold more or less on each exercise. Strength is one number more: it shifts all of them, and is
integrated out.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.special import chdtr, ndtri

from curve_rank.arm.arrays import Array
from curve_rank.arm.draws import deviates, uncertain

BANK = 411
"""Seed of the bank's draws."""
NEARLY_ALL = 0.98
"""Part of the weight that counts when loads are carried over."""
LEAST_HELD = 0.3
"""The least that hands hold [kg]: what a draw cannot lift at all counts as this."""


@dataclass(frozen=True)
class Evidence:
    """What was logged of one exercise.

    Attributes
    ----------
    variant : str
    excess : float
        Logarithm of what the hands held over what they should have [1], the mean over its sets.
    rise : float
        How the logarithm of what the hands hold rises with that of the strength [1].
    noise : float
        One standard deviation of the mean, without what the exercise strays by as a whole [1].
    sets : int
    """

    variant: str
    excess: float
    rise: float
    noise: float
    sets: int


@dataclass(frozen=True)
class Prior:
    """What is taken for granted: spread of an exercise as a whole, and of strength [1]; least to believe."""

    between: float
    strength: float
    least_effective: float
    misfit: float


@dataclass(frozen=True)
class PersonalArm:
    """The draws of a bank as one person weights them.

    Attributes
    ----------
    weights : array, shape (draws,)
        Summing to 1.
    strength : array, shape (draws,)
        Logarithm of the strength over that of the body, in each draw [1].
    strength_spread : float
        One standard deviation of it within a draw [1].
    effective : float
        Effective number of draws.
    fits : bool
        Whether the person is among the arms that were drawn. Where not, nothing is learned.
    why : str
        Why not; empty where it fits.
    """

    weights: Array
    strength: Array
    strength_spread: float
    effective: float
    fits: bool
    why: str = ""

    @property
    def heavy(self) -> Array:
        """Numbers of the draws that hold nearly all the weight."""
        order = np.argsort(-self.weights)
        enough = int(np.searchsorted(np.cumsum(self.weights[order]), NEARLY_ALL)) + 1
        return np.sort(order[:enough])

    def of_heavy(self) -> PersonalArm:
        """The same with those draws alone."""
        held = self.heavy
        weights = self.weights[held] / self.weights[held].sum()
        return replace(self, weights=weights, strength=self.strength[held])

    @property
    def middle(self) -> Array:
        """Deviates of the arm that explains the person best, their weighted mean: (uncertain numbers,)."""
        held = self.heavy
        rows = np.stack([deviates(BANK, int(n)) for n in held])
        return np.asarray(self.weights[held] @ rows / self.weights[held].sum())

    def moved(self, most: int = 6) -> list[tuple[str, float]]:
        """What moved most: names of uncertain numbers, with by how many spreads."""
        middle = self.middle
        order = np.argsort(-np.abs(middle))[:most]
        return [(uncertain()[n], float(middle[n])) for n in order]


@dataclass(frozen=True)
class Factor:
    """What the hands hold over what they should: the median and the ends of the 80 % interval [1]."""

    median: float
    low: float
    high: float


def stray(loads: Array, hands: float, middle: float) -> Array:
    """Logarithm of what the hands hold in each draw over what they hold with the middle arm [1].

    Parameters
    ----------
    loads : array, shape (draws,)
        [kg]
    hands : float
        What they carry of the body [kg].
    middle : float
        The load of the middle arm [kg].
    """
    return np.asarray(np.log(np.maximum(loads + hands, LEAST_HELD) / max(middle + hands, LEAST_HELD)))


def weigh(strays: Mapping[str, Array], evidence: Sequence[Evidence], prior: Prior) -> PersonalArm:
    """Weight a bank's draws by what was logged.

    For each draw what it leaves unexplained is normal: every exercise scatters by its sets' noise and by
    what it strays as a whole, and strength moves all of them together; the weight is that likelihood with
    strength integrated out.

    Parameters
    ----------
    strays : mapping
        Per variant, (draws,).
    evidence : sequence of Evidence
        What was lifted, against what was expected.
    prior : Prior
        How far a person's arm may stray.

    Raises
    ------
    ValueError
        For evidence of nothing.
    """
    if not evidence:
        raise ValueError("no evidence")
    left = np.stack([one.excess - strays[one.variant] for one in evidence], axis=1)
    own = np.array([one.noise**2 + prior.between**2 for one in evidence])
    rise = np.array([one.rise for one in evidence])
    whole = np.diag(own) + prior.strength**2 * np.outer(rise, rise)
    apart = np.einsum("ki,ij,kj->k", left, np.linalg.inv(whole), left)
    weights = np.exp(-0.5 * (apart - apart.min()))
    weights /= weights.sum()
    effective = float(1 / np.square(weights).sum())
    precise = float((rise**2 / own).sum() + prior.strength**-2)
    strength = (left * (rise / own)).sum(axis=1) / precise
    why = ""
    if chdtr(len(evidence), apart.min()) > prior.misfit:
        why = "no arm that was drawn explains these loads"
    elif effective < prior.least_effective:
        why = "too few of the arms that were drawn explain these loads"
    return PersonalArm(weights, strength, precise**-0.5, effective, not why, why)


def factor_of(arm: PersonalArm, strays: Array, rise: float) -> Factor:
    """What a person's hands hold on an exercise over what they should, with an 80 % interval.

    Parameters
    ----------
    arm : PersonalArm
        What was learned.
    strays : array, shape (draws,)
        Of the exercise.
    rise : float
        As in `Evidence`.
    """
    middle = strays + rise * arm.strength
    wide = rise * arm.strength_spread
    # Each draw stands for a normal around it, here for as many places of it.
    spread = np.concatenate([middle + place * wide for place in _PLACES])
    low, median, high = _weighted(spread, np.tile(arm.weights, len(_PLACES)))
    return Factor(*(float(np.exp(v)) for v in (median, low, high)))


_PLACES = tuple(float(v) for v in ndtri((np.arange(9) + 0.5) / 9))


def _weighted(values: Array, weights: Array) -> Array:
    """A tenth, the middle and nine tenths of weighted values."""
    order = np.argsort(values)
    reached = np.cumsum(weights[order]) - weights[order] / 2
    return np.asarray(np.interp((0.1, 0.5, 0.9), reached / weights.sum(), values[order]))
