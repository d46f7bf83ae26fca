"""How arms grew with what was done, over people: one line through changes of circumference.

    change = μ of the study + order + person + β·dose + error                                  (H3)

A person's consecutive blocks share a sitting, so their errors go against each other: correlation −½. How much
people differ is found by restricted maximum likelihood, the interval after Knapp and Hartung (2003) with
two degrees of freedom less than there are people. Without a coin it says that those who did more also grew
more, and no more.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil
from typing import Literal

import numpy as np
from scipy.optimize import minimize_scalar
from scipy.special import ndtri, stdtr, stdtrit

from curve_rank.arm.arrays import Array
from curve_rank.practice.rules import rule

MOST_APART = 3.0
"""So far people's own growth may lie apart, one standard deviation [cm]."""
Design = Literal["dose", "arms", "in turn"]
DESIGNS: dict[Design, str] = {
    "dose": "as much as each does anyway",
    "arms": "a coin gives each person one way",
    "in turn": "each does both ways, a coin says which first",
}


@dataclass(frozen=True)
class Growth:
    """What one block did to one person's arm.

    Attributes
    ----------
    person, block : int
        Blocks of a person are numbered one after the other; those that follow each other share a sitting.
    dose : float
        Over the usual, as a part of it; or which way, as ±½ [1].
    change : float
        Of the circumference [cm].
    error : float
        Of that change, one standard deviation [cm].
    study : int
        Of which it is part: each has a mean of its own.
    """

    person: int
    block: int
    dose: float
    change: float
    error: float
    study: int = 0


@dataclass(frozen=True)
class GrowthLine:
    """How growth follows the dose.

    Attributes
    ----------
    slope, low, high : float
        For one more of the dose, with the 95 % interval [cm].
    chance : float
        How seldom chance makes such a slope, to either side [1].
    apart : float
        How far people's own growth lies apart, one standard deviation [cm].
    people, blocks : int
    by_coin : bool
    """

    slope: float
    low: float
    high: float
    chance: float
    apart: float
    people: int
    blocks: int
    by_coin: bool

    @property
    def differs(self) -> bool:
        """Whether more than chance sets them apart."""
        return self.chance < 1 - rule("growth.sure")

    @property
    def says(self) -> str:
        """What may be said."""
        if not self.differs:
            return f"no difference that {self.people} people could show"
        way = "more" if self.slope > 0 else "less"
        if self.by_coin:
            return f"the coin’s way made arms grow {way}"
        return f"those who did more also grew {way}; whether because of it, nobody has tried"


def growth_line(rows: Sequence[Growth], *, by_coin: bool) -> GrowthLine | None:
    """The line through what was measured; None for fewer people or doses than show anything."""
    people = sorted({one.person for one in rows})
    doses, studies = np.array([one.dose for one in rows]), len({one.study for one in rows})
    if len(people) < rule("growth.least_people") + studies - 1 or np.ptp(doses) < 1e-9:
        return None
    change = np.array([one.change for one in rows])
    table, kept = _table(rows, doses), _errors(rows)
    same = np.array([[float(a.person == b.person) for b in rows] for a in rows])

    def lack(apart: float) -> float:
        inverse, about, _ = _solved(table, kept + apart**2 * same, change)
        signs, size = np.linalg.slogdet(kept + apart**2 * same)
        left = change - table @ about
        return float(signs * size + np.linalg.slogdet(table.T @ inverse @ table)[1] + left @ inverse @ left)

    found = minimize_scalar(lack, bounds=(0.0, MOST_APART), method="bounded", options={"xatol": 1e-3})
    apart = float(found.x) if lack(float(found.x)) < lack(0.0) else 0.0
    inverse, about, covariance = _solved(table, kept + apart**2 * same, change)
    left, free = change - table @ about, len(people) - 1 - studies
    scale = float(left @ inverse @ left) / max(len(rows) - table.shape[1], 1)
    error = float(np.sqrt(scale * covariance[0, 0]))
    slope, wide = float(about[0]), float(stdtrit(free, 1 - (1 - rule("growth.sure")) / 2)) * error
    chance = 2 * float(stdtr(free, -abs(slope) / max(error, 1e-12)))
    return GrowthLine(slope, slope - wide, slope + wide, chance, apart, len(people), len(rows), by_coin)


@dataclass(frozen=True)
class Together:
    """What a house found, and what other houses told of the same, each with its weight.

    Attributes
    ----------
    slope, low, high : float
        With the 95 % interval [cm].
    of_others : float
        The others' part of the weight [1].
    """

    slope: float
    low: float
    high: float
    of_others: float


def with_others(line: GrowthLine | None, others: Sequence[tuple[float, float]]) -> Together | None:
    """The mean of what was found here and elsewhere, weighed by how sure each is; None of nothing.

    Parameters
    ----------
    line : GrowthLine or None
        What was found here.
    others : sequence of tuple
        What each other house told, and its error, one standard deviation [cm].
    """
    sure = float(ndtri(1 - (1 - rule("growth.sure")) / 2))
    own = [(line.slope, (line.high - line.low) / (2 * sure))] if line else []
    found = np.array([*own, *others]).reshape(-1, 2)
    if not len(found):
        return None
    weight = 1 / np.maximum(found[:, 1], 1e-6) ** 2
    mean, wide = float(weight @ found[:, 0] / weight.sum()), sure / float(np.sqrt(weight.sum()))
    return Together(mean, mean - wide, mean + wide, float(weight[len(own) :].sum() / weight.sum()))


def people_needed(difference: float, design: Design, blocks: int = 1) -> int:
    """How many people show a difference between −30 and +30 % of the dose, four times in five.

    Parameters
    ----------
    difference : float
        [cm]
    design : str
        One of `DESIGNS`.
    blocks : int
        Of each person.
    """
    wanted = float(ndtri(1 - (1 - rule("growth.sure")) / 2) + ndtri(rule("growth.power")))
    error, apart = rule("growth.error"), rule("growth.apart")
    if design == "in turn":
        one = 3 * error**2  # of the difference of two changes that share a sitting
    else:
        # blocks that follow each other share sittings: of their mean only the ends are left
        one = (error / blocks) ** 2 + apart**2
        one *= 4 if design == "arms" else rule("growth.by_dose")
    return ceil(one * (wanted / difference) ** 2) + 2


def _solved(table: Array, covariance: Array, change: Array) -> tuple[Array, Array, Array]:
    """Inverse covariance, what was found, and its covariance."""
    inverse = np.linalg.inv(covariance)
    found = np.linalg.inv(table.T @ inverse @ table)
    return np.asarray(inverse), found @ (table.T @ inverse @ change), np.asarray(found)


def _table(rows: Sequence[Growth], doses: Array) -> Array:
    """Dose, a mean for each study, and the order of blocks where one study has several."""
    studies = sorted({one.study for one in rows})
    order = np.array([float(one.block) for one in rows])
    columns = [doses, *(np.array([float(one.study == study) for one in rows]) for study in studies)]
    several = len(studies) == 1 and np.ptp(order)
    return np.column_stack([*columns, *([order - order.mean()] if several else [])])


def _errors(rows: Sequence[Growth]) -> Array:
    """Covariance of the errors of changes."""
    table = np.zeros((len(rows), len(rows)))
    for n, one in enumerate(rows):
        for m, other in enumerate(rows):
            if one.person == other.person and abs(one.block - other.block) <= 1:
                table[n, m] = one.error * other.error * (1.0 if n == m else -0.5)
    return table
