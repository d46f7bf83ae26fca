"""Loads as a house lifts them: the offsets that an edition carries, what they do to facts and to learning."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy.special import ndtri

from curve_rank.arm.arrays import Array
from curve_rank.house.fit import HouseFit
from curve_rank.practice.facts import Facts, times

DIGITS = 5


@dataclass(frozen=True)
class HouseShift:
    """By how much a house lifts more than the model says, in logarithms.

    Attributes
    ----------
    middle, spread : mapping
        By exercise: the middle, and one standard deviation of what is not known of it [1].
    others : float
        Of an exercise that nobody here logs: the house's strength alone [1].
    """

    middle: Mapping[str, float]
    spread: Mapping[str, float]
    others: float

    def of(self, variant: str) -> float:
        """That of one exercise [1]."""
        return self.middle.get(variant, self.others)

    def text(self) -> str:
        """As it is kept."""
        return json.dumps({"middle": self.middle, "spread": self.spread, "others": self.others})

    @classmethod
    def read(cls, text: str) -> HouseShift:
        """What was kept, read again."""
        return cls(**json.loads(text))


def shift_of(fitted: HouseFit) -> HouseShift:
    """What a fit carries into an edition: every exercise that somebody logged."""
    offsets = fitted.offsets
    spread = np.sqrt(np.maximum(np.diag(offsets.covariance), 0.0))
    seen = [n for n, count in enumerate(fitted.said.readings) if count > 0]
    return HouseShift(
        {offsets.variants[n]: round(float(offsets.middle[n]), DIGITS) for n in seen},
        {offsets.variants[n]: round(float(spread[n]), DIGITS) for n in seen},
        round(float(fitted.strength), DIGITS),
    )


def as_the_house_lifts(facts: Mapping[str, Facts], shift: HouseShift, known: str = "") -> dict[str, Facts]:
    """Facts of a body as a house lifts; whose strength a known set tells is held against that set.

    Parameters
    ----------
    facts : mapping
        By variant id, of one body.
    shift : HouseShift
        What an edition carries.
    known : str
        Variant of the known set that the body's strength was found from, where there was one.
    """
    from_set = shift.of(known) if known else 0.0
    return {key: times(fact, float(np.exp(shift.of(key) - from_set))) for key, fact in facts.items()}


def as_a_house_strays(rows: Mapping[str, Array], shift: HouseShift) -> dict[str, Array]:
    """How a bank's draws stray where a house lifts: moved, and as much wider as is not known of that.

    Parameters
    ----------
    rows : mapping
        Per exercise how each draw strays from the model's middle arm, (draws,) [1].
    shift : HouseShift
        What an edition carries.
    """
    return {key: row + shift.of(key) + _wider(key, row.size, shift) for key, row in rows.items()}


def _wider(key: str, draws: int, shift: HouseShift) -> Array:
    """Even normal deviates, in an order of the exercise's own."""
    seed = int.from_bytes(hashlib.sha256(key.encode()).digest()[:8], "big")
    order = np.random.default_rng(seed).permutation(draws)
    return np.asarray(shift.spread.get(key, 0.0) * ndtri((order + 0.5) / draws))
