"""Draws one modelled rep: where things are in the drawing plane, and the person, bench and working heads."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.posture import Posture, cross, dot, trunk_to_room
from curve_rank.catalogue.schema import BandLine, CableLine, Variant
from curve_rank.rating.modelling import Modelled
from curve_rank.rating.setting import hip_height
from curve_rank.web import scenery
from curve_rank.web.solids import Shape, capsule, disc, line, path_text, spindle

Array = NDArray[np.float64]

VIEWS = {"side": (0, 1, 1.0), "front": (2, 1, -1.0), "top": (0, 2, 1.0)}
"""Per view: the room axis that runs across, the one that runs up or down, and the sign across."""
MARGIN = 0.12
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


class Drawing:
    """Everything needed to draw one modelled rep in one view."""

    def __init__(self, modelled: Modelled, view: str) -> None:
        self.modelled, self.view = modelled, view
        self.variant: Variant = modelled.variant
        self.human = modelled.batch.body
        self.hip = hip_height(self.variant, self.human)
        batch, i = modelled.batch, modelled.place
        self.posture = Posture(**{name: values[i] for name, values in vars(batch.posture).items()})
        frame = {name: values[:, i] for name, values in vars(batch.frame).items()}
        self.elbow, self.wrist, self.grip = frame["elbow"], frame["wrist"], frame["grip"]
        self.upper, self.fore, self.axis = frame["upper_arm"], frame["forearm"], frame["elbow_axis"]
        self.thumb, self.hand, self.down = frame["thumb"], frame["hand"], frame["down"]
        self.bend_side = cross(self.axis, self.upper)
        self.pull = batch.external.pull(batch.load)[:, i]
        self.count = self.posture.elbow.size
        self.shift = np.zeros((3, self.count))
        self.origin = self._in_room(0, 0, 0)
        axes = [self._in_room(*unit) - self.origin for unit in np.eye(3)]
        self.trunk_axes = np.stack(axes, axis=1)
        self._hold_the_hands()

    # ---- where things are

    def _hold_the_hands(self) -> None:
        """Where the hands hold something fixed, it is the body that moves."""
        height = scenery.hand_height(self.variant)
        if height is None:
            return
        hand = self.origin + np.einsum("axf,xf->af", self.trunk_axes, self.grip)
        place = np.array([[0.0], [height], [0.0]])
        self.shift = place - hand
        self.shift[2] = 0.0
        self.origin = self.origin + self.shift

    def _in_room(self, x: float, y: float, z: float) -> Array:
        """One trunk-frame point in the room in every frame, (3, frames)."""
        point = np.repeat(np.array([[x], [y], [z]], dtype=float), self.count, axis=1)
        return trunk_to_room(point, self.posture, self.human, self.hip)

    def flat(self, point: Array) -> Array:
        """Trunk-frame points (3, frames) to the drawing plane (frames, 2), millimetres, y down."""
        return self.plane(self.origin + np.einsum("axf,xf->af", self.trunk_axes, point))

    def plane(self, room: Array) -> Array:
        """Room points (3, frames) to the drawing plane."""
        across, up, sign = VIEWS[self.view]
        down = room[up] if self.view == "top" else -room[up]
        return 1000 * np.stack((sign * room[across], down), axis=1)

    def still(self, x: float, y: float, z: float) -> Array:
        """One room point, repeated for every frame, in the drawing plane."""
        return self.plane(np.repeat(np.array([[x], [y], [z]]), self.count, axis=1))

    def with_body(self, x: float, y: float, z: float) -> Array:
        """A room point that moves with the body where the hands are what stands still."""
        return self.plane(np.array([[x], [y], [z]]) + self.shift)

    def trunk(self, x: float, y: float, z: float) -> Array:
        """A point fixed in the trunk, from the middle of the shoulders, in the drawing plane."""
        offset = np.array([[x], [y], [z - self.human.shoulder_half_width]])
        return self.flat(np.repeat(offset, self.count, axis=1))

    def mirrored(self, point: Array) -> Array:
        """The left arm's twin of a right-arm point."""
        twin = point.copy()
        twin[2] = -2 * self.human.shoulder_half_width - point[2]
        return twin

    def box(self) -> list[int]:
        """View box around body, implement and pulley, the floor included."""
        points = [self.flat(self.grip), self.flat(self.elbow), self.trunk(0, 0.22, 0)]
        points += [end for leg in self._legs() for end in leg[:2]]
        points += [self.still(*place) for place in self.pulleys()]
        if self.view != "top":
            points.append(self.still(0, 0, 0))
        if self.view != "side":
            points += [self.flat(self.mirrored(self.elbow)), self.flat(self.mirrored(self.grip))]
        corners = np.concatenate(points)
        low, high = corners.min(axis=0) - 1000 * MARGIN, corners.max(axis=0) + 1000 * MARGIN
        width, height = np.maximum(high - low, 1100)
        middle = (low + high) / 2
        return [round(v) for v in (middle[0] - width / 2, middle[1] - height / 2, width, height)]

    def pulleys(self) -> list[tuple[float, float, float]]:
        """Where pulleys and anchors stand in the room."""
        lines = self.variant.lines
        return [(p.forward, p.up, p.right) for p in lines if isinstance(p, CableLine | BandLine)]

    # ---- shapes, back to front

    def scenery(self) -> list[Shape]:
        """Floor, bench and pulley posts."""
        shapes = []
        if self.view != "top":
            start, end = self.still(-3, 0, -3), self.still(3, 0, 3)
            shapes.append(self.stroke("floor", "floor", start, end))
        for n, (key, a, b, radius) in enumerate(scenery.furniture(self.variant, self.human, self.hip)):
            shapes.append(
                self.solid(f"{key}-{n}", "bench", capsule(self.still(*a), radius, self.still(*b), radius))
            )
        shapes += self._pads()
        for n, (x, y, z) in enumerate(self.pulleys()):
            shapes.append(self.stroke(f"post-{n}", "post", self.still(x, 0, z), self.still(x, y + 0.12, z)))
            shapes.append(self.solid(f"pulley-{n}", "pulley", disc(self.still(x, y, z), 45)))
        return shapes

    def _pads(self) -> list[Shape]:
        """Pads that go with the trunk or with the upper arm."""
        surface, height = self.variant.support.surface, self.human.height
        if surface in ("back_rest", "chest_bench"):
            depth = (0.095 if surface == "chest_bench" else -0.095) * height
            top, bottom = self.trunk(depth, 0.06, 0), self.trunk(depth, -0.30 * height, 0)
            return [self.solid("pad", "bench", capsule(top, 28, bottom, 28))]
        if surface == "pad":
            below = np.sign(dot(-self.bend_side, self.down).mean()) or 1.0
            under = -0.075 * below * self.bend_side
            start = self.flat(0.25 * self.upper * self.human.upper_arm + under)
            end = self.flat(1.25 * self.upper * self.human.upper_arm + under)
            return [self.solid("pad", "bench", capsule(start, 26, end, 26))]
        return []

    def far_arm(self) -> list[Shape]:
        """The other arm, where both work and the view shows it."""
        if self.view == "side" or self.variant.equipment.arms == 1:
            return []
        shoulder, elbow, wrist = (
            self.flat(self.mirrored(p)) for p in (0 * self.elbow, self.elbow, self.wrist)
        )
        radii = self._radii()
        return [
            self.solid("far-upper", "limb far", capsule(shoulder, radii[0], elbow, radii[1])),
            self.solid("far-fore", "limb far", capsule(elbow, radii[1], wrist, radii[2])),
        ]

    def body(self) -> list[Shape]:
        """Legs, trunk, neck and head."""
        h = self.human.height
        wide = self.view == "front" or (self.view == "top" and self.variant.support.base.endswith("lying"))
        pelvis, chest = (0.088 * h, 0.108 * h) if wide else (0.068 * h, 0.078 * h)
        shapes = []
        for n, (a, b, ra, rb) in enumerate(self._legs()):
            shapes.append(self.solid(f"leg-{n}", "limb", capsule(a, ra, b, rb)))
        hips, shoulders = self.trunk(0, -0.288 * h, 0), self.trunk(0, -0.035 * h, 0)
        neck, crown = self.trunk(0.005 * h, 0.04 * h, 0), self.trunk(0.012 * h, 0.115 * h, 0)
        return [
            *shapes,
            self.solid("neck", "limb", capsule(shoulders, 55, crown, 45)),
            self.solid("trunk", "trunk", capsule(hips, 1000 * pelvis, shoulders, 1000 * chest)),
            self.solid("skull", "skull", capsule(neck + (crown - neck) * 0.75, 62, crown, 82)),
        ]

    def _legs(self) -> list[tuple[Array, Array, float, float]]:
        """Thigh, shank and foot: from, to and radii."""
        legs = scenery.legs(self.variant, self.human, self.hip)
        if self.variant.support.base not in scenery.PLANK:
            return [(self.with_body(*a), self.with_body(*b), ra, rb) for a, b, ra, rb in legs]
        h, side = self.human.height, 0.05 * self.human.height
        toe = -0.06 if self.variant.support.base == "body_row" else 0.05
        along = ((0.0, -0.288), (0.0, -0.533), (0.0, -0.768), (toe, -0.785))
        points = [self.trunk(x * h, y * h, side) for x, y in along]
        return [(a, b, leg[2], leg[3]) for a, b, leg in zip(points, points[1:], legs, strict=False)]

    def arm(self) -> list[Shape]:
        """Upper arm and forearm."""
        shoulder, elbow, wrist = (self.flat(p) for p in (0 * self.elbow, self.elbow, self.wrist))
        radii = self._radii()
        return [
            self.solid("upper", "limb near", capsule(shoulder, radii[0], elbow, radii[1])),
            self.solid("fore", "limb near", capsule(elbow, radii[1], wrist, radii[2])),
            self.solid(
                "fist", "limb near", capsule(wrist, radii[2], self.flat(self.grip + 0.02 * self.hand), 36)
            ),
        ]

    def heads(self) -> list[Shape]:
        """The target group's heads along the limb, thicker with drive."""
        length, fore = self.human.upper_arm, self.human.forearm
        flexors = self.variant.target == "flexors"
        shapes = []
        for head, (origin, lift, bow, insertion, under) in (FLEXORS if flexors else EXTENSORS).items():
            side = self.bend_side if flexors else -self.bend_side
            fore_side = cross(self.axis, self.fore) if flexors else -cross(self.axis, self.fore)
            start = origin * length * self.upper + lift * side
            end = self.elbow + insertion * fore * self.fore + under * (fore_side if flexors else side)
            middle = (start + end) / 2
            towards = middle + bow * side * (1 if head != "brachioradialis" else 0.4)
            points = np.stack([self.flat(p) for p in (start, towards, end)], axis=1)
            drive = self.modelled.head_along("drive", head)
            width = (0.3 + 0.9 * drive) * GREATEST_WIDTH.get(head, DEFAULT_WIDTH)
            shapes.append(self.solid(f"head-{head}", f"muscle head-{head}", spindle(points, width)))
        return shapes

    def opacity(self) -> dict[str, list[float]]:
        """How dense each head is drawn: longer is denser."""
        heads = FLEXORS if self.variant.target == "flexors" else EXTENSORS
        geometry, i, anatomy = self.modelled.batch.geometry, self.modelled.place, self.modelled.batch.anatomy
        return {
            f"head-{head}": np.round(0.3 + 0.7 * geometry.percent[anatomy.index(head), i] / 100, 2).tolist()
            for head in heads
        }

    def _radii(self) -> tuple[float, float, float]:
        scale = 1000 * self.human.height
        return 0.031 * scale, 0.024 * scale, 0.0155 * scale

    @staticmethod
    def solid(key: str, css: str, outlines: Array) -> Shape:
        return Shape(key, css, path_text(outlines))

    @staticmethod
    def stroke(key: str, css: str, start: Array, end: Array) -> Shape:
        return Shape(key, css, path_text(line(start, end), closed=False))
