"""The heads: lengths and moment arms from one potential, and force from length.

A head's length is one function of all joint angles and each moment arm is its derivative with respect to
one of them, so lengths and arms cannot disagree, and any closed loop of postures returns the same length.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache, cached_property

import numpy as np

from curve_rank.arm.arrays import DEGREE, Array, BoolArray, Index, by_arm, over_postures, smooth_step
from curve_rank.arm.monotone import MonotoneCubic
from curve_rank.arm.parameters import ParameterSet, parameter_set

_MM = 1e-3


@dataclass(frozen=True)
class ArmCurves:
    """Moment arms of all heads against one angle: a cubic in every whole degree, and its exact integral.

    Attributes
    ----------
    first : float
        Angle at the start of the first cell [degrees].
    cubic : array, shape (heads, 4, cells)
        Coefficients, lowest power first, of the arm [m] in degrees from the cell's start.
    integral : array, shape (heads, cells)
        Integral of the arm from angle 0 to each cell's start [m·rad].
    arms : int
        How many arms' curves stand one after another along the cells.
    begins : array of int, shape (reps, 1), or 0
        The first cell of each rep's own arm.
    """

    first: float
    cubic: Array
    integral: Array
    arms: int = 1
    begins: Index | int = 0

    @cached_property
    def _acting(self) -> Index:
        """Heads that this angle moves at all; most curves are those of a few."""
        return np.flatnonzero(self.cubic.any(axis=(1, 2)))

    def at(self, angle: Array) -> tuple[Array, Array]:
        """Arm [m] and its integral from 0 [m·rad] at `angle`, each of shape (heads, *angle.shape)."""
        heads, cells = len(self.cubic), self.cubic.shape[2] // self.arms
        arm, area = np.zeros((heads, *angle.shape)), np.zeros((heads, *angle.shape))
        offset = angle - self.first
        cell = np.clip(offset.astype(np.intp), 0, cells - 1)
        t = offset - cell
        cell, acting = cell + self.begins, self._acting
        c0, c1, c2, c3 = (self.cubic[acting, power].take(cell, axis=1) for power in range(4))
        arm[acting] = c0 + t * (c1 + t * (c2 + t * c3))
        grown = t * (c0 + t * (c1 / 2 + t * (c2 / 3 + t * (c3 / 4)))) * DEGREE
        area[acting] = self.integral[acting].take(cell, axis=1) + grown
        return arm, area


@dataclass(frozen=True)
class Anatomy:
    """The heads as arrays over (heads,), in the parameter file's order.

    Forces in newtons for the default body; lengths in metres; `sign` is +1 for elbow flexors, −1 for
    extensors and 0 for the two that only turn the forearm. Of several arms together (`anatomy_of_arms`) what
    differs between them is (heads, reps, 1).
    """

    keys: tuple[str, ...]
    names: tuple[str, ...]
    sign: Array
    counted: BoolArray
    peak_force: Array
    optimal_length: Array
    cos_pennation: Array
    passive: Array
    reference_length: Array
    elbow_moment_arm: ArmCurves
    forearm_moment_arm: ArmCurves
    shoulder_moment_arm: ArmCurves
    forearm_scale: Array
    has_table: BoolArray
    reference_forearm: Array
    elbow_area_90: Array
    reference_shortening: Array
    shortening_range: tuple[Array, Array]
    active_width: float | Array
    passive_strain: float | Array

    def index(self, key: str) -> int:
        """Position of the head named `key`; ValueError if there is none."""
        return self.keys.index(key)


@dataclass(frozen=True)
class HeadGeometry:
    """Lengths and moment arms of all heads, arrays of shape (heads, *S), for the default body's size.

    Attributes
    ----------
    shortening : array
        Length lost since the arm hung straight with the thumb up [m].
    length : array
        Fibre length over optimal length [1].
    percent : array
        Length as percent of the head's own range over all reachable postures.
    elbow_moment_arm, forearm_moment_arm, shoulder_moment_arm, abduction_moment_arm : array
        Moment arms [m], + flexes, pronates, flexes, abducts.
    """

    shortening: Array
    length: Array
    percent: Array
    elbow_moment_arm: Array
    forearm_moment_arm: Array
    shoulder_moment_arm: Array
    abduction_moment_arm: Array


@cache
def default_anatomy() -> Anatomy:
    """The anatomy of the shipped parameters."""
    return build_anatomy(parameter_set())


def build_anatomy(parameters: ParameterSet) -> Anatomy:
    """Turn the parameter file's rows into arrays and curves."""
    heads = parameters.heads

    def numbers(name: str) -> Array:
        return np.array([parameters.number(f"heads.{h.key}.{name}") for h in heads])

    group_sign = {"flexors": 1.0, "extensors": -1.0, "forearm": 0.0}
    scale = np.array([parameters.number(f"muscle.force_scale_{h.group}") for h in heads])
    forearm_scale = np.array([parameters.row(f"heads.{h.key}.forearm_scale") or (0.0, 0.0) for h in heads])
    nothing = ArmCurves(0.0, np.zeros((len(heads), 4, 1)), np.zeros((len(heads), 1)))
    cos_pennation = np.cos(numbers("pennation") * DEGREE)

    anatomy = Anatomy(
        keys=tuple(h.key for h in heads),
        names=tuple(h.name for h in heads),
        sign=np.array([group_sign[h.group] for h in heads]),
        counted=np.array([h.counted for h in heads]),
        peak_force=numbers("peak_force") * scale,
        optimal_length=numbers("optimal_length") * _MM,
        cos_pennation=cos_pennation,
        passive=np.array([1.0 if h.has_passive else 0.0 for h in heads]),
        reference_length=numbers("reference_length"),
        elbow_moment_arm=nothing,
        forearm_moment_arm=nothing,
        shoulder_moment_arm=nothing,
        forearm_scale=forearm_scale,
        # A rotation table is stated at elbow 90°; a head without one turns with its elbow arm's scale alone.
        has_table=np.array([parameters.row(f"heads.{h.key}.forearm_arm") is not None for h in heads]),
        reference_forearm=np.array(
            [(parameters.row(f"heads.{h.key}.reference_forearm") or (0.0,))[0] for h in heads]
        ),
        elbow_area_90=np.zeros(len(heads)),
        reference_shortening=np.zeros(len(heads)),
        shortening_range=(np.zeros(len(heads)), np.ones(len(heads))),
        active_width=parameters.number("muscle.active_width"),
        passive_strain=parameters.number("muscle.passive_strain"),
    )
    return with_curves(
        anatomy,
        elbow_moment_arm=_curves([_elbow_nodes(parameters, h.key) for h in heads], 0, 145),
        forearm_moment_arm=_curves([_forearm_nodes(parameters, h.key) for h in heads], -90, 90),
        shoulder_moment_arm=_curves(
            [_shoulder_nodes(parameters, h.key) for h in heads], *_shoulder_ends(parameters)
        ),
    )


