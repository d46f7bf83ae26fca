"""The readings a teacher quotes, with their intervals over draws of the arm."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.arm.arrays import Array
from curve_rank.arm.readings import Readings
from curve_rank.rating.criteria import Basis
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.scoring import scores
from curve_rank.rating.spreads import spread_of
from curve_rank.rating.targets import Target

WORKING_LOAD = "Working load"


@dataclass(frozen=True)
class ReadingInterval:
    """One reading: its name, value, interval and unit, and to how many digits it is told."""

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
    drawn : Readings
        Of draws of the same variant, S = (draws,).
    target, lens : Target, Lens
        What the score is for.
    """
    head = modelled.anatomy.index(target.heads[0])
    many = drawn.head(head)
    basis = Basis(drawn, modelled.variant, modelled.body.mass, target)

    def of(name: str, key: str, unit: str, scale: float = 1.0, digits: int = 0) -> ReadingInterval:
        return _interval(name, getattr(many, key), unit, scale, digits)

    return (
        _interval(f"Score by {lens.name.lower()}", scores(basis, lens), "of 100"),
        of(WORKING_LOAD, "load", "kg", digits=1),
        of("Length at the hard spot", "length_at_hard_spot", "% of range"),
        of("Share of the work", "work_share", "%", 100),
        of("Long-length tension", "long_tension", "% of peak force", 100),
        of("Short-length tension", "short_tension", "% of peak force", 100),
        of("Evenness", "evenness", "% of peak", 100),
        of("Slack", "slack_share", "% of the rep", 100),
    )


def _interval(name: str, many: Array, unit: str, scale: float = 1.0, digits: int = 0) -> ReadingInterval:
    told = spread_of(many).times(scale)
    return ReadingInterval(name, told.median, told.low, told.high, unit, digits)
