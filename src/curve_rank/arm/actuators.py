"""What can balance a load: heads, and the grip, end stops and lumped shoulder beside them, as one matrix."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace
from functools import cache

import numpy as np

from curve_rank.arm.arrays import Array, BoolArray, Index, by_arm, cross, length_of
from curve_rank.arm.body import Body
from curve_rank.arm.muscle import Anatomy, HeadGeometry, head_forces
from curve_rank.arm.parameters import parameter_set

GRIPS = ("rope", "free", "angled_bar", "straight_bar")
BESIDE_HEADS = (
    "grip",
    "wrist_pronators",
    "stop_palm_up",
    "stop_palm_down",
    "shoulder_flexors",
    "shoulder_extensors",
)
BICEPS = ("biceps_long", "biceps_short")
"""Heads that give way as the palm turns down."""
NO_WAY = 1e-3
"""Effort per N·m of a moment that turns the arm about itself alone: as good as none."""
ELBOW, FOREARM, SHOULDER = 0, 1, 2
"""Rows of the matrix: the balances about elbow, forearm and shoulder."""


@dataclass(frozen=True)
class Actuators:
    """What every actuator can do at N postures in a row: heads first, then those of `BESIDE_HEADS`.

    Attributes
    ----------
    matrix : array, shape (3, actuators, N)
        Moment about elbow, forearm and shoulder at full drive [N·m].
    passive : array, shape (3, N)
        Moment of passive muscle force [N·m].
    active_force, passive_force : array, shape (heads, N)
        [N]
    cost : array, shape (actuators, N)
    low, high : array, shape (actuators,)
    """

    matrix: Array
    passive: Array
    active_force: Array
    passive_force: Array
    cost: Array
    low: Array
    high: Array

    def gripping(self, grip: Array) -> Actuators:
        """The same with a hand that can give the forearm a couple of at most `grip` (N,) [N·m]."""
        matrix = self.matrix.copy()
        matrix[FOREARM, -len(BESIDE_HEADS)] = grip
        return replace(self, matrix=matrix)

    def only(self, chosen: BoolArray | Index) -> Actuators:
        """The same at some of the postures."""
        return replace(
            self,
            matrix=self.matrix[:, :, chosen],
            passive=self.passive[:, chosen],
            active_force=self.active_force[:, chosen],
            passive_force=self.passive_force[:, chosen],
            cost=self.cost[:, chosen],
        )

    def moving(self, factor: Array) -> Actuators:
        """The same with the heads' active forces times `factor` (heads, N), for their velocities."""
        matrix = self.matrix.copy()
        matrix[:, : factor.shape[0]] *= factor
        return replace(self, matrix=matrix, active_force=self.active_force * factor)


@dataclass(frozen=True)
class Capacities:
    """Capacities of the actuators beside the heads, and of the other links [N·m], for the default body.

    Each is a number, or of several arms together an array (reps, 1).

    Attributes
    ----------
    grips : dict of float
        Largest turning moment each handle gives the hand, per kilogram it holds [N·m/kg].
    wrist_pronators : float
        Wrist and finger flexors that turn the palm down.
    end_stop : float
        Forearm end stops at ±90°.
    shoulder_forward, shoulder_backward, shoulder_up, shoulder_down, shoulder_in, shoulder_out : float
        Lumped shoulder muscles, by the way they drive the elbow, trunk directions.
    wrist_flexors, wrist_extensors, wrist_radial, wrist_ulnar : float
    shoulder_cost : float
        Of the lumped shoulder's drive in load sharing [1].
    palm_down_cost : float
        What the palm turned whole down adds to the cost of the biceps [1].
    """

    grips: dict[str, float | Array]
    wrist_pronators: float | Array
    end_stop: float | Array
    shoulder_forward: float | Array
    shoulder_backward: float | Array
    shoulder_up: float | Array
    shoulder_down: float | Array
    shoulder_in: float | Array
    shoulder_out: float | Array
    wrist_flexors: float | Array
    wrist_extensors: float | Array
    wrist_radial: float | Array
    wrist_ulnar: float | Array
    shoulder_cost: float | Array
    palm_down_cost: float | Array

    def grip(self, handles: tuple[str, ...]) -> Array:
        """Largest turning moment per kilogram that each rep's handle gives the hand, (reps, 1) [N·m/kg]."""
        held = np.array(handles)[:, None]
        return np.select([held == name for name in self.grips], list(self.grips.values()))

    def shoulder(self, way: Array) -> Array:
        """Capacity of the lumped shoulder along each trunk axis, to the side that `way` (3, *S) points to."""
        ahead = (self.shoulder_forward, self.shoulder_up, self.shoulder_out)
        back = (self.shoulder_backward, self.shoulder_down, self.shoulder_in)
        sides = zip(way, ahead, back, strict=True)
        return np.stack([np.where(along < 0, behind, before) for along, before, behind in sides])


