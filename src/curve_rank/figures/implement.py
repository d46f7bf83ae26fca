"""What the hand holds, and the brightest things in the figure: the line of force and the lever."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array, dot, length_of
from curve_rank.arm.posture import room_to_trunk
from curve_rank.figures.outlines import MovingPath, Outline, Plane, capsule, disc, polygon, unit
from curve_rank.figures.projection import Projection, solid, stroke

HIDES = 0.8
"""A dumbbell whose handle points so much towards whoever looks hides the fist, as a cosine."""
WEIGHT_LINE = 0.45
"""Drawn length of the line of force where it ends at no pulley [m]."""


def implement(scene: Projection) -> list[MovingPath]:
    """What the hand holds."""
    equipment = scene.variant.equipment
    loads, handle = equipment.loads, equipment.handle
    if loads == ("machine",):
        return _machine(scene)
    if "dumbbell" in loads and "body_weight" not in loads:
        return _dumbbell(scene)
    if equipment.hands == 2 and handle != "rope":
        return _bar(scene, plates=loads[0] in ("barbell", "angled_bar", "neutral_bar"))
    return [_handle(scene, 0.06)]


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
    reach: Array | float = WEIGHT_LINE
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
        pivot,
    ]


def along_the_pull(scene: Projection, pull: Pull, most: float) -> Array:
    """The tip of the line of force, or the point that far along it from the grip [m], (3, frames)."""
    away = pull.tip - scene.frame.grip
    nearer = np.minimum(1, most / np.maximum(length_of(away), 1e-9))
    return np.asarray(scene.frame.grip + away * nearer)


def _handle(scene: Projection, half: float) -> MovingPath:
    ends = [scene.flat(scene.frame.grip + side * scene.frame.thumb) for side in (-half, half)]
    return stroke("handle", "fig-handle", *ends)


def _dumbbell(scene: Projection) -> list[MovingPath]:
    offset = getattr(scene.variant.lines[0], "offset_m", 0.0)
    centre = scene.frame.grip + offset * scene.frame.thumb
    ends = [scene.flat(centre + side * scene.frame.thumb) for side in (-0.075, 0.075)]
    outer = [scene.flat(centre + side * scene.frame.thumb) for side in (-0.115, 0.115)]
    # A head that would hide the fist is an outline; once a rep, so that nothing flickers.
    depth = float(scene.depth(scene.frame.thumb).mean())
    near = -1 if abs(depth) < HIDES else int(depth > 0)
    plates = [
        solid(f"plate-{n}", "fig-glass" if n == near else "fig-plate", capsule(a, 52, b, 46))
        for n, (a, b) in enumerate(zip(ends, outer, strict=True))
    ]
    handle = stroke("handle", "fig-handle", *ends)
    return [plates[1 - near], handle, plates[near]] if near >= 0 else [*plates, handle]


def _bar(scene: Projection, *, plates: bool) -> list[MovingPath]:
    centre = scene.frame.grip.copy()
    centre[2] = -scene.body.shoulder_half_width
    across = np.zeros_like(centre)
    across[2] = 1.0
    half = 0.55 if plates else 0.28
    ends = [scene.flat(centre + side * half * across) for side in (-1, 1)]
    shapes = [stroke("handle", "fig-handle", *ends)]
    if plates:
        inner = [scene.flat(centre + side * (half - 0.06) * across) for side in (-1, 1)]
        shapes += [
            solid(f"plate-{n}", "fig-plate", capsule(a, 100, b, 100))
            for n, (a, b) in enumerate(zip(inner, ends, strict=True))
        ]
    elif scene.variant.support.base in ("hanging", "body_row", "dip_support"):
        shapes.append(solid("bar", "fig-pulley", disc(scene.flat(scene.frame.grip), 22)))
    return shapes


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
