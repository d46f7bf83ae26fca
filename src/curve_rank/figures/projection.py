"""Where things are in a picture's plane: one modelled rep seen from the side, the front or above."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from curve_rank.arm.arrays import Array, cross, length_of, of_reps
from curve_rank.arm.body import Body
from curve_rank.arm.posture import Frame, Posture, arm_frame, trunk_to_room
from curve_rank.arm.rep_setup import SAMPLES
from curve_rank.catalogue.line_kinds import BandLine, CableLine
from curve_rank.catalogue.schema import Variant
from curve_rank.figures.outlines import Frames, MovingPath, Outline, Plane, line
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.posing import VariantPose
from curve_rank.rating.rep_of_variant import rep_setup

VIEWS = {"side": (0, 1, 1.0), "front": (2, 1, -1.0), "top": (0, 2, 1.0)}
"""Per view: the room axis that runs across, the one that runs up or down, and the sign across."""
TOWARDS = {"side": 2, "front": 0, "top": 1}
"""Per view: the room axis that points to whoever looks."""
USUAL_BUILD, BUILD_RISE = 25.25, 0.55
"""Mass over height squared at which half widths are as drawn [kg/m²], and how they rise with it."""
HAND_HEIGHTS = {"hanging": 2.25, "dip_support": 1.25, "push_up": 0.06, "bench_dip": 0.48, "body_row": 1.16}
"""Height of what the hands hold or rest on where that is what stands still [m]."""
HANDS_ON_BENCH = 0.53
BLADE_PART, BLADE_FROM = 1 / 3, 30.0
"""Part of the arm's raising that the shoulder blade makes [1], and from where on [°] (Inman et al. 1944)."""


def best_view(variant: Variant) -> str:
    """The view that shows most of a set-up."""
    sideways = abs(variant.posture.abduction) >= 60 or abs(variant.posture.rotation) >= 60
    return "front" if sideways or variant.posture.trunk_roll else "side"


def hands_on_bench(variant: Variant) -> bool:
    """Whether it is a push-up with the hands on a bench."""
    at_bench = variant.support.base == "push_up" and variant.equipment.bench == "flat_bench"
    return at_bench and 0 < variant.posture.trunk_pitch < 65


def hand_height(variant: Variant) -> float | None:
    """Height of what the hands hold or rest on where that is what stands still [m]."""
    return HANDS_ON_BENCH if hands_on_bench(variant) else HAND_HEIGHTS.get(variant.support.base)


