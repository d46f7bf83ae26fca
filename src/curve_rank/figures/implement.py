"""What the hand holds, and the brightest things in the figure: the line of force and the lever."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from curve_rank.arm.arrays import Array, dot, length_of
from curve_rank.arm.posture import room_to_trunk
from curve_rank.catalogue.line_kinds import BandLine
from curve_rank.figures import hands
from curve_rank.figures.outlines import (
    MovingPath,
    Outline,
    Plane,
    capsule,
    disc,
    polygon,
    polyline,
    slab,
    unit,
)
from curve_rank.figures.projection import Projection, solid, stroke
from curve_rank.figures.tubes import closed_curve

HIDES = 0.8
"""A dumbbell whose handle points so much towards whoever looks hides the fist, as a cosine."""
END_ON = 0.3
"""An axis of which no more than this part is ever seen has no direction in the picture [1]."""
EDGE_ON = 0.97
"""A plate whose axis is always shown as long as this is seen from its edge [1]."""
RIM = 12
"""Points around a round plate."""
IRON, BAR, LEAST_IRON = 7200.0, 8.0, 2.0
"""Density [kg/m³]; what a bar weighs without its plates, and the lightest dumbbell that is drawn [kg]."""
PLATES = ((15, 0.225, 0.05), (8, 0.19, 0.04), (4, 0.15, 0.035), (-math.inf, 0.11, 0.03))
"""From how much on each side of a bar on [kg], radius and thickness of what is drawn there [m]."""
BARS = ("barbell", "angled_bar", "neutral_bar")
LEAST_REACH = 40.0
"""How far a fist reaches around its grip [mm]."""
INNER, FLAT = 0.062, 0.9
"""Where a dumbbell's head begins from the middle of the grip [m], and how thick it is over its radius [1]."""
FIST_HALF = 0.055
"""Half of the stretch of an angled bar that a hand holds [m]."""
SQUARE = 26.0
"""Side of the square that marks a right angle [mm]."""
BAND = 30.0
"""Width of a band that is not stretched [mm]."""
KNOB, KNOB_RADIUS, ROPE = 0.062, 0.024, 0.16
"""From the middle of the grip to a rope's knob, the knob's radius, and how far the rope is drawn [m]."""
WEIGHT_LINE = 0.45
"""Drawn length of the line of force where it ends at no pulley, unless the floor is nearer [m]."""
LEAST_LINE = 0.15
"""How much of it is drawn just over the floor [m]."""


def implement(scene: Projection) -> list[MovingPath]:
    """What the hand holds."""
    equipment = scene.variant.equipment
    loads, handle = equipment.loads, equipment.handle
    if loads == ("machine",):
        return _machine(scene)
    if _is_dumbbell(scene):
        return _dumbbell(scene)
    if hands.is_open(scene) or scene.variant.support.base == "dip_support":  # the rail is furniture
        return []
    pulled = _band(scene)
    if handle == "rope":
        return [*pulled, *_rope(scene)]
    if equipment.hands == 2:
        return [*pulled, *_bar(scene)]
    return [*pulled, _handle(scene, 0.06)]


@dataclass(frozen=True)
class Pull:
    """The line of force and the lever over a rep, points (3, frames) in the trunk frame.

    Attributes
    ----------
    start, tip : array
        Where the line of force is drawn from and to.
    foot : array
        Its point nearest the elbow.
    """

    start: Array
    tip: Array
    foot: Array


def pull_of(scene: Projection) -> Pull | None:
    """The line of force through the grip; None where nothing pulls there: a machine only turns the elbow."""
    if not np.isfinite(scene.modelled.along("lever")).any():
        return None
    grip = scene.frame.grip
    direction = scene.pull / np.maximum(length_of(scene.pull), 1e-9)
    foot = grip + dot(scene.frame.elbow - grip, direction) * direction
    # From the grip, or from the lever's foot where that lies behind it.
    behind = np.minimum(dot(foot - grip, direction), 0.0)
    height = scene.in_room(grip)[1]
    falls = height - scene.in_room(grip + direction)[1]
    reach: Array = np.clip(height / np.maximum(falls, 1e-9), LEAST_LINE, WEIGHT_LINE)
    if len(scene.variant.lines) == 1:
        for place in scene.pulleys():
            there = room_to_trunk(np.array(place), scene.posture, scene.body, scene.hip)
            reach = length_of(there - grip)
    return Pull(start=grip + behind * direction, tip=grip + reach * direction, foot=foot)


def force(scene: Projection, pull: Pull | None) -> list[MovingPath]:
    """The line of force with its arrow, and the lever from the elbow to it."""
    elbow = scene.flat(scene.frame.elbow)
    pivot = solid("pivot", "fig-pivot", disc(elbow, 14))
    if pull is None:
        return [pivot]
    a, b = scene.flat(pull.start), scene.flat(pull.tip)
    return [
        stroke("force", "fig-force", a, b),
        solid("arrow", "fig-tip", arrow(a, b)),
        stroke("lever", "fig-lever", elbow, scene.flat(pull.foot)),
        solid("square", "fig-square", _square(elbow, scene.flat(pull.foot))),
        pivot,
    ]


