"""Strength at a posture, what else can give out, and the load that reaches an effort."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache

import numpy as np

from curve_rank.arm.actuators import ELBOW, FOREARM, SHOULDER, Actuators, Capacities
from curve_rank.arm.arrays import Array, cross, dot
from curve_rank.arm.body import Body
from curve_rank.arm.force import Moments
from curve_rank.arm.parameters import parameter_set

MOST_LOAD = 2000.0
"""Loads above this [kg] read as "not limiting"."""


class ElbowStrength:
    """Largest elbow moment in a direction that the forearm balance allows, for any turning moment.

    A linear programme with one balance: its dual is convex and piecewise linear in one multiplier, with its
    corners at the actuators' own ratios of elbow moment to turning moment. Sorted once, the corner where the
    slope changes sign is read off for any load, exactly; the grip, whose ratio is 0, is set in there. The
    shoulder balance cannot bind here: the lumped shoulder muscles outweigh the crossing heads several times.

    Parameters
    ----------
    actuators : Actuators
        Of N postures.
    direction : array, shape (N,)
        +1 flexion, −1 extension.
    """

    def __init__(self, actuators: Actuators, direction: Array) -> None:
        turns = np.abs(actuators.matrix[FOREARM]).max(axis=1) > 1e-12
        self._gain, self._turn = direction * actuators.matrix[ELBOW][turns], actuators.matrix[FOREARM][turns]
        self._low, self._high = actuators.low[turns, None], actuators.high[turns, None]
        self._passive_turn = actuators.passive[FOREARM]
        moves = np.abs(self._turn) > 1e-12
        ratios = np.where(moves, self._gain / np.where(moves, self._turn, 1.0), np.inf)
        order = np.argsort(ratios, axis=0)
        self._ratios = np.take_along_axis(ratios, order, axis=0)
        rises = np.where(moves, np.abs(self._turn), 0.0) * (self._high - self._low)
        self._slopes = np.cumsum(np.take_along_axis(rises, order, axis=0), axis=0)
        before = self._ratios < 0
        self._past_grip, self._before_grip = ~before, before.sum(axis=0)
        reached = np.take_along_axis(self._slopes, np.maximum(self._before_grip - 1, 0)[None], axis=0)[0]
        self._reached = np.where(self._before_grip > 0, reached, 0.0)
        self._most = np.maximum(self._high * self._turn, self._low * self._turn).sum(axis=0)
        self._least = np.minimum(self._high * self._turn, self._low * self._turn).sum(axis=0)
        others = np.maximum(direction * actuators.matrix[ELBOW][~turns], 0.0).sum(axis=0)
        self._fixed = others + direction * actuators.passive[ELBOW]

    def at(self, turning: Array, grip: Array) -> Array:
        """Strength while an external moment about the forearm is held.

        Parameters
        ----------
        turning : array, shape (N,)
            That moment, + pronates [N·m].
        grip : array, shape (N,)
            Largest couple the hand gives the forearm, either way [N·m].

        Returns
        -------
        array, shape (N,)
            [N·m], passive moments included; 0 where even the least drive cannot hold the forearm.
        """
        wanted = -self._passive_turn - turning
        needed = self._most + grip - wanted
        corner = (self._slopes + 2 * grip * self._past_grip < needed).sum(axis=0)
        at_grip = (corner >= self._before_grip) & (self._reached + 2 * grip >= needed)
        corner = np.minimum(corner, len(self._ratios) - 1)
        ratio = np.take_along_axis(self._ratios, corner[None], axis=0)[0]
        ratio = np.where(np.isfinite(ratio) & ~at_grip, ratio, 0.0)
        reduced = self._gain - ratio * self._turn
        best = np.maximum(self._high * reduced, self._low * reduced).sum(axis=0) + ratio * wanted
        best += np.abs(ratio) * grip
        holds = (wanted <= self._most + grip) & (wanted >= self._least - grip)
        return np.where(holds, np.maximum(best + self._fixed, 0.0), 0.0)


def shoulder_strength(actuators: Actuators) -> tuple[Array, Array]:
    """Largest shoulder moment in flexion and in extension: lumped muscles and crossing heads, (N,) [N·m]."""
    moments, passive = actuators.matrix[SHOULDER], actuators.passive[SHOULDER]
    return np.maximum(moments, 0).sum(axis=0) + passive, np.maximum(-moments, 0).sum(axis=0) - passive


def crossing_heads(actuators: Actuators) -> tuple[Array, Array]:
    """What the heads that cross the shoulder can give in flexion and in extension, (N,) [N·m]."""
    moments = actuators.matrix[SHOULDER, : len(actuators.active_force)]
    return np.maximum(moments, 0).sum(axis=0), np.maximum(-moments, 0).sum(axis=0)


Link = Callable[[Array], tuple[Array, Array]]
"""One thing that can give out: takes loads of shape (reps, 1) and returns its effort and how fast that grows
per kilogram, both (reps, samples). Every link's effort is convex in the load."""


