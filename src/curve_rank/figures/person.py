"""The person in a figure: legs, trunk and head in the body's proportions, as one silhouette."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np

from curve_rank.arm.arrays import Array, cross, length_of
from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant
from curve_rank.figures.arms import upper_arm
from curve_rank.figures.outlines import MovingPath, Outline, Plane, unit
from curve_rank.figures.projection import Stance, hands_on_bench, inked, solid
from curve_rank.figures.proportions import drawn, sections
from curve_rank.figures.tubes import Axis, Sections, closed_curve, hull_of_balls, open_curve, tube

Point = tuple[float, float, float]

FORWARD, UP, ASIDE = np.eye(3)
HEAD_BEHIND = -0.5
"""A head that is so far behind the shoulders is drawn before them, as a cosine."""
GIRDLE = ((0.0, 0.01, 0.06), (0.0, -0.09, 0.115), (0.0, 0.035, 0.04))
"""Places of the shoulder girdle in the trunk, right half, from the middle of the shoulders [m]."""
JOINT_BALL, GIRDLE_BALLS = 0.034, (0.036, 0.042, 0.022)
"""How thick it is at the joint and at those places, over height [1]."""
STANDS_ON = {"push_up": (0.8, 0.0), "body_row": (-0.35, 0.55)}
"""Bases where the body is held like a plank, legs going on where the trunk ends; and whether it stands on
toes or heels: how far from the ankle along the sole and under it, over a foot's length and height [1]."""
FEET_ON_BENCH, MOST_BENT = 0.25, 0.5
"""Height of a bench that toes stand on [m]; by how much hips bend for feet to stand, at most [rad]."""
ON_THE_FLOOR = ("standing", "kneeling", "seated", "bench_lying", "floor_lying")
"""Bases where the soles are flat on the floor."""
LEG = ("thigh", "shank", "foot")
SHORTS_TO, WAIST = 0.42, 0.13
"""How far down the thigh shorts reach, and how far up the trunk, in parts of each."""
LOOKS_UP, LOOKS_IN = 32.0, -8.0
"""How far a head is lifted by somebody who lies prone, and dipped by who leans back [°]."""
PRONE = 70.0
"""Pitch of the trunk from which the head is wholly lifted [°]."""
HEAD_REACH = 0.56
"""How far a head reaches around its middle, over its height [1]."""
RING = np.stack([np.cos(np.arange(8) * np.pi / 4), np.sin(np.arange(8) * np.pi / 4)], axis=1)
LEAST_SEEN = 0.86
"""A head is never drawn narrower than this part of its size."""
SIDEWAYS = 0.7
"""Of which the view shows less than this part across is seen from there, as a cosine."""


@dataclass(frozen=True)
class Person:
    """Who is in a scene: what several drawings of them ask for is worked out once."""

    scene: Stance
    hair: str = "short"

    @cached_property
    def legs(self) -> list[tuple[str, Axis]]:
        """Thigh, shank and foot of every leg that is shown, the far one first."""
        return _leg_axes(self.scene)

    @cached_property
    def head(self) -> tuple[Plane, Plane, Plane]:
        """Forward, up and to the side of the head in the plane, as long as a head is high [mm]."""
        return _head_axes(self.scene)

    @cached_property
    def chin(self) -> Plane:
        """The head's place: under its middle, as high as the chin."""
        neck = self.scene.body.build.neck
        return np.asarray(self.scene.trunk(0.016, 0.36 * neck + 0.015, 0) + 450 * neck * unit(self.head[1]))