def shoulder_capacity(moment: Array, upper_arm: Array, capacities: Capacities) -> Array:
    """How often the lumped shoulder can make a moment (3, *S), shape S [1].

    A moment m drives the elbow along m × u, u the upper arm's direction; the part about the arm's own axis
    is left out. Effort is √Σ(dᵢ/capacityᵢ)² over the three parts d of that way; this is its inverse.
    """
    way = cross(moment, upper_arm)
    return 1 / np.maximum(length_of(way / capacities.shoulder(way)), NO_WAY)


@cache
def default_capacities() -> Capacities:
    """The capacities of the shipped parameters."""
    number = parameter_set().number
    others = {f.name: number(f"helpers.{f.name}") for f in fields(Capacities) if f.name != "grips"}
    return Capacities({grip: number(f"helpers.grip_{grip}") for grip in GRIPS}, **others)


def capacities_of_arms(arms: Sequence[Capacities], reps: int) -> Capacities:
    """Several arms' as one, over arms · reps reps, each arm's in a row."""

    others = {
        f.name: by_arm([getattr(arm, f.name) for arm in arms], reps)
        for f in fields(Capacities)
        if f.name != "grips"
    }
    return Capacities({grip: by_arm([arm.grips[grip] for arm in arms], reps) for grip in GRIPS}, **others)


def actuators(
    anatomy: Anatomy,
    geometry: HeadGeometry,
    *,
    forearm: Array,
    upper_arm: Array,
    body: Body,
    capacities: Capacities | None = None,
) -> Actuators:
    """Moments of every actuator in the three balances.

    Parameters
    ----------
    anatomy : Anatomy
        Heads and their paths; the shipped ones where none are given.
    geometry : HeadGeometry
        Of postures of shape S.
    forearm : array, shape S
        Forearm rotation, for the end stops [degrees].
    upper_arm : array, shape (3, *S)
        Direction of the upper arm, trunk frame.
    body : Body
        The person: size, strength, joints.
    capacities : Capacities, optional
        Other than the shipped ones.

    Returns
    -------
    Actuators
        Of the N postures in a row, with a hand that gives no couple: see `gripping`.
    """
    numbers, capacities = parameter_set().number, capacities or default_capacities()
    active, passive = (force * body.force_scale for force in head_forces(anatomy, geometry))
    rows = (geometry.elbow_moment_arm, geometry.forearm_moment_arm, geometry.shoulder_moment_arm)
    moment_arms = np.stack(rows) * body.scale
    heads = len(active)
    matrix = np.zeros((3, heads + len(BESIDE_HEADS), *forearm.shape))
    matrix[:, :heads] = moment_arms * active
    stop_from = numbers("helpers.end_stop_from")
    stop = capacities.end_stop * np.clip((np.abs(forearm) - stop_from) / (90 - stop_from), 0, 1)
    flexion = np.zeros_like(upper_arm)
    flexion[2] = 1.0
    matrix[FOREARM, heads + 1] = capacities.wrist_pronators * body.force_scale
    matrix[FOREARM, heads + 2] = np.where(forearm < 0, stop, 0.0)
    matrix[FOREARM, heads + 3] = -np.where(forearm > 0, stop, 0.0)
    matrix[SHOULDER, heads + 4] = body.force_scale * shoulder_capacity(flexion, upper_arm, capacities)
    matrix[SHOULDER, heads + 5] = -body.force_scale * shoulder_capacity(-flexion, upper_arm, capacities)
    cost = np.ones(matrix.shape[1:])
    for head in BICEPS:
        cost[anatomy.index(head)] += capacities.palm_down_cost * np.maximum(forearm, 0.0) / 90
    cost[heads + 2 : heads + 4] = numbers("helpers.end_stop_cost")
    cost[heads + 4 :] = capacities.shoulder_cost
    low = np.zeros(heads + len(BESIDE_HEADS))
    low[heads] = -1.0
    return Actuators(
        matrix=matrix.reshape(3, heads + len(BESIDE_HEADS), -1),
        passive=(moment_arms * passive).sum(axis=1).reshape(3, -1),
        active_force=active.reshape(heads, -1),
        passive_force=passive.reshape(heads, -1),
        cost=cost.reshape(heads + len(BESIDE_HEADS), -1),
        low=low,
        high=np.ones_like(low),
    )
