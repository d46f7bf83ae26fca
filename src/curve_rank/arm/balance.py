"""Everything that must balance over postures: what pulls from outside, and what actuators do about it.

A rep held still and a rep in time stand on the same balance; time only adds inertia to the one side and
lets force fall with velocity on the other.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.actuators import (
    SHOULDER,
    Actuators,
    Capacities,
    actuators,
    default_capacities,
)
from curve_rank.arm.arrays import Array, BoolArray, length_of
from curve_rank.arm.body import Body
from curve_rank.arm.force import ExternalLoad, Moments, external_load
from curve_rank.arm.muscle import Anatomy, HeadGeometry, default_anatomy, head_geometry
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.posture import Frame, Posture, arm_frame
from curve_rank.arm.rep_setup import RepStack, Shift
from curve_rank.arm.sharing import share_load
from curve_rank.arm.strength import ElbowStrength, crossing_heads, shoulder_strength

Number = TypeVar("Number", bound=np.generic)


@dataclass(frozen=True)
class Balance:
    """Postures of several reps, S = (reps, samples), and all that acts at them.

    Attributes
    ----------
    stack : RepStack
    body : Body
    anatomy : Anatomy
    capacities : Capacities
    posture : Posture
    frame : Frame
    geometry : HeadGeometry
    external : ExternalLoad
    actuators : Actuators
        Of the N = reps · samples postures in a row.
    exponent : float or array, shape (reps, 1)
        Of load sharing.
    """

    stack: RepStack
    body: Body
    anatomy: Anatomy
    capacities: Capacities
    posture: Posture
    frame: Frame
    geometry: HeadGeometry
    external: ExternalLoad
    actuators: Actuators
    exponent: float | Array

    @property
    def shape(self) -> tuple[int, ...]:
        """(reps, samples)."""
        return self.posture.elbow.shape

    def flat(self, values: NDArray[Number]) -> NDArray[Number]:
        """Values that broadcast to S as one row of N."""
        return np.broadcast_to(values, self.shape).ravel()

    def moving(self, factor: Array) -> Balance:
        """The same with the heads' active forces times `factor`, (heads, *S)."""
        heads = len(self.anatomy.keys)
        return replace(self, actuators=self.actuators.moving(factor.reshape(heads, -1)))

    def outside(self, load: Array) -> Moments:
        """All moments from outside the muscles at loads (reps,) [N·m]."""
        return self.external.static + self.external.per_kg.times(load[:, None])

    def demand(self, outside: Moments) -> Array:
        """What is asked of the target group at the rep's own joint, shape S [N·m]; negative: of the other."""
        own = np.where(self.stack.straight_arm, outside.shoulder[2], outside.elbow)
        return np.asarray(-self.stack.direction * own)

    @property
    def elbow_demand(self) -> tuple[Array, Array]:
        """What is asked of the target group at the elbow without load, and per kilogram, shape S [N·m]."""
        towards = -self.stack.direction
        return towards * self.external.static.elbow, towards * self.external.per_kg.elbow

    def elbow_strength(self, direction: Array) -> ElbowStrength:
        """Strength of the elbow in a direction that broadcasts to S: +1 flexion, −1 extension."""
        return ElbowStrength(self.actuators, self.flat(direction))

    def shoulder_strength(self) -> tuple[Array, Array]:
        """Largest shoulder moment in flexion and in extension, shape S each [N·m]."""
        flexion, extension = shoulder_strength(self.actuators)
        return flexion.reshape(self.shape), extension.reshape(self.shape)

    def crossing_heads(self) -> tuple[Array, Array]:
        """What the crossing heads can give the shoulder in flexion and in extension, shape S each [N·m]."""
        flexion, extension = crossing_heads(self.actuators)
        return flexion.reshape(self.shape), extension.reshape(self.shape)

    @property
    def passive_shoulder(self) -> Array:
        """Moment of passive muscle force about the shoulder, trunk axes, shape (3, *S) [N·m]."""
        flexion = self.actuators.passive[SHOULDER].reshape(self.shape)
        return np.stack((np.zeros_like(flexion), np.zeros_like(flexion), flexion))

    def grip(self, load: Array) -> Array:
        """Largest couple the hand gives the forearm at loads (reps,), shape S [N·m]."""
        per_kg = self.capacities.grip(tuple(setup.grip for setup in self.stack.setups))
        held = length_of(self.external.pull(load)) / parameter_set().number("body.gravity")
        return np.asarray(per_kg * held)

    def share(self, outside: Moments, load: Array, *, at: int | None = None) -> tuple[Array, BoolArray]:
        """Drives that hold moments from outside with loads (reps,) in the hand, and where there are any.

        The shoulder's balance is asked only where nothing else holds the upper arm. `at` names the one sample
        that is wanted; elsewhere drives are 0 then.

        Returns
        -------
        drives : array, shape (actuators, *S)
        feasible : array of bool, shape S
        """
        acting = self.actuators.gripping(self.grip(load).ravel())
        balances = (outside.elbow, outside.forearm, outside.shoulder[2])
        demand = -(np.stack([self.flat(moment) for moment in balances]) + acting.passive)
        exponent, unsupported = self.flat(np.asarray(self.exponent)), self.flat(self.stack.unsupported)
        drives, feasible = np.zeros(acting.matrix.shape[1:]), np.zeros(demand.shape[1], dtype=np.bool_)
        wanted = self.flat(np.arange(self.shape[1]) == at) if at is not None else np.True_
        for chosen, rows in (
            (unsupported & wanted, slice(0, SHOULDER + 1)),
            (~unsupported & wanted, slice(0, SHOULDER)),
        ):
            if chosen.any():
                part = slice(None) if chosen.all() else chosen
                solved = share_load(
                    acting.matrix[rows][:, :, part],
                    demand[rows][:, part],
                    cost=acting.cost[:, part],
                    low=acting.low,
                    high=acting.high,
                    exponent=exponent[chosen],
                )
                drives[:, chosen], feasible[chosen] = solved.drives, solved.feasible
        return drives.reshape(-1, *self.shape), feasible.reshape(self.shape)


