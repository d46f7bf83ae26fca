"""A whole rep: demand, strength and effort along it, and what every head does, for many reps at once."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.body import Body
from curve_rank.arm.force import ExternalLoad, external_load
from curve_rank.arm.muscle import Anatomy, HeadGeometry, default_anatomy, head_geometry
from curve_rank.arm.posture import Frame, Posture, arm_frame
from curve_rank.arm.setup import (
    DEFAULT_EFFORT_REPS,
    RepSetup,
    RepStack,
    Shift,
    effort_for_reps,
    least_load,
    shifted,
    stack_reps,
)
from curve_rank.arm.sharing import share_load
from curve_rank.arm.strength import (
    ELBOW,
    MOST_LOAD,
    SHOULDER,
    Columns,
    ElbowStrength,
    Helpers,
    Link,
    balance_columns,
    default_helpers,
    elbow_link,
    load_at_effort,
    shoulder_link,
    shoulder_strength,
    wrist_link,
)

Array = NDArray[np.float64]
BoolArray = NDArray[np.bool_]

PASSES = 4
PASSES_FROM_NEAR = 2


@dataclass(frozen=True)
class RepBatch:
    """Modelled reps. Arrays are (reps, samples), per-head arrays (heads, reps, samples).

    Attributes
    ----------
    load : array, shape (reps,)
        Load in use [kg]: the working load, or the one asked for.
    limits : dict of array, shape (reps,)
        Each link's own load at the chosen effort [kg]; infinite = not limiting.
    angle : array
        The rep coordinate [degrees].
    demand : array
        External moment at the rep's own joint that the target group must hold; negative where it reverses
        [N·m].
    strength, opposite_strength : array
        Largest moment of target and opposite group there [N·m].
    effort : array
        Demand over strength of whichever group is asked [1].
    lever : array
        [m]; NaN where nothing pulls at the hand.
    shoulder_moment : array, shape (3, reps, samples)
        External moment about the shoulder, trunk axes [N·m].
    drive, force, passive_force, moment : array
        Drive [1], active and passive force [N], active moment at the rep's joint in the target direction
        [N·m].
    helper_moment : array
        Moment of the lumped helpers at the rep's joint in the target direction [N·m].
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
    columns: Columns
    load: Array
    limits: dict[str, Array]
    angle: Array
    demand: Array
    strength: Array
    opposite_strength: Array
    effort: Array
    lever: Array
    shoulder_moment: Array
    drive: Array
    force: Array
    passive_force: Array
    moment: Array
    helper_moment: Array
    feasible: BoolArray

    def limits_of(self, i: int) -> dict[str, float]:
        """Each link's load of one rep [kg]."""
        return {name: float(values[i]) for name, values in self.limits.items()}


def model_reps(
    setups: tuple[RepSetup, ...] | RepStack,
    *,
    body: Body,
    effort: float | None = None,
    loads: Array | None = None,
    anatomy: Anatomy | None = None,
    helpers: Helpers | None = None,
    shift: Shift | None = None,
    near_loads: Array | None = None,
) -> RepBatch:
    """Model reps, each at its working load for an effort or at a given load.

    Parameters
    ----------
    setups : tuple of RepSetup, or RepStack
        At least one; all with the same number of samples.
    body : Body
    effort : float, optional
        Effort of the hardest tenth of the rep, 0 to 1; default: ten repetitions to failure.
    loads : array, shape (reps,), optional
        Loads [kg] to use instead; NaN entries fall back to the working load.
    anatomy : Anatomy, optional
    helpers : Helpers, optional
    shift : Shift, optional
        Set every rep up a little off; nothing is refused then.
    near_loads : array, shape (reps,), optional
        Loads known to be near the working loads, to start the search from.

    Returns
    -------
    RepBatch

    Raises
    ------
    PostureError
        For postures outside the tables or a pulley inside the body.
    """
    anatomy, helpers = anatomy or default_anatomy(), helpers or default_helpers()
    effort = effort_for_reps(DEFAULT_EFFORT_REPS) if effort is None else effort
    stack = setups if isinstance(setups, RepStack) else stack_reps(setups)
    if shift is None:
        stack.posture.check()
    posture = stack.posture if shift is None else shifted(stack, shift, body)
    frame = arm_frame(posture, body)
    external = external_load(
        stack.lines,
        frame,
        posture,
        body,
        stack.hip_height,
        shift=shift,
    )
    geometry = head_geometry(
        anatomy,
        elbow=posture.elbow,
        forearm=posture.forearm,
        shoulder=posture.shoulder,
        abduction=posture.abduction,
    )
    columns = _columns(anatomy, geometry, stack.setups, posture, body, helpers)
    parts = _Parts(stack, body, external, columns, frame.upper_arm, helpers)
    strengths, limits, load = _working_load(parts, effort, loads, near_loads)
    return _loaded(parts, anatomy, posture, frame, geometry, strengths, limits, load)


