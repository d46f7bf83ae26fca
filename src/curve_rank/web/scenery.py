"""Where legs and furniture stand for each base, in room metres (forward, up, right)."""

from __future__ import annotations

from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant

Point = tuple[float, float, float]

SEAT_UNDER_HIP = 0.135


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
        "floor_lying": ((0.20 * h, 0.22 * h, side), (0.31 * h, 0.045 * h, side), (0.40 * h, 0.02 * h, side)),
    }
    return ((0, hip, side * 0.6), *places[base])


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
    if base == "bench_prone":
        return [
            ("stem", (0.32, 0.03, 0), (0.32, hip - 0.06, 0), 14),
            ("foot", (0.02, 0.02, 0), (0.55, 0.02, 0), 12),
        ]
    return []
