"""A body: segment lengths and masses scaled from height and mass."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import cast

import numpy as np

from curve_rank.arm.arrays import by_arm
from curve_rank.arm.parameters import parameter_set
from curve_rank.errors import BadInputError

HEIGHT_RANGE = (1.30, 2.20)
MASS_RANGE = (35.0, 200.0)
STRENGTH_RANGE = (0.2, 3.0)
SEGMENT_RANGES = {"upper_arm_m": (0.20, 0.50), "forearm_m": (0.15, 0.45), "grip_m": (0.03, 0.12)}


LEVELS = ("untrained", "trained", "strong")
"""How strong somebody of whom no set is known is said to be."""


def strength_of(level: str) -> float:
    """Strength of a level, over a trained man's of the same size [1].

    Raises
    ------
    BadInputError
    """
    if level not in LEVELS:
        raise BadInputError("level", level, "one of: " + ", ".join(LEVELS))
    return _body(level)


def between_people() -> float:
    """How far people of one size and level lie apart, over their strength [1]."""
    return _body("between_people")


def level_of(strength: float) -> str:
    """The level nearest to a strength."""
    return min(LEVELS, key=lambda level: abs(_body(level) - strength))


def _body(key: str) -> float:
    return parameter_set().number(f"body.{key}")


@dataclass(frozen=True)
class TrunkBlock:
    """Trunk and head as one upright block around the spine, from the shoulder line [m]."""

    half_depth: float
    half_width: float
    above: float
    below: float


@dataclass(frozen=True)
class Build:
    """Lengths and widths that only a figure needs [m]."""

    thigh: float
    shank: float
    ankle: float
    foot: float
    neck: float
    head: float
    hip_half_width: float
    trunk_half_depth: float


@dataclass(frozen=True)
class Body:
    """A person's size and strength.

    Parameters
    ----------
    height : float
        Standing height [m], 1.30 to 2.20.
    mass : float
        Body mass [kg], 35 to 200.
    strength : float
        Muscle force relative to the default body's scaled to this mass [1], 0.2 to 3.
    upper_arm_m, forearm_m, grip_m : float, optional
        Measured lengths: shoulder to elbow, elbow to wrist, wrist to the middle of the closed hand [m].
    strength_spread : float
        One standard deviation of what is known of the strength [1]: 0 where a set is known, and of the
        default body, whose strength is what all is of.
    arm_mass : float
        Mass of the arm relative to what body mass foretells [1].

    Raises
    ------
    BadInputError
        When a number is outside its range or not finite.

    Notes
    -----
    Bodies are taken as one shape at different scales: every length, moment arms and fibre lengths
    included, goes with height; muscle force goes with mass to the power 2/3.

    Of several arms together (`bodies_of_arms`) measured lengths and `arm_mass` are arrays (reps, 1), which
    all arithmetic here takes as it takes numbers.
    """

    height: float = 1.78
    mass: float = 80.0
    strength: float = 1.0
    strength_spread: float = 0.0
    upper_arm_m: float | None = None
    forearm_m: float | None = None
    grip_m: float | None = None
    arm_mass: float = 1.0

    def __post_init__(self) -> None:
        for field, (low, high), unit in (
            ("height", HEIGHT_RANGE, "m"),
            ("mass", MASS_RANGE, "kg"),
            ("strength", STRENGTH_RANGE, "times the default"),
        ):
            value = getattr(self, field)
            if not (isinstance(value, int | float) and math.isfinite(value) and low <= value <= high):
                raise BadInputError(f"body {field}", value, f"a number from {low:g} to {high:g} {unit}")
        for field, (low, high) in SEGMENT_RANGES.items():
            value = getattr(self, field)
            if value is not None and not np.all((low <= np.asarray(value)) & (np.asarray(value) <= high)):
                raise BadInputError(f"body {field}", value, f"a length from {low:g} to {high:g} m")

    @property
    def scale(self) -> float:
        """Every length over the default body's [1]."""
        return self.height / _body("height")

    @property
    def force_scale(self) -> float:
        """Every muscle force over the default body's [1]."""
        return float(self.strength * (self.mass / _body("mass")) ** _body("strength_mass_exponent"))

    @property
    def upper_arm(self) -> float:
        """Shoulder to elbow [m]."""
        measured = self.upper_arm_m
        return self.height * _body("upper_arm_length") if measured is None else measured

    @property
    def forearm(self) -> float:
        """Elbow to wrist [m]."""
        measured = self.forearm_m
        return self.height * _body("forearm_length") if measured is None else measured

    @property
    def hand(self) -> float:
        """Wrist to fingertips [m]."""
        return self.height * _body("hand_length")

    @property
    def grip(self) -> float:
        """Wrist to the middle of the closed hand [m]."""
        return self.scale * _body("grip_distance") if self.grip_m is None else self.grip_m

    @property
    def trunk(self) -> float:
        """Hip centre to shoulder, along the trunk [m]."""
        return self.height * _body("trunk_length")

    @property
    def shoulder_half_width(self) -> float:
        """Middle of the body to the shoulder [m]."""
        return self.height * _body("shoulder_half_width")

    @property
    def standing_hip(self) -> float:
        """Floor to hip centre, standing [m]."""
        return self.height * _body("hip_height")

    @property
    def segment_masses(self) -> tuple[float, float, float]:
        """Upper arm, forearm, hand [kg]."""
        mass = self.mass * self.arm_mass
        return (mass * _body("upper_arm_mass"), mass * _body("forearm_mass"), mass * _body("hand_mass"))

    @property
    def segment_centres(self) -> tuple[float, float, float]:
        """Mass centres: upper arm from the shoulder, forearm from the elbow, hand from the wrist [m]."""
        return (
            self.upper_arm * _body("upper_arm_centre"),
            self.forearm * _body("forearm_centre"),
            self.scale * _body("hand_centre"),
        )

    @property
    def trunk_block(self) -> TrunkBlock:
        """Where no pulley may lie."""
        return TrunkBlock(
            half_depth=self.height * _body("trunk_half_depth"),
            half_width=self.shoulder_half_width + _body("trunk_block_beside"),
            above=self.height * _body("trunk_block_above"),
            below=self.trunk + _body("trunk_block_below"),
        )

    @property
    def build(self) -> Build:
        """Proportions of what is drawn beside the arm."""
        return Build(
            thigh=self.height * _body("thigh_length"),
            shank=self.height * _body("shank_length"),
            ankle=self.height * _body("ankle_height"),
            foot=self.height * _body("foot_length"),
            neck=self.height * _body("neck_length"),
            head=self.height * _body("head_height"),
            hip_half_width=self.height * _body("hip_half_width"),
            trunk_half_depth=self.height * _body("trunk_half_depth"),
        )


def bodies_of_arms(bodies: Sequence[Body], reps: int) -> Body:
    """One person's several drawn bodies as one, over arms · reps reps, each arm's in a row."""
    drawn = {
        "upper_arm_m": [body.upper_arm for body in bodies],
        "forearm_m": [body.forearm for body in bodies],
        "grip_m": [body.grip for body in bodies],
        "arm_mass": [body.arm_mass for body in bodies],
    }
    rows = {name: cast("float", by_arm(values, reps)) for name, values in drawn.items()}
    return replace(bodies[0], **rows)
