"""Two to four set-ups beside each other: readings, their differences, and how sure each difference is.

All stand on the same draws of the arm, so that what is uncertain alike in both cancels.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.readings import LENGTHS, Readings
from curve_rank.errors import BadInputError
from curve_rank.rating.criteria import Basis
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.readings import Reading, all_readings
from curve_rank.rating.scoring import scores
from curve_rank.rating.similar import tension_by_length
from curve_rank.rating.spreads import Spread, spread_of
from curve_rank.rating.targets import Target, targets
from curve_rank.rating.words import TOO_CLOSE, chance_words

FEWEST, MOST = 2, 4
LEAST_EXTRA = 0.02
"""Tension over what the others place from which it is told of [of peak force]."""


@dataclass(frozen=True)
class Difference:
    """How much more the second reads than the first.

    Attributes
    ----------
    spread : Spread
        Of the difference, draw by draw.
    chance : float
        Part of the draws in which the difference has the sign of its median; those without any count half.
    chance_higher : float
        Part of the draws in which the second reads higher, counted alike.
    """

    spread: Spread
    chance: float
    chance_higher: float

    @property
    def is_open(self) -> bool:
        """Whether it is too close to call: its interval spans zero, or its sign is not resolved."""
        return self.spread.low <= 0 <= self.spread.high or self.chance < resolved()

    def says(self, digits: int) -> str:
        """How sure it is, in words and draws of a hundred, where its numbers are printed with some digits."""
        if self.spread.is_nothing(digits):
            return "no difference"
        if self.is_open:
            return TOO_CLOSE
        return f"{chance_words(self.chance)}, {100 * self.chance:.0f} in 100"


@dataclass(frozen=True)
class ComparedReading:
    """One reading of every column, and the difference of every pair of columns, first place first."""

    reading: Reading
    nominal: tuple[float, ...]
    columns: tuple[Spread, ...]
    differences: dict[tuple[int, int], Difference]

    @property
    def is_nothing(self) -> bool:
        """Whether it reads nothing to speak of in any column."""
        return all(max(abs(told.low), abs(told.high)) < self.reading.told_from / 2 for told in self.columns)

    def is_told(self, pair: tuple[int, int]) -> bool:
        """Whether a pair's difference is both large enough for a word and sure enough for one."""
        found = self.differences[pair]
        return abs(found.spread.median) >= self.reading.told_from and not found.is_open


@dataclass(frozen=True)
class OnlyHere:
    """What one column gives that no other does: more tension on a head at a length."""

    head: str
    length: str
    tension: float
    others: float


@dataclass(frozen=True)
class Comparison:
    """Set-ups beside each other for one target and lens."""

    columns: tuple[VariantModel, ...]
    target: Target
    lens: Lens
    readings: tuple[ComparedReading, ...]
    only_here: tuple[tuple[OnlyHere, ...], ...]


def compare(
    columns: tuple[VariantModel, ...], drawn: tuple[Readings, ...], target: Target, lens: Lens
) -> Comparison:
    """Put set-ups beside each other.

    Parameters
    ----------
    columns : tuple of VariantModel
        Two to four, of one group of muscles.
    drawn : tuple of Readings
        The same draws of each, S = (draws,).
    target, lens : Target, Lens
        Whose first head's readings are compared, and what the score is for.

    Raises
    ------
    BadInputError
    """
    if not FEWEST <= len(columns) <= MOST:
        raise BadInputError("variants", len(columns), f"{FEWEST} to {MOST} to compare")
    for one in columns:
        if one.variant.group != target.group:
            raise BadInputError(
                "variants", one.variant.name, f"set-ups for the {target.group}, as {target.name.lower()} asks"
            )
    head = target.heads[0]
    read = [
        _compared(
            reading,
            [reading.values(d, head) for d in drawn],
            [float(reading.values(m.readings, head)) for m in columns],
        )
        for reading in all_readings().values()
    ]
    return Comparison(
        columns, target, lens, (_score(columns, drawn, target, lens), *read), _only_here(drawn, columns)
    )


def resolved() -> float:
    """Chance from which a difference counts as one [1]."""
    return parameter_set().number("certainty.resolved")


def difference(first: Array, second: Array) -> Difference:
    """How much more the second reads than the first over the same draws, (draws,) each."""
    apart = second - first
    told = spread_of(apart)
    higher = float((apart > 0).mean() + (apart == 0).mean() / 2)
    return Difference(told, higher if told.median > 0 else 1 - higher if told.median < 0 else 0.5, higher)


def _compared(reading: Reading, drawn: list[Array], nominal: list[float]) -> ComparedReading:
    pairs = combinations(range(len(drawn)), 2)
    return ComparedReading(
        reading,
        tuple(nominal),
        tuple(spread_of(values) for values in drawn),
        {(i, j): difference(drawn[i], drawn[j]) for i, j in pairs},
    )


def _score(
    columns: tuple[VariantModel, ...], drawn: tuple[Readings, ...], target: Target, lens: Lens
) -> ComparedReading:
    """The score through the lens, as one more reading."""
    scored = Reading("score", f"Score by {lens.name.lower()}", "of 100", told_from=1, better="up")
    judged = target.judged

    def of(readings: Readings, m: VariantModel) -> Array:
        return scores(Basis(readings, m.variant, m.body, judged), lens)

    pairs = list(zip(drawn, columns, strict=True))
    return _compared(scored, [of(d, m) for d, m in pairs], [float(of(m.readings, m)) for m in columns])


def _only_here(
    drawn: tuple[Readings, ...], columns: tuple[VariantModel, ...]
) -> tuple[tuple[OnlyHere, ...], ...]:
    """Per column where it places clearly more tension than every other, most first."""
    heads = targets()[columns[0].variant.group].heads
    places = [columns[0].anatomy.index(head) for head in heads]
    placed = np.stack([median_tension(d)[places] for d in drawn])  # (columns, heads, lengths)
    found = []
    for n in range(len(columns)):
        others = np.delete(placed, n, axis=0).max(axis=0)
        extra = placed[n] - others
        cells = [tuple(cell) for cell in np.argwhere(extra >= LEAST_EXTRA).tolist()]
        found.append(
            tuple(
                OnlyHere(heads[h], LENGTHS[at], float(placed[n, h, at]), float(others[h, at]))
                for h, at in sorted(cells, key=lambda cell: -extra[cell])
            )
        )
    return tuple(found)


def median_tension(drawn: Readings) -> Array:
    """Medians of each head's tension while long, middling and short, (heads, 3) [of peak force]."""
    return np.asarray(np.median(tension_by_length(drawn), axis=2))
