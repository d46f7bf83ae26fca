"""A whole rep: demand, strength and effort along it, and what every head does, for many reps at once."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from curve_rank.arm.actuators import ELBOW, SHOULDER, Capacities
from curve_rank.arm.arrays import Array, BoolArray, copy_of_reps, of_reps
from curve_rank.arm.balance import Balance, balance
from curve_rank.arm.body import Body
from curve_rank.arm.force import ExternalLoad
from curve_rank.arm.muscle import Anatomy, HeadGeometry
from curve_rank.arm.posture import Frame, Posture
from curve_rank.arm.rep_setup import (
    LINKS,
    RepSetup,
    RepStack,
    Shift,
    least_load,
    shifted,
    stack_reps,
    usual_effort,
)
from curve_rank.arm.strength import (
    MOST_LOAD,
    ElbowStrength,
    elbow_link,
    load_at_effort,
    shoulder_link,
    wrist_link,
)

FIRST_LOAD = 10.0
"""Where the search for loads begins [kg]."""
PASSES = 6
PASSES_FROM_NEAR = 2
ALONG = (
    "angle",
    "demand",
    "demand_per_kg",
    "strength",
    "opposite_strength",
    "effort",
    "lever",
    "other_moment",
    "feasible",
)
PARTS = ("posture", "frame", "geometry", "external")
PER_HEAD = ("drive", "force", "passive_force", "moment", "shoulder_moment", "limits")


@dataclass(frozen=True)
class RepBatch:
    """Modelled reps. Arrays are (reps, samples), per-head arrays (heads, reps, samples).

    Attributes
    ----------
    load : array, shape (reps,)
        Load in use [kg]: the working load, or the one asked for.
    limits : array, shape (links, reps)
        Each link's own load at the chosen effort [kg], in the order of `rep_setup.LINKS`; infinite = not
        limiting.
    angle : array
        The rep coordinate [degrees].
    demand : array
        External moment at the rep's own joint that the target group must hold; negative where it reverses
        [N·m].
    demand_per_kg : array
        What each kilogram of load adds to the demand [N·m/kg].
    strength, opposite_strength : array
        Largest moment of target and opposite group there [N·m].
    effort : array
        Demand over strength of whichever group is asked [1].
    lever : array
        [m]; NaN where nothing pulls at the hand.
    shoulder_moment : array, shape (3, reps, samples)
        External moment about the shoulder, trunk axes [N·m].
    drive, force, passive_force, moment : array
        Drive, the activation from 0 to 1 [1]; active and passive force [N]; active moment at the rep's joint
        in the target direction [N·m].
    other_moment : array
        Moment of the actuators beside the heads at the rep's joint in the target direction [N·m].
    feasible : array of bool
        Whether any drives hold the load there.
    """

    setups: tuple[RepSetup, ...]
    body: Body
    anatomy: Anatomy
    posture: Posture
    frame: Frame
    geometry: HeadGeometry
    external: ExternalLoad
    load: Array
    limits: Array
    angle: Array
    demand: Array
    strength: Array
    opposite_strength: Array
    demand_per_kg: Array
    effort: Array
    lever: Array
    shoulder_moment: Array
    drive: Array
    force: Array
    passive_force: Array
    moment: Array
    other_moment: Array
    feasible: BoolArray

    def of(self, i: int, *, copy: bool = False) -> RepBatch:
        """One rep as a batch of its own; with a copy the batch it was cut from can go."""
        one, cut = slice(i, i + 1), copy_of_reps if copy else of_reps
        arrays = {name: getattr(self, name)[one] for name in (*ALONG, "load")}
        arrays |= {name: getattr(self, name)[:, one] for name in PER_HEAD}
        if copy:
            arrays = {name: values.copy() for name, values in arrays.items()}
        parts = {name: cut(getattr(self, name), one) for name in PARTS}
        return replace(self, setups=self.setups[one], **parts, **arrays)

    def limits_of(self, i: int) -> dict[str, float]:
        """Each link's load of one rep [kg]."""
        return dict(zip(LINKS, self.limits[:, i].tolist(), strict=True))


