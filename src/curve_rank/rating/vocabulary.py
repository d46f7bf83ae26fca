"""Targets, criteria, lenses, joints and cautions as the data files beside this module state them."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass, replace
from functools import cache
from importlib.resources import files
from typing import Any

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.parameters import parameter_set
from curve_rank.errors import UnknownNameError


def ramp(part: float | Array) -> Array:
    """0 below 0, 1 above 1, itself between."""
    if np.ndim(part) == 0:
        return np.float64(min(1.0, max(0.0, float(part))))  # type: ignore[return-value]
    return np.clip(part, 0.0, 1.0)


@dataclass(frozen=True)
class Aim:
    """What a ranking is for: one head, or several weighted by their peak force."""

    key: str
    name: str
    group: str
    heads: tuple[str, ...]


@dataclass(frozen=True)
class Criterion:
    """A reading's fixed 0–100 scale."""

    key: str
    name: str
    says: str
    unit: str
    zero: float
    full: float

    def score(self, value: float | Array) -> Array:
        """0 at `zero` or beyond, 100 at `full` or beyond, straight between."""
        return 100 * ramp((value - self.zero) / (self.full - self.zero))


@dataclass(frozen=True)
class Limit:
    """A constraint of a lens: a criterion's reading must not lie below or above a bound."""

    criterion: str
    at_least: float | None = None
    at_most: float | None = None

    def broken_by(self, value: float) -> bool:
        """Whether a reading breaks it."""
        low = self.at_least is not None and value < self.at_least
        return low or (self.at_most is not None and value > self.at_most)


@dataclass(frozen=True)
class Lens:
    """A weighting of criteria and the school it stands for.

    Attributes
    ----------
    key, name, school : str
    weights : tuple of (criterion, weight)
        Adding up to 1.
    curves : tuple of (criterion, zero, full)
        Scales of its own where it does not take the criterion's.
    limits : tuple of Limit
        What a variant must satisfy to be ranked.
    """

    key: str
    name: str
    school: str
    weights: tuple[tuple[str, float], ...]
    curves: tuple[tuple[str, float, float], ...] = ()
    limits: tuple[Limit, ...] = ()

    def criterion(self, key: str) -> Criterion:
        """A criterion on this lens's scale."""
        found = criteria()[key]
        for name, zero, full in self.curves:
            if name == key:
                return replace(found, zero=zero, full=full)
        return found


@dataclass(frozen=True)
class JointNoteScale:
    """When one joint note counts as strain."""

    note: str
    name: str
    unit: str
    easy: float
    hard: float

    def says(self, value: float) -> str:
        """The note and its value in words."""
        return f"{self.name}: {value:.0f}{'' if self.unit == '°' else ' '}{self.unit}"

    def strain(self, value: float | Array) -> Array:
        """0 at `easy` or below, 1 at `hard` or above."""
        return ramp((value - self.easy) / (self.hard - self.easy))


@dataclass(frozen=True)
class Joint:
    """A joint that can be spared, and the notes that speak for it."""

    key: str
    name: str
    notes: tuple[JointNoteScale, ...]


@dataclass(frozen=True)
class Caution:
    """A caution in plain words."""

    key: str
    name: str
    says: str


Array = NDArray[np.float64]

LOADS = {
    "dumbbell": "dumbbells",
    "barbell": "barbell",
    "angled_bar": "angled bar",
    "neutral_bar": "neutral-handle bar",
    "cable": "cable",
    "band": "bands",
    "machine": "curl machine",
    "body_weight": "body weight",
}
BENCHES = {
    "incline_bench": "incline bench",
    "flat_bench": "flat bench",
    "pad_bench": "pad bench",
    "upright_seat": "upright seat",
    "pull_up_bar": "pull-up bar",
    "dip_bars": "dip bars",
    "low_bar": "low bar",
    "no_bench": "none of these",
}
EQUIPMENT = {**LOADS, **BENCHES}


@cache
def aims() -> dict[str, Aim]:
    """Every head that can be a target, and the groups, in reading order."""
    counted = [h for h in parameter_set().heads if h.counted]
    heads = [Aim(h.key, h.name, h.group, (h.key,)) for h in counted]
    flexors = tuple(h.key for h in counted if h.group == "flexors")
    extensors = tuple(h.key for h in counted if h.group == "extensors")
    groups = [
        Aim("biceps", "Biceps, both heads", "flexors", ("biceps_long", "biceps_short")),
        Aim("flexors", "Elbow flexors", "flexors", flexors),
        Aim("extensors", "Triceps, all heads", "extensors", extensors),
    ]
    ordered = heads[:2] + groups[:1] + heads[2:4] + groups[1:2] + heads[4:] + groups[2:]
    return {aim.key: aim for aim in ordered}


def long_head(group: str) -> Aim:
    """The long head of a group: what is looked at where nobody asks for another."""
    return aims()["biceps_long" if group == "flexors" else "triceps_long"]


@cache
def criteria() -> dict[str, Criterion]:
    """All criteria by key."""
    return {key: Criterion(key=key, **entry) for key, entry in _read("criteria.toml").items()}


@cache
def lenses() -> dict[str, Lens]:
    """The built-in lenses by key."""
    return {
        key: Lens(key, entry["name"], entry["school"], tuple(entry["weights"].items()))
        for key, entry in _read("lenses.toml").items()
    }


@cache
def joints() -> dict[str, Joint]:
    """Joints that can be spared."""
    table = {key: entry for key, entry in _read("joints.toml").items() if isinstance(entry, dict)}
    return {
        key: Joint(
            key, entry["name"], tuple(JointNoteScale(note=n, **scale) for n, scale in entry["notes"].items())
        )
        for key, entry in table.items()
    }


@cache
def spare_above() -> float:
    """Strain above which a set-up does not spare a joint."""
    return float(_read("joints.toml")["spare_above"])


@cache
def cautions() -> dict[str, Caution]:
    """Caution texts by tag."""
    return {key: Caution(key=key, **entry) for key, entry in _read("cautions.toml").items()}


def known(kind: str, key: str, table: dict[str, Any]) -> Any:
    """The table's entry, or an error that lists what there is.

    Raises
    ------
    UnknownNameError
    """
    if key not in table:
        raise UnknownNameError(kind, key, "one of: " + ", ".join(table))
    return table[key]


def _read(name: str) -> dict[str, Any]:
    return tomllib.loads(files("curve_rank.rating").joinpath(name).read_text(encoding="utf-8"))
