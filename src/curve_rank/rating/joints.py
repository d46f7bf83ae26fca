"""Joints that can be spared, and how much a rep strains them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from operator import itemgetter

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.readings import Readings
from curve_rank.data_files import read_toml


def ramp(part: Array) -> Array:
    """0 below 0, 1 above 1, itself between."""
    return np.minimum(np.maximum(part, 0.0), 1.0)  # for one number much quicker than np.clip


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

    def strain(self, readings: Readings, body: Body) -> Array:
        """0 at `easy` or below, 1 at `hard` or above, shape S; scaled as what a body's joints bear.

        A joint grows with the muscles that load it: forces as theirs do, moments as their forces and all
        lengths, so that a set-up strains a small woman as it does a large man.
        """
        bears = body.force_scale * (body.scale if self.unit == "N·m" else 1.0)
        return ramp((getattr(readings, self.note) / bears - self.easy) / (self.hard - self.easy))


@dataclass(frozen=True)
class Joint:
    """A joint that can be spared, and the notes that speak for it."""

    key: str
    name: str
    notes: tuple[JointNoteScale, ...]

    def strain(self, readings: Readings, body: Body) -> Array:
        """0 to 1, shape S: the worst of its notes, for a body."""
        return np.asarray(np.max([scale.strain(readings, body) for scale in self.notes], axis=0))


@dataclass(frozen=True)
class Strain:
    """How much a set-up strains a joint, and the note that says so."""

    joint: Joint
    strain: float
    says: str


@cache
def joints() -> dict[str, Joint]:
    """Joints that can be spared, by key."""
    return {
        key: Joint(key, entry["name"], tuple(_scale(note, name) for note, name in entry["notes"].items()))
        for key, entry in read_toml("curve_rank.rating", "joints.toml").items()
    }


def spare_above() -> float:
    """Strain above which a set-up does not spare a joint."""
    return parameter_set().number("joint_notes.spare_above")


def strains(readings: Readings, body: Body) -> tuple[Strain, ...]:
    """Strain of every joint of a body in one rep, the worst of its notes each."""
    result = []
    for joint in joints().values():
        graded = [(float(scale.strain(readings, body)), scale) for scale in joint.notes]
        strain, worst = max(graded, key=itemgetter(0))
        result.append(Strain(joint, strain, worst.says(float(getattr(readings, worst.note)))))
    return tuple(result)


def _scale(note: str, name: str) -> JointNoteScale:
    parameter = parameter_set().get(f"joint_notes.{note}")
    if parameter is None:
        raise KeyError(note)
    easy, hard = parameter.value
    return JointNoteScale(note, name, parameter.unit, easy, hard)