def model_reps(  # noqa: PLR0913 — what a rep is made of
    setups: tuple[RepSetup, ...] | RepStack,
    *,
    body: Body,
    effort: float | None = None,
    loads: Array | None = None,
    anatomy: Anatomy | None = None,
    capacities: Capacities | None = None,
    shift: Shift | None = None,
    near_loads: Array | None = None,
    exponent: float | Array | None = None,
) -> RepBatch:
    """Model reps, each at its working load for an effort or at a given load.

    Parameters
    ----------
    setups : tuple of RepSetup, or RepStack
        At least one; all with the same number of samples.
    body : Body
        The person: size, strength, joints.
    effort : float, optional
        Effort of the hardest stretch of the rep, 0 to 1; default: ten repetitions to failure.
    loads : array, shape (reps,), optional
        Loads [kg] to use instead; NaN entries fall back to the working load.
    anatomy : Anatomy, optional
        Heads and their paths; the shipped ones where none are given.
    capacities : Capacities, optional
        What every link can hold; the shipped ones where none are given.
    shift : Shift, optional
        Set every rep up a little off; nothing is refused then.
    near_loads : array, shape (reps,), optional
        Loads known to be near the working loads, to start the search from.
    exponent : float or array, shape (reps, 1), optional
        Of load sharing, other than the shipped one.

    Returns
    -------
    RepBatch

    Raises
    ------
    PostureError
        For postures outside the tables or a pulley inside the body.
    """
    effort = usual_effort() if effort is None else effort
    stack = setups if isinstance(setups, RepStack) else stack_reps(setups)
    if shift is None:
        stack.posture.check()
    posture = stack.posture if shift is None else shifted(stack, shift, body)
    held = balance(
        stack, posture, body, anatomy=anatomy, capacities=capacities, shift=shift, exponent=exponent
    )
    return _loaded(held, *_working_load(held, effort, loads, near_loads))


@dataclass(frozen=True)
class _Strengths:
    """Largest moments of target and opposite group at the elbow, (reps, samples) [N·m]; infinite where the
    opposite one is never asked."""

    elbow: Array
    elbow_return: Array


def _working_load(
    held: Balance, effort: float, loads: Array | None, near: Array | None
) -> tuple[_Strengths, Array, Array]:
    """Strength of both groups, each link's load at the effort, and the load in use.

    A load that turns the forearm, or lets the hand grip harder, changes what the elbow can do and so the
    load: the two are found together in a few passes. Each shrinks the gap about tenfold.
    """
    target, way_back = held.elbow_strength(held.stack.direction), _WayBack.of(held)
    least = np.array([least_load(setup, held.body) for setup in held.stack.setups])
    static, per_kg = held.external.static.forearm, held.external.per_kg.forearm
    load = np.full(len(held.stack.setups), FIRST_LOAD) if near is None else near
    load = load if loads is None else np.where(np.isnan(loads), load, loads)
    others = _other_limits(held, effort, least)
    for _ in range(PASSES if near is None else PASSES_FROM_NEAR):
        turning = (static + load[:, None] * per_kg).ravel()
        grip = held.grip(load).ravel()
        strengths = _Strengths(target.at(turning, grip).reshape(held.shape), way_back.at(turning, grip))
        elbow = elbow_link(strengths.elbow, *held.elbow_demand)
        there = load_at_effort(elbow, effort, least, held.shape[1])
        back = way_back.limit(strengths.elbow_return, effort, least)
        limits = np.stack((there, back, *others))
        weakest = limits.min(axis=0)
        found = weakest if loads is None else np.where(np.isnan(loads), weakest, loads)
        found = np.minimum(found, MOST_LOAD)
        settled = np.all(np.abs(found - load) <= 1e-5 * (1 + np.abs(load)))
        load = found
        if settled:
            break
    return strengths, limits, load