def _square(elbow: Plane, foot: Plane) -> Outline:
    """The right angle that the lever makes with the line of force, where they meet."""
    along = (elbow - foot) * np.minimum(SQUARE / np.maximum(np.abs(elbow - foot), 1e-9), 0.5)
    return polyline([foot + along, foot + (1 + 1j) * along, foot + 1j * along])


def along_the_pull(scene: Projection, pull: Pull, most: float) -> Array:
    """The tip of the line of force, or the point that far along it from the grip [m], (3, frames)."""
    away = pull.tip - scene.frame.grip
    nearer = np.minimum(1, most / np.maximum(length_of(away), 1e-9))
    return np.asarray(scene.frame.grip + away * nearer)


def _is_dumbbell(scene: Projection) -> bool:
    loads = scene.variant.equipment.loads
    return "dumbbell" in loads and "body_weight" not in loads


def _handle(scene: Projection, half: float) -> MovingPath:
    ends = [scene.flat(scene.frame.grip + side * scene.frame.thumb) for side in (-half, half)]
    return stroke("handle", "fig-handle", *ends)


def reach(scene: Projection) -> float:
    """How far what is held reaches around the grip across a handle [mm]."""
    loads = scene.variant.equipment.loads
    if _is_dumbbell(scene):
        return 1000 * _head_radius(scene)
    return 1000 * _plate(scene)[0] if loads[0] in BARS else LEAST_REACH


def _head_radius(scene: Projection) -> float:
    """Of one head of a dumbbell, which is iron [m]."""
    volume = max(scene.modelled.load, LEAST_IRON) / 2 / IRON
    return float((volume / (FLAT * math.pi)) ** (1 / 3))


def _plate(scene: Projection) -> tuple[float, float]:
    """Radius and thickness of what is on one side of a bar [m]."""
    side = (scene.modelled.load - BAR) / 2
    return next(((radius, thick) for least, radius, thick in PLATES if side >= least), PLATES[-1][1:])


def _dumbbell(scene: Projection) -> list[MovingPath]:
    """A dumbbell; of one that points at whoever looks the near head is an outline, for the hand's sake."""
    centre = _middle_of_dumbbell(scene)
    ends = [scene.flat(centre + side * scene.frame.thumb) for side in (-INNER, INNER)]
    near, held = _near_head(scene), [*_band(scene), stroke("handle", "fig-handle", *ends)]
    if near is None:
        return [_head(scene, 0), _head(scene, 1), *held]
    return [*held, replace(_head(scene, near), role="fig-glass")]


def _middle_of_dumbbell(scene: Projection) -> Array:
    offset = getattr(scene.variant.lines[0], "offset_m", 0.0)
    return np.asarray(scene.frame.grip + offset * scene.frame.thumb)


def _near_head(scene: Projection) -> int | None:
    """Which head of a dumbbell would hide the fist, 0 or 1; decided once a rep, so that nothing flickers."""
    depth = float(scene.depth(scene.frame.thumb).mean())
    return None if abs(depth) < HIDES else int(depth > 0)


def _head(scene: Projection, n: int) -> MovingPath:
    """One head of a dumbbell: 0 towards the little finger, 1 towards the thumb."""
    centre, radius, side = _middle_of_dumbbell(scene), _head_radius(scene), 2 * n - 1
    inner, outer = (
        scene.flat(centre + side * at * scene.frame.thumb) for at in (INNER, INNER + FLAT * radius)
    )
    return solid(f"plate-{n}", "fig-plate", _round(inner, outer, 1000 * FLAT * radius, 1000 * radius))


def _round(inner: Plane, outer: Plane, thick: float, radius: float) -> Outline:
    """A round plate between two places of its axis [mm], seen from anywhere: the hull of its two rims."""
    axis = outer - inner
    shown = np.clip(np.abs(axis) / thick, 0, 1)
    if shown.min() > EDGE_ON:
        return slab((inner + outer) / 2, [axis / 2, 1j * radius * unit(axis)], thick / 4)
    along = unit(axis) if shown.max() > END_ON else np.ones_like(axis)
    turn = np.exp(2j * np.pi * (np.arange(RIM) + 0.5) / RIM)
    rim = radius * (1j * turn.imag + turn.real * np.sqrt(1 - shown**2)[:, None]) * along[:, None]
    return closed_curve(np.where(turn.real < 0, inner[:, None], outer[:, None]) + rim)


def lines_of_bar(scene: Projection) -> list[tuple[Plane, Plane]]:
    """A bar that is seen along its length, and its plates from their edge: from where to where; else none."""
    if scene.view == "side" or scene.variant.equipment.loads[0] not in BARS:
        return []
    half, (radius, _) = _half_of_bar(scene), _plate(scene)
    ends = [_on_bar(scene, side * half) for side in (-1, 1)]
    plates = [_on_bar(scene, side * (half - 0.05)) for side in (-1, 1)]
    rim = 1000j * radius * unit(ends[1] - ends[0])
    return [(ends[0], ends[1]), *((at - rim, at + rim) for at in plates)]


