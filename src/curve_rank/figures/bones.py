"""What lies under the skin: the blade's edge, the upper arm bone, the ulna and the radius that crosses it."""

from __future__ import annotations

from typing import Any

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.figures.outlines import MovingPath, Outline
from curve_rank.figures.projection import Stance, solid
from curve_rank.figures.proportions import drawn
from curve_rank.figures.tubes import Axis, Sections, open_curve, tube

ENDS = ("from", "to")


def bones(scene: Stance) -> list[MovingPath]:
    """The bones, from the shoulder on; they go under the bellies."""
    frame, shapes = scene.frame, drawn()["bones"]
    still = 0 * frame.elbow
    return [
        solid("blade", "fig-blade", _blade(scene)),
        solid("humerus", "fig-bone", _bone(scene, shapes["humerus"], still, frame.elbow)),
        *(
            solid(name, "fig-bone", _bone(scene, shapes[name], *(_end(scene, shapes[name][e]) for e in ENDS)))
            for name in ("ulna", "radius")
        ),
    ]


def _end(scene: Stance, place: dict[str, float]) -> Array:
    """A place of the forearm, (3, frames) in the trunk frame."""
    frame, by = scene.frame, 0.001 * scene.body.scale
    aside = place["bend"] * frame.bend + place["out"] * frame.elbow_axis + place["thumb"] * frame.thumb
    return np.asarray(frame.elbow + place["along"] * scene.body.forearm * frame.forearm + by * aside)


def _bone(scene: Stance, bone: dict[str, Any], start: Array, end: Array) -> Outline:
    """A round bone between two places."""
    begin = scene.flat(start)
    length = float(1000 * np.sqrt(((end - start) ** 2).sum(axis=0)).mean())
    half = np.array(bone["half"]) * scene.body.scale / length
    sections = Sections(np.array(bone["at"]), half, half, half, half)
    front, side = scene.way(scene.bend_side), scene.way(scene.frame.elbow_axis)
    return tube(Axis(begin, scene.flat(end) - begin, front, side, length), sections)


def _blade(scene: Stance) -> Outline:
    """The edge of the shoulder blade."""
    edge = 0.001 * scene.body.scale * np.array(drawn()["bones"]["blade"]["edge"])
    points = [scene.flat(scene.with_blade(place[:, None] + 0 * scene.frame.elbow)) for place in edge]
    return open_curve(np.stack(points, axis=1))