def _columns(
    anatomy: Anatomy,
    geometry: HeadGeometry,
    setups: tuple[RepSetup, ...],
    posture: Posture,
    body: Body,
    helpers: Helpers,
) -> Columns:
    flat = HeadGeometry(
        **{name: values.reshape(len(anatomy.keys), -1) for name, values in vars(geometry).items()}
    )
    grip = np.repeat(np.array([helpers.grips[s.grip] for s in setups]), posture.elbow.shape[1])
    return balance_columns(
        anatomy, flat, forearm=posture.forearm.ravel(), grip=grip, body=body, helpers=helpers
    )


@dataclass(frozen=True)
class _Parts:
    """What the working load is found from."""

    stack: RepStack
    body: Body
    external: ExternalLoad
    columns: Columns
    upper_arm: Array
    helpers: Helpers

    @property
    def shape(self) -> tuple[int, ...]:
        """(reps, samples)."""
        return self.upper_arm.shape[1:]


@dataclass(frozen=True)
class _Strengths:
    """Largest moments of target and opposite group at elbow and shoulder, (reps, samples) [N·m]."""

    elbow: Array
    elbow_return: Array
    shoulder_flexion: Array
    shoulder_extension: Array


def _working_load(
    parts: _Parts, effort: float, loads: Array | None, near: Array | None
) -> tuple[_Strengths, dict[str, Array], Array]:
    """Strength of both groups, each link's load at the effort, and the load in use.

    A load that turns the forearm changes what the elbow can do and so the load: the two are found
    together in a few passes, from no load on. Each pass shrinks the gap about tenfold.
    """
    direction = np.broadcast_to(parts.stack.direction, parts.shape).ravel()
    target, opposite = (ElbowStrength(parts.columns, way) for way in (direction, -direction))
    flexion, extension = (part.reshape(parts.shape) for part in shoulder_strength(parts.columns))
    least = np.array([least_load(setup, parts.body) for setup in parts.stack.setups])
    static, per_kg = parts.external.static.forearm, parts.external.per_kg.forearm
    load = np.zeros(len(parts.stack.setups)) if near is None else near
    load = load if loads is None else np.where(np.isnan(loads), load, loads)
    for _ in range(PASSES if near is None else PASSES_FROM_NEAR):
        turning = (static + load[:, None] * per_kg).ravel()
        strengths = _Strengths(
            target.at(turning).reshape(parts.shape),
            opposite.at(turning).reshape(parts.shape),
            flexion,
            extension,
        )
        limits = _limits(parts, strengths, effort, least)
        weakest = np.min(list(limits.values()), axis=0)
        found = weakest if loads is None else np.where(np.isnan(loads), weakest, loads)
        found = np.minimum(found, MOST_LOAD)
        settled = np.all(np.abs(found - load) <= 1e-5 * (1 + np.abs(load)))
        load = found
        if settled:
            break
    return strengths, limits, load