@dataclass(frozen=True)
class _WayBack:
    """The opposite group, at the reps whose demand on the target group may reverse; most never ask for it."""

    held: Balance
    reps: BoolArray
    strength: ElbowStrength | None

    @classmethod
    def of(cls, held: Balance) -> _WayBack:
        static, per_kg = held.elbow_demand
        reps: BoolArray = np.asarray((static < 0).any(axis=1) | (per_kg < 0).any(axis=1))
        if not reps.any():
            return cls(held, reps, None)
        chosen = np.repeat(reps, held.shape[1])
        direction = held.flat(-held.stack.direction)[chosen]
        return cls(held, reps, ElbowStrength(held.actuators.only(chosen), direction))

    def at(self, turning: Array, grip: Array) -> Array:
        """Its strength, (reps, samples) [N·m]; infinite where it is never asked."""
        found = np.full(self.held.shape, np.inf)
        if self.strength is not None:
            chosen = np.repeat(self.reps, self.held.shape[1])
            found[self.reps] = self.strength.at(turning[chosen], grip[chosen]).reshape(-1, self.held.shape[1])
        return found

    def limit(self, strength: Array, effort: float, least: Array) -> Array:
        """The load that brings it to the effort, (reps,) [kg]."""
        found = np.full(self.reps.size, np.inf)
        if self.strength is not None:
            static, per_kg = (-part[self.reps] for part in self.held.elbow_demand)
            link = elbow_link(strength[self.reps], static, per_kg)
            found[self.reps] = load_at_effort(link, effort, least[self.reps], self.held.shape[1])
        return found


def _other_limits(held: Balance, effort: float, least: Array) -> tuple[Array, Array]:
    """The loads at which wrist and shoulder reach the effort; infinite where they never do."""
    external = held.external
    wrist = wrist_link(external.static, external.per_kg, held.body, held.capacities)
    shoulder = shoulder_link(
        held.crossing_heads(),
        external.static.shoulder + held.passive_shoulder,
        external.per_kg.shoulder,
        held.frame.upper_arm,
        held.capacities,
        held.body.force_scale,
    )
    at_wrist, at_shoulder = (load_at_effort(link, effort, least, held.shape[1]) for link in (wrist, shoulder))
    return at_wrist, np.where(held.stack.unsupported[:, 0], at_shoulder, np.inf)


def _loaded(held: Balance, strengths: _Strengths, limits: Array, load: Array) -> RepBatch:
    """Everything along the reps at the loads in use."""
    outside = held.outside(load)
    drives, feasible = held.share(outside, load)
    acting, straight, direction = held.actuators, held.stack.straight_arm, held.stack.direction
    demand = held.demand(outside)

    forwards = direction > 0
    flexion, extension = held.shoulder_strength()
    shoulder = np.where(forwards, flexion, extension)
    shoulder_back = np.where(forwards, extension, flexion)
    strength = np.where(straight, shoulder, strengths.elbow)
    opposite = np.where(straight, shoulder_back, strengths.elbow_return)
    asked = np.where(demand >= 0, np.maximum(strength, 1e-6), np.maximum(opposite, 1e-6))

    heads = len(held.anatomy.keys)
    row = np.where(held.flat(straight), acting.matrix[SHOULDER], acting.matrix[ELBOW])
    moment = direction * row.reshape(drives.shape) * drives
    per_head = (heads, *held.shape)
    return RepBatch(
        setups=held.stack.setups,
        body=held.body,
        anatomy=held.anatomy,
        posture=held.posture,
        frame=held.frame,
        geometry=held.geometry,
        external=held.external,
        load=load,
        limits=limits,
        angle=np.where(straight, held.posture.shoulder, held.posture.elbow),
        demand=demand,
        demand_per_kg=held.demand(held.external.per_kg),
        strength=strength,
        opposite_strength=opposite,
        effort=np.abs(demand) / asked,
        lever=held.external.lever(load),
        shoulder_moment=outside.shoulder,
        drive=drives[:heads],
        force=acting.active_force.reshape(per_head) * drives[:heads],
        passive_force=acting.passive_force.reshape(per_head),
        moment=moment[:heads],
        other_moment=moment[heads:].sum(axis=0),
        feasible=feasible,
    )
