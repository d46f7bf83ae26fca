"""Variants beside each other: whose curves are alike, and what one adds to another."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.muscle import default_anatomy
from curve_rank.arm.readings import THIRDS
from curve_rank.rating.modelling import Modelled
from curve_rank.rating.vocabulary import aims

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Neighbour:
    """A variant with a like curve; `difference` is 0 for the same, near 1 for a very different one."""

    modelled: Modelled
    difference: float


@dataclass(frozen=True)
class Complement:
    """A variant that adds what another lacks: how much tension, and on which head at which length."""

    modelled: Modelled
    gain: float
    head: str
    length: str


def neighbours(modelled: Modelled, others: tuple[Modelled, ...], *, most: int = 5) -> tuple[Neighbour, ...]:
    """The variants of the same group whose effort and head lengths run most alike along the rep."""
    mine = _curve(modelled)
    found = [
        Neighbour(other, float(np.sqrt(((mine - _curve(other)) ** 2).mean())))
        for other in _same_group(modelled, others)
    ]
    return tuple(sorted(found, key=lambda n: (n.difference, n.modelled.variant.name))[:most])


def complements(modelled: Modelled, others: tuple[Modelled, ...], *, most: int = 3) -> tuple[Complement, ...]:
    """The variants that add most tension where this one places least, head by head and length by length."""
    mine = placed(modelled)
    heads = aims()[modelled.variant.target].heads
    found = []
    for other in _same_group(modelled, others):
        gain = np.maximum(placed(other) - mine, 0)
        head, length = np.unravel_index(int(gain.argmax()), gain.shape)
        found.append(Complement(other, float(gain.sum()), heads[int(head)], THIRDS[int(length)]))
    return tuple(sorted(found, key=lambda c: (-c.gain, c.modelled.variant.name))[:most])


def placed(modelled: Modelled) -> Array:
    """Mean tension of each counted head while long, middling and short, (heads, 3) [of peak force]."""
    rows = []
    for key in aims()[modelled.variant.target].heads:
        head = modelled.head(key)
        middle = max(0.0, head.mean_tension - head.long_tension - head.short_tension)
        rows.append((head.long_tension, middle, head.short_tension))
    return np.array(rows)


def _same_group(modelled: Modelled, others: tuple[Modelled, ...]) -> list[Modelled]:
    return [
        o
        for o in others
        if o.variant.target == modelled.variant.target and o.variant.id != modelled.variant.id
    ]


def _curve(modelled: Modelled) -> Array:
    """Effort over its own peak, and the counted heads' lengths, along the rep."""
    effort = np.where(modelled.along("demand") > 0, modelled.along("effort"), 0.0)
    places = [default_anatomy().index(key) for key in aims()[modelled.variant.target].heads]
    lengths = modelled.batch.geometry.percent[places, modelled.place] / 100
    return np.concatenate((effort[None] / max(float(effort.max()), 1e-9), lengths))