def with_curves(
    anatomy: Anatomy,
    *,
    elbow_moment_arm: ArmCurves,
    forearm_moment_arm: ArmCurves,
    shoulder_moment_arm: ArmCurves,
) -> Anatomy:
    """The anatomy with other moment arms, and the lengths and ranges that follow from them."""
    _, area_90 = elbow_moment_arm.at(np.array(90.0))
    changed = replace(
        anatomy,
        elbow_moment_arm=elbow_moment_arm,
        forearm_moment_arm=forearm_moment_arm,
        shoulder_moment_arm=shoulder_moment_arm,
        elbow_area_90=np.where(anatomy.has_table, area_90, 0.0),
    )
    straight = np.zeros(len(anatomy.keys))
    reference, _, _ = _elbow_and_forearm(changed, straight, anatomy.reference_forearm)
    return replace(
        changed,
        reference_shortening=np.diagonal(reference).copy(),
        shortening_range=_shortening_range(changed),
    )


def anatomy_of_arms(arms: Sequence[Anatomy], reps: int) -> Anatomy:
    """Several arms as one anatomy over arms · reps reps, each arm's in a row."""

    def rows(name: str) -> Array:
        return by_arm([getattr(arm, name) for arm in arms], reps)

    def curves(name: str) -> ArmCurves:
        each: list[ArmCurves] = [getattr(arm, name) for arm in arms]
        cells = each[0].cubic.shape[2]
        return ArmCurves(
            each[0].first,
            np.concatenate([one.cubic for one in each], axis=2),
            np.concatenate([one.integral for one in each], axis=1),
            len(each),
            np.repeat(cells * np.arange(len(each)), reps)[:, None],
        )

    least, most = (by_arm([arm.shortening_range[end] for arm in arms], reps) for end in (0, 1))
    return replace(
        arms[0],
        peak_force=rows("peak_force"),
        reference_length=rows("reference_length"),
        forearm_scale=rows("forearm_scale"),
        elbow_area_90=rows("elbow_area_90"),
        reference_shortening=rows("reference_shortening"),
        shortening_range=(least, most),
        active_width=by_arm([arm.active_width for arm in arms], reps),
        passive_strain=by_arm([arm.passive_strain for arm in arms], reps),
        elbow_moment_arm=curves("elbow_moment_arm"),
        forearm_moment_arm=curves("forearm_moment_arm"),
        shoulder_moment_arm=curves("shoulder_moment_arm"),
    )