def balance(
    stack: RepStack,
    posture: Posture,
    body: Body,
    *,
    anatomy: Anatomy | None = None,
    capacities: Capacities | None = None,
    shift: Shift | None = None,
    exponent: float | Array | None = None,
) -> Balance:
    """All that acts at postures of stacked reps.

    Parameters
    ----------
    stack : RepStack
        The reps, stacked.
    posture : Posture
        Angles (reps, samples): the stack's own, the same set up a little off, or the rep in time.
    body : Body
        The person: size, strength, joints.
    anatomy : Anatomy, optional
        Heads and their paths; the shipped ones where none are given.
    capacities : Capacities, optional
        What every link can hold; the shipped ones where none are given.
    shift : Shift, optional
        Moves hips, pulleys and anchors; nothing is refused then.
    exponent : float or array, shape (reps, 1), optional
        Of load sharing, other than the shipped one.

    Raises
    ------
    PostureError
        When a pulley lies inside the body or comes too near the hand.
    """
    anatomy, capacities = anatomy or default_anatomy(), capacities or default_capacities()
    frame = arm_frame(posture, body)
    hips = stack.hip_height if shift is None else stack.hip_height + shift.hips * stack.hip_spread
    external = external_load(stack.lines, frame, posture, body, hips, shift=shift)
    geometry = head_geometry(
        anatomy,
        elbow=posture.elbow,
        forearm=posture.forearm,
        shoulder=posture.shoulder,
        abduction=posture.abduction,
    )
    acting = actuators(
        anatomy,
        geometry,
        forearm=posture.forearm,
        upper_arm=frame.upper_arm,
        body=body,
        capacities=capacities,
    )
    if exponent is None:
        exponent = parameter_set().number("sharing.exponent")
    return Balance(stack, body, anatomy, capacities, posture, frame, geometry, external, acting, exponent)
