"""Which arm explains a person: loads as one normal distribution, conditioned on what was logged.

Every draw of a bank is an arm in the default body; how its loads stray from the middle arm's hardly depends
on whose body it is in, so one bank serves everybody. A draw says, in logarithms, by how much the hands hold
more or less on each exercise, and over all draws these numbers are near enough to normal. So is all else
that moves somebody's sets, and a reading of theirs is a sum (equation P1):

    y = m + a + b + r·s + r·t·(ĝ + g) − p·d + form + e

m, a: middle and stray of the exercise, by the bank; b: what no arm explains of it (practice, set-up);
s: logarithm of the strength over the body's; r: how y rises with s; t: weeks before today, at most 0;
ĝ, g: growth a week, as usual and as this person's; d: repetitions by which they misjudge what is left, p:
what one of them is worth; form: of the day; e: scatter. All that is not read yet follows by conditioning, in
closed form, however long the log is: nothing has to be drawn, so nothing dies as the log grows.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from statistics import NormalDist

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.draws import deviates, uncertain

BANK = 411
"""Seed of the bank's draws."""
LEAST_HELD = 0.3
"""The least that hands hold [kg]: what a draw cannot lift at all counts as this."""
TENTH = NormalDist().inv_cdf(0.9)
"""Where a tenth of a normal lies beyond [standard deviations]."""
AS_SCATTERED = 20
"""Readings that the usual scatter counts for, beside a person's own."""


@dataclass(frozen=True)
class Evidence:
    """One reading of a person: what one exercise said on one day.

    Attributes
    ----------
    variant : str
    excess : float
        y: logarithm of what the hands held over what they should have [1].
    rise : float
        r: how that rises with the logarithm of the strength [1].
    per_rep : float
        p: what one repetition more, or less, left than was said would make of it [1].
    noise : float
        One standard deviation of its scatter [1].
    week : float
        t: before the day for which is learned, at most 0 [weeks].
    day : int
        Readings of one day share their form.
    """

    variant: str
    excess: float
    rise: float
    per_rep: float
    noise: float
    week: float = 0.0
    day: int = 0


@dataclass(frozen=True)
class Prior:
    """What is taken for granted of anybody, one standard deviation each.

    Attributes
    ----------
    between : float
        Of b, an exercise as a whole [1].
    strength : float
        Of s, the logarithm of the strength [1].
    misjudged : float
        Of d, what is left [repetitions].
    growth, growth_spread : float
        ĝ, and of g [1 a week].
    form : float
        Of a day [1].
    """

    between: float
    strength: float
    misjudged: float
    growth: float
    growth_spread: float
    form: float


@dataclass(frozen=True)
class Strays:
    """How a bank's draws stray on some exercises, as one normal distribution.

    Attributes
    ----------
    places : mapping
        Of each exercise in the arrays.
    middle : array, shape (exercises,)
        m: the median of the draws [1].
    together : array, shape (exercises, exercises)
        Covariance of a [1].
    to_numbers : array, shape (uncertain numbers, exercises)
        Covariance of a with the deviates of the arm's uncertain numbers [1].
    """

    places: Mapping[str, int]
    middle: Array
    together: Array
    to_numbers: Array


def strays_of(rows: Mapping[str, Array], numbers: Sequence[int]) -> Strays:
    """The normal distribution that lies nearest to a bank's draws.

    Its spreads are those between which eight draws in ten lie: single draws that can hardly lift a thing at
    all would make the plain variance wider than nearly everybody is.

    Parameters
    ----------
    rows : mapping
        Per exercise how each draw strays, shape (draws,) [1].
    numbers : sequence of int
        Which draws of the bank they are.
    """
    table = np.stack(list(rows.values()), axis=1)
    low, middle, high = np.quantile(table, (0.1, 0.5, 0.9), axis=0)
    plain = np.maximum(table.std(axis=0), 1e-9)
    off = (table - table.mean(axis=0)) / plain * ((high - low) / (2 * TENTH))
    arms = np.stack([deviates(BANK, int(n)) for n in numbers])
    places = {key: n for n, key in enumerate(rows)}
    return Strays(places, middle, off.T @ off / len(off), arms.T @ off / len(off))


@dataclass(frozen=True)
class Factor:
    """What the hands hold over what they should: the median and the ends of the 80 % interval [1]."""

    median: float
    low: float
    high: float


