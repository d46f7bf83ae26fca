"""Readings as people read them: named, printed, compared, listed and searched by; all stand in one file."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any, Literal

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.muscle import default_anatomy
from curve_rank.arm.readings import OF_HEADS, Readings
from curve_rank.data_files import read_toml

Way = Literal["up", "down"]


@dataclass(frozen=True)
class Reading:
    """One reading as people read it.

    Attributes
    ----------
    key : str
        The field of `Readings`.
    name, unit : str
    told_from : float
        The least change worth a word, in the printed unit.
    scale : float
        From the reading's own unit to the printed one.
    digits : int
        To which it is printed.
    better : str
        "up" or "down" where a teacher would call that way a gain, else empty.
    several : str
        How several heads read together: the mean by peak force, or the sum.
    quoted : int
        Place in the short list that a teacher quotes, from 1; 0 where it is not in it.
    """

    key: str
    name: str
    unit: str
    told_from: float
    scale: float = 1.0
    digits: int = 0
    better: Way | Literal[""] = ""
    several: Literal["mean", "sum"] = "mean"
    quoted: int = 0

    @property
    def of_head(self) -> bool:
        """Whether each head has its own."""
        return self.key in OF_HEADS

    def values(self, readings: Readings, head: str) -> Array:
        """In the printed unit, shape S; of one head where each has its own."""
        return np.asarray(self.scale * self.of_heads(readings, (head,)))

    def of_heads(self, readings: Readings, heads: tuple[str, ...]) -> Array:
        """In the arm model's unit, shape S; of several heads together where each has its own."""
        values = getattr(readings, self.key)
        if not self.of_head:
            return np.asarray(values)
        places = [default_anatomy().index(head) for head in heads]
        if len(places) == 1:  # draws are kept as 32 bits; ties are told apart in 64
            return np.asarray(values[places[0]], dtype=float)
        if self.several == "sum":
            return np.asarray(values[places].sum(axis=0))
        weights = default_anatomy().peak_force[places]
        return np.asarray(np.tensordot(weights / weights.sum(), values[places], axes=1))


@cache
def registry() -> dict[str, dict[str, dict[str, Any]]]:
    """The file: readings, and the criteria that judge by them."""
    return read_toml("curve_rank.rating", "readings.toml")


@cache
def all_readings() -> dict[str, Reading]:
    """All readings by key, in reading order."""
    return {key: Reading(key=key, **entry) for key, entry in registry()["reading"].items()}


def quoted_readings() -> tuple[Reading, ...]:
    """Those that a teacher quotes, in their order."""
    return tuple(sorted((one for one in all_readings().values() if one.quoted), key=lambda one: one.quoted))