@cache
def elbow_curves_below() -> ArmCurves:
    """The part of the default elbow moment arms near straight, which sources differ on most, alone."""
    parameters = parameter_set()
    degrees = np.arange(0, 146.0)
    fade = 1 - smooth_step(degrees, *parameters.row_of("muscle.near_straight"))
    arms = [_elbow_nodes(parameters, head.key)[0] * fade for head in parameters.heads]
    return _curves([_nodes(degrees, arm) for arm in arms], 0, 145)


def head_geometry(
    anatomy: Anatomy, *, elbow: Array, forearm: Array, shoulder: Array, abduction: Array
) -> HeadGeometry:
    """Lengths and moment arms at postures.

    Parameters
    ----------
    anatomy : Anatomy
        Heads and their paths; the shipped ones where none are given.
    elbow, forearm, shoulder, abduction : array, one shape S
        Angles inside the tables [degrees]; outside them the last cell's cubic is continued.

    Returns
    -------
    HeadGeometry
        Arrays of shape (heads, *S).
    """
    lost, elbow_moment_arm, forearm_moment_arm = _elbow_and_forearm(anatomy, elbow, forearm)
    arm, area = anatomy.shoulder_moment_arm.at(shoulder)
    cos_abduction = np.cos(abduction * DEGREE)
    shortening = lost + area * cos_abduction
    fibre = over_postures(anatomy.optimal_length * anatomy.cos_pennation, elbow.ndim)
    since_reference = shortening - over_postures(anatomy.reference_shortening, elbow.ndim)
    least, most = (over_postures(bound, elbow.ndim) for bound in anatomy.shortening_range)
    return HeadGeometry(
        shortening=shortening,
        length=over_postures(anatomy.reference_length, elbow.ndim) - since_reference / fibre,
        percent=100 * (most - shortening) / (most - least),
        elbow_moment_arm=elbow_moment_arm,
        forearm_moment_arm=forearm_moment_arm,
        shoulder_moment_arm=arm * cos_abduction,
        abduction_moment_arm=-area * np.sin(abduction * DEGREE),
    )


def active_force_length(length: Array, width: float | Array) -> Array:
    """Active force over peak force at fibre `length` over optimal [1], by its width (Thelen 2003)."""
    return np.asarray(np.exp(-((length - 1) ** 2) / width))


def passive_force_length(length: Array, strain: float | Array) -> Array:
    """Passive force over peak force at fibre `length` over optimal [1]; 0 up to 1 (Thelen 2003).

    `strain` is that at which it equals peak force.
    """
    shape = parameter_set().number("muscle.passive_shape")
    stretched = np.maximum(length - 1, 0.0)
    return np.asarray(np.expm1(shape * stretched / strain) / np.expm1(shape))


def head_forces(anatomy: Anatomy, geometry: HeadGeometry) -> tuple[Array, Array]:
    """Active force at full drive, and passive force, along the tendon.

    Returns
    -------
    active, passive : array, shape (heads, *S)
        [N] for the default body.
    """
    dimensions = geometry.length.ndim - 1
    peak_force, cos_pennation, has_passive = (
        over_postures(values, dimensions)
        for values in (anatomy.peak_force, anatomy.cos_pennation, anatomy.passive)
    )
    along_tendon = peak_force * cos_pennation
    active = along_tendon * active_force_length(geometry.length, anatomy.active_width)
    passive = along_tendon * has_passive * passive_force_length(geometry.length, anatomy.passive_strain)
    return active, passive


