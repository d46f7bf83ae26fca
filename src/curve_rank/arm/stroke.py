"""How quickly a load can still be lifted: the least stroke that the muscles can make, fresh and at the end.

Fresh, a lift is taken to go along the rep's path with minimum jerk, as in `tempo`; its fibres' velocities go
with 1/T and its inertia with 1/T². The last repetition of a set is slow where it is hard and hardly anywhere
else, so there each place is passed as fast as what is left of the muscles can.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.balance import Balance, balance
from curve_rank.arm.body import Body
from curve_rank.arm.force import Moments
from curve_rank.arm.rep_setup import RepSetup, effort_of, stack_reps
from curve_rank.arm.strength import window_matrix
from curve_rank.arm.tempo import (
    force_velocity,
    inertia_of,
    minimum_jerk,
    posture_at,
    quickest_stroke,
    strength_in_time,
)

PLACES = 41
"""Samples of a stroke in time, and of the rep over which the hardest stretch is judged."""
SLOWEST = 20.0
"""A stroke that would take longer is none [s]."""
TRIED = 16
"""Speeds that are tried at once; between them what is looked for lies on a straight line of logarithms."""


@dataclass(frozen=True)
class Strokes:
    """How quickly a load can be lifted [s]; infinite where it cannot.

    Attributes
    ----------
    first : float
        With fresh muscles, smoothly.
    last : float
        In the last repetition of a set to failure, when one more would not go.
    """

    first: float
    last: float


def least_strokes(setup: RepSetup, body: Body, load: float, effort: float) -> Strokes:
    """The least strokes of a set at a load.

    Parameters
    ----------
    setup : RepSetup
        The rep.
    body : Body
        The person: size, strength, joints.
    load : float
        [kg]
    effort : float
        That the load is of, 0 to 1: in the last repetition as little is left of the muscles as makes it the
        effort of one repetition to failure.
    """
    evenly = np.linspace(0.0, 1.0, PLACES)
    loads = np.full(TRIED, load)
    strokes = np.geomspace(quickest_stroke(), SLOWEST, TRIED)[:, None]
    first = _least_smooth(_held(setup, body, minimum_jerk(evenly)), loads, strokes)
    last = _slowed_where_hard(_held(setup, body, evenly), loads, strokes, min(effort / effort_of(1), 1.0))
    return Strokes(first, max(last, first) if np.isfinite(first) else last)


def _held(setup: RepSetup, body: Body, place: Array) -> Balance:
    """The rep at places along it, so many times over as speeds are tried."""
    stack = stack_reps((setup,) * TRIED)
    return balance(stack, posture_at(stack.posture, place), body)


def _least_smooth(held: Balance, loads: Array, strokes: Array) -> float:
    time = np.linspace(0.0, 1.0, PLACES)
    place = minimum_jerk(time)
    velocity = np.gradient(held.geometry.length, time, axis=-1) / strokes
    inertia = inertia_of(held, loads, time).times(strokes**-2.0)
    effort = _effort(held, loads, velocity, inertia, 1.0)
    even = np.stack([np.interp(time, place, row) for row in effort])
    return _crossing(strokes[:, 0], (even @ window_matrix(PLACES).T).max(axis=1))


def _slowed_where_hard(held: Balance, loads: Array, strokes: Array, left: float) -> float:
    """Time to pass every place as fast as its stretch of the rep lets the muscles, [s]."""
    place = np.linspace(0.0, 1.0, PLACES)
    velocity = np.gradient(held.geometry.length, place, axis=-1) / strokes
    windows = window_matrix(PLACES)
    stretches = _effort(held, loads, velocity, None, left) @ windows.T
    middle = np.linspace(0.0, 1.0, windows.shape[0])
    slowness = [_crossing(strokes[:, 0], column) for column in stretches.T]
    return float(np.trapezoid(slowness, middle))


def _effort(held: Balance, loads: Array, velocity: Array, inertia: Moments | None, left: float) -> Array:
    """Effort along every one of the strokes, (strokes, samples) [1]."""
    moving = held.moving(left * force_velocity(velocity))
    outside = moving.outside(loads)
    outside = outside if inertia is None else outside + inertia
    demand = moving.demand(outside)
    strength = strength_in_time(moving, outside.forearm, demand, loads)
    return np.abs(demand) / np.maximum(strength, 1e-6)


def _crossing(strokes: Array, effort: Array) -> float:
    """The quickest stroke from which on the effort stays at 1 or under [s]; infinite where none does."""
    over = np.flatnonzero(effort > 1)
    if not over.size:
        return float(strokes[0])
    n = int(over[-1])
    if n == len(strokes) - 1:
        return float("inf")
    part = (effort[n] - 1) / (effort[n] - effort[n + 1])
    return float(strokes[n] * (strokes[n + 1] / strokes[n]) ** part)
