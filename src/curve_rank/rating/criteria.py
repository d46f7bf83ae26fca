"""Criteria: what a set-up is judged by, each one reading on a fixed 0–100 scale.

The readings may be one rep's, a batch's or many draws': S is their shape, as in `arm.readings.Readings`.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.line_kinds import BodyWeightLine
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.joints import joints, ramp
from curve_rank.rating.readings import Reading, all_readings, registry
from curve_rank.rating.targets import Target, targets


@dataclass(frozen=True)
class Basis:
    """What a criterion is worked out from.

    Attributes
    ----------
    readings : Readings
        Shape S.
    variant : Variant
    body : Body
        Whose readings they are.
    target : Target
    """

    readings: Readings
    variant: Variant
    body: Body
    target: Target

    @property
    def moved(self) -> Array:
        """What both hands move, the body's part included, shape S [kg]."""
        return np.asarray(held(self.variant, self.readings.load, self.body.mass))

    @property
    def even_part(self) -> Array:
        """The target's share of the work over an even share of its group, at most 1, shape S."""
        heads, group = self.target.heads, targets()[self.variant.group].heads
        share = all_readings()["work_share"].of_heads(self.readings, heads)
        return np.minimum(share * len(group) / len(heads), 1.0)


@dataclass(frozen=True)
class Criterion:
    """A reading's fixed 0–100 scale.

    Attributes
    ----------
    key, name, says : str
    unit : str
        Of its value.
    zero, full : float
        Values that score 0 and 100.
    needs_share : float
        How far a score asks that the target does the work: it counts times the target's even part to this
        power; 0 not at all.
    reading : Reading or None
        What it judges; None where it is worked out from the set-up as well, by a function of its name.
    """

    key: str
    name: str
    says: str
    unit: str
    zero: float
    full: float
    needs_share: float = 0.0
    reading: Reading | None = None

    def value(self, basis: Basis) -> Array:
        """The reading behind it, shape S."""
        if self.reading is None:
            return OF_SETUP[self.key](basis)
        return self.reading.of_heads(basis.readings, basis.target.heads)

    def score(self, value: Array, basis: Basis) -> Array:
        """0 at `zero` or beyond, 100 at `full` or beyond, straight between; less where it needs share."""
        whole = 100 * ramp((value - self.zero) / (self.full - self.zero))
        return whole * basis.even_part**self.needs_share if self.needs_share else whole

    def printed(self, value: float) -> str:
        """A value as the reading is printed everywhere, with its unit."""
        return f"{self.number(value)} {self.reading.unit if self.reading else self.unit}"

    def number(self, value: float) -> str:
        """The same without its unit."""
        if self.reading is None:
            return f"{value:.3g}"
        return f"{self.reading.scale * value:.{self.reading.digits}f}"


@cache
def criteria() -> dict[str, Criterion]:
    """All criteria by key; one is called as its reading is, where nothing else is said."""
    found = {}
    for key, entry in registry()["criterion"].items():
        reading = all_readings()[entry["reading"]] if "reading" in entry else None
        named = {"name": reading.name} if reading else {}
        found[key] = Criterion(**(named | entry | {"key": key, "reading": reading}))
    return found


def parts_on_hands(variant: Variant) -> tuple[float, float]:
    """Parts of the load, and of body mass, that both hands carry together [1]."""
    hung = [line for line in variant.lines if isinstance(line, BodyWeightLine)]
    return (sum(line.added_carried for line in hung) if hung else 1.0), sum(line.carried for line in hung)


def held(variant: Variant, load: Any, mass: float) -> Any:
    """What both hands hold of a load and of the body, shape of `load` [kg]."""
    added, body = parts_on_hands(variant)
    return added * load + body * mass


def carried(variant: Variant) -> float:
    """The body in the hands, as the load that would ask as much of them, over body mass [1]."""
    added, body = parts_on_hands(variant)
    return body / added


def load(basis: Basis) -> Array:
    """What both arms move, over body mass [1]."""
    return np.asarray(2 / basis.variant.equipment.hands * basis.moved / basis.body.mass)


def steps(basis: Basis) -> Array:
    """The equipment's smallest step over what is moved [1]."""
    return np.asarray(basis.variant.equipment.smallest_step_kg / np.maximum(basis.moved, 1e-6))


def loaded_travel(basis: Basis) -> Array:
    """How far the rep's own joint goes while it is asked more than slack, shape S [degrees]."""
    return np.asarray(basis.readings.travel * (1 - basis.readings.slack_share))


def strictness(basis: Basis) -> Array:
    """How many of trunk and upper arm something else holds still [0–2]."""
    support = basis.variant.support
    return np.full(np.shape(basis.readings.load), float(support.trunk) + float(support.upper_arm))


def worst_strain(basis: Basis) -> Array:
    """The most strained joint's strain [0–1]."""
    return np.asarray(
        np.max([joint.strain(basis.readings, basis.body) for joint in joints().values()], axis=0)
    )


def strain_of(key: str) -> Callable[[Basis], Array]:
    """One joint's strain [0–1]."""
    return lambda basis: joints()[key].strain(basis.readings, basis.body)


def sparing_criterion(joint: str) -> str:
    """The criterion that judges how easy a set-up is on one joint."""
    return f"easy_{joint}"


OF_SETUP: dict[str, Callable[[Basis], Array]] = {
    "load": load,
    "steps": steps,
    "range": loaded_travel,
    "strictness": strictness,
    "joints": worst_strain,
} | {sparing_criterion(key): strain_of(key) for key in joints()}
"""The function behind each criterion that judges more than a reading."""
