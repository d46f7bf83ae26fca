"""A rep in time: minimum-jerk strokes, inertia, force against velocity, time under tension."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import CubicSpline

from curve_rank.arm.body import Body
from curve_rank.arm.force import Moments, external_load, hand_moments
from curve_rank.arm.lines import Band, BodyWeight, Cable, FreeWeight, Machine, grouped
from curve_rank.arm.muscle import default_anatomy, head_geometry
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.posture import Frame, Posture, arm_frame, cross, dot, room_to_trunk
from curve_rank.arm.readings import length_weights
from curve_rank.arm.setup import RepSetup
from curve_rank.arm.sharing import share_load
from curve_rank.arm.strength import (
    ELBOW,
    FOREARM,
    SHOULDER,
    Columns,
    ElbowStrength,
    balance_columns,
    default_helpers,
    shoulder_strength,
)
from curve_rank.errors import BadInputError

Array = NDArray[np.float64]

STEP = 0.02
"""Time between samples [s]."""
LONGEST = 60.0
QUICKEST_STROKE = 0.2
LIGHT, HARD = 0.20, 0.50
"""Efforts above which time under tension is told."""
PHASES = ("lower", "pause", "lift", "squeeze")


@dataclass(frozen=True)
class Tempo:
    """Seconds to lower, pause at the stretched end, lift, and squeeze at the short end.

    Raises
    ------
    BadInputError
        For a stroke under 0.2 s, a negative or unreal number, or a rep over a minute.
    """

    lower: float = 3.0
    pause: float = 0.0
    lift: float = 1.0
    squeeze: float = 0.0

    def __post_init__(self) -> None:
        for name in PHASES:
            value = getattr(self, name)
            least = QUICKEST_STROKE if name in ("lower", "lift") else 0.0
            if not (isinstance(value, int | float) and np.isfinite(value) and value >= least):
                raise BadInputError(f"tempo {name}", value, f"a number of seconds from {least:g}")
        if self.total > LONGEST:
            raise BadInputError("tempo", f"{self.total:g} s", f"a rep of at most {LONGEST:g} s")

    @property
    def total(self) -> float:
        """Time of one rep [s]."""
        return self.lower + self.pause + self.lift + self.squeeze


@dataclass(frozen=True)
class TimedRep:
    """One rep in time, from the short end down and back up; arrays of shape (times,).

    Attributes
    ----------
    time : array
        [s]
    place : array
        Part of the rep from its stretched end, 0–1.
    phase : array of int
        Index in `PHASES`.
    demand, inertial, strength, effort : array
        Demand with inertia, inertia's part of it, strength at the heads' velocities [N·m], and effort [1].
    tension : array, shape (heads, times)
        Active force over peak force [1].
    percent : array, shape (heads, times)
        Length, percent of range.
    under_light, under_hard : float
        Time above 20 % and 50 % effort [s].
    thirds : tuple of float
        Time spent in the long, middle and short third of the rep [s].
    feasible_share : float
        Part of the time that some drives hold the load.
    """

    tempo: Tempo
    time: Array
    place: Array
    phase: NDArray[np.intp]
    demand: Array
    inertial: Array
    strength: Array
    effort: Array
    tension: Array
    percent: Array
    under_light: float
    under_hard: float
    thirds: tuple[float, float, float]
    feasible_share: float

    def tension_time(self, phases: tuple[str, ...] = PHASES) -> dict[str, Array]:
        """Tension times time of every head while long, middling and short, (heads,) [s].

        Parameters
        ----------
        phases : tuple of str
            The phases that count; others are done by someone else.
        """
        counted = np.isin(self.phase, [PHASES.index(name) for name in phases])
        step = np.where(counted, np.gradient(self.time), 0.0)
        return {
            name: (self.tension * weight * step).sum(axis=1)
            for name, weight in length_weights(self.percent).items()
        }


def time_rep(
    setup: RepSetup, body: Body, load: float, tempo: Tempo, *, start: float = 0.0, end: float = 1.0
) -> TimedRep:
    """A rep done at a tempo with a load.

    Parameters
    ----------
    setup : RepSetup
    body : Body
    load : float
        [kg]
    tempo : Tempo
    start, end : float
        The part of the rep that is used, for partial reps; 0 is the stretched end.

    Returns
    -------
    TimedRep

    Notes
    -----
    A stroke goes along the rep's own coordinate with minimum jerk (10τ³ − 15τ⁴ + 6τ⁵). Weights, the arm and a
    hanging body have inertia; a stack moves with its cable; bands and machines are taken as without.
    """
    if not 0 <= start < end <= 1:
        raise BadInputError("part of the rep", (start, end), "two numbers from 0 to 1, rising")
    time, place, phase = _strokes(tempo, start, end)
    posture = _posture_at(setup, place)
    frame = arm_frame(posture, body)
    outside = _static(setup, body, posture, frame, load)
    inertia = _inertia(setup, body, posture, frame, load, time)
    anatomy = default_anatomy()
    geometry = head_geometry(
        anatomy,
        elbow=posture.elbow[0],
        forearm=posture.forearm[0],
        shoulder=posture.shoulder[0],
        abduction=posture.abduction[0],
    )
    grip = np.full(time.size, default_helpers().grips[setup.grip])
    still = balance_columns(anatomy, geometry, forearm=posture.forearm[0], grip=grip, body=body)
    columns = _moving(still, geometry.length, time)
    direction = 1.0 if setup.flexes else -1.0
    straight = setup.coordinate == "shoulder"
    total = outside + inertia
    demand = -direction * _own(total, straight)
    strength = _strength(columns, direction, total.forearm[0], demand, straight)
    effort = np.abs(demand) / np.maximum(strength, 1e-6)
    drives, feasible = _shared(columns, total, supported=setup.upper_arm_supported)
    tension = drives * columns.active_force / (anatomy.peak_force * body.force_scale)[:, None]
    step = np.gradient(time)
    third = np.minimum((3 * place).astype(int), 2)
    return TimedRep(
        tempo=tempo,
        time=time,
        place=place,
        phase=phase,
        demand=demand,
        inertial=-direction * _own(inertia, straight),
        strength=strength,
        effort=effort,
        tension=tension,
        percent=geometry.percent,
        under_light=float(step[effort > LIGHT].sum()),
        under_hard=float(step[effort > HARD].sum()),
        thirds=(
            float(step[third == 0].sum()),
            float(step[third == 1].sum()),
            float(step[third == 2].sum()),
        ),
        feasible_share=float(feasible.mean()),
    )


def _strokes(tempo: Tempo, start: float, end: float) -> tuple[Array, Array, NDArray[np.intp]]:
    """Time, place in the rep and phase, from the short end down and back up."""
    count = max(round(tempo.total / STEP), 20)
    time = np.linspace(0, tempo.total, count + 1)
    edges = np.cumsum([tempo.lower, tempo.pause, tempo.lift])
    phase = np.searchsorted(edges, time, side="right")
    down = _minimum_jerk(time / tempo.lower)
    up = _minimum_jerk((time - edges[1]) / tempo.lift)
    place = np.where(phase == 0, end - (end - start) * down, start)
    place = np.where(phase >= 2, start + (end - start) * up, place)
    return time, place, phase


def _minimum_jerk(part: Array) -> Array:
    t = np.clip(part, 0, 1)
    result: Array = t**3 * (10 - 15 * t + 6 * t**2)
    return result


def _posture_at(setup: RepSetup, place: Array) -> Posture:
    """Postures (1, times) at places of the rep, smooth between its samples."""
    places = np.linspace(0, 1, setup.posture.elbow.size)
    return Posture(
        **{name: CubicSpline(places, row)(place)[None] for name, row in vars(setup.posture).items()}
    )


def _static(setup: RepSetup, body: Body, posture: Posture, frame: Frame, load: float) -> Moments:
    hip = np.array([[setup.hip_height]])
    external = external_load(grouped((setup.lines,)), frame, posture, body, hip)
    return external.static + external.per_kg.times(np.array([[load]]))


def _inertia(
    setup: RepSetup, body: Body, posture: Posture, frame: Frame, load: float, time: Array
) -> Moments:
    """Moments of the forces with which arm and load resist being accelerated (1, times)."""
    upper_mass, fore_mass, hand_mass = body.segment_masses
    upper_at, fore_at, hand_at = body.segment_centres
    hand = frame.wrist + hand_at * frame.hand
    force = -hand_mass * _second(hand, time)
    force = force + _load_inertia(setup, body, posture, frame, load, time)
    moments = hand_moments(frame, frame.grip, force)
    fore, upper = frame.elbow + fore_at * frame.forearm, upper_at * frame.upper_arm
    fore_force = -fore_mass * _second(fore, time)
    swing = parameter_set().number("time.gyration") * body.forearm
    turning = -fore_mass * swing**2 * cross(frame.forearm, _second(frame.forearm, time))
    about_elbow = cross(fore - frame.elbow, fore_force) + turning
    about_shoulder = cross(fore, fore_force) + cross(upper, -upper_mass * _second(upper, time)) + turning
    nothing = np.zeros_like(moments.elbow)
    return moments + Moments(dot(frame.elbow_axis, about_elbow), nothing, about_shoulder, nothing, nothing)


def _load_inertia(
    setup: RepSetup, body: Body, posture: Posture, frame: Frame, load: float, time: Array
) -> Array:
    """Force on the hand of the load's own inertia, (3, 1, times) [N]."""
    total = np.zeros_like(frame.grip)
    for line in setup.lines:
        if isinstance(line, FreeWeight):
            total = total - line.share * load * _second(frame.grip, time)
        elif isinstance(line, BodyWeight):
            mass = line.carried * body.mass + line.share * load
            up = -frame.down
            total = total - mass * dot(_second(frame.grip, time), up) * up
        elif isinstance(line, Cable):
            pulley = room_to_trunk(np.array(line.pulley), posture, body, setup.hip_height)
            along = pulley - frame.grip
            length = np.sqrt(dot(along, along))
            total = total + line.share * load * _second(length[None], time)[0] * along / length
        else:
            assert isinstance(line, Band | Machine)
    return total