@dataclass(frozen=True)
class PersonalArm:
    """Somebody's arm and strength, as far as their readings say.

    Attributes
    ----------
    evidence : tuple of Evidence
        Of exercises that the strays are of.
    prior : Prior
    strays : Strays
    """

    evidence: tuple[Evidence, ...]
    prior: Prior
    strays: Strays

    def factor(self, variant: str, rise: float) -> Factor:
        """What the hands hold today on an exercise over what they should, with an 80 % interval.

        Parameters
        ----------
        variant : str
            One that the strays are of.
        rise : float
            r there, as in `Evidence` [1].
        """
        at = self.strays.places[variant]
        own = self.prior.between**2
        with_read = (
            self.prior.strength**2 * rise * self._rise
            + self.strays.together[at, self._at]
            + own * (self._at == at)
        )
        middle = self.strays.middle[at] + with_read @ self._weights
        alone = self.prior.strength**2 * rise**2 + self.strays.together[at, at] + own
        wide = TENTH * np.sqrt(max(alone - with_read @ self._solved(with_read), 0.0))
        return Factor(*(float(np.exp(v)) for v in (middle, middle - wide, middle + wide)))

    @property
    def strength(self) -> float:
        """What the readings together say of the strength, over that of the body [1]."""
        return float(np.exp(self.prior.strength**2 * self._rise @ self._weights))

    @property
    def contradiction(self) -> float:
        """How seldom chance sets exercises so far apart from one another as these are: 0 to 1.

        Of the exercises' means alone, so that a long log is not refused for scatter that is a little wider
        than usual.
        """
        from scipy.special import chdtr  # SciPy is read in only where somebody has done sets

        seen = np.unique(self._at)
        means = np.stack([(self._at == at) / (self._at == at).sum() for at in seen])
        apart, spread = means @ self.unexplained, means @ self.covariance @ means.T
        return float(chdtr(len(seen), float(apart @ np.linalg.solve(spread, apart))))

    @property
    def likelihood(self) -> float:
        """Logarithm of how likely the readings are under the prior, but for what all priors share."""
        factors, _ = self._known
        return float(-0.5 * self.unexplained @ self._weights - np.log(np.diag(factors)).sum())

    @cached_property
    def middle(self) -> Array:
        """Deviates of the arm that explains the person best, (uncertain numbers,)."""
        return np.asarray(self.strays.to_numbers[:, self._at] @ self._weights)

    def moved(self, most: int = 6) -> list[tuple[str, float]]:
        """What moved most: names of uncertain numbers, with by how many spreads."""
        order = np.argsort(-np.abs(self.middle))[:most]
        return [(uncertain()[n], float(self.middle[n])) for n in order]

    @cached_property
    def _at(self) -> Array:
        return np.array([self.strays.places[one.variant] for one in self.evidence])

    @cached_property
    def _rise(self) -> Array:
        return np.array([one.rise for one in self.evidence])

    @cached_property
    def unexplained(self) -> Array:
        """What the readings leave unexplained by the middle arm and the usual growth."""
        grown = np.array([one.rise * one.week * self.prior.growth for one in self.evidence])
        seen = np.array([one.excess for one in self.evidence])
        return np.asarray(seen - self.strays.middle[self._at] - grown)

    @cached_property
    def covariance(self) -> Array:
        """Covariance of the readings, by equation P1."""
        prior, at, rise = self.prior, self._at, self._rise
        grown = rise * np.array([one.week for one in self.evidence])
        misjudged = np.array([one.per_rep for one in self.evidence])
        day = np.array([one.day for one in self.evidence])
        whole = (
            prior.strength**2 * np.outer(rise, rise)
            + prior.growth_spread**2 * np.outer(grown, grown)
            + prior.misjudged**2 * np.outer(misjudged, misjudged)
            + prior.form**2 * (day[:, None] == day)
            + self.strays.together[np.ix_(at, at)]
            + prior.between**2 * (at[:, None] == at)
        )
        return np.asarray(whole + np.diag(self._scatter**2))

    @cached_property
    def _scatter(self) -> Array:
        """Of each reading; wider for somebody whose readings of one exercise lie wider apart than usual."""
        usual = np.array([one.noise for one in self.evidence])
        form = np.hypot(usual, self.prior.form)
        off = self.unexplained / form
        about = np.concatenate(
            [off[self._at == at] - off[self._at == at].mean() for at in np.unique(self._at)]
        )
        free = len(off) - len(np.unique(self._at)) + AS_SCATTERED
        wider = max(1.0, float(np.sqrt((about @ about + AS_SCATTERED) / free)))
        return np.asarray(usual * wider)

    @cached_property
    def _known(self) -> tuple[Array, bool]:
        from scipy.linalg import cho_factor

        factors, lower = cho_factor(self.covariance, lower=True)
        return np.asarray(factors), bool(lower)

    @cached_property
    def _weights(self) -> Array:
        return self._solved(self.unexplained)

    def _solved(self, right: Array) -> Array:
        from scipy.linalg import cho_solve

        return np.asarray(cho_solve(self._known, right))


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