@dataclass(frozen=True)
class Stance:
    """A set-up's postures in one view: where things are, without any muscle.

    Points are (3, frames), trunk frame, unless a name says otherwise.

    Attributes
    ----------
    variant : Variant
    body : Body
    view : str
    hip : float
        Hip centre above the floor [m].
    posture : Posture
        Angles of shape (frames,).
    frame : Frame
        Axes and points of shape (3, frames).
    """

    variant: Variant
    body: Body
    view: str
    hip: float
    posture: Posture
    frame: Frame

    @classmethod
    def of(cls, variant: Variant, body: Body, view: str, samples: int = SAMPLES) -> Stance:
        """The stance of a set-up that has not been modelled.

        Raises
        ------
        PostureError, BadInputError
        """
        setup = rep_setup(variant, body, samples=samples)
        frame = arm_frame(setup.posture, body)
        return Stance(variant, body, view, setup.hip_height, setup.posture, frame)

    @property
    def count(self) -> int:
        """Frames."""
        return self.posture.elbow.size

    @cached_property
    def bend_side(self) -> Array:
        """Square to the upper arm, towards where the elbow bends."""
        return cross(self.frame.elbow_axis, self.frame.upper_arm)

    @cached_property
    def trunk_axes(self) -> Array:
        """The trunk's axes in the room, (3 room, 3 trunk, frames)."""
        zero, *units = np.moveaxis(self._in_room(np.vstack((np.zeros(3), np.eye(3))).T), 1, 0)
        return np.stack([unit - zero for unit in units], axis=1)

    @cached_property
    def shift(self) -> Array:
        """How far the body moves in the room where the hands hold something fixed, (3, frames) [m]; else
        nowhere, (3, 1)."""
        height = hand_height(self.variant)
        if height is None:
            return np.zeros((3, 1))
        hand = self._shoulder + np.einsum("axf,xf->af", self.trunk_axes, self.frame.grip)
        moved = np.array([[0.0], [height], [0.0]]) - hand
        moved[2] = 0.0
        return np.asarray(moved)

    @cached_property
    def origin(self) -> Array:
        """The shoulder in the room, (3, frames)."""
        return np.asarray(self._shoulder + self.shift)

    @cached_property
    def _shoulder(self) -> Array:
        """The shoulder in the room, the hips standing still, (3, frames)."""
        return self._in_room(np.zeros((3, 1)))[:, 0]

    def _in_room(self, points: Array) -> Array:
        """Points (3, n) of the trunk in the room in every frame, the hips standing still, (3, n, frames)."""
        return trunk_to_room(points[..., None], self.posture, self.body, self.hip)

    @cached_property
    def _flat_axes(self) -> tuple[Plane, Plane]:
        """The shoulder and the trunk's axes in the plane, (frames,) and (3, frames)."""
        return self.plane(self.origin), self.plane(self.trunk_axes)

    def flat(self, point: Array) -> Plane:
        """Trunk-frame points (3, …, frames) in the plane, (…, frames)."""
        origin, axes = self._flat_axes
        if point.ndim > 2:
            axes = axes[:, None]
        return np.asarray(origin + (axes * point).sum(axis=0))

    def in_room(self, point: Array) -> Array:
        """A trunk-frame point (3, frames) in the room, (3, frames)."""
        return np.asarray(self.origin + np.einsum("axf,xf->af", self.trunk_axes, point))

    def plane(self, room: Array) -> Plane:
        """Room points (3, …) in the plane, (…)."""
        across, up, sign = VIEWS[self.view]
        down = room[up] if self.view == "top" else -room[up]
        return np.asarray(1000 * (sign * room[across] + 1j * down))

    def way(self, vector: Array) -> Plane:
        """A trunk-frame vector (3, frames) as the plane shows it, (frames,), 1 where it lies in the plane."""
        return np.asarray((self._flat_axes[1] * vector).sum(axis=0) / 1000)

    def trunk_way(self, vector: Array) -> Plane:
        """A vector (3,) of the trunk as the plane shows it; (1,) where the trunk is still."""
        axes = self.trunk_axes[..., self._trunk_frames]
        return self.plane((axes * vector[:, None]).sum(axis=1)) / 1000

    def depth(self, vector: Array) -> Array:
        """How far a trunk-frame vector (3, frames) points towards whoever looks, (frames,)."""
        return np.asarray((self.trunk_axes[TOWARDS[self.view]] * vector).sum(axis=0))

    def across_the_middle(self, room: Array, side: float) -> Array:
        """A room point (3, frames) of the right half, or its twin of the left for a side below 0."""
        if side > 0:
            return room
        right = self.trunk_axes[:, 2]
        from_middle = room - self.origin + self.body.shoulder_half_width * right
        return np.asarray(room - 2 * (from_middle * right).sum(axis=0) * right)

    def still(self, x: float, y: float, z: float) -> Plane:
        """One room point that never moves, in the plane, (1,)."""
        return self.plane(np.array([[x], [y], [z]], dtype=float))

    @property
    def floor(self) -> float | None:
        """Where the floor is down the paper; None seen from above."""
        return None if self.view == "top" else 0.0

    def with_body(self, x: float, y: float, z: float) -> Plane:
        """A room point that moves with the body where the hands are what stands still; else (1,)."""
        return self.plane(np.array([[x], [y], [z]]) + self.shift)

    def trunk(self, x: float, y: float, z: float) -> Plane:
        """A point fixed in the trunk, from the middle of the shoulders; (1,) where the trunk is still."""
        offset = np.array([[x], [y], [z - self.body.shoulder_half_width]])
        axes, origin = self.trunk_axes[..., self._trunk_frames], self.origin[:, self._trunk_frames]
        return self.plane(origin + (axes * offset).sum(axis=1))

    @property
    def _trunk_frames(self) -> slice:
        return slice(0, 1) if self._trunk_is_still else slice(None)

    @property
    def build(self) -> float:
        """Half widths over those of middle build [1]."""
        return float((self.body.mass / self.body.height**2 / USUAL_BUILD) ** BUILD_RISE)

    @cached_property
    def _trunk_is_still(self) -> bool:
        angles = (self.posture.trunk_pitch, self.posture.trunk_roll)
        return self.shift.shape[1] == 1 and all(np.ptp(angle) == 0 for angle in angles)

    @cached_property
    def _blade_turn(self) -> Array:
        """How the shoulder blade is turned in the trunk, by a part of the arm's raising, (3, 3, frames)."""
        arm = self.frame.upper_arm
        raised = np.arccos(np.clip(-arm[1], -1, 1))
        angle = BLADE_PART * np.maximum(raised - np.deg2rad(BLADE_FROM), 0.0)
        axis = cross(np.array([[0.0], [-1.0], [0.0]]), arm)
        axis = axis / np.maximum(length_of(axis), 1e-9)
        zero = np.zeros_like(angle)
        x, y, z = axis
        skew = np.array([[zero, -z, y], [z, zero, -x], [-y, x, zero]])
        square = np.einsum("abf,bcf->acf", skew, skew)
        return np.asarray(np.eye(3)[..., None] + np.sin(angle) * skew + (1 - np.cos(angle)) * square)

    def with_blade(self, point: Array) -> Array:
        """A trunk-frame point (3, frames) of the shoulder blade, which turns with the arm."""
        return np.asarray(np.einsum("abf,bf->af", self._blade_turn, point))

    def mirrored(self, point: Array) -> Array:
        """The left arm's twin of a right-arm point."""
        twin = point.copy()
        twin[2] = -2 * self.body.shoulder_half_width - point[2]
        return twin

    def pulleys(self) -> list[tuple[float, float, float]]:
        """Where pulleys and anchors stand in the room."""
        lines = self.variant.lines
        return [(p.forward, p.up, p.right) for p in lines if isinstance(p, CableLine | BandLine)]


