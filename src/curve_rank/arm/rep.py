"""A whole rep: demand, strength and effort along it, and what every head does, for many reps at once."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.body import Body
from curve_rank.arm.force import ExternalLoad, Line, Moments, external_load
from curve_rank.arm.muscle import Anatomy, HeadGeometry, default_anatomy, head_geometry
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.posture import Frame, Posture, arm_frame, stacked
from curve_rank.arm.sharing import share_load
from curve_rank.arm.strength import (
    ELBOW,
    MOST_LOAD,
    SHOULDER,
    Columns,
    Link,
    balance_columns,
    elbow_link,
    elbow_strength,
    load_at_effort,
    shoulder_link,
    wrist_link,
)
from curve_rank.errors import BadInputError

Array = NDArray[np.float64]
BoolArray = NDArray[np.bool_]

SAMPLES = 41
DEFAULT_EFFORT_REPS = 10
GRIPS = ("rope", "free", "angled_bar", "straight_bar")


@dataclass(frozen=True)
class RepSetup:
    """One rep to be modelled.

    Attributes
    ----------
    posture : Posture
        Angles of shape (SAMPLES,), from the target group's stretched end to its short end, evenly spaced
        in the rep coordinate.
    lines : tuple of Line
    flexes : bool
        True when the elbow flexors are the target, False for the extensors.
    grip : str
        One of `GRIPS`: how well the handle resists the forearm's turning.
    upper_arm_supported : bool
        Something else holds the upper arm, so the shoulder balance is not asked.
    hip_height : float
        [m]
    """

    posture: Posture
    lines: tuple[Line, ...]
    flexes: bool
    grip: str
    upper_arm_supported: bool
    hip_height: float


@dataclass(frozen=True)
class RepBatch:
    """Modelled reps. Arrays are (reps, samples), per-head arrays (heads, reps, samples).

    Attributes
    ----------
    load : array, shape (reps,)
        Load in use [kg]: the working load, or the one asked for.
    limits : tuple of tuple of (str, float)
        Per rep, each link's own load at the chosen effort [kg]; infinite = not limiting.
    demand : array
        External elbow moment that the target group must hold; negative where it reverses [N·m].
    strength, opposite_strength : array
        Largest elbow moment of target and opposite group [N·m].
    effort : array
        Demand over strength of whichever group is asked [1].
    lever : array
        [m]
    drive, force, passive_force, elbow_moment : array
        Drive [1], active and passive force [N], active elbow moment in the target direction [N·m].
    feasible : array of bool
        Whether any drives hold the load there.
    """

    setups: tuple[RepSetup, ...]
    body: Body
    anatomy: Anatomy
    posture: Posture
    frame: Frame
    geometry: HeadGeometry
    external: tuple[ExternalLoad, ...]
    load: Array
    limits: tuple[tuple[tuple[str, float], ...], ...]
    demand: Array
    strength: Array
    opposite_strength: Array
    effort: Array
    lever: Array
    shoulder_moment: Array
    drive: Array
    helper_drive: Array
    force: Array
    passive_force: Array
    elbow_moment: Array
    feasible: BoolArray


def effort_for_reps(reps: float) -> float:
    """Effort at which `reps` repetitions end in failure: 1/(1 + n/30), trusted from 1 to 20."""
    if not 1 <= reps <= 20:
        raise BadInputError("reps", reps, "1 to 20 repetitions, where the rule is trusted")
    return 1 / (1 + reps / parameter_set().number("readings.reps_constant"))


def model_reps(
    setups: tuple[RepSetup, ...],
    *,
    body: Body,
    effort: float | None = None,
    loads: Array | None = None,
    anatomy: Anatomy | None = None,
) -> RepBatch:
    """Model reps, each at its working load for an effort or at a given load.

    Parameters
    ----------
    setups : tuple of RepSetup
        At least one; all with the same number of samples.
    body : Body
    effort : float, optional
        Effort of the hardest tenth of the rep, 0 to 1; default: ten repetitions to failure.
    loads : array, shape (reps,), optional
        Loads [kg] to use instead; NaN entries fall back to the working load.
    anatomy : Anatomy, optional

    Returns
    -------
    RepBatch

    Raises
    ------
    PostureError
        For postures outside the tables or a pulley inside the body.
    """
    anatomy = anatomy or default_anatomy()
    effort = effort_for_reps(DEFAULT_EFFORT_REPS) if effort is None else effort
    posture = stacked([setup.posture for setup in setups])
    posture.check()
    frame = arm_frame(posture, body)
    external = tuple(
        external_load(s.lines, arm_frame(s.posture, body), s.posture, body, s.hip_height) for s in setups
    )
    geometry = head_geometry(
        anatomy,
        elbow=posture.elbow,
        forearm=posture.forearm,
        shoulder=posture.shoulder,
        abduction=posture.abduction,
    )
    columns = _columns(anatomy, geometry, setups, posture, body)
    return _loaded(setups, body, anatomy, posture, frame, geometry, external, columns, effort, loads)


def _columns(
    anatomy: Anatomy, geometry: HeadGeometry, setups: tuple[RepSetup, ...], posture: Posture, body: Body
) -> Columns:
    flat = HeadGeometry(
        **{name: values.reshape(len(anatomy.keys), -1) for name, values in vars(geometry).items()}
    )
    grips = [parameter_set().number(f"helpers.grip_{s.grip}") for s in setups]
    grip = np.repeat(np.array(grips), posture.elbow.shape[1])
    return balance_columns(anatomy, flat, forearm=posture.forearm.ravel(), grip=grip, body=body)


def _loaded(
    setups: tuple[RepSetup, ...],
    body: Body,
    anatomy: Anatomy,
    posture: Posture,
    frame: Frame,
    geometry: HeadGeometry,
    external: tuple[ExternalLoad, ...],
    columns: Columns,
    effort: float,
    loads: Array | None,
) -> RepBatch:
    shape = posture.elbow.shape
    direction = np.array([[1.0 if s.flexes else -1.0] for s in setups])
    spread = np.broadcast_to(direction, shape).ravel()
    parts = _Parts(setups, body, external, columns, direction)
    strength, opposite, limits, load = _working_load(parts, effort, loads)

    at_load = load[:, None]
    elbow = _each(external, lambda e: e.static.elbow) + at_load * _each(external, lambda e: e.per_kg.elbow)
    turn = _each(external, lambda e: e.static.forearm) + at_load * _each(external, lambda e: e.per_kg.forearm)
    lift = _each(external, lambda e: e.static.shoulder[2]) + at_load * _each(
        external, lambda e: e.per_kg.shoulder[2]
    )
    demand = -direction * elbow
    unsupported = np.repeat([not s.upper_arm_supported for s in setups], shape[1])
    drives, feasible = _drives(columns, np.stack((elbow, turn, lift)).reshape(3, -1), unsupported)

    heads = len(anatomy.keys)
    per_head = (heads, *shape)
    moment = spread * columns.matrix[ELBOW, :heads] * drives[:heads]
    return RepBatch(
        setups=setups,
        body=body,
        anatomy=anatomy,
        posture=posture,
        frame=frame,
        geometry=geometry,
        external=external,
        load=load,
        limits=limits,
        demand=demand,
        strength=strength,
        opposite_strength=opposite,
        effort=np.where(
            demand >= 0, demand / np.maximum(strength, 1e-6), -demand / np.maximum(opposite, 1e-6)
        ),
        lever=_each(external, lambda e: e.lever),
        shoulder_moment=lift,
        drive=drives[:heads].reshape(per_head),
        helper_drive=drives[heads:].reshape(-1, *shape),
        force=(columns.active_force * drives[:heads]).reshape(per_head),
        passive_force=columns.passive_force.reshape(per_head),
        elbow_moment=moment.reshape(per_head),
        feasible=feasible.reshape(shape),
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


def _each(external: tuple[ExternalLoad, ...], part: Callable[[ExternalLoad], Array]) -> Array:
    """One part of every rep's external load, stacked to (reps, samples)."""
    return np.stack([part(e) for e in external])