def person(who: Person) -> list[MovingPath]:
    """Legs, trunk, neck and head, with the near upper arm in their silhouette."""
    scene, axes = who.scene, who.legs
    skull, hair, knot, lines = _head(who)
    parts = [(f"leg-{n}", tube(axis, _leg_sections(scene, limb))) for n, (limb, axis) in enumerate(axes)]
    trunk = [("trunk", tube(_trunk(scene), _trunk_sections(scene)))]
    trunk += [(f"shoulder-{n}", one) for n, one in enumerate(_shoulders(scene))]
    tied = [("knot", knot)] if who.hair == "tied" else []
    head = [*tied, ("neck", tube(_neck(who), sections("neck"))), ("skull", skull)]
    is_behind = float(scene.depth(UP[:, None]).mean()) < HEAD_BEHIND
    parts += [*head, *trunk] if is_behind else [*trunk, *head]
    ink, skin = inked([*parts, ("upper", upper_arm(scene))], "fig-body")
    return [
        *ink,
        *skin[:-1],
        *(solid(f"shorts-{n}", "fig-shorts", one) for n, one in enumerate(_shorts(scene, axes))),
        *(solid(key, "fig-hair", one) for key, one in _worn(who, hair, knot) if not is_behind),
        *(solid(f"face-{n}", "fig-line", one) for n, one in enumerate(lines) if not is_behind),
    ]


def around_head(who: Person) -> list[Plane]:
    """Places that a picture holds if it holds the whole head."""
    middle, reach = who.chin + 0.5 * who.head[1], HEAD_REACH * 1000 * who.scene.body.build.head
    return [middle + reach * way for way in (1, 1j, -1, -1j)]


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


def _trunk_sections(scene: Stance) -> Sections:
    return sections("trunk").times(scene.build)


def _trunk(scene: Stance) -> Axis:
    """From the hips up to the middle of the shoulders."""
    start, end = scene.trunk(0, -scene.body.trunk, 0), scene.trunk(0, 0, 0)
    return _as_the_trunk(scene, start, end, scene.body.trunk)


def _neck(who: Person) -> Axis:
    build, end = who.scene.body.build, who.chin + 0.42 * who.head[1]
    return _as_the_trunk(who.scene, who.scene.trunk(0, 0, 0), end, build.neck + 0.3 * build.head)


def _as_the_trunk(scene: Stance, start: Plane, end: Plane, length: float) -> Axis:
    """From a place of the plane to another, turned as the trunk is; its true length [m]."""
    front, side = scene.trunk_way(FORWARD), scene.trunk_way(ASIDE)
    return Axis(start, end - start, front, side, 1000 * length)


def _head_axes(scene: Stance) -> tuple[Plane, Plane, Plane]:
    """Forward, up and to the side of the head in the plane, as long as a head is high [mm]."""
    trunk_pitch = float(np.mean(scene.posture.trunk_pitch))
    turned = np.radians(
        LOOKS_UP * np.clip(trunk_pitch / PRONE, 0, 1) + LOOKS_IN * np.clip(-trunk_pitch / PRONE, 0, 1)
    )
    forward = np.array([np.cos(turned), np.sin(turned), 0.0])
    up = np.array([-np.sin(turned), np.cos(turned), 0.0])
    size = 1000 * scene.body.build.head
    return size * scene.trunk_way(forward), size * scene.trunk_way(up), size * scene.trunk_way(ASIDE)


def _worn(who: Person, hair: Outline, knot: Outline) -> list[tuple[str, Outline]]:
    """What is drawn of the hair, over the head."""
    return [
        *([("knot", knot)] if who.hair == "tied" else []),
        *([("hair", hair)] if who.hair != "no" else []),
    ]


