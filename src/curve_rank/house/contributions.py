"""What one person's log says of every exercise, in numbers that add up over people.

A person's readings are a sum (equation P1 of `study.personal`), to which the house adds one number for every
exercise, f: by how much everybody here lifts more on it, in logarithms, than the model's middle arm. With S
the readings' exercises, C their covariance with f known, and μ what the model expects of them,

    A = S'C⁻¹S,   a = S'C⁻¹(y − μ)

is all that a log says of f (equation H1). Both add up over people: who joins is added, who leaves is taken
away, and what is left is as if they had never been there.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import reduce
from typing import Any

import numpy as np
from scipy.linalg import cho_factor, cho_solve

from curve_rank.arm.arrays import Array
from curve_rank.study.personal import Evidence, PersonalArm, Prior, Strays

PARTS = ("information", "score", "rises", "readings")
DIGITS = 12
"""Significant digits in which what a log says is kept."""


@dataclass(frozen=True)
class Contribution:
    """What one log says, or several together.

    Attributes
    ----------
    variants : tuple of str
        The exercises, in the order of the arrays.
    information : array, shape (exercises, exercises)
        A [1].
    score : array, shape (exercises,)
        a [1].
    rises : array, shape (exercises,)
        By how much a load rises with the strength, summed over readings [1].
    readings : array, shape (exercises,)
        How many there are.
    people : int
    """

    variants: tuple[str, ...]
    information: Array
    score: Array
    rises: Array
    readings: Array
    people: int = 1

    def on(self, variants: Sequence[str]) -> Contribution:
        """The same over other exercises, of which it says nothing.

        Raises
        ------
        KeyError
            Where one of its own is not among them.
        """
        place = {key: n for n, key in enumerate(variants)}
        at = np.array([place[key] for key in self.variants], dtype=int)
        size = len(variants)
        information = np.zeros((size, size))
        information[np.ix_(at, at)] = self.information
        score, rises, readings = (np.zeros(size) for _ in range(3))
        score[at], rises[at], readings[at] = self.score, self.rises, self.readings
        return Contribution(tuple(variants), information, score, rises, readings, self.people)

    def plus(self, other: Contribution) -> Contribution:
        """Both together."""
        return self._with(other, 1)

    def minus(self, other: Contribution) -> Contribution:
        """Without what had been added."""
        return self._with(other, -1)

    def _with(self, other: Contribution, sign: int) -> Contribution:
        names = tuple(dict.fromkeys((*self.variants, *other.variants)))
        mine, theirs = self.on(names), other.on(names)
        return Contribution(
            names,
            mine.information + sign * theirs.information,
            mine.score + sign * theirs.score,
            mine.rises + sign * theirs.rises,
            mine.readings + sign * theirs.readings,
            self.people + sign * other.people,
        )

    @property
    def rise(self) -> Array:
        """By how much loads rise with the strength, a reading on average; 1 where there is none [1]."""
        return np.asarray(np.where(self.readings > 0, self.rises / np.maximum(self.readings, 1), 1.0))

    def as_data(self) -> dict[str, Any]:
        """As plain data, to be kept."""
        rows = {part: _plain(getattr(self, part)) for part in PARTS}
        return {"variants": list(self.variants), "people": self.people, **rows}

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> Contribution:
        """What was kept, read again."""
        information, score, rises, readings = (np.array(data[part], dtype=float) for part in PARTS)
        return cls(tuple(data["variants"]), information, score, rises, readings, int(data["people"]))


def nothing() -> Contribution:
    """What nobody says."""
    return Contribution((), np.zeros((0, 0)), np.zeros(0), np.zeros(0), np.zeros(0), 0)


def together(contributions: Iterable[Contribution]) -> Contribution:
    """What several logs say together."""
    return reduce(Contribution.plus, contributions, nothing())


def contribution_of(evidence: Sequence[Evidence], prior: Prior, strays: Strays) -> Contribution | None:
    """What a log says of every exercise; None where it has no reading of any that the strays are of.

    Parameters
    ----------
    evidence : sequence of Evidence
        Of one person.
    prior : Prior
        `between` is what sets this person's exercise apart, not the model's own error of it.
    strays : Strays
        Of the bank's arms.
    """
    arm = PersonalArm(tuple(one for one in evidence if one.variant in strays.places), prior, strays)
    if not arm.evidence:
        return None
    variants = tuple(sorted({one.variant for one in arm.evidence}))
    chosen = np.array([[float(one.variant == key) for key in variants] for one in arm.evidence])
    known = cho_factor(arm.covariance, lower=True)
    seen = cho_solve(known, chosen)
    rise = np.array([one.rise for one in arm.evidence])
    return Contribution(
        variants, chosen.T @ seen, seen.T @ arm.unexplained, chosen.T @ rise, chosen.sum(axis=0)
    )


def _plain(values: Array) -> list[Any]:
    return [
        _plain(one) if isinstance(one, np.ndarray) and one.ndim else float(f"{float(one):.{DIGITS}g}")
        for one in values
    ]
