"""What the hand holds, and the brightest things in the figure: the line of force and the lever."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.posture import dot, room_to_trunk
from curve_rank.web.drawing import Drawing
from curve_rank.web.solids import Shape, capsule, disc

Array = NDArray[np.float64]

WEIGHT_LINE = 0.45
"""Drawn length of the line of force where it ends at no pulley [m]."""


def implement(drawing: Drawing) -> list[Shape]:
    """What the hand holds."""
    equipment = drawing.variant.equipment
    loads, handle = equipment.loads, equipment.handle
    if loads == ("machine",):
        return _machine(drawing)
    if "dumbbell" in loads and "body_weight" not in loads:
        return _dumbbell(drawing)
    if equipment.hands == 2 and handle != "rope":
        return _bar(drawing, plates=loads[0] in ("barbell", "angled_bar", "neutral_bar"))
    return [_handle(drawing, 0.06)]


def force(drawing: Drawing) -> list[Shape]:
    """The line of force through the grip, its arrow, and the lever from the elbow to it."""
    elbow = drawing.flat(drawing.elbow)
    pivot = drawing.solid("pivot", "pivot", disc(elbow, 14))
    if not pulls(drawing):
        return [pivot]
    start, tip = _force_line(drawing)
    a, b = drawing.flat(start), drawing.flat(tip)
    return [
        drawing.stroke("force", "force", a, b),
        drawing.solid("arrow", "force-tip", _arrow(a, b)),
        drawing.stroke("lever", "lever", elbow, drawing.flat(lever_foot(drawing))),
        pivot,
    ]


def pulls(drawing: Drawing) -> bool:
    """Whether anything pulls at the hand; a machine only turns the elbow."""
    return bool(np.isfinite(drawing.modelled.along("lever")).any())


def lever_foot(drawing: Drawing) -> Array:
    """The point of the line of force nearest the elbow, (3, frames)."""
    direction = _direction(drawing)
    return np.asarray(drawing.grip + dot(drawing.elbow - drawing.grip, direction) * direction)


def _direction(drawing: Drawing) -> Array:
    return np.asarray(drawing.pull / np.maximum(np.sqrt(dot(drawing.pull, drawing.pull)), 1e-9))


def _force_line(drawing: Drawing) -> tuple[Array, Array]:
    """From the grip, or from the lever's foot where that lies behind it, along the pull."""
    direction = _direction(drawing)
    behind = np.minimum(dot(lever_foot(drawing) - drawing.grip, direction), 0.0)
    reach = np.full(drawing.count, WEIGHT_LINE)
    if len(drawing.variant.lines) == 1:
        for place in drawing.pulleys():
            there = room_to_trunk(np.array(place), drawing.posture, drawing.human, drawing.hip)
            reach = np.sqrt(dot(there - drawing.grip, there - drawing.grip))
    return drawing.grip + behind * direction, drawing.grip + reach * direction


def _handle(drawing: Drawing, half: float) -> Shape:
    ends = [drawing.flat(drawing.grip + side * drawing.thumb) for side in (-half, half)]
    return drawing.stroke("handle", "handle", *ends)


def _dumbbell(drawing: Drawing) -> list[Shape]:
    offset = getattr(drawing.variant.lines[0], "offset_m", 0.0)
    centre = drawing.grip + offset * drawing.thumb
    ends = [drawing.flat(centre + side * drawing.thumb) for side in (-0.075, 0.075)]
    outer = [drawing.flat(centre + side * drawing.thumb) for side in (-0.115, 0.115)]
    plates = [
        drawing.solid(f"plate-{n}", "plate", capsule(a, 52, b, 46))
        for n, (a, b) in enumerate(zip(ends, outer, strict=True))
    ]
    return [*plates, drawing.stroke("handle", "handle", *ends)]


def _bar(drawing: Drawing, *, plates: bool) -> list[Shape]:
    centre = drawing.grip.copy()
    centre[2] = -drawing.human.shoulder_half_width
    across = np.zeros_like(centre)
    across[2] = 1.0
    half = 0.55 if plates else 0.28
    ends = [drawing.flat(centre + side * half * across) for side in (-1, 1)]
    shapes = [drawing.stroke("handle", "handle", *ends)]
    if plates:
        inner = [drawing.flat(centre + side * (half - 0.06) * across) for side in (-1, 1)]
        shapes += [
            drawing.solid(f"plate-{n}", "plate", capsule(a, 100, b, 100))
            for n, (a, b) in enumerate(zip(inner, ends, strict=True))
        ]
    elif drawing.variant.support.base in ("hanging", "body_row", "dip_support"):
        shapes.append(drawing.solid("bar", "pulley", disc(drawing.flat(drawing.grip), 22)))
    return shapes


def _machine(drawing: Drawing) -> list[Shape]:
    """The arm of the machine: it turns about the elbow's own axis."""
    elbow, hand = drawing.flat(drawing.elbow), drawing.flat(drawing.grip)
    return [
        drawing.solid("machine-arm", "machine", capsule(elbow, 22, hand, 13)),
        drawing.solid("machine-axle", "machine", disc(elbow, 46)),
        _handle(drawing, 0.07),
    ]


def _arrow(start: Array, tip: Array) -> Array:
    """An arrow head at `tip`, pointing away from `start`."""
    along = tip - start
    along = along / np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-9)
    across = np.stack((-along[:, 1], along[:, 0]), axis=1)
    back = tip - 42 * along
    return np.stack((tip, back + 20 * across, back - 20 * across), axis=1)