def _stack(moments: list[Moments]) -> Moments:
    return Moments(
        **{f.name: np.stack([getattr(m, f.name) for m in moments], axis=-2) for f in fields(Moments)}
    )


@dataclass(frozen=True)
class _Parts:
    """What the working load is found from."""

    setups: tuple[RepSetup, ...]
    body: Body
    external: tuple[ExternalLoad, ...]
    columns: Columns
    direction: Array


PASSES = 4


def _working_load(
    parts: _Parts, effort: float, loads: Array | None
) -> tuple[Array, Array, tuple[tuple[tuple[str, float], ...], ...], Array]:
    """Strength of both groups, each link's load at the effort, and the load in use.

    A load that turns the forearm changes what the elbow can do and so the load: the two are found
    together in a few passes, from no load on. Each pass shrinks the gap about tenfold.
    """
    static, per_kg = (
        _each(parts.external, lambda e: e.static.forearm),
        _each(parts.external, lambda e: e.per_kg.forearm),
    )
    direction = np.broadcast_to(parts.direction, static.shape).ravel()
    load = np.zeros(len(parts.setups)) if loads is None else np.nan_to_num(loads)
    for _ in range(PASSES):
        turning = (static + load[:, None] * per_kg).ravel()
        strength = elbow_strength(parts.columns, direction, turning).reshape(static.shape)
        opposite = elbow_strength(parts.columns, -direction, turning).reshape(static.shape)
        limits = _limits(parts, strength, opposite, effort)
        weakest = np.array([min(value for _, value in row) for row in limits])
        found = weakest if loads is None else np.where(np.isnan(loads), weakest, loads)
        found = np.minimum(found, MOST_LOAD)
        settled = np.all(np.abs(found - load) <= 1e-5 * (1 + load))
        load = found
        if settled:
            break
    return strength, opposite, limits, load


def _limits(
    parts: _Parts, strength: Array, opposite: Array, effort: float
) -> tuple[tuple[tuple[str, float], ...], ...]:
    """Per rep, the load at which each link reaches the effort."""
    shape, external = strength.shape, parts.external
    static = -parts.direction * _each(external, lambda e: e.static.elbow)
    per_kg = -parts.direction * _each(external, lambda e: e.per_kg.elbow)
    links: list[Link] = [
        elbow_link("elbow", strength, static, per_kg),
        elbow_link("elbow_return", opposite, -static, -per_kg),
        wrist_link(_stack([e.static for e in external]), _stack([e.per_kg for e in external]), parts.body),
        shoulder_link(
            parts.columns,
            _each(external, lambda e: e.static.shoulder[2]),
            _each(external, lambda e: e.per_kg.shoulder[2]),
            shape,
        ),
    ]
    loads = {link.name: load_at_effort(link, effort, *shape) for link in links}
    return tuple(
        tuple(
            (name, float(values[i]))
            for name, values in loads.items()
            if not (name == "shoulder" and setup.upper_arm_supported)
        )
        for i, setup in enumerate(parts.setups)
    )
