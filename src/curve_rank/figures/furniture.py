"""What stands in the room, as `things.toml` has it: the floor, seats and benches, pads, racks, pulleys."""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np

from curve_rank.arm.arrays import Array, dot
from curve_rank.catalogue.line_kinds import BandLine, CableLine
from curve_rank.data_files import read_toml
from curve_rank.figures.outlines import MovingPath, Outline, Plane, disc, slab, strokes
from curve_rank.figures.projection import Stance, hand_height, hands_on_bench, solid, stroke

AXES = np.eye(3)
SEAT_UNDER_HIP = 0.11
"""From the middle of the hips down to what somebody sits on [m]."""
BACK_PART = 0.235
"""How deep the back lies behind the line from hip to shoulder, over the trunk's length [1]."""
GRIPPED = 0.025
"""How far what the hands rest on lies below the middle of the grip [m]."""
CORNER, POST = 16.0, 28.0
"""Radius of a slab's corners, and half the width of a post [mm]."""
UNDERFOOT = 0.4
"""A band that is made fast nearer than this to under the hips is stood upon [m]."""
OVERHEAD = 0.05
"""A pulley so near over or under who pulls has its column in front of them [m]."""


@cache
def _things() -> dict[str, Any]:
    return read_toml("curve_rank.figures", "things.toml")


def furniture(scene: Stance) -> list[MovingPath]:
    """Floor, columns, benches and pads, back to front."""
    shapes = []
    if scene.view != "top":
        shapes.append(stroke("floor", "fig-floor", scene.still(-3, 0, -3), scene.still(3, 0, 3)))
    for n, line in enumerate(scene.variant.lines):
        if isinstance(line, CableLine | BandLine):
            at = (line.forward, line.up, line.right)
            shapes += _anchor(scene, n, at) if isinstance(line, BandLine) else _column(scene, n, at)
    shapes += [solid(key, "fig-bench", outline) for key, outline in _standing(scene)]
    return shapes + _pads(scene)


def _standing(scene: Stance) -> list[tuple[str, Outline]]:
    """What stands on the floor, by the base."""
    base: str = scene.variant.support.base
    if base == "push_up":
        bench = scene.variant.equipment.bench
        base = "push_up_hands" if hands_on_bench(scene.variant) else "push_up_feet" if bench else ""
    found = []
    for one in _things().get(base, ()):
        if "only" in one and one["only"] not in scene.variant.equipment.loads:
            continue
        height = _height(scene, one["of"])
        low, high = (0.0, height + one["up"]) if "up" in one else (height + at for at in one["y"])
        (back, front), (left, right) = np.array(one["x"]) * scene.body.scale, one["z"]
        box = _box(scene, np.array([back, low, left]), np.array([front, high, right]))
        found.append((one["key"], box))
    return found


def _height(scene: Stance, of: str) -> float:
    """A height of `things.toml` above the floor [m]."""
    match of:
        case "seat":
            return scene.hip - SEAT_UNDER_HIP
        case "back":
            return scene.hip - BACK_PART * scene.body.trunk
        case "hand":
            return (hand_height(scene.variant) or 0.0) - GRIPPED
        case _:
            return 0.0


def _box(scene: Stance, low: Array, high: Array) -> Outline:
    """A box that stands in the room, between two of its corners (3,) [m]."""
    halves = zip((high - low) / 2, (scene.plane(axis[:, None]) for axis in AXES), strict=True)
    return slab(scene.still(*((low + high) / 2)), [half * way for half, way in halves], CORNER)


