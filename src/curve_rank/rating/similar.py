"""Variants beside each other: whose curves are alike, and what one adds to another."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.readings import LENGTHS, Readings
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.targets import targets

ALIKE = 6
"""Digits to which two are told apart; what is alike to these stands in the order of names."""


@dataclass(frozen=True)
class Neighbour:
    """A variant with a like curve; `difference` is 0 for the same, near 1 for a very different one."""

    modelled: VariantModel
    difference: float


@dataclass(frozen=True)
class Complement:
    """A variant that adds what another lacks: how much tension, and on which head at which length."""

    modelled: VariantModel
    gain: float
    head: str
    length: str


def neighbours(
    modelled: VariantModel, others: tuple[VariantModel, ...], modeller: Modeller, *, most: int = 5
) -> tuple[Neighbour, ...]:
    """The variants of the same group whose effort and head lengths run most alike along the rep."""
    group = _same_group(modelled, others)
    found = [Neighbour(other, curves_apart(modelled, other, modeller)) for other in group]
    return tuple(sorted(found, key=lambda n: (round(n.difference, ALIKE), n.modelled.variant.name))[:most])


def complements(
    modelled: VariantModel, others: tuple[VariantModel, ...], modeller: Modeller, *, most: int = 3
) -> tuple[Complement, ...]:
    """The variants that add most tension where this one places least, head by head and length by length."""
    group = _same_group(modelled, others)
    mine, *tensions = (modeller.derived(m, "placed", partial(placed, m)) for m in (modelled, *group))
    heads = targets()[modelled.variant.group].heads
    found = []
    for other, tension in zip(group, tensions, strict=True):
        gain = np.maximum(tension - mine, 0)
        head, length = np.unravel_index(int(gain.argmax()), gain.shape)
        found.append(Complement(other, float(gain.sum()), heads[int(head)], LENGTHS[int(length)]))
    return tuple(sorted(found, key=lambda c: (-round(c.gain, ALIKE), c.modelled.variant.name))[:most])


def curves_apart(one: VariantModel, other: VariantModel, modeller: Modeller) -> float:
    """How far two curves lie apart along the rep, root mean square [1]."""
    return float(np.sqrt(((curve_of(one, modeller) - curve_of(other, modeller)) ** 2).mean()))


def curve_of(modelled: VariantModel, modeller: Modeller) -> Array:
    """Effort over its own peak, and the counted heads' lengths, along the rep: (1 + heads, samples) [1]."""
    return modeller.derived(modelled, "curve", partial(_curve, modelled))


def placed(modelled: VariantModel) -> Array:
    """Mean tension of each counted head while long, middling and short, (heads, 3) [of peak force]."""
    heads = [modelled.anatomy.index(key) for key in targets()[modelled.variant.group].heads]
    return np.asarray(tension_by_length(modelled.readings)[heads])


def tension_by_length(readings: Readings) -> Array:
    """Mean tension of every head while long, middling and short, (heads, 3, *S) [of peak force]."""
    long, short = readings.long_tension, readings.short_tension
    middle = np.maximum(0.0, readings.mean_tension - long - short)
    return np.stack((long, middle, short), axis=1)


def _same_group(modelled: VariantModel, others: tuple[VariantModel, ...]) -> list[VariantModel]:
    variant = modelled.variant
    return [o for o in others if o.variant.group == variant.group and o.variant.id != variant.id]


def _curve(modelled: VariantModel) -> Array:
    """Effort over its own peak, and the counted heads' lengths, along the rep."""
    effort = np.where(modelled.along("demand") > 0, modelled.along("effort"), 0.0)
    lengths = [modelled.length_along(key) / 100 for key in targets()[modelled.variant.group].heads]
    return np.stack((effort / max(float(effort.max()), 1e-9), *lengths))
