"""The columns that can balance a load, strength at a posture, and the load that reaches an effort."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, fields
from functools import cache

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.body import Body
from curve_rank.arm.force import Moments
from curve_rank.arm.muscle import Anatomy, HeadGeometry, head_forces
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.posture import dot

Array = NDArray[np.float64]

GRIPS = ("rope", "free", "angled_bar", "straight_bar")
HELPERS = ("grip", "stop_palm_up", "stop_palm_down", "shoulder_flexors", "shoulder_extensors")
ELBOW, FOREARM, SHOULDER = 0, 1, 2
MOST_LOAD = 2000.0
"""Loads above this [kg] read as "not limiting"."""


@dataclass(frozen=True)
class Columns:
    """What muscles and helpers can do at N postures.

    Attributes
    ----------
    matrix : array, shape (3, heads + helpers, N)
        Moment about elbow, forearm and shoulder at full drive [N·m].
    passive : array, shape (3, N)
        Moment of passive muscle force [N·m].
    active_force, passive_force : array, shape (heads, N)
        [N]
    cost, low, high : array, shape (heads + helpers,)
    """

    matrix: Array
    passive: Array
    active_force: Array
    passive_force: Array
    cost: Array
    low: Array
    high: Array


@dataclass(frozen=True)
class Helpers:
    """Capacities of what helps in the balances and of the other links [N·m], for the default body.

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
def default_helpers() -> Helpers:
    """The capacities of the shipped parameters."""
    number = parameter_set().number
    capacities = {f.name: number(f"helpers.{f.name}") for f in fields(Helpers) if f.name != "grips"}
    return Helpers({grip: number(f"helpers.grip_{grip}") for grip in GRIPS}, **capacities)


def balance_columns(
    anatomy: Anatomy,
    geometry: HeadGeometry,
    *,
    forearm: Array,
    grip: Array,
    body: Body,
    helpers: Helpers | None = None,
) -> Columns:
    """Moments of heads and helpers in the three balances.

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
    helpers : Helpers, optional
        Other than the shipped ones.
    """
    numbers, helpers = parameter_set().number, helpers or default_helpers()
    active, passive = (force * body.force_scale for force in head_forces(anatomy, geometry))
    arms = np.stack((geometry.elbow_arm, geometry.forearm_arm, geometry.shoulder_arm)) * body.scale
    heads, count = active.shape
    matrix = np.zeros((3, heads + len(HELPERS), count))
    matrix[:, :heads] = arms * active
    stop_from = numbers("helpers.end_stop_from")
    stop = helpers.end_stop * np.clip((np.abs(forearm) - stop_from) / (90 - stop_from), 0, 1)
    matrix[FOREARM, heads] = grip
    matrix[FOREARM, heads + 1] = np.where(forearm < 0, stop, 0.0)
    matrix[FOREARM, heads + 2] = -np.where(forearm > 0, stop, 0.0)
    matrix[SHOULDER, heads + 3] = helpers.shoulder_flexors * body.force_scale
    matrix[SHOULDER, heads + 4] = -helpers.shoulder_extensors * body.force_scale
    cost, low = np.ones(heads + len(HELPERS)), np.zeros(heads + len(HELPERS))
    cost[heads + 1 : heads + 3] = numbers("helpers.end_stop_cost")
    low[heads] = -1.0
    return Columns(
        matrix=matrix,
        passive=(arms * passive).sum(axis=1),
        active_force=active,
        passive_force=passive,
        cost=cost,
        low=low,
        high=np.ones_like(low),
    )


class ElbowStrength:
    """Largest elbow moment in a direction that the forearm balance allows, for any turning moment.

    A linear programme with one balance: its dual is convex and piecewise linear in one multiplier, with its
    corners at the columns' own ratios of elbow moment to turning moment. Sorted once, the corner where the
    slope changes sign is read off for any load, exactly. The shoulder balance cannot bind here: the lumped
    shoulder muscles outweigh the crossing heads several times.

    Parameters
    ----------
    columns : Columns
        Of N postures.
    direction : array, shape (N,)
        +1 flexion, −1 extension.
    """

    def __init__(self, columns: Columns, direction: Array) -> None:
        turns = np.abs(columns.matrix[FOREARM]).max(axis=1) > 1e-12
        self._gain, self._turn = direction * columns.matrix[ELBOW][turns], columns.matrix[FOREARM][turns]
        self._low, self._high = columns.low[turns, None], columns.high[turns, None]
        self._passive_turn = columns.passive[FOREARM]
        moves = np.abs(self._turn) > 1e-12
        ratios = np.where(moves, self._gain / np.where(moves, self._turn, 1.0), np.inf)
        order = np.argsort(ratios, axis=0)
        self._ratios = np.take_along_axis(ratios, order, axis=0)
        rises = np.where(moves, np.abs(self._turn), 0.0) * (self._high - self._low)
        self._slopes = np.cumsum(np.take_along_axis(rises, order, axis=0), axis=0)
        self._most = np.maximum(self._high * self._turn, self._low * self._turn).sum(axis=0)
        self._least = np.minimum(self._high * self._turn, self._low * self._turn).sum(axis=0)
        others = np.maximum(direction * columns.matrix[ELBOW][~turns], 0.0).sum(axis=0)
        self._fixed = others + direction * columns.passive[ELBOW]

    def at(self, turning: Array) -> Array:
        """Strength while an external moment `turning` (N,) about the forearm is held, + pronates [N·m].

        Returns
        -------
        array, shape (N,)
            [N·m], passive moments included; 0 where even the least drive cannot hold the forearm.
        """
        wanted = -self._passive_turn - turning
        corner = np.minimum((self._slopes < self._most - wanted).sum(axis=0), len(self._ratios) - 1)
        ratio = np.take_along_axis(self._ratios, corner[None], axis=0)[0]
        ratio = np.where(np.isfinite(ratio), ratio, 0.0)
        reduced = self._gain - ratio * self._turn
        best = np.maximum(self._high * reduced, self._low * reduced).sum(axis=0) + ratio * wanted
        holds = (wanted <= self._most) & (wanted >= self._least)
        return np.where(holds, np.maximum(best + self._fixed, 0.0), 0.0)