def _pads(scene: Stance) -> list[MovingPath]:
    """Pads that lie against the trunk or under the upper arm as a rep begins, and what carries them."""
    surface, body, pads = scene.variant.support.surface, scene.body, _things()["pads"]
    if surface in ("back_rest", "chest_bench"):
        pad, side = (pads["trunk"], -1) if surface == "back_rest" else (pads["chest"], 1)
        depth = side * (body.build.trunk_half_depth * scene.build + 0.012 * body.height + pad["thick"] / 2)
        ends = [scene.trunk(depth, (part - 1) * body.trunk, 0) for part in (pad["from"], pad["to"])]
        return _pad(scene, pad, ends, scene.trunk_way(AXES[0]), scene.trunk_way(AXES[2]))
    if surface == "pad":
        pad, frame = pads["arm"], scene.frame
        below = np.sign(dot(-scene.bend_side, frame.down).mean()) or 1.0
        under = -below * (0.055 * scene.build + pad["thick"] / 2) * scene.bend_side
        ends = [
            scene.flat(part * frame.upper_arm * body.upper_arm + under) for part in (pad["from"], pad["to"])
        ]
        return _pad(scene, pad, ends, scene.way(scene.bend_side), scene.way(frame.elbow_axis))
    return []


def _pad(
    scene: Stance, pad: dict[str, Any], ends: list[Plane], thick: Plane, wide: Plane
) -> list[MovingPath]:
    """A pad between two ends, and a post under it; it stays where it is when the body leaves it."""
    low, high = (end[:1] for end in ends)
    halves = [(high - low) / 2, 500 * pad["thick"] * thick[:1], 500 * pad["wide"] * wide[:1]]
    carried = (low + high) / 2
    return [_post(scene, carried), solid("pad", "fig-bench", slab(carried, halves, CORNER))]


def _post(scene: Stance, to: Plane, key: str = "pad-post", role: str = "fig-bench") -> MovingPath:
    """A post from the floor up to a place of the plane."""
    if scene.view == "top":
        return solid(key, role, disc(to, POST))
    halves = [POST + 0 * to, 0.5 * (to - to.real)]
    return solid(key, role, slab(to.real + 0.5j * to.imag, halves, CORNER))


def _anchor(scene: Stance, n: int, at: tuple[float, float, float]) -> list[MovingPath]:
    """Where a band is made fast: under the feet, or on a post."""
    ring = solid(f"pulley-{n}", "fig-pulley", disc(scene.still(*at), 1000 * _things()["column"]["ring"]))
    if scene.view == "top" or np.hypot(at[0], at[2]) < UNDERFOOT:
        return [ring]
    return [_post(scene, scene.still(*at), f"post-{n}", "fig-column"), ring]


def _column(scene: Stance, n: int, at: tuple[float, float, float]) -> list[MovingPath]:
    """A pulley on its column, and the stack of plates behind it, away from who pulls."""
    column, (x, y, z) = _things()["column"], at
    away = np.array([x, z]) if np.hypot(x, z) > OVERHEAD else np.array([1.0, 0.0])
    far = away / np.hypot(*away)
    half, stack = column["half"], column["stack"]
    top = max(y + column["over"], column["least"])
    cx, cz = (np.array([x, z]) + far * (half + column["wheel"])).tolist()
    sx, sz = (np.array([cx, cz]) + far * stack["behind"]).tolist()

    def box(at_x: float, at_z: float, wide: float, low: float, high: float) -> Outline:
        corners = ((at_x - wide, low, at_z - wide), (at_x + wide, high, at_z + wide))
        return _box(scene, *map(np.array, corners))

    shapes = [
        solid(f"post-{n}", "fig-column", box(cx, cz, half, 0.0, top)),
        solid(f"wheel-{n}", "fig-pulley", disc(scene.still(x, y, z), 1000 * column["wheel"])),
    ]
    if scene.view == "top":
        return shapes
    left, right = (
        [scene.still(sx + side, y0, sz + side) for y0 in _plates(stack)]
        for side in (-stack["half"], stack["half"])
    )
    return [
        solid(f"stack-{n}", "fig-stack", box(sx, sz, stack["half"], 0.02, 0.02 + stack["high"])),
        solid(f"plates-{n}", "fig-seam", strokes(list(zip(left, right, strict=True)))),
        *shapes,
    ]


def _plates(stack: dict[str, Any]) -> list[float]:
    """Heights between the plates of a stack [m]."""
    return [0.02 + stack["high"] * (n + 1) / stack["plates"] for n in range(stack["plates"] - 1)]
