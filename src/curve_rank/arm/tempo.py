"""Reps in time: minimum-jerk strokes, inertia, force against velocity, time under tension."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array, BoolArray, Index, cross, dot, length_of
from curve_rank.arm.balance import Balance, balance
from curve_rank.arm.body import Body
from curve_rank.arm.force import Moments, hand_moments
from curve_rank.arm.lines import Band, BodyWeight, Cable, FreeWeight, Line, Machine
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.posture import Posture, room_to_trunk, trunk_to_room, turned_to_trunk
from curve_rank.arm.readings import THIRDS, length_weights
from curve_rank.arm.rep_setup import RepSetup, RepStack, stack_reps
from curve_rank.errors import BadInputError

STEP = 0.02
"""Time between samples [s]."""
LONGEST = 60.0
PHASES = ("lower", "pause", "lift", "squeeze")


def quickest_stroke() -> float:
    """The least time of a stroke [s]."""
    return parameter_set().number("time.quickest_stroke")


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
            least = quickest_stroke() if name in ("lower", "lift") else 0.0
            if not (isinstance(value, int | float) and np.isfinite(value) and value >= least):
                raise BadInputError(f"tempo {name}", value, f"a number of seconds from {least:g}")
        if self.total > LONGEST:
            raise BadInputError("tempo", f"{self.total:g} s", f"a rep of at most {LONGEST:g} s")

    @classmethod
    def parse(cls, text: str, field: str = "tempo") -> Tempo:
        """A tempo from "lower-pause-lift-squeeze" in seconds, as in 3-1-1-0; `field` is what it was typed in.

        Raises
        ------
        BadInputError
        """
        try:
            lower, pause, lift, squeeze = (float(part) for part in text.split("-"))
        except ValueError as error:
            raise BadInputError(field, text, "four numbers of seconds, as in 3-1-1-0") from error
        return cls(lower, pause, lift, squeeze)

    @property
    def text(self) -> str:
        """As `parse` reads it."""
        return "-".join(f"{getattr(self, name):g}" for name in PHASES)

    @property
    def total(self) -> float:
        """Time of one rep [s]."""
        return self.lower + self.pause + self.lift + self.squeeze


@dataclass(frozen=True)
class TimedReps:
    """Reps at one tempo, from the short end down and back up; S = (reps, times), or (times,) of one rep.

    Attributes
    ----------
    time : array, shape (times,)
        [s]
    place : array, shape (times,)
        Part of the rep from its stretched end, 0–1.
    phase : array of int, shape (times,)
        Index in `PHASES`.
    demand, inertial, strength, effort : array, shape S
        Demand with inertia, inertia's part of it, strength at the heads' velocities [N·m], and effort [1].
    tension : array, shape (heads, *S)
        Active force over peak force [1].
    percent : array, shape (heads, *S)
        Length, percent of range.
    feasible : array of bool, shape S
        Whether some drives hold the load.
    """

    tempo: Tempo
    time: Array
    place: Array
    phase: Index
    demand: Array
    inertial: Array
    strength: Array
    effort: Array
    tension: Array
    percent: Array
    feasible: BoolArray

    def of(self, i: int) -> TimedReps:
        """One of the reps."""
        return TimedReps(
            self.tempo, self.time, self.place, self.phase,
            demand=self.demand[i], inertial=self.inertial[i], strength=self.strength[i],
            effort=self.effort[i], feasible=self.feasible[i],
            tension=self.tension[:, i], percent=self.percent[:, i],
        )  # fmt: skip

    @property
    def steps(self) -> Array:
        """Time that each sample stands for, (times,) [s]."""
        return np.gradient(self.time)

    @property
    def under_light(self) -> Array:
        """Time above light effort, a fifth of strength, per rep [s]."""
        return self._above("readings.under_tension_light")

    @property
    def under_hard(self) -> Array:
        """Time above hard effort, half of strength, per rep [s]."""
        return self._above("readings.under_tension_hard")

    @property
    def thirds(self) -> dict[str, float]:
        """Time spent in each of `THIRDS` of the rep [s]."""
        third = np.minimum((3 * self.place).astype(int), 2)
        return {name: float(self.steps[third == n].sum()) for n, name in enumerate(THIRDS)}

    @property
    def feasible_share(self) -> Array:
        """Part of the time that some drives hold the load, per rep [1]."""
        return np.asarray(self.feasible.mean(axis=-1))

    def tension_time(self, phases: tuple[str, ...] = PHASES) -> dict[str, Array]:
        """Tension times time of every head while long, middling and short, (heads,) or (heads, reps) [s].

        Parameters
        ----------
        phases : tuple of str
            The phases that count; others are done by someone else.
        """
        counted = np.isin(self.phase, [PHASES.index(name) for name in phases])
        step = np.where(counted, self.steps, 0.0)
        return {
            name: (self.tension * weight * step).sum(axis=-1)
            for name, weight in length_weights(self.percent).items()
        }

    def _above(self, threshold: str) -> Array:
        return np.asarray(((self.effort > parameter_set().number(threshold)) * self.steps).sum(axis=-1))


def time_reps(
    setups: tuple[RepSetup, ...],
    body: Body,
    loads: Array,
    tempo: Tempo,
    *,
    start: float = 0.0,
    end: float = 1.0,
) -> TimedReps:
    """Reps done at one tempo, each with its load.

    Parameters
    ----------
    setups : tuple of RepSetup
        The reps before they are modelled.
    body : Body
        The person: size, strength, joints.
    loads : array, shape (reps,)
        [kg]
    tempo : Tempo
        Seconds of each part of a repetition.
    start, end : float
        The part of the rep that is used, for partial reps; 0 is the stretched end.

    Returns
    -------
    TimedReps
        S = (reps, times).

    Raises
    ------
    BadInputError
        When the part of the rep is none.

    Notes
    -----
    A stroke goes along the rep's own coordinate with minimum jerk (10τ³ − 15τ⁴ + 6τ⁵). Weights, the arm and a
    hanging body have inertia; a stack moves with its cable; bands and machines are taken as without.
    """
    if not 0 <= start < end <= 1:
        raise BadInputError("part of the rep", (start, end), "two numbers from 0 to 1, rising")
    time, place, phase = _strokes(tempo, start, end)
    stack = stack_reps(setups)
    still = balance(stack, posture_at(stack.posture, place), body)
    moving = still.moving(force_velocity(np.gradient(still.geometry.length, time, axis=-1)))
    inertia = inertia_of(moving, loads, time)
    outside = moving.outside(loads) + inertia
    demand = moving.demand(outside)
    strength = strength_in_time(moving, outside.forearm, demand, loads)
    drives, feasible = moving.share(outside, loads)
    heads = len(moving.anatomy.keys)
    active = moving.actuators.active_force.reshape(heads, *moving.shape)
    peak = (moving.anatomy.peak_force * body.force_scale)[:, None, None]
    return TimedReps(
        tempo=tempo,
        time=time,
        place=place,
        phase=phase,
        demand=demand,
        inertial=moving.demand(inertia),
        strength=strength,
        effort=np.abs(demand) / np.maximum(strength, 1e-6),
        tension=drives[:heads] * active / peak,
        percent=moving.geometry.percent,
        feasible=feasible,
    )


def time_rep(
    setup: RepSetup, body: Body, load: float, tempo: Tempo, *, start: float = 0.0, end: float = 1.0
) -> TimedReps:
    """As `time_reps`, for one rep; S = (times,)."""
    return time_reps((setup,), body, np.array([load]), tempo, start=start, end=end).of(0)


def force_velocity(velocity: Array) -> Array:
    """Active force over isometric force at velocities [optimal lengths/s], + lengthening (Thelen 2003)."""
    numbers = parameter_set().number
    most, shape = numbers("time.lengthening_most"), numbers("time.force_velocity_shape")
    part = np.clip(velocity / numbers("time.max_velocity"), -1, 1)
    shorter, longer = np.minimum(part, 0), np.maximum(part, 0)
    slope = (2 + 2 / shape) / (most - 1)
    lengthening = (1 + longer * slope * most) / (1 + longer * slope)
    return np.asarray((1 + shorter) / (1 - shorter / shape) * lengthening)


def _strokes(tempo: Tempo, start: float, end: float) -> tuple[Array, Array, Index]:
    """Time, place in the rep and phase, from the short end down and back up."""
    count = max(round(tempo.total / STEP), 20)
    time = np.linspace(0, tempo.total, count + 1)
    edges = np.cumsum([tempo.lower, tempo.pause, tempo.lift])
    phase = np.searchsorted(edges, time, side="right")
    down = minimum_jerk(time / tempo.lower)
    up = minimum_jerk((time - edges[1]) / tempo.lift)
    place = np.where(phase == 0, end - (end - start) * down, start)
    place = np.where(phase >= 2, start + (end - start) * up, place)
    return time, place, phase


def minimum_jerk(part: Array) -> Array:
    """Place of a stroke, 0 to 1, at parts of its time [1]."""
    t = np.clip(part, 0, 1)
    result: Array = t**3 * (10 - 15 * t + 6 * t**2)
    return result


def posture_at(posture: Posture, place: Array) -> Posture:
    """Postures (reps, times) at places of the rep, smooth between its samples."""
    from scipy.interpolate import CubicSpline  # read in only where a rep is timed

    places = np.linspace(0, 1, posture.elbow.shape[1])
    angles = CubicSpline(places, np.stack(list(vars(posture).values())), axis=-1)(place)
    return Posture(**dict(zip(vars(posture), angles, strict=True)))


def inertia_of(held: Balance, loads: Array, time: Array) -> Moments:
    """Moments of the forces with which arm and load resist being accelerated, (reps, times)."""
    body, frame = held.body, held.frame
    upper_mass, fore_mass, hand_mass = body.segment_masses
    upper_at, fore_at, hand_at = body.segment_centres
    hand = frame.wrist + hand_at * frame.hand
    force = -hand_mass * _accelerated(held, hand, time) + _load_inertia(held, loads, time)
    moments = hand_moments(frame, frame.grip, force)
    fore, upper = frame.elbow + fore_at * frame.forearm, upper_at * frame.upper_arm
    fore_force = -fore_mass * _accelerated(held, fore, time)
    swing = parameter_set().number("time.gyration") * body.forearm
    ends = _accelerated(held, frame.elbow + frame.forearm, time) - _accelerated(held, frame.elbow, time)
    turning = -fore_mass * swing**2 * cross(frame.forearm, ends)
    about_elbow = cross(fore - frame.elbow, fore_force) + turning
    upper_force = -upper_mass * _accelerated(held, upper, time)
    about_shoulder = cross(fore, fore_force) + cross(upper, upper_force) + turning
    nothing = np.zeros_like(moments.elbow)
    return moments + Moments(dot(frame.elbow_axis, about_elbow), nothing, about_shoulder, nothing, nothing)


def _load_inertia(held: Balance, loads: Array, time: Array) -> Array:
    """Force on the hand of the loads' own inertia, (3, reps, times) [N]."""
    total = np.zeros_like(held.frame.grip)
    accelerated = _accelerated(held, held.frame.grip, time)
    for i, setup in enumerate(held.stack.setups):
        for line in setup.lines:
            total[:, i] += _line_inertia(held, i, line, float(loads[i]), accelerated[:, i], time)
    return total


