"""Where legs and furniture stand for each base, in room metres (forward, up, right)."""

from __future__ import annotations

from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant

Point = tuple[float, float, float]

SEAT_UNDER_HIP = 0.135
HAND_HEIGHTS = {"hanging": 2.25, "dip_support": 1.25, "push_up": 0.06, "bench_dip": 0.48, "body_row": 1.16}
HANDS_ON_BENCH = 0.53
FEET_ON_BENCH = 0.25
PLANK = ("push_up", "body_row")
"""Bases where the body is held like a plank: legs go on where the trunk ends."""


def hand_height(variant: Variant) -> float | None:
    """Height of what the hands hold or rest on where that is what stands still [m]."""
    if _hands_on_bench(variant):
        return HANDS_ON_BENCH
    return HAND_HEIGHTS.get(variant.support.base)


def _hands_on_bench(variant: Variant) -> bool:
    push_up_at_bench = variant.support.base == "push_up" and variant.equipment.bench == "flat_bench"
    return push_up_at_bench and 0 < variant.posture.trunk_pitch < 65


def best_view(variant: Variant) -> str:
    """The view that shows most of a set-up."""
    sideways = abs(variant.posture.abduction) >= 60 or abs(variant.posture.rotation) >= 60
    return "front" if sideways or variant.posture.trunk_roll else "side"


def legs(variant: Variant, body: Body, hip: float) -> list[tuple[Point, Point, float, float]]:
    """Thigh, shank and foot as (from, to, radius, radius), radii in millimetres."""
    hip_at, knee, ankle, toe = joints(variant, body, hip)
    h = 1000 * body.height
    return [
        (hip_at, knee, 0.048 * h, 0.032 * h),
        (knee, ankle, 0.031 * h, 0.020 * h),
        (ankle, toe, 0.020 * h, 0.013 * h),
    ]


def joints(variant: Variant, body: Body, hip: float) -> tuple[Point, Point, Point, Point]:
    """Hip, knee, ankle and toe of the right leg."""
    h, side = body.height, 0.05 * body.height
    thigh, shank = 0.245 * h, 0.235 * h
    base = variant.support.base
    if variant.posture.trunk_roll:
        return (0, hip, 0), (0.12, hip, thigh), (0.0, hip, thigh + shank), (0.08, hip, thigh + shank)
    places: dict[str, tuple[Point, Point, Point]] = {
        "standing": ((0.015 * h, 0.285 * h, side), (-0.01 * h, 0.045 * h, side), (0.09 * h, 0.02 * h, side)),
        "kneeling": ((0.20 * h, hip + 0.02, side), (0.19 * h, 0.05 * h, side), (0.29 * h, 0.02 * h, side)),
        "seated": ((thigh, hip - 0.01, side), (thigh + 0.02, 0.05 * h, side), (thigh + 0.17, 0.02 * h, side)),
        "bench_lying": (
            (thigh, hip - 0.03, side),
            (thigh + 0.08, 0.05 * h, side),
            (thigh + 0.24, 0.02 * h, side),
        ),
        "bench_prone": (
            (-0.10 * h, 0.27 * h, side),
            (-0.27 * h, 0.06 * h, side),
            (-0.19 * h, 0.02 * h, side),
        ),
        "hanging": (
            (0.01 * h, hip - thigh, side),
            (-0.05 * h, hip - thigh - shank, side),
            (-0.01 * h, hip - thigh - shank - 0.09, side),
        ),
        "dip_support": (
            (0.02 * h, hip - thigh, side),
            (-0.17 * h, hip - thigh - 0.12, side),
            (-0.22 * h, hip - thigh - 0.2, side),
        ),
        "bench_dip": (
            (thigh - 0.05, hip - 0.04, side),
            (thigh + shank - 0.08, hip - 0.32, side),
            (thigh + shank, hip - 0.24, side),
        ),
        "floor_lying": ((0.20 * h, 0.22 * h, side), (0.31 * h, 0.045 * h, side), (0.40 * h, 0.02 * h, side)),
    }
    return ((0, hip, side * 0.6), *places.get(base, places["standing"]))


def furniture(variant: Variant, body: Body, hip: float) -> list[tuple[str, Point, Point, float]]:
    """Seats and legs of benches as (key, from, to, radius in millimetres)."""
    base, h = variant.support.base, body.height
    under = hip - SEAT_UNDER_HIP
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
            (-length - 0.26, hip - 0.168, 0),
            (0.12, hip - 0.168, 0),
            26,
        )
        if variant.posture.trunk_roll:
            flat = ("flat", (0, hip - 0.16, -length - 0.1), (0, hip - 0.16, 0.5), 26)
            return [flat]
        return [
            flat,
            ("stem", (-0.38, 0.03, 0), (-0.38, hip - 0.19, 0), 14),
            ("stem", (0.02, 0.03, 0), (0.02, hip - 0.19, 0), 14),
        ]
    if _hands_on_bench(variant):
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
