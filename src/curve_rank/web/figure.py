"""The figure: a person at a set-up over a rep, with the line of force, the lever and the working heads.

Drawn here once for every frame of a rep; the page only swaps path data while scrubbing.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.posture import Posture, cross, dot, room_to_trunk, trunk_to_room
from curve_rank.catalogue.schema import CableLine, Variant
from curve_rank.errors import UnknownNameError
from curve_rank.rating.modelling import Modelled
from curve_rank.rating.setting import hip_height
from curve_rank.web import scenery
from curve_rank.web.solids import capsule, disc, line, path_text, spindle

Array = NDArray[np.float64]

VIEWS = {"side": (0, 1, 1.0), "front": (2, 1, -1.0), "top": (0, 2, 1.0)}
"""Per view: the room axis that runs across, the one that runs up or down, and the sign across."""
MARGIN = 0.12
WEIGHT_LINE = 0.45
"""Drawn length of the line of force under a free weight [m]."""
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
TEXT_SHARE = 0.033
"""Size of writing in the figure, over the view box."""


@dataclass(frozen=True)
class Shape:
    """One path of the figure: its key, its class, and its data in every frame, or once if it stands still."""

    key: str
    css: str
    frames: list[str]


def figure(modelled: Modelled, view: str) -> dict[str, Any]:
    """The figure's shapes over the rep in one view.

    Parameters
    ----------
    modelled : Modelled
    view : str
        "side", "front" or "top".

    Returns
    -------
    dict
        `box` (SVG view box, millimetres), `text` (size of writing), `shapes` (key and class, back to
        front), `fixed` (path data that never changes, by key), `frames` (changing path data, by key, one per
        sample), `opacity` (per head, one per sample: longer is denser), `lever` (per sample: x, y,
        centimetres).

    Raises
    ------
    UnknownNameError
    """
    if view not in VIEWS:
        raise UnknownNameError("view", view, "one of: " + ", ".join(VIEWS))
    drawing = _Drawing(modelled, view)
    shapes = [
        *drawing.scenery(), *drawing.far_arm(), *drawing.body(), *drawing.arm(), *drawing.heads(),
        *drawing.implement(), *drawing.force(),
    ]  # fmt: skip
    box = drawing.box()
    fixed = {s.key: s.frames[0] for s in shapes if len(s.frames) == 1}
    moving = [s for s in shapes if s.key not in fixed]
    return {
        "view": view,
        "box": box,
        "text": round(TEXT_SHARE * max(box[2], box[3])),
        "shapes": [{"key": s.key, "css": s.css} for s in shapes],
        "fixed": fixed,
        "frames": [
            {shape.key: shape.frames[n] for shape in moving} for n in range(drawing.count)
        ],
        "opacity": drawing.opacity(),
        "lever": drawing.lever_labels(),
    }  # fmt: skip


class _Drawing:
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
        self.thumb, self.hand = frame["thumb"], frame["hand"]
        self.bend_side = cross(self.axis, self.upper)
        self.pull = batch.external.pull(batch.load)[:, i]
        self.count = self.posture.elbow.size
        self.origin = self._in_room(0, 0, 0)
        axes = [self._in_room(*unit) - self.origin for unit in np.eye(3)]
        self.trunk_axes = np.stack(axes, axis=1)

    # ---- where things are

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
        points += [self.still(x, y, z) for x, y, z in scenery.joints(self.variant, self.human, self.hip)]
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
        """Where the pulleys stand in the room."""
        return [(p.forward, p.up, p.right) for p in self.variant.lines if isinstance(p, CableLine)]

    # ---- shapes, back to front

    def scenery(self) -> list[Shape]:
        """Floor, bench and pulley posts."""
        shapes = []
        if self.view != "top":
            start, end = self.still(-3, 0, -3), self.still(3, 0, 3)
            shapes.append(self._stroke("floor", "floor", start, end))
        for n, (key, a, b, radius) in enumerate(scenery.furniture(self.variant, self.human, self.hip)):
            shapes.append(
                self._solid(f"{key}-{n}", "bench", capsule(self.still(*a), radius, self.still(*b), radius))
            )
        shapes += self._pads()
        for n, (x, y, z) in enumerate(self.pulleys()):
            shapes.append(self._stroke(f"post-{n}", "post", self.still(x, 0, z), self.still(x, y + 0.12, z)))
            shapes.append(self._solid(f"pulley-{n}", "pulley", disc(self.still(x, y, z), 45)))
        return shapes

    def _pads(self) -> list[Shape]:
        """Pads that go with the trunk or with the upper arm."""
        surface, height = self.variant.support.surface, self.human.height
        if surface in ("back_rest", "chest_bench"):
            depth = (0.095 if surface == "chest_bench" else -0.095) * height
            top, bottom = self.trunk(depth, 0.06, 0), self.trunk(depth, -0.30 * height, 0)
            return [self._solid("pad", "bench", capsule(top, 28, bottom, 28))]
        if surface == "pad":
            under = -0.075 * self.bend_side
            start = self.flat(0.25 * self.upper * self.human.upper_arm + under)
            end = self.flat(1.25 * self.upper * self.human.upper_arm + under)
            return [self._solid("pad", "bench", capsule(start, 26, end, 26))]
        return []

    def far_arm(self) -> list[Shape]:
        """The other arm, where both work and the view shows it."""
        if self.view == "side" or (self.variant.equipment.hands == 1 and "one-arm" in self.variant.id):
            return []
        shoulder, elbow, wrist = (
            self.flat(self.mirrored(p)) for p in (0 * self.elbow, self.elbow, self.wrist)
        )
        radii = self._radii()
        return [
            self._solid("far-upper", "limb far", capsule(shoulder, radii[0], elbow, radii[1])),
            self._solid("far-fore", "limb far", capsule(elbow, radii[1], wrist, radii[2])),
        ]

    def body(self) -> list[Shape]:
        """Legs, trunk, neck and head."""
        h = self.human.height
        wide = self.view == "front" or (self.view == "top" and self.variant.support.base.endswith("lying"))
        pelvis, chest = (0.088 * h, 0.108 * h) if wide else (0.068 * h, 0.078 * h)
        shapes = []
        for n, (a, b, ra, rb) in enumerate(scenery.legs(self.variant, self.human, self.hip)):
            shapes.append(self._solid(f"leg-{n}", "limb", capsule(self.still(*a), ra, self.still(*b), rb)))
        hips, shoulders = self.trunk(0, -0.288 * h, 0), self.trunk(0, -0.035 * h, 0)
        neck, crown = self.trunk(0.005 * h, 0.04 * h, 0), self.trunk(0.012 * h, 0.115 * h, 0)
        return [
            *shapes,
            self._solid("neck", "limb", capsule(shoulders, 55, crown, 45)),
            self._solid("trunk", "trunk", capsule(hips, 1000 * pelvis, shoulders, 1000 * chest)),
            self._solid("skull", "skull", capsule(neck + (crown - neck) * 0.75, 62, crown, 82)),
        ]

    def arm(self) -> list[Shape]:
        """Upper arm and forearm."""
        shoulder, elbow, wrist = (self.flat(p) for p in (0 * self.elbow, self.elbow, self.wrist))
        radii = self._radii()
        return [
            self._solid("upper", "limb near", capsule(shoulder, radii[0], elbow, radii[1])),
            self._solid("fore", "limb near", capsule(elbow, radii[1], wrist, radii[2])),
            self._solid(
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
            shapes.append(self._solid(f"head-{head}", f"muscle head-{head}", spindle(points, width)))
        return shapes

    def implement(self) -> list[Shape]:
        """What the hand holds."""
        loads, handle = self.variant.equipment.loads, self.variant.equipment.handle
        if self.variant.equipment.hands == 2 and handle != "rope" and "dumbbell" not in loads:
            return self._bar(plates="cable" not in loads)
        if loads[0] == "dumbbell":
            offset = getattr(self.variant.lines[0], "offset_m", 0.0)
            centre = self.grip + offset * self.thumb
            ends = [self.flat(centre + side * self.thumb) for side in (-0.075, 0.075)]
            outer = [self.flat(centre + side * self.thumb) for side in (-0.115, 0.115)]
            plates = [
                self._solid(f"plate-{n}", "plate", capsule(a, 52, b, 46))
                for n, (a, b) in enumerate(zip(ends, outer, strict=True))
            ]
            return [*plates, self._stroke("handle", "handle", *ends)]
        ends = [self.flat(self.grip + side * self.thumb) for side in (-0.06, 0.06)]
        return [self._stroke("handle", "handle", *ends)]

    def _bar(self, *, plates: bool) -> list[Shape]:
        centre = self.grip.copy()
        centre[2] = -self.human.shoulder_half_width
        across = np.zeros_like(centre)
        across[2] = 1.0
        half = 0.55 if plates else 0.28
        ends = [self.flat(centre + side * half * across) for side in (-1, 1)]
        shapes = [self._stroke("handle", "handle", *ends)]
        if plates:
            inner = [self.flat(centre + side * (half - 0.06) * across) for side in (-1, 1)]
            shapes += [
                self._solid(f"plate-{n}", "plate", capsule(a, 100, b, 100))
                for n, (a, b) in enumerate(zip(inner, ends, strict=True))
            ]
        return shapes

    def force(self) -> list[Shape]:
        """The line of force through the grip, its arrow, and the lever from the elbow to it."""
        start, tip = self._force_line()
        foot = self._lever_foot()
        a, b = self.flat(start), self.flat(tip)
        elbow, foot_flat = self.flat(self.elbow), self.flat(foot)
        return [
            self._stroke("force", "force", a, b),
            self._solid("arrow", "force-tip", _arrow(a, b)),
            self._stroke("lever", "lever", elbow, foot_flat),
            self._solid("pivot", "pivot", disc(elbow, 14)),
        ]

    def _force_line(self) -> tuple[Array, Array]:
        """From the grip, or from the lever's foot where that lies behind it, along the pull."""
        direction = self.pull / np.sqrt(dot(self.pull, self.pull))
        foot = self._lever_foot()
        behind = np.minimum(dot(foot - self.grip, direction), 0.0)
        reach = np.full(self.count, WEIGHT_LINE)
        for place in self.pulleys():
            there = room_to_trunk(np.array(place), self.posture, self.human, self.hip)
            reach = np.sqrt(dot(there - self.grip, there - self.grip))
        return self.grip + behind * direction, self.grip + reach * direction

    def _lever_foot(self) -> Array:
        direction = self.pull / np.sqrt(dot(self.pull, self.pull))
        return np.asarray(self.grip + dot(self.elbow - self.grip, direction) * direction)

    def opacity(self) -> dict[str, list[float]]:
        """How dense each head is drawn: longer is denser."""
        heads = FLEXORS if self.variant.target == "flexors" else EXTENSORS
        geometry, i, anatomy = self.modelled.batch.geometry, self.modelled.place, self.modelled.batch.anatomy
        return {
            f"head-{head}": np.round(0.3 + 0.7 * geometry.percent[anatomy.index(head), i] / 100, 2).tolist()
            for head in heads
        }

    def lever_labels(self) -> list[list[float]]:
        """Per frame, where the lever's length is written and what it is [cm]."""
        middle = (self.flat(self.elbow) + self.flat(self._lever_foot())) / 2
        lever = 100 * self.modelled.along("lever")
        return [
            [round(x), round(y), round(cm, 1)]
            for (x, y), cm in zip(middle.tolist(), lever.tolist(), strict=True)
        ]

    def _radii(self) -> tuple[float, float, float]:
        scale = 1000 * self.human.height
        return 0.031 * scale, 0.024 * scale, 0.0155 * scale

    @staticmethod
    def _solid(key: str, css: str, outlines: Array) -> Shape:
        return Shape(key, css, path_text(outlines))

    @staticmethod
    def _stroke(key: str, css: str, start: Array, end: Array) -> Shape:
        return Shape(key, css, path_text(line(start, end), closed=False))


def _arrow(start: Array, tip: Array) -> Array:
    """An arrow head at `tip`, pointing away from `start`."""
    along = tip - start
    along = along / np.maximum(np.linalg.norm(along, axis=1, keepdims=True), 1e-9)
    across = np.stack((-along[:, 1], along[:, 0]), axis=1)
    back = tip - 42 * along
    return np.stack((tip, back + 20 * across, back - 20 * across), axis=1)