@dataclass(frozen=True)
class Projection(Stance):
    """A modelled rep in one view: a stance, and what pulls and works in it."""

    modelled: VariantModel | VariantPose
    samples: slice

    @classmethod
    def of_model(cls, modelled: VariantModel | VariantPose, view: str, only: int | None = None) -> Projection:
        """A modelled rep in a view; or one sample of it alone."""
        samples = slice(None) if only is None else slice(only, only + 1)
        rep = modelled.rep
        angles = {name: values[0, samples] for name, values in vars(rep.posture).items()}
        one = of_reps(rep.frame, slice(0, 1))
        frame = Frame(**{name: values[:, 0, samples] for name, values in vars(one).items()})
        hip = modelled.setup.hip_height
        return Projection(
            modelled.variant, modelled.body, view, hip, Posture(**angles), frame, modelled, samples
        )

    @cached_property
    def pull(self) -> Array:
        """Force of the load on the right hand [N]."""
        modelled = self.modelled
        return modelled.rep.external.pull(np.array([modelled.load]))[:, 0, self.samples]

    def along(self, name: str) -> Array:
        """One of the rep's arrays, (frames,)."""
        return self.modelled.along(name)[self.samples]

    def drive_along(self, head: str) -> Array:
        """A head's drive, (frames,)."""
        return self.modelled.drive_along(head)[self.samples]

    def length_along(self, head: str) -> Array:
        """A head's length in per cent of its range, (frames,)."""
        return self.modelled.length_along(head)[self.samples]


def solid(key: str, role: str, outline: Outline) -> MovingPath:
    """A closed shape from its outline in every frame."""
    return MovingPath(key, role, Frames.of(outline))


def inked(
    parts: list[tuple[str, Outline]], role: str, ink: str = "fig-ink"
) -> tuple[list[MovingPath], list[MovingPath]]:
    """Shapes that are one silhouette: the ink of all of them, and what is laid over it, by one key each."""
    texts = [(key, Frames.of(outline)) for key, outline in parts]
    return (
        [MovingPath(key, ink, text) for key, text in texts],
        [MovingPath(key, role, text) for key, text in texts],
    )


def stroke(key: str, role: str, start: Plane, end: Plane) -> MovingPath:
    """A straight stroke."""
    return solid(key, role, line(start, end))