def _half_of_bar(scene: Projection) -> float:
    """Half of a bar's length [m]."""
    if scene.variant.equipment.loads[0] in BARS:
        return 0.60
    return 0.80 if _hangs(scene) else 0.28


def _hangs(scene: Projection) -> bool:
    return scene.variant.support.base in ("hanging", "body_row")


def _on_bar(scene: Projection, away: float) -> Plane:
    """The place so far along a bar from its middle [m]."""
    place = scene.frame.grip.copy()
    place[2] = away - scene.body.shoulder_half_width
    return scene.flat(place)


def _bar(scene: Projection) -> list[MovingPath]:
    frame, hangs, half = scene.frame, _hangs(scene), _half_of_bar(scene)
    ends = [_on_bar(scene, side * half) for side in (-1, 1)]
    if scene.variant.equipment.handle == "angled_bar":
        held = [frame.grip + side * FIST_HALF * frame.thumb for side in (-1, 1)]
        right = sorted(held, key=lambda point: float(point[2].mean()))
        bends = [scene.mirrored(point) for point in reversed(right)] + right
        shapes = [solid("handle", "fig-handle", polyline([ends[0], *map(scene.flat, bends), ends[1]]))]
    else:
        shapes = [stroke("handle", "fig-handle", *ends)]
    if scene.variant.equipment.loads[0] not in BARS:
        if scene.view == "side" and hangs:
            shapes.append(solid("bar", "fig-pulley", disc(scene.flat(frame.grip), 22)))
        return shapes
    radius, thick = _plate(scene)
    inner = [_on_bar(scene, side * (half - 0.05 - thick)) for side in (-1, 1)]
    outer = [_on_bar(scene, side * (half - 0.05)) for side in (-1, 1)]
    far, near = (
        solid(f"plate-{n}", "fig-plate", _round(a, b, 1000 * thick, 1000 * radius))
        for n, (a, b) in enumerate(zip(inner, outer, strict=True))
    )
    if scene.view == "side":  # the near plate would hide the fist, and the far one is behind the body
        return [*shapes, replace(near, role="fig-glass")]
    return [far, near, *shapes]


def behind(scene: Projection) -> list[MovingPath]:
    """What lies behind hand and body: a bar's far plate, and a dumbbell's far head."""
    equipment = scene.variant.equipment
    if _is_dumbbell(scene):
        near = _near_head(scene)
        return [] if near is None else [replace(_head(scene, 1 - near), role="fig-plate fig-plate-far")]
    if scene.view != "side" or equipment.loads[0] not in BARS:
        return []
    radius, _ = _plate(scene)
    return [solid("plate-0", "fig-plate fig-plate-far", disc(scene.flat(scene.frame.grip), 1000 * radius))]


def _band(scene: Projection) -> list[MovingPath]:
    """Bands from where they are made fast to the hand, thinner as they stretch."""
    shapes = []
    for n, line in enumerate(scene.variant.lines):
        if isinstance(line, BandLine):
            anchor = np.array([[line.forward], [line.up], [line.right]])
            hand = scene.in_room(scene.frame.grip)
            stretch = np.maximum(length_of(hand - anchor) / line.slack_m, 1.0)
            a, b = np.broadcast_arrays(scene.plane(anchor), scene.plane(hand))
            side = 0.5 * BAND / np.sqrt(stretch) * 1j * unit(b - a)
            shapes.append(
                solid(
                    f"band-{n}",
                    "fig-band",
                    polygon(np.stack((a + side, b + side, b - side, a - side), axis=1)),
                )
            )
    return shapes


def _rope(scene: Projection) -> list[MovingPath]:
    """A rope through the fist, its knob on the side away from where it is drawn to."""
    frame = scene.frame
    towards = scene.pull / np.maximum(length_of(scene.pull), 1e-9)
    side = 1.0 if float(dot(towards, frame.thumb).mean()) > 0 else -1.0
    leaves, knob = frame.grip + side * KNOB * frame.thumb, frame.grip - side * KNOB * frame.thumb
    ends = [scene.flat(point) for point in (knob, leaves, leaves + ROPE * towards)]
    return [
        solid("handle", "fig-rope", polyline(ends)),
        solid("knob", "fig-plate", disc(ends[0], 1000 * KNOB_RADIUS)),
    ]


def _machine(scene: Projection) -> list[MovingPath]:
    """The arm of the machine: it turns about the elbow's own axis."""
    elbow, hand = scene.flat(scene.frame.elbow), scene.flat(scene.frame.grip)
    return [
        solid("machine-arm", "fig-machine", capsule(elbow, 22, hand, 13)),
        solid("machine-axle", "fig-machine", disc(elbow, 46)),
        _handle(scene, 0.07),
    ]


def arrow(start: Plane, tip: Plane) -> Outline:
    """An arrow head at `tip`, pointing away from `start`."""
    along = unit(tip - start)
    back = tip - 42 * along
    return polygon(np.stack((tip, back + 20j * along, back - 20j * along), axis=1))
