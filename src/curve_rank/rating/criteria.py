"""Criteria: what a set-up is judged by, each one reading on a fixed 0–100 scale.

The readings may be one rep's, a batch's or many draws': S is their shape, as in `arm.readings.Readings`.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.muscle import default_anatomy
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.line_kinds import BodyWeightLine
from curve_rank.catalogue.schema import Variant
from curve_rank.data_files import read_toml
from curve_rank.rating.joints import joints, ramp
from curve_rank.rating.targets import Target


@dataclass(frozen=True)
class Basis:
    """What a criterion is worked out from.

    Attributes
    ----------
    readings : Readings
        Shape S.
    variant : Variant
    mass : float
        Body mass [kg].
    target : Target
    """

    readings: Readings
    variant: Variant
    mass: float
    target: Target

    @property
    def heads(self) -> list[int]:
        """The target's heads, as places in the anatomy."""
        return [default_anatomy().index(head) for head in self.target.heads]

    def over_heads(self, values: Array) -> Array:
        """Mean of a per-head reading over the target's heads, weighted by peak force, shape S."""
        weights = default_anatomy().peak_force[self.heads]
        return np.asarray(np.tensordot(weights / weights.sum(), values[self.heads], axes=1))

    @property
    def moved(self) -> Array:
        """What both hands move, the body's part included, shape S [kg]."""
        return np.asarray(self.readings.load + self.mass * carried(self.variant))


@dataclass(frozen=True)
class Criterion:
    """A reading's fixed 0–100 scale."""

    key: str
    name: str
    says: str
    unit: str
    zero: float
    full: float

    def value(self, basis: Basis) -> Array:
        """The reading behind it, shape S."""
        return VALUES[self.key](basis)

    def score(self, value: Array) -> Array:
        """0 at `zero` or beyond, 100 at `full` or beyond, straight between."""
        return 100 * ramp((value - self.zero) / (self.full - self.zero))


@cache
def criteria() -> dict[str, Criterion]:
    """All criteria by key."""
    table = read_toml("curve_rank.rating", "criteria.toml")
    return {key: Criterion(key=key, **entry) for key, entry in table.items()}


def carried(variant: Variant) -> float:
    """Part of body mass that the hands carry, both together [1]."""
    return sum(line.carried for line in variant.lines if isinstance(line, BodyWeightLine))


def long_tension(basis: Basis) -> Array:
    """Tension of the target while long [of peak force]."""
    return basis.over_heads(basis.readings.long_tension)


def short_tension(basis: Basis) -> Array:
    """Tension of the target while short [of peak force]."""
    return basis.over_heads(basis.readings.short_tension)


def tension(basis: Basis) -> Array:
    """Mean tension of the target [of peak force]."""
    return basis.over_heads(basis.readings.mean_tension)


def length_at_hard_spot(basis: Basis) -> Array:
    """Length of the target where the rep is hardest [% of range]."""
    return basis.over_heads(basis.readings.length_at_hard_spot)


def work_share(basis: Basis) -> Array:
    """The target's part of the joint's work [1]."""
    return np.asarray(basis.readings.work_share[basis.heads].sum(axis=0))


def evenness(basis: Basis) -> Array:
    """Mean demand over peak demand [1]."""
    return basis.readings.evenness


def slack_share(basis: Basis) -> Array:
    """Part of the rep that is slack [1]."""
    return basis.readings.slack_share


def load(basis: Basis) -> Array:
    """What both arms move, over body mass [1]."""
    return np.asarray(2 / basis.variant.equipment.hands * basis.moved / basis.mass)


def multi_joint(basis: Basis) -> Array:
    """The shoulder's part of the work [1]."""
    return basis.readings.multi_joint


def steps(basis: Basis) -> Array:
    """The equipment's smallest step over what is moved [1]."""
    return np.asarray(basis.variant.equipment.smallest_step_kg / np.maximum(basis.moved, 1e-6))


def strictness(basis: Basis) -> Array:
    """How many of trunk and upper arm something else holds still [0–2]."""
    support = basis.variant.support
    return np.full(np.shape(basis.readings.load), float(support.trunk) + float(support.upper_arm))


def worst_strain(basis: Basis) -> Array:
    """The most strained joint's strain [0–1]."""
    return np.asarray(np.max([joint.strain(basis.readings) for joint in joints().values()], axis=0))


VALUES: dict[str, Callable[[Basis], Array]] = {
    "long_tension": long_tension,
    "short_tension": short_tension,
    "tension": tension,
    "length_at_hard_spot": length_at_hard_spot,
    "share": work_share,
    "evenness": evenness,
    "no_slack": slack_share,
    "load": load,
    "multi_joint": multi_joint,
    "steps": steps,
    "strictness": strictness,
    "joints": worst_strain,
}
"""The function behind each criterion of the file."""
