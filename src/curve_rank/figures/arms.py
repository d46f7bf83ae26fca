"""The arms in a figure, and the hands that hold something."""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.data_files import read_toml
from curve_rank.figures.outlines import MovingPath, Outline, Plane
from curve_rank.figures.projection import Stance, inked, solid
from curve_rank.figures.tubes import Axis, Sections, edges, hull_of_balls, open_curve, tube

EDGE_FROM = 0.30
"""From where on, along the upper arm, it is set off from the trunk [1]."""
GRIP = 50.0
"""From the wrist to the middle of the closed hand, in the hand that is drawn [mm]."""
FOREARM_PART = 0.5
"""How much of the body's build the forearm takes."""
BACK_OF_HAND = -0.35
"""How far the palm may face away before the fingers are behind it, as a cosine."""


@cache
def drawn() -> dict[str, Any]:
    """Outlines of a person, as `person.toml` has them."""
    return read_toml("curve_rank.figures", "person.toml")


@cache
def sections(limb: str) -> Sections:
    """A limb's half widths."""
    return Sections.read(drawn()[limb])


def arm(scene: Stance) -> list[MovingPath]:
    """Upper arm, forearm and fist, over the trunk into which the shoulder goes without a line."""
    upper_axis, fore_axis = _axes(scene)
    upper, fore = arm_sections(scene)
    parts = [("upper", tube(upper_axis, upper)), ("fore", tube(fore_axis, fore)), ("fist", _fist(scene))]
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
    parts = [("far-upper", upper), ("far-fore", fore), ("far-fist", _fist(scene, other=True))]
    ink, skin = inked(parts, "fig-skin fig-far", "fig-ink fig-ink-far")
    return [*ink, *skin]


def fingers(scene: Stance) -> list[MovingPath]:
    """Fingers and thumb around what is held, the nearest last; none where the back of the hand hides them."""
    if scene.depth(scene.frame.palm).mean() < BACK_OF_HAND:
        return []
    fist = drawn()["fist"]
    along = [(t, [(h * by, p * by, t) for h, p in fist["finger"]]) for t, by, _ in fist["fingers"]]
    along.append((fist["thumb"][1][2], [tuple(p) for p in fist["thumb"]]))
    towards_thumb = float(scene.depth(scene.frame.thumb).mean())
    shapes = []
    for n, (_, points) in sorted(enumerate(along), key=lambda one: one[1][0] * towards_thumb):
        kind = "fig-thumb" if n == len(along) - 1 else "fig-finger"
        curve = open_curve(_of_hand(scene, np.array(points)))
        for part in inked([(f"digit-{n}", curve)], kind, f"{kind}-ink"):
            shapes += part
    return shapes


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


def _hand_size(scene: Stance) -> float:
    """Over the hand of which `person.toml` gives millimetres."""
    return float(1000 * scene.body.grip / GRIP)


def _of_hand(scene: Stance, points: Array, *, other: bool = False) -> Plane:
    """Points of the hand (points, 3) along it, out of the palm and towards the thumb, (frames, points)."""
    frame, size = scene.frame, _hand_size(scene) / 1000
    own = np.stack((frame.hand, frame.palm, frame.thumb))
    place = frame.wrist[:, None] + np.einsum("pk,kxf->xpf", points * size, own)
    return scene.flat(scene.mirrored(place) if other else place).T


def _fist(scene: Stance, *, other: bool = False) -> Outline:
    """The closed hand as one shape: the hull of palm, fingers and thumb."""
    fist = drawn()["fist"]
    balls = [tuple(one) for one in fist["palm"]]
    balls += [(h * by, p * by, t, r) for t, by, r in fist["fingers"] for h, p in fist["finger"]]
    table = np.array(balls)
    return hull_of_balls(_of_hand(scene, table[:, :3], other=other), table[:, 3] * _hand_size(scene))