def _limits(parts: _Parts, strengths: _Strengths, effort: float, least: Array) -> dict[str, Array]:
    """Per link, the load at which it reaches the effort, (reps,); infinite where it never does."""
    external, static = parts.external, parts.external.static
    elbow, elbow_per_kg = (
        -parts.stack.direction * static.elbow,
        -parts.stack.direction * external.per_kg.elbow,
    )
    links: list[Link] = [
        elbow_link("elbow", strengths.elbow, elbow, elbow_per_kg),
        elbow_link("elbow_return", strengths.elbow_return, -elbow, -elbow_per_kg),
        wrist_link(static, external.per_kg, parts.body, parts.helpers),
        shoulder_link(
            strengths.shoulder_flexion,
            strengths.shoulder_extension,
            static.shoulder,
            external.per_kg.shoulder,
            parts.upper_arm,
            parts.helpers.shoulder_sideways * parts.body.force_scale,
        ),
    ]
    loads = {link.name: load_at_effort(link, effort, least, parts.shape[1]) for link in links}
    loads["shoulder"] = np.where(parts.stack.unsupported[:, 0], loads["shoulder"], np.inf)
    return loads


def _loaded(
    parts: _Parts,
    anatomy: Anatomy,
    posture: Posture,
    frame: Frame,
    geometry: HeadGeometry,
    strengths: _Strengths,
    limits: dict[str, Array],
    load: Array,
) -> RepBatch:
    """Everything along the reps at the loads in use."""
    columns, straight, direction = parts.columns, parts.stack.straight_arm, parts.stack.direction
    outside = parts.external.static + parts.external.per_kg.times(load[:, None])
    lift = outside.shoulder[2]
    flat = np.stack((outside.elbow, outside.forearm, lift)).reshape(3, -1)
    drives, feasible = _drives(columns, flat, np.broadcast_to(parts.stack.unsupported, parts.shape).ravel())

    forwards = direction > 0
    shoulder = np.where(forwards, strengths.shoulder_flexion, strengths.shoulder_extension)
    shoulder_back = np.where(forwards, strengths.shoulder_extension, strengths.shoulder_flexion)
    strength = np.where(straight, shoulder, strengths.elbow)
    opposite = np.where(straight, shoulder_back, strengths.elbow_return)
    demand = -direction * np.where(straight, lift, outside.elbow)

    heads = len(anatomy.keys)
    spread, by_shoulder = (np.broadcast_to(part, parts.shape).ravel() for part in (direction, straight))
    row = np.where(by_shoulder, columns.matrix[SHOULDER], columns.matrix[ELBOW])
    moment = spread * row * drives
    per_head = (heads, *parts.shape)
    return RepBatch(
        setups=parts.stack.setups,
        body=parts.body,
        anatomy=anatomy,
        posture=posture,
        frame=frame,
        geometry=geometry,
        external=parts.external,
        columns=columns,
        load=load,
        limits=limits,
        angle=np.where(straight, posture.shoulder, posture.elbow),
        demand=demand,
        strength=strength,
        opposite_strength=opposite,
        effort=np.where(
            demand >= 0, demand / np.maximum(strength, 1e-6), -demand / np.maximum(opposite, 1e-6)
        ),
        lever=parts.external.lever(load),
        shoulder_moment=outside.shoulder,
        drive=drives[:heads].reshape(per_head),
        force=(columns.active_force * drives[:heads]).reshape(per_head),
        passive_force=columns.passive_force.reshape(per_head),
        moment=moment[:heads].reshape(per_head),
        helper_moment=moment[heads:].sum(axis=0).reshape(parts.shape),
        feasible=feasible.reshape(parts.shape),
    )


def _drives(columns: Columns, outside: Array, unsupported: BoolArray) -> tuple[Array, BoolArray]:
    """Sharing of all postures; the shoulder balance only where nothing else holds the upper arm."""
    demand = -(outside + columns.passive)
    drives: Array = np.zeros(columns.matrix.shape[1:])
    feasible: BoolArray = np.zeros(demand.shape[1], dtype=np.bool_)
    for chosen, rows in ((unsupported, slice(0, SHOULDER + 1)), (~unsupported, slice(0, SHOULDER))):
        if chosen.any():
            solved = share_load(
                columns.matrix[rows][:, :, chosen],
                demand[rows][:, chosen],
                cost=columns.cost,
                low=columns.low,
                high=columns.high,
            )
            drives[:, chosen], feasible[chosen] = solved.drives, solved.feasible
    return drives, feasible
