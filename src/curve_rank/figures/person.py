"""The person in a figure: legs, trunk, head and arms in the body's proportions, and the working heads."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from curve_rank.arm.arrays import Array, cross
from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant
from curve_rank.figures.outlines import MovingPath, Plane, belly, capsule, spindle
from curve_rank.figures.projection import Projection, Stance, solid

Point = tuple[float, float, float]

PLANK = ("push_up", "body_row")
"""Bases where the body is held like a plank: legs go on where the trunk ends."""
FLEXORS = {
    # head: origin along the upper arm, its offset; bow; insertion along the forearm, its offset
    "biceps_long": (-0.02, 0.036, 0.070, 0.14, 0.012),
    "biceps_short": (0.03, 0.014, 0.046, 0.14, 0.008),
    "brachialis": (0.48, 0.008, 0.022, 0.09, 0.004),
    "brachioradialis": (0.72, 0.034, 0.062, 0.92, 0.020),
}
EXTENSORS = {
    "triceps_long": (-0.06, 0.034, 0.060, -0.06, 0.016),
    "triceps_lateral": (0.20, 0.016, 0.036, -0.06, 0.010),
    "triceps_medial": (0.45, 0.004, 0.014, -0.06, 0.004),
}
GREATEST_WIDTH = {"biceps_long": 19, "biceps_short": 16, "brachialis": 17, "brachioradialis": 15}
DEFAULT_WIDTH = 18
ARM_RADII = (0.031, 0.024, 0.0155)
"""Half widths at shoulder, elbow and wrist, over height."""
LEG_RADII = ((0.048, 0.032), (0.031, 0.020), (0.020, 0.013))
"""Half widths at both ends of thigh, shank and foot, over height."""


def person(scene: Stance) -> list[MovingPath]:
    """Legs, trunk, neck and head."""
    body = scene.body
    h, build = body.height, body.build
    wide = scene.view == "front" or (scene.view == "top" and scene.variant.support.base.endswith("lying"))
    pelvis = build.hip_half_width - 0.0075 * h if wide else build.trunk_half_depth - 0.002 * h
    chest = 0.108 * h if wide else build.trunk_half_depth + 0.008 * h
    hips, shoulders = scene.trunk(0, -body.trunk, 0), scene.trunk(0, -0.035 * h, 0)
    neck = scene.trunk(0.005 * h, 0.77 * build.neck, 0)
    crown = scene.trunk(0.012 * h, build.neck + 0.485 * build.head, 0)
    return [
        *(solid(f"leg-{n}", "fig-limb", capsule(*leg)) for n, leg in enumerate(legs(scene))),
        solid("neck", "fig-limb", capsule(shoulders, 55, crown, 45)),
        solid("trunk", "fig-trunk", capsule(hips, 1000 * pelvis, shoulders, 1000 * chest)),
        solid("skull", "fig-limb", capsule(neck + (crown - neck) * 0.75, 62, crown, 82)),
    ]


def arm(scene: Stance) -> list[MovingPath]:
    """Upper arm, forearm and fist."""
    frame, (shoulder_r, elbow_r, wrist_r) = scene.frame, _arm_radii(scene.body)
    shoulder, elbow, wrist = (scene.flat(p) for p in (0 * frame.elbow, frame.elbow, frame.wrist))
    knuckles = scene.flat(frame.grip + 0.02 * frame.hand)
    return [
        solid("upper", "fig-limb fig-near", capsule(shoulder, shoulder_r, elbow, elbow_r)),
        solid("fore", "fig-limb fig-near", capsule(elbow, elbow_r, wrist, wrist_r)),
        solid("fist", "fig-limb fig-near", capsule(wrist, wrist_r, knuckles, 36)),
    ]


def far_arm(scene: Stance) -> list[MovingPath]:
    """The other arm, where both work and the view shows it."""
    if scene.view == "side" or scene.variant.equipment.arms == 1:
        return []
    frame, (shoulder_r, elbow_r, wrist_r) = scene.frame, _arm_radii(scene.body)
    shoulder, elbow, wrist = (
        scene.flat(scene.mirrored(p)) for p in (0 * frame.elbow, frame.elbow, frame.wrist)
    )
    return [
        solid("far-upper", "fig-limb fig-far", capsule(shoulder, shoulder_r, elbow, elbow_r)),
        solid("far-fore", "fig-limb fig-far", capsule(elbow, elbow_r, wrist, wrist_r)),
    ]


def heads(scene: Projection) -> list[MovingPath]:
    """The target group's heads along the limb, thicker with drive."""
    return bellies(scene, {head: 0.3 + 0.9 * scene.drive_along(head) for head in heads_of(scene.variant)})


def heads_of(variant: Variant) -> tuple[str, ...]:
    """The heads that are drawn of a variant."""
    return tuple(_placed(variant))