def _second(values: Array, time: Array) -> Array:
    """Second derivative in time over the last axis."""
    return np.asarray(np.gradient(np.gradient(values, time, axis=-1), time, axis=-1))


def _moving(columns: Columns, length: Array, time: Array) -> Columns:
    """Columns whose active forces are those at the heads' velocities."""
    factor = force_velocity(np.gradient(length, time, axis=-1))
    heads = factor.shape[0]
    matrix = columns.matrix.copy()
    matrix[:, :heads] *= factor
    return replace(columns, matrix=matrix, active_force=columns.active_force * factor)


def force_velocity(velocity: Array) -> Array:
    """Active force over isometric force at velocities [optimal lengths/s], + lengthening (Thelen 2003)."""
    numbers = parameter_set().number
    most, shape = numbers("time.lengthening_most"), numbers("time.force_velocity_shape")
    part = np.clip(velocity / numbers("time.max_velocity"), -1, 1)
    shorter, longer = np.minimum(part, 0), np.maximum(part, 0)
    slope = (2 + 2 / shape) / (most - 1)
    lengthening = (1 + longer * slope * most) / (1 + longer * slope)
    return np.asarray((1 + shorter) / (1 - shorter / shape) * lengthening)


def _own(moments: Moments, straight: bool) -> Array:
    """The moment about the rep's own joint, (times,)."""
    return np.asarray(moments.shoulder[2, 0] if straight else moments.elbow[0])


def _strength(columns: Columns, direction: float, turning: Array, demand: Array, straight: bool) -> Array:
    """Strength of whichever group is asked, (times,) [N·m]."""
    if straight:
        flexion, extension = shoulder_strength(columns)
        target, other = (flexion, extension) if direction > 0 else (extension, flexion)
    else:
        way = np.full(turning.size, direction)
        target, other = (ElbowStrength(columns, sign * way).at(turning) for sign in (1.0, -1.0))
    return np.where(demand >= 0, target, other)


def _shared(columns: Columns, outside: Moments, *, supported: bool) -> tuple[Array, NDArray[np.bool_]]:
    rows = (ELBOW, FOREARM) if supported else (ELBOW, FOREARM, SHOULDER)
    asked = -np.stack((outside.elbow[0], outside.forearm[0], outside.shoulder[2, 0])) - columns.passive
    solved = share_load(
        columns.matrix[list(rows)],
        asked[list(rows)],
        cost=columns.cost,
        low=columns.low,
        high=columns.high,
    )
    return solved.drives[: columns.active_force.shape[0]], solved.feasible