def _head(who: Person) -> tuple[Outline, Outline, Outline, list[Outline]]:
    """Skull, hair and its knot, and the lines of ear or face."""
    (forward, up, side), chin = who.head, who.chin
    size, shape = 1000 * who.scene.body.build.head, drawn()["head"]
    seen = [float(np.abs(one).mean()) / size for one in (forward, up, side)]
    if seen[1] < SIDEWAYS:
        half = np.array(shape["crown"])
        points = np.concatenate((half, half[-2:0:-1] * [1, -1]))
        laid = _laid(points[:, ::-1], side, forward, chin + 0.5 * up, size)
        return laid, laid, _knot((0.0, shape["knot"][0]), side, forward, chin + 0.5 * up, size), []
    if seen[0] < SIDEWAYS:
        half = np.array(shape["face"])
        points = np.concatenate((half, half[-2:0:-1] * [-1, 1]))
        skull, hair = (_laid(p, side, up, chin, size) for p in (points, np.array(shape["hair_face"])))
        lines = (_placed(np.array(line), side, up, chin) for line in shape["face_lines"])
        return skull, hair, _knot((0.0, shape["knot"][1]), side, up, chin, size), [*map(open_curve, lines)]
    several = (np.array(shape[name]) for name in ("profile", "hair_profile", "ear"))
    skull, hair, ear = (_laid(points, forward, up, chin, size) for points in several)
    return skull, hair, _knot(shape["knot"], forward, up, chin, size), [ear]


def _knot(place: tuple[float, float], across: Plane, along: Plane, at: Plane, size: float) -> Outline:
    """Tied hair, seen as round from everywhere."""
    return _laid(np.array(place) + drawn()["head"]["knot_radius"] * RING, across, along, at, size)


def _laid(points: Array, across: Plane, along: Plane, at: Plane, size: float) -> Outline:
    """A drawing of the head, laid along its axes; never narrower than a head looks."""
    across, along = (unit(one) * np.maximum(np.abs(one), LEAST_SEEN * size) for one in (across, along))
    return closed_curve(_placed(points, across, along, at))


def _placed(points: Array, across: Plane, along: Plane, at: Plane) -> Plane:
    """Points of a drawing (points, 2) along two axes of the plane, (frames, points)."""
    return np.asarray(at[:, None] + points[:, 0] * across[:, None] + points[:, 1] * along[:, None])


def _shoulders(scene: Stance) -> list[Outline]:
    """What joins the arm to trunk and neck: of both sides, where the view shows both."""
    joint, found = 0 * scene.frame.elbow, []
    radii = np.array([JOINT_BALL, *GIRDLE_BALLS]) * scene.build * 1000 * scene.body.height
    for side in (1.0,) if scene.view == "side" else (1.0, -1.0):
        places = [scene.flat(joint if side > 0 else scene.mirrored(joint))]
        places += [scene.trunk(x, y, side * z) for x, y, z in GIRDLE]
        found.append(hull_of_balls(np.stack(np.broadcast_arrays(*places), axis=1), radii))
    return found


def _shorts(scene: Stance, axes: list[tuple[str, Axis]]) -> list[Outline]:
    """What is worn: the hips, and the thighs as far down as it reaches."""
    whole = _trunk_sections(scene)
    found = [tube(_trunk(scene), whole.between(-1.0, WAIST))]
    for limb, axis in axes:
        if limb == "thigh":
            found.append(tube(axis, _leg_sections(scene, limb).between(-1.0, SHORTS_TO)))
    return found


def _leg_sections(scene: Stance, limb: str) -> Sections:
    return sections(limb).times(1.0 if limb == "foot" else scene.build)


def _leg_axes(scene: Stance) -> list[tuple[str, Axis]]:
    """Thigh, shank and foot of the legs that the view shows, the far one first."""
    joints = _leg_in_room(scene)
    right = scene.trunk_axes[:, 2]
    found = []
    sides = (-1.0, 1.0) if scene.view != "side" and not scene.variant.posture.trunk_roll else (1.0,)
    for aside in sides:
        places = [scene.across_the_middle(joint, aside) for joint in joints]
        for limb, (a, b) in zip(LEG, pairwise(places), strict=True):
            way = b - a
            long = float(length_of(way).max())
            if limb == "foot":
                a, way = _foot(a, way, scene)
                long = scene.body.build.foot
            out, way = np.broadcast_arrays(right[:, : way.shape[1]], way)
            front = cross(out, way / np.maximum(length_of(way), 1e-9))
            start, along, bends, aside_ = (scene.plane(vector) for vector in (a, way, front, aside * out))
            found.append((limb, Axis(start, along, bends / 1000, aside_ / 1000, 1000 * long)))
    return found


