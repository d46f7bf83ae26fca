"""Quantities: the readings that are printed, compared and searched by, one number each for a head."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Literal

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.muscle import default_anatomy
from curve_rank.arm.readings import OF_HEADS, Readings
from curve_rank.data_files import read_toml

Way = Literal["up", "down"]


@dataclass(frozen=True)
class Quantity:
    """One reading as people read it.

    Attributes
    ----------
    key : str
        The field of `Readings`.
    name, unit : str
    scale : float
        From the reading's own unit to the printed one.
    digits : int
        To which it is told.
    better : str
        "up" or "down" where a teacher would call that way a gain, else empty.
    told_from : float
        The least change worth a word, in the printed unit.
    """

    key: str
    name: str
    unit: str
    told_from: float
    scale: float = 1.0
    digits: int = 0
    better: Way | Literal[""] = ""

    @property
    def of_head(self) -> bool:
        """Whether each head has its own."""
        return self.key in OF_HEADS

    def values(self, readings: Readings, head: str) -> Array:
        """In the printed unit, shape S; of one head where each has its own."""
        values = getattr(readings, self.key)
        if self.of_head:
            values = values[default_anatomy().index(head)]
        return np.asarray(self.scale * values)


@cache
def quantities() -> dict[str, Quantity]:
    """All quantities by key, in reading order."""
    table = read_toml("curve_rank.rating", "quantities.toml")
    return {key: Quantity(key=key, **entry) for key, entry in table.items()}
