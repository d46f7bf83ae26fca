"""Outlines of capsules, discs and strokes in a drawing plane, for many frames at once.

Points of the plane are complex numbers in millimetres: across, and down times i, as in SVG. A quarter turn is
then a factor of i. Arrays of points have shape (frames,), corners of an outline (frames, corners).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

Plane: TypeAlias = NDArray[np.complex128]

HALF_TURN = "A1 1 0 0 1 %d %d"
"""An arc to a point, clockwise; radii too small for it are enlarged to half the way, whatever it is."""
CAPSULE, DISC, LINE = f"M%d %d{HALF_TURN}L%d %d{HALF_TURN}Z", f"M%d %d{HALF_TURN}{HALF_TURN}Z", "M%d %dL%d %d"


@dataclass(frozen=True)
class Outline:
    """Corners in every frame, and SVG path data with room for two numbers a corner."""

    corners: Plane
    form: str


@dataclass(frozen=True)
class Frames:
    """Path data of an outline: its form, and whole millimetres (frames, numbers), once if it stands still."""

    form: str
    numbers: NDArray[np.intp]

    @classmethod
    def of(cls, outline: Outline) -> Frames:
        """Of an outline's corners."""
        numbers = np.rint(np.ascontiguousarray(outline.corners).view(float)).astype(np.intp)
        return cls(outline.form, numbers[:1] if (numbers == numbers[:1]).all() else numbers)

    @property
    def is_still(self) -> bool:
        """Whether it is the same in all frames."""
        return len(self.numbers) == 1

    def at(self, frame: int) -> str:
        """SVG path data of one frame."""
        return self.form % tuple(self.numbers[0 if self.is_still else frame].tolist())


@dataclass(frozen=True)
class MovingPath:
    """One path of the figure: its key, its role, and its data in every frame."""

    key: str
    role: str
    frames: Frames

    def at(self, frame: int) -> str:
        """Its path data in one frame."""
        return self.frames.at(frame)


def unit(way: Plane) -> Plane:
    """The direction of a way; to the right where it has no length."""
    return np.asarray(np.exp(1j * np.angle(way)))


def capsule(start: Plane, start_radius: float, end: Plane, end_radius: float) -> Outline:
    """A limb from `start` to `end`, round at both ends, radii in millimetres."""
    side = 1j * unit(end - start)
    first, last = start_radius * side, end_radius * side
    return Outline(np.stack((start + first, start - first, end - last, end + last), axis=1), CAPSULE)


def disc(centre: Plane, radius: float) -> Outline:
    """A circle."""
    return Outline(centre[:, None] + radius * np.array((-1, 1, -1)), DISC)


def line(start: Plane, end: Plane) -> Outline:
    """A straight stroke."""
    return Outline(np.stack((start, end), axis=1), LINE)


def polygon(corners: Plane) -> Outline:
    """A closed shape with straight sides."""
    return Outline(corners, "M" + "L".join(["%d %d"] * corners.shape[1]) + "Z")
