"""What can balance a load: heads, and the grip, end stops and lumped shoulder beside them, as one matrix."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from functools import cache

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.muscle import Anatomy, HeadGeometry, head_forces
from curve_rank.arm.parameters import parameter_set

GRIPS = ("rope", "free", "angled_bar", "straight_bar")
BESIDE_HEADS = ("grip", "stop_palm_up", "stop_palm_down", "shoulder_flexors", "shoulder_extensors")
ELBOW, FOREARM, SHOULDER = 0, 1, 2
"""Rows of the matrix: the balances about elbow, forearm and shoulder."""


@dataclass(frozen=True)
class Actuators:
    """What every actuator can do at N postures: heads first, then those of `BESIDE_HEADS`.

    Attributes
    ----------
    matrix : array, shape (3, actuators, N)
        Moment about elbow, forearm and shoulder at full drive [N·m].
    passive : array, shape (3, N)
        Moment of passive muscle force [N·m].
    active_force, passive_force : array, shape (heads, N)
        [N]
    cost, low, high : array, shape (actuators,)
    """

    matrix: Array
    passive: Array
    active_force: Array
    passive_force: Array
    cost: Array
    low: Array
    high: Array

    def moving(self, factor: Array) -> Actuators:
        """The same with the heads' active forces times `factor` (heads, N), for their velocities."""
        matrix = self.matrix.copy()
        matrix[:, : factor.shape[0]] *= factor
        return replace(self, matrix=matrix, active_force=self.active_force * factor)


@dataclass(frozen=True)
class Capacities:
    """Capacities of the actuators beside the heads, and of the other links [N·m], for the default body.

    Attributes
    ----------
    grips : dict of float
        Largest turning moment each handle gives the hand.
    end_stop : float
        Forearm end stops at ±90°.
    shoulder_flexors, shoulder_extensors, shoulder_sideways : float
        Lumped shoulder muscles.
    wrist_flexors, wrist_extensors, wrist_radial, wrist_ulnar : float
    """

    grips: dict[str, float]
    end_stop: float
    shoulder_flexors: float
    shoulder_extensors: float
    shoulder_sideways: float
    wrist_flexors: float
    wrist_extensors: float
    wrist_radial: float
    wrist_ulnar: float


@cache
def default_capacities() -> Capacities:
    """The capacities of the shipped parameters."""
    number = parameter_set().number
    others = {f.name: number(f"helpers.{f.name}") for f in fields(Capacities) if f.name != "grips"}
    return Capacities({grip: number(f"helpers.grip_{grip}") for grip in GRIPS}, **others)


def actuators(
    anatomy: Anatomy,
    geometry: HeadGeometry,
    *,
    forearm: Array,
    grip: Array,
    body: Body,
    capacities: Capacities | None = None,
) -> Actuators:
    """Moments of every actuator in the three balances.

    Parameters
    ----------
    anatomy : Anatomy
    geometry : HeadGeometry
        Of N postures.
    forearm : array, shape (N,)
        Forearm rotation, for the end stops [degrees].
    grip : array, shape (N,)
        Largest turning moment the handle gives the hand [N·m].
    body : Body
    capacities : Capacities, optional
        Other than the shipped ones.
    """
    numbers, capacities = parameter_set().number, capacities or default_capacities()
    active, passive = (force * body.force_scale for force in head_forces(anatomy, geometry))
    rows = (geometry.elbow_moment_arm, geometry.forearm_moment_arm, geometry.shoulder_moment_arm)
    moment_arms = np.stack(rows) * body.scale
    heads, count = active.shape
    matrix = np.zeros((3, heads + len(BESIDE_HEADS), count))
    matrix[:, :heads] = moment_arms * active
    stop_from = numbers("helpers.end_stop_from")
    stop = capacities.end_stop * np.clip((np.abs(forearm) - stop_from) / (90 - stop_from), 0, 1)
    matrix[FOREARM, heads] = grip
    matrix[FOREARM, heads + 1] = np.where(forearm < 0, stop, 0.0)
    matrix[FOREARM, heads + 2] = -np.where(forearm > 0, stop, 0.0)
    matrix[SHOULDER, heads + 3] = capacities.shoulder_flexors * body.force_scale
    matrix[SHOULDER, heads + 4] = -capacities.shoulder_extensors * body.force_scale
    cost, low = np.ones(heads + len(BESIDE_HEADS)), np.zeros(heads + len(BESIDE_HEADS))
    cost[heads + 1 : heads + 3] = numbers("helpers.end_stop_cost")
    low[heads] = -1.0
    return Actuators(
        matrix=matrix,
        passive=(moment_arms * passive).sum(axis=1),
        active_force=active,
        passive_force=passive,
        cost=cost,
        low=low,
        high=np.ones_like(low),
    )
