"""The arms in a figure, down to the hands."""

from __future__ import annotations

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.figures.hands import hand
from curve_rank.figures.outlines import MovingPath, Outline
from curve_rank.figures.projection import Stance, inked, solid
from curve_rank.figures.proportions import sections
from curve_rank.figures.tubes import Axis, Sections, edges, tube

EDGE_FROM = 0.30
"""From where on, along the upper arm, it is set off from the trunk [1]."""
FOREARM_PART = 0.5
"""How much of the body's build the forearm takes."""


def arm(scene: Stance) -> list[MovingPath]:
    """Upper arm, forearm and fist, over the trunk into which the shoulder goes without a line."""
    upper_axis, fore_axis = _axes(scene)
    upper, fore = arm_sections(scene)
    parts = [("upper", tube(upper_axis, upper)), ("fore", tube(fore_axis, fore))]
    parts += [(f"hand-{n}", one) for n, one in enumerate(hand(scene))]
    ink, skin = inked(parts, "fig-skin")
    lines = [solid(f"edge-{n}", "fig-edge", one) for n, one in enumerate(edges(upper_axis, upper, EDGE_FROM))]
    return [*(ink[1:] if lines else ink), *lines, *skin]


def upper_arm(scene: Stance) -> Outline:
    """The upper arm alone, as it goes into the body's silhouette."""
    return tube(_axes(scene)[0], arm_sections(scene)[0])


def far_arm(scene: Stance) -> list[MovingPath]:
    """The other arm, where both work and the view shows it."""
    if scene.view == "side" or scene.variant.equipment.arms == 1:
        return []
    limbs = zip(_axes(scene, other=True), arm_sections(scene), strict=True)
    upper, fore = (tube(axis, wide) for axis, wide in limbs)
    parts = [("far-upper", upper), ("far-fore", fore)]
    parts += [(f"far-hand-{n}", one) for n, one in enumerate(hand(scene, other=True))]
    ink, skin = inked(parts, "fig-skin fig-far", "fig-ink fig-ink-far")
    return [*ink, *skin]


def arm_sections(scene: Stance) -> tuple[Sections, Sections]:
    """Half widths of upper arm and forearm for the body's build."""
    build = scene.build
    fore = 1 + FOREARM_PART * (build - 1)
    return sections("upper_arm").times(build), sections("forearm").times(fore)


def _axes(scene: Stance, *, other: bool = False) -> tuple[Axis, Axis]:
    """Upper arm and forearm in the plane."""
    frame, body = scene.frame, scene.body

    def axis(start: Array, end: Array, front: Array, side: Array, length: float) -> Axis:
        if other:
            start, end = scene.mirrored(start), scene.mirrored(end)
            front, side = (vector * np.array([[1.0], [1.0], [-1.0]]) for vector in (front, side))
        begin = scene.flat(start)
        return Axis(begin, scene.flat(end) - begin, scene.way(front), scene.way(side), 1000 * length)

    return (
        axis(0 * frame.elbow, frame.elbow, scene.bend_side, frame.elbow_axis, body.upper_arm),
        axis(frame.elbow, frame.wrist, frame.bend, frame.elbow_axis, body.forearm),
    )
