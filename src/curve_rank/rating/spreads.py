"""What draws say of one number: its median, which is what is printed, and the interval around it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.parameters import parameter_set


@dataclass(frozen=True)
class Spread:
    """Median and 80 % interval of one number over draws."""

    median: float
    low: float
    high: float

    def is_nothing(self, digits: int) -> bool:
        """Whether all of it rounds to nothing as it is printed: then no chance is told of it either."""
        return all(round(value, digits) == 0 for value in (self.median, self.low, self.high))


def interval() -> float:
    """Part of the draws that an interval holds [1]."""
    return parameter_set().number("certainty.interval")


def tails() -> tuple[float, float]:
    """Quantiles at which an interval begins and ends."""
    below = (1 - interval()) / 2
    return below, 1 - below


def spread_of(values: Array) -> Spread:
    """Of one number over draws, (draws,)."""
    return spreads_of(values[np.newaxis])[0]


def spreads_of(values: Array) -> list[Spread]:
    """Of several numbers over draws, (numbers, draws)."""
    found = quantiles(values, (tails()[0], 0.5, tails()[1])).tolist()
    return [Spread(median, low, high) for low, median, high in found]


def middle(values: Array) -> float:
    """A reading, or its median over draws where there are any."""
    return spread_of(values).median if np.ndim(values) else float(values)


def quantiles(values: Array, parts: tuple[float, ...]) -> Array:
    """Quantiles over draws, the last axis, on a last axis of their own.

    They stand where a fresh draw falls below them with just their probability, however few draws there are
    (Hyndman & Fan's sixth kind; as numpy's method "weibull", several times as quick for few draws).
    """
    rising, count = np.sort(values, axis=-1), values.shape[-1]
    place = np.clip(np.array(parts) * (count + 1) - 1, 0, count - 1)
    below = np.minimum(place.astype(np.intp), max(count - 2, 0))
    above = np.minimum(below + 1, count - 1)
    return np.asarray(rising[..., below] + (place - below) * (rising[..., above] - rising[..., below]))