def _foot(ankle: Array, to_toes: Array, scene: Stance) -> tuple[Array, Array]:
    """The foot's axis in the room: along the sole, from the heel a quarter behind the ankle."""
    build, sole = scene.body.build, to_toes.copy()
    if scene.variant.support.base in ON_THE_FLOOR:
        sole[1] = 0.0
    sole = sole / np.maximum(length_of(sole), 1e-9)
    down = cross(sole, scene.trunk_axes[:, 2, :1] + 0 * sole)
    if down[1].mean() > 0:
        down = -down
    return ankle - 0.24 * build.foot * sole + 0.5 * build.ankle * down, build.foot * sole


def _leg_in_room(scene: Stance) -> list[Array]:
    """Hip, knee, ankle and toe of the right leg in the room, (3, frames)."""
    base, body, build = scene.variant.support.base, scene.body, scene.body.build
    if base not in STANDS_ON:
        joints = [np.array(joint)[:, None] for joint in leg_joints(scene.variant, body, scene.hip)]
        if base != "bench_dip":
            return [joint + scene.shift for joint in joints]
        hip = joints[0] + scene.shift
        places = [(float(x), float(y)) for x, y, _ in (joint[:, 0] - joints[0][:, 0] for joint in joints)]
        heel = (places[2][0] - 0.02, places[2][1] - 0.085)
        return _swung(hip, places, (FORWARD[:, None], UP[:, None]), _swing(hip, heel, (0.0, 1.0), 0.0))
    below = (0.0, build.thigh, build.thigh + build.shank)
    places = [(0.0, -far) for far in below] + [(0.05 * body.height, -below[-1] - 0.5 * build.ankle)]
    aside = 0.52 * build.hip_half_width - body.shoulder_half_width
    hip = scene.origin + (scene.trunk_axes * np.array([[0.0], [-body.trunk], [aside]])).sum(axis=1)
    axes = scene.trunk_axes[:, 0], scene.trunk_axes[:, 1]
    on_bench = base == "push_up" and scene.variant.equipment.bench and not hands_on_bench(scene.variant)
    sole = np.array([places[3][0], -0.5 * build.ankle])
    along, under = STANDS_ON[base]
    x, y = np.array(places[2]) + along * build.foot * sole / np.hypot(*sole) - [0.0, under * build.ankle]
    turned = _swing(hip, (x, y), (axes[0][1], axes[1][1]), FEET_ON_BENCH if on_bench else 0.0)
    return _swung(hip, places, axes, turned)


def _swung(
    hip: Array, places: list[tuple[float, float]], axes: tuple[Array, Array], turned: Array
) -> list[Array]:
    """Places of a leg along two axes of the room, from the hip, turned about it [rad], each (3, frames)."""
    cos, sin, (forward, up) = np.cos(turned), np.sin(turned), axes
    return [hip + (x * cos - y * sin) * forward + (x * sin + y * cos) * up for x, y in places]


def _swing(
    hip: Array, tip: tuple[float, float], rises: tuple[Array | float, Array | float], stands: float
) -> Array:
    """By how much a leg turns about the hip so that its tip stands at a height [rad], (frames,).

    `tip` is a place along two axes, from the hip, and `rises` how much each of them goes up.
    """
    (x, y), (forward, up) = tip, rises
    level, upright = x * forward + y * up, x * up - y * forward
    turned = np.arccos(np.clip((stands - hip[1]) / np.hypot(level, upright), -1, 1))
    either = np.stack([np.arctan2(upright, level) + side * turned for side in (-1, 1)])
    either = (either + np.pi) % (2 * np.pi) - np.pi
    nearest = np.take_along_axis(either, np.abs(either).argmin(axis=0)[None], axis=0)[0]
    return np.asarray(np.clip(nearest, -MOST_BENT, MOST_BENT))