def _line_inertia(
    held: Balance, i: int, line: Line, load: float, accelerated: Array, time: Array
) -> Array | float:
    """One line's part of it, (3, times); nothing for bands and machines."""
    match line:
        case FreeWeight():
            return -line.load_part * load * accelerated
        case BodyWeight():
            mass = line.carried * held.body.mass + line.load_part * load
            up = -held.frame.down[:, i]
            return -mass * dot(accelerated, up) * up
        case Cable():
            there = room_to_trunk(
                np.array(line.pulley)[:, None, None], held.posture, held.body, held.stack.hip_height
            )
            along = there[:, i] - held.frame.grip[:, i]
            length = length_of(along)
            return np.asarray(line.load_part * load * _second(length[None], time)[0] * along / length)
        case Band() | Machine():
            return 0.0


def _accelerated(held: Balance, point: Array, time: Array) -> Array:
    """Acceleration in the room of a point of the trunk's frame, in the trunk's axes, (3, reps, times) [m/s²].

    The hips stay where they are. Where the hands hold the body up it is the trunk that moves, and not they.
    """
    there = trunk_to_room(point, held.posture, held.body, held.stack.hip_height)
    in_room = turned_to_trunk(_second(there, time), held.posture)
    hung = [any(isinstance(line, BodyWeight) for line in setup.lines) for setup in held.stack.setups]
    return np.where(np.array(hung)[:, None], _second(point, time), in_room)


def _second(values: Array, time: Array) -> Array:
    """Second derivative in time over the last axis."""
    return np.asarray(np.gradient(np.gradient(values, time, axis=-1), time, axis=-1))


def strength_in_time(held: Balance, turning: Array, demand: Array, loads: Array) -> Array:
    """Strength of whichever group is asked at the rep's own joint, (reps, times) [N·m]."""
    stack: RepStack = held.stack
    flexion, extension = held.shoulder_strength()
    forwards = stack.direction > 0
    at_shoulder = np.where((demand >= 0) == forwards, flexion, extension)
    turned, grip = held.flat(turning), held.grip(loads).ravel()
    target, other = (
        held.elbow_strength(way).at(turned, grip).reshape(held.shape)
        for way in (stack.direction, -stack.direction)
    )
    return np.where(stack.straight_arm, at_shoulder, np.where(demand >= 0, target, other))
