"""What stands in the room: the floor, seats and benches, pads, posts and pulleys."""

from __future__ import annotations

import numpy as np

from curve_rank.arm.arrays import dot
from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant
from curve_rank.figures.outlines import MovingPath, capsule, disc
from curve_rank.figures.projection import (
    HAND_HEIGHTS,
    HANDS_ON_BENCH,
    Stance,
    hands_on_bench,
    solid,
    stroke,
)

Point = tuple[float, float, float]

SEAT_UNDER_HIP = 0.135
BACK_PART = 0.235
"""How deep the back lies behind the line from hip to shoulder, over the trunk's length [1]."""
FEET_ON_BENCH = 0.25


def furniture(scene: Stance) -> list[MovingPath]:
    """Floor, bench, pads and pulley posts, back to front."""
    shapes = []
    if scene.view != "top":
        shapes.append(stroke("floor", "fig-floor", scene.still(-3, 0, -3), scene.still(3, 0, 3)))
    for n, (key, a, b, radius) in enumerate(_furniture(scene.variant, scene.body, scene.hip)):
        outline = capsule(scene.still(*a), radius, scene.still(*b), radius)
        shapes.append(solid(f"{key}-{n}", "fig-bench", outline))
    shapes += _pads(scene)
    for n, (x, y, z) in enumerate(scene.pulleys()):
        shapes.append(stroke(f"post-{n}", "fig-post", scene.still(x, 0, z), scene.still(x, y + 0.12, z)))
        shapes.append(solid(f"pulley-{n}", "fig-pulley", disc(scene.still(x, y, z), 45)))
    return shapes


def _pads(scene: Stance) -> list[MovingPath]:
    """Pads that go with the trunk or with the upper arm."""
    surface, body = scene.variant.support.surface, scene.body
    if surface in ("back_rest", "chest_bench"):
        away = body.build.trunk_half_depth + 0.025 * body.height
        depth = away if surface == "chest_bench" else -away
        top, bottom = scene.trunk(depth, 0.06, 0), scene.trunk(depth, -1.04 * body.trunk, 0)
        return [solid("pad", "fig-bench", capsule(top, 28, bottom, 28))]
    if surface == "pad":
        below = np.sign(dot(-scene.bend_side, scene.frame.down).mean()) or 1.0
        under = -0.075 * below * scene.bend_side
        start = scene.flat(0.25 * scene.frame.upper_arm * body.upper_arm + under)
        end = scene.flat(1.25 * scene.frame.upper_arm * body.upper_arm + under)
        return [solid("pad", "fig-bench", capsule(start, 26, end, 26))]
    return []


def _furniture(variant: Variant, body: Body, hip: float) -> list[tuple[str, Point, Point, float]]:
    """Seats and legs of benches as (key, from, to, radius in millimetres)."""
    base, h = variant.support.base, body.height
    under, back = hip - SEAT_UNDER_HIP, hip - BACK_PART * body.trunk - 0.026
    if base == "seated":
        return [
            ("seat", (-0.14, under, 0), (0.24, under, 0), 26),
            ("stem", (0.05, 0.03, 0), (0.05, under - 0.02, 0), 14),
            ("foot", (-0.22, 0.02, 0), (0.30, 0.02, 0), 12),
        ]
    if base == "bench_lying":
        length = 0.5 * h
        flat: tuple[str, Point, Point, float] = (
            "flat",
            (-length - 0.26, back, 0),
            (0.12, back, 0),
            26,
        )
        if variant.posture.trunk_roll:
            flat = ("flat", (0, hip - 0.16, -length - 0.1), (0, hip - 0.16, 0.5), 26)
            return [flat]
        return [
            flat,
            ("stem", (-0.38, 0.03, 0), (-0.38, back - 0.02, 0), 14),
            ("stem", (0.02, 0.03, 0), (0.02, back - 0.02, 0), 14),
        ]
    if hands_on_bench(variant):
        top = HANDS_ON_BENCH - 0.08
        return [
            ("flat", (-0.1, top, -0.5), (0.35, top, 0.5), 26),
            ("stem", (0.15, 0.03, 0), (0.15, top, 0), 14),
        ]
    if base == "push_up" and variant.equipment.bench:
        top, feet = FEET_ON_BENCH, -0.85 * h
        return [("flat", (feet - 0.1, top, 0), (feet + 0.3, top, 0), 24)]
    if base in ("hanging", "body_row"):
        top = HAND_HEIGHTS[base]
        return [
            ("frame", (0.0, 0.03, -0.75), (0.0, top, -0.75), 14),
            ("frame", (0.0, 0.03, 0.75), (0.0, top, 0.75), 14),
        ]
    if base == "dip_support":
        top = HAND_HEIGHTS[base] - 0.03
        return [
            ("rail", (-0.35, top, 0.25), (0.35, top, 0.25), 16),
            ("frame", (0.3, 0.03, 0.25), (0.3, top, 0.25), 14),
        ]
    if base == "bench_dip":
        top = HAND_HEIGHTS[base] - 0.05
        return [
            ("flat", (-0.22, top, -0.5), (-0.02, top, 0.5), 28),
            ("stem", (-0.12, 0.03, 0), (-0.12, top, 0), 14),
        ]
    if base == "bench_prone":
        return [
            ("stem", (0.32, 0.03, 0), (0.32, hip - 0.06, 0), 14),
            ("foot", (0.02, 0.02, 0), (0.55, 0.02, 0), 12),
        ]
    return []