def _elbow_and_forearm(anatomy: Anatomy, elbow: Array, forearm: Array) -> tuple[Array, Array, Array]:
    """Shortening [m], elbow arm [m] and rotation arm [m] that elbow and forearm angle make together."""
    arm, area = anatomy.elbow_moment_arm.at(elbow)
    turn_arm, turn_area = anatomy.forearm_moment_arm.at(forearm)
    linear, square = (over_postures(anatomy.forearm_scale[:, i], elbow.ndim) for i in (0, 1))
    turn = forearm / 90
    scale = 1 + linear * turn + square * turn**2
    slope = (linear + 2 * square * turn) / (90 * DEGREE)
    from_90 = area - over_postures(anatomy.elbow_area_90, elbow.ndim)
    shortening = area + (scale - 1) * from_90 + turn_area
    return shortening, arm * scale, turn_arm + slope * from_90


def _elbow_nodes(parameters: ParameterSet, head: str) -> Array:
    row = parameters.row(f"heads.{head}.elbow_arm")
    degrees = np.arange(0, 146.0)
    if row is None:
        return np.zeros((2, degrees.size))
    knots = parameters.row("arm_knots.elbow") or ()
    curve = MonotoneCubic(np.array(knots), np.array(row) * _MM)
    return np.stack((curve(degrees), curve.rise(degrees)))


def _forearm_nodes(parameters: ParameterSet, head: str) -> Array:
    row = parameters.row(f"heads.{head}.forearm_arm")
    degrees = np.arange(-90.0, 91.0)
    if row is None:
        return np.zeros((2, degrees.size))
    base, amplitude, rate, centre, floor, constant = row
    wave = np.maximum(np.cos(rate * (degrees - centre) * DEGREE), floor)
    return _nodes(degrees, (base + amplitude * wave + constant) * _MM)


def _shoulder_ends(parameters: ParameterSet) -> tuple[int, ...]:
    """First and last angle of the shoulder tables [degrees]."""
    return tuple(int(angle) for angle in parameters.row_of("ranges.shoulder"))


def _shoulder_nodes(parameters: ParameterSet, head: str) -> Array:
    row = parameters.row(f"heads.{head}.shoulder_arm")
    first, last = _shoulder_ends(parameters)
    degrees = np.arange(first, last + 1.0)
    if row is None:
        return np.zeros((2, degrees.size))
    amplitude, rate, centre = row
    arm = amplitude * np.maximum(np.cos(rate * (degrees - centre) * DEGREE), 0.0)
    fade = parameters.row(f"heads.{head}.shoulder_arm_fade")
    if fade is not None:
        start, end, ratio = fade
        arm = arm * (1 - (1 - ratio) * smooth_step(degrees, start, end))
    return _nodes(degrees, arm * _MM)


def _nodes(degrees: Array, values: Array) -> Array:
    """Values and shape-preserving slopes at whole degrees, shape (2, nodes)."""
    return np.stack((values, MonotoneCubic(degrees, values).slopes()))


def _curves(nodes: list[Array], first: int, last: int) -> ArmCurves:
    """Cubics between whole degrees from values and slopes at them (Hermite form)."""
    table = np.stack(nodes)
    value, slope = table[:, 0], table[:, 1]
    start, end, rise, fall = value[:, :-1], value[:, 1:], slope[:, :-1], slope[:, 1:]
    cubic = np.stack(
        (start, rise, 3 * (end - start) - 2 * rise - fall, 2 * (start - end) + rise + fall), axis=1
    )
    area = (cubic / np.array([1, 2, 3, 4])[None, :, None]).sum(axis=1) * DEGREE
    running = np.concatenate((np.zeros((len(nodes), 1)), np.cumsum(area, axis=1)), axis=1)
    zero = -first
    integral = running[:, : last - first] - running[:, zero : zero + 1]
    return ArmCurves(float(first), cubic, integral)


def _shortening_range(anatomy: Anatomy) -> tuple[Array, Array]:
    """Least and most shortening of each head over all reachable postures, on a grid of five degrees."""
    elbow, forearm = np.meshgrid(np.arange(0, 146.0, 5), np.arange(-90, 91.0, 5), indexing="ij")
    lost, _, _ = _elbow_and_forearm(anatomy, elbow, forearm)
    reached = parameter_set().row_of("ranges.shoulder_reached")
    _, area = anatomy.shoulder_moment_arm.at(np.arange(reached[0], reached[1] + 1, 5))
    # Abduction only shrinks the shoulder's part towards 0, which flexion 0 reaches as well.
    low = lost.min(axis=(1, 2)) + np.minimum(area.min(axis=1), 0)
    high = lost.max(axis=(1, 2)) + np.maximum(area.max(axis=1), 0)
    return low, high
