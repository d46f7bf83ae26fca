"""The readings a teacher quotes, with their intervals over draws of the arm."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.arm.arrays import Array
from curve_rank.arm.readings import Readings
from curve_rank.rating.criteria import Basis
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.readings import quoted_readings
from curve_rank.rating.scoring import scores
from curve_rank.rating.spreads import spread_of
from curve_rank.rating.targets import Target


@dataclass(frozen=True)
class ReadingInterval:
    """One reading: its key and name, value, interval and unit, and to how many digits it is printed."""

    key: str
    name: str
    value: float
    low: float
    high: float
    unit: str
    digits: int = 0


def reading_intervals(
    modelled: VariantModel, drawn: Readings, target: Target, lens: Lens
) -> tuple[ReadingInterval, ...]:
    """Score, load, and the readings of the target's first head, each with its interval.

    Parameters
    ----------
    modelled : VariantModel
        The set-up, modelled.
    drawn : Readings
        Of draws of the same variant, S = (draws,).
    target, lens : Target, Lens
        What the score is for.
    """
    head = target.heads[0]
    basis = Basis(drawn, modelled.variant, modelled.body, target)
    return (
        _interval("score", f"Score by {lens.name.lower()}", scores(basis, lens), "of 100", 0),
        *(
            _interval(one.key, one.name, one.values(drawn, head), one.unit, one.digits)
            for one in quoted_readings()
        ),
    )


def _interval(key: str, name: str, many: Array, unit: str, digits: int) -> ReadingInterval:
    found = spread_of(many)
    return ReadingInterval(key, name, found.median, found.low, found.high, unit, digits)