def bellies(scene: Stance, thickness: Mapping[str, Array]) -> list[MovingPath]:
    """Heads along the limb, each so thick in every frame (frames,), 1 a working one."""
    frame, length, fore = scene.frame, scene.body.upper_arm, scene.body.forearm
    flexors = scene.variant.group == "flexors"
    side = scene.bend_side if flexors else -scene.bend_side
    fore_side = cross(frame.elbow_axis, frame.forearm) if flexors else side
    points, widths = [], []
    for head, (origin, lift, bow, insertion, under) in _placed(scene.variant).items():
        start = origin * length * frame.upper_arm + lift * side
        end = frame.elbow + insertion * fore * frame.forearm + under * fore_side
        towards = (start + end) / 2 + bow * side * (1 if head != "brachioradialis" else 0.4)
        points.append(np.stack([scene.flat(p) for p in (start, towards, end)], axis=1))
        widths.append(thickness[head] * GREATEST_WIDTH.get(head, DEFAULT_WIDTH))
    bellies = np.split(spindle(np.concatenate(points), np.concatenate(widths)), len(points))
    return [
        solid(f"head-{head}", f"fig-muscle head-{head}", belly(corners))
        for head, corners in zip(_placed(scene.variant), bellies, strict=True)
    ]


def opacity(scene: Projection) -> dict[str, list[float]]:
    """How dense each head is drawn, by its shape's key and frame: longer is denser."""
    return {
        f"head-{head}": np.round(0.3 + 0.7 * scene.length_along(head) / 100, 2).tolist()
        for head in _placed(scene.variant)
    }


def legs(scene: Stance) -> list[tuple[Plane, float, Plane, float]]:
    """Thigh, shank and foot as (from, radius, to, radius) in the plane, radii in millimetres."""
    if scene.variant.support.base in PLANK:
        points = _plank_legs(scene)
    else:
        points = [scene.with_body(*p) for p in leg_joints(scene.variant, scene.body, scene.hip)]
    scale = 1000 * scene.body.height
    return [
        (a, ra * scale, b, rb * scale) for a, b, (ra, rb) in zip(points, points[1:], LEG_RADII, strict=False)
    ]


def leg_joints(variant: Variant, body: Body, hip: float) -> tuple[Point, Point, Point, Point]:
    """Hip, knee, ankle and toe of the right leg in the room [m]."""
    build, h = body.build, body.height
    thigh, shank, ankle, sole = build.thigh, build.shank, build.ankle, 0.5 * build.ankle
    side = 0.52 * build.hip_half_width
    if variant.posture.trunk_roll:
        return (0, hip, 0), (0.12, hip, thigh), (0.0, hip, thigh + shank), (0.08, hip, thigh + shank)
    toes = 0.6 * build.foot
    places: dict[str, tuple[Point, Point, Point]] = {
        "standing": ((0.008 * h, shank + ankle, side), (-0.01 * h, ankle, side), (toes, sole, side)),
        "kneeling": (
            (0.82 * thigh, hip + 0.02, side),
            (0.78 * thigh, 0.05 * h, side),
            (0.78 * thigh + toes, sole, side),
        ),
        "seated": (
            (thigh, hip - 0.01, side),
            (thigh + 0.02, 0.05 * h, side),
            (thigh + 0.02 + toes, sole, side),
        ),
        "bench_lying": (
            (thigh, hip - 0.03, side),
            (thigh + 0.08, 0.05 * h, side),
            (thigh + 0.08 + toes, sole, side),
        ),
        "bench_prone": ((-0.10 * h, 0.27 * h, side), (-0.27 * h, 0.06 * h, side), (-0.19 * h, sole, side)),
        "hanging": (
            (0.01 * h, hip - thigh, side),
            (-0.05 * h, hip - thigh - shank, side),
            (-0.01 * h, hip - thigh - shank - 0.6 * build.foot, side),
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
        "floor_lying": ((0.20 * h, 0.22 * h, side), (0.31 * h, ankle, side), (0.40 * h, sole, side)),
    }
    return ((0, hip, side * 0.6), *places.get(variant.support.base, places["standing"]))


def _plank_legs(scene: Stance) -> list[Plane]:
    body, build = scene.body, scene.body.build
    toe = -0.06 if scene.variant.support.base == "body_row" else 0.05
    knee, ankle = -body.trunk - build.thigh, -body.trunk - build.thigh - build.shank
    along = ((0.0, -body.trunk), (0.0, knee), (0.0, ankle), (toe * body.height, ankle - 0.5 * build.ankle))
    return [scene.trunk(x, y, 0.52 * build.hip_half_width) for x, y in along]


def _placed(variant: Variant) -> dict[str, tuple[float, float, float, float, float]]:
    return FLEXORS if variant.group == "flexors" else EXTENSORS


def _arm_radii(body: Body) -> tuple[float, float, float]:
    scale = 1000 * body.height
    shoulder, elbow, wrist = (part * scale for part in ARM_RADII)
    return shoulder, elbow, wrist