def shoulder_strength(columns: Columns) -> tuple[Array, Array]:
    """Largest shoulder moment in flexion and in extension: lumped muscles and crossing heads, (N,) [N·m]."""
    moments, passive = columns.matrix[SHOULDER], columns.passive[SHOULDER]
    return np.maximum(moments, 0).sum(axis=0) + passive, np.maximum(-moments, 0).sum(axis=0) - passive


@dataclass(frozen=True)
class Link:
    """One thing that can give out: its name, its effort with any load, and how fast that grows.

    `effort(load)` takes loads of shape (reps, 1) and returns effort and its slope per kilogram, both
    (reps, samples). Every link's effort is convex in the load.
    """

    name: str
    effort: Callable[[Array], tuple[Array, Array]]


def elbow_link(name: str, capacity: Array, static: Array, per_kg: Array) -> Link:
    """A group of elbow muscles of a given capacity against demand = static + load · per_kg [N·m]."""
    room = np.maximum(capacity, 1e-6)

    def effort(load: Array) -> tuple[Array, Array]:
        demand = static + load * per_kg
        loaded = demand > 0
        return np.where(loaded, demand / room, 0.0), np.where(loaded, per_kg / room, 0.0)

    return Link(name, effort)


def wrist_link(static: Moments, per_kg: Moments, body: Body, helpers: Helpers) -> Link:
    """The wrist: an ellipse between its capacities in the four directions."""
    bend_back, bend_forward, to_thumb, to_little = (
        capacity * body.force_scale
        for capacity in (
            helpers.wrist_flexors,
            helpers.wrist_extensors,
            helpers.wrist_ulnar,
            helpers.wrist_radial,
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

    return Link("wrist", effort)


def shoulder_link(
    flexion: Array, extension: Array, static: Array, per_kg: Array, upper_arm: Array, sideways: float
) -> Link:
    """The unsupported shoulder: flexion or extension, and what pulls the arm sideways, as an ellipse.

    Parameters
    ----------
    flexion, extension : array, shape (reps, samples)
        Capacities [N·m].
    static, per_kg : array, shape (3, reps, samples)
        Outside moment about the shoulder; the part about the arm's own long axis is left out.
    upper_arm : array, shape (3, reps, samples)
    sideways : float
        Capacity out of the flexion plane [N·m].
    """
    flexion, extension = np.maximum(flexion, 1e-6), np.maximum(extension, 1e-6)
    square, square_per_kg = (m - dot(m, upper_arm) * upper_arm for m in (static, per_kg))

    def effort(load: Array) -> tuple[Array, Array]:
        x, y, z = square + load * square_per_kg
        room = np.where(z < 0, flexion, extension)
        size = np.sqrt((z / room) ** 2 + (x**2 + y**2) / sideways**2)
        dx, dy, dz = square_per_kg
        slope = (z * dz / room**2 + (x * dx + y * dy) / sideways**2) / np.maximum(size, 1e-12)
        return size, slope

    return Link("shoulder", effort)


@cache
def window_matrix(samples: int) -> Array:
    """Moving average over a tenth of the rep, shape (windows, samples), trapezoidal."""
    width = max(1, round(parameter_set().number("readings.hardest_window") * (samples - 1)))
    weights = np.ones(width + 1)
    weights[[0, -1]] = 0.5
    windows = np.zeros((samples - width, samples))
    for i in range(samples - width):
        windows[i, i : i + width + 1] = weights / width
    return windows


def load_at_effort(link: Link, effort: float, least: Array, samples: int) -> Array:
    """The load whose hardest tenth of the rep brings a link to `effort`, shape (reps,) [kg].

    The hardest tenth's effort is convex in the load, so Newton's method from a load above the answer
    falls onto it without overshooting. Infinite where the link never gets there below 2000 kg, `least`
    (reps,) where even that is too much: 0 for a weight, less where a body's own weight can be taken off.
    """
    windows = window_matrix(samples)
    reps = least.size
    load = np.full(reps, MOST_LOAD)
    limited = np.zeros(reps, dtype=bool)
    for step in range(40):
        value, slope = link.effort(load[:, None])
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