def elbow_link(capacity: Array, static: Array, per_kg: Array) -> Link:
    """A group of elbow muscles of a given capacity against demand = static + load · per_kg [N·m]."""
    room = np.maximum(capacity, 1e-6)

    def effort(load: Array) -> tuple[Array, Array]:
        demand = static + load * per_kg
        loaded = demand > 0
        return np.where(loaded, demand / room, 0.0), np.where(loaded, per_kg / room, 0.0)

    return effort


def wrist_link(static: Moments, per_kg: Moments, body: Body, capacities: Capacities) -> Link:
    """The wrist: an ellipse between its capacities in the four directions."""
    bend_back, bend_forward, to_thumb, to_little = (
        capacity * body.force_scale
        for capacity in (
            capacities.wrist_flexors,
            capacities.wrist_extensors,
            capacities.wrist_ulnar,
            capacities.wrist_radial,
        )
    )

    def effort(load: Array) -> tuple[Array, Array]:
        bend, side = static.wrist + load * per_kg.wrist, static.wrist_side + load * per_kg.wrist_side
        bend_room = np.where(bend < 0, bend_back, bend_forward)
        side_room = np.where(side > 0, to_thumb, to_little)
        x, y = bend / bend_room, side / side_room
        size = np.hypot(x, y)
        slope = (x * per_kg.wrist / bend_room + y * per_kg.wrist_side / side_room) / np.maximum(size, 1e-12)
        return size, slope

    return effort


def shoulder_link(
    heads: tuple[Array, Array],
    static: Array,
    per_kg: Array,
    upper_arm: Array,
    capacities: Capacities,
    force_scale: float,
) -> Link:
    """The unsupported shoulder: lumped muscles by the way they drive the elbow, and the crossing heads.

    The heads help about the trunk's z axis, at most as hard as the lump works: effort is the least e for
    which the lump holds the rest with effort e while they give no more than e times what they can.

    Parameters
    ----------
    heads : tuple of array, shape (reps, samples)
        What the crossing heads can give in flexion and in extension [N·m].
    static, per_kg : array, shape (3, reps, samples)
        Outside moment about the shoulder, trunk axes; the part about the arm's own axis is left out.
    upper_arm : array, shape (3, reps, samples)
        Direction of the upper arm, trunk axes.
    capacities : Capacities
        What the lumped shoulder muscles can hold.
    force_scale : float
        Of the body.
    """
    own, own_per_kg = cross(-static, upper_arm), cross(-per_kg, upper_arm)
    flexion = np.stack((-upper_arm[1], upper_arm[0], np.zeros_like(upper_arm[2])))

    def effort(load: Array) -> tuple[Array, Array]:
        way = own + load * own_per_kg
        room = capacities.shoulder(way) * force_scale
        asked, rise, help_ = way / room, own_per_kg / room, flexion / room
        square = np.maximum(dot(help_, help_), 1e-12)
        part = dot(asked, help_) / square
        size = dot(asked, asked)
        most = np.where(part > 0, heads[0], -heads[1])
        # Help as large as would serve best, where the heads can give it …
        best = np.sqrt(np.maximum(size - part**2 * square, 0.0))
        # … and all they have, where they cannot: |asked − e·most·help| = e.
        along, left = part * most * square, 1 - most**2 * square
        whole = (np.sqrt(np.maximum(along**2 + left * size, 0.0)) - along) / np.maximum(left, 1e-6)
        served = np.abs(part) <= best * np.abs(most)
        value = np.where(served, best, whole)
        given = np.where(served, part, value * most)
        rest = asked - given * help_
        rate = dot(rest, rise) / np.maximum(np.where(served, value, value + most * dot(rest, help_)), 1e-12)
        return value, rate

    return effort


@cache
def window_matrix(samples: int) -> Array:
    """Moving average over the stretch of the rep that is judged, shape (windows, samples), trapezoidal."""
    width = max(1, round(parameter_set().number("readings.hardest_window") * (samples - 1)))
    weights = np.ones(width + 1)
    weights[[0, -1]] = 0.5
    windows = np.zeros((samples - width, samples))
    for i in range(samples - width):
        windows[i, i : i + width + 1] = weights / width
    return windows


def load_at_effort(link: Link, effort: float, least: Array, samples: int) -> Array:
    """The load whose hardest stretch of the rep brings a link to `effort`, shape (reps,) [kg].

    The hardest stretch's effort is convex in the load, so Newton's method from a load above the answer
    falls onto it without overshooting. Infinite where the link never gets there below 2000 kg, `least`
    (reps,) where even that is too much: 0 for a weight, less where a body's own weight can be taken off.
    """
    windows = window_matrix(samples)
    reps = least.size
    load = np.full(reps, MOST_LOAD)
    limited = np.zeros(reps, dtype=bool)
    for step in range(40):
        value, slope = link(load[:, None])
        hardest = value @ windows.T
        which = hardest.argmax(axis=1)
        rows = np.arange(reps)
        excess = hardest[rows, which] - effort
        limited = excess > 0 if step == 0 else limited
        rate = (slope @ windows.T)[rows, which]
        move = np.where(limited & (rate > 1e-12), excess / np.maximum(rate, 1e-12), 0.0)
        before, load = load, np.maximum(load - move, least)
        if float(np.abs(load - before).max()) < 1e-10:
            break
    return np.where(limited, load, np.inf)
