"""Outlines of tapered limbs and spindles in a drawing plane, for many frames at once.

Points of the plane are complex numbers in millimetres: across, and down times i, as in SVG. A quarter turn is
then a factor of i. Arrays of points have shape (frames,), corners of an outline (frames, corners).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.arrays import Array

Plane: TypeAlias = NDArray[np.complex128]

HALF_TURN = "A1 1 0 0 1 %d %d"
"""An arc to a point, clockwise; radii too small for it are enlarged to half the way, whatever it is."""
CAPSULE, DISC, LINE = f"M%d %d{HALF_TURN}L%d %d{HALF_TURN}Z", f"M%d %d{HALF_TURN}{HALF_TURN}Z", "M%d %dL%d %d"
SPINDLE = "M%d %dC%d %d %d %d %d %dL%d %dC%d %d %d %d %d %dZ"
TENDON = 3.0
"""Half width of a spindle's ends [mm]."""


@dataclass(frozen=True)
class MovingPath:
    """One path of the figure: its key, its role, and its data in every frame, or once if it stands still."""

    key: str
    role: str
    frames: list[str]

    def at(self, frame: int) -> str:
        """Its path data in one frame."""
        return self.frames[frame if len(self.frames) > 1 else 0]


@dataclass(frozen=True)
class Outline:
    """Corners in every frame, and SVG path data with room for two numbers a corner."""

    corners: Plane
    form: str


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


def spindle(points: Plane, width: Array) -> Plane:
    """A muscle belly along a smooth line through three points: what `belly` outlines, (frames, 8).

    Parameters
    ----------
    points : array, shape (frames, 3)
        Origin, a point the belly bows towards, insertion.
    width : array, shape (frames,)
        Half width at the thickest [mm].
    """
    start, bow, end = points.T
    side = 1j * unit(end - start)
    # The line as a cubic curve; a cubic is three quarters as far out as its inner points, half way along.
    first, last = start + (bow - start) * 2 / 3, end + (bow - end) * 2 / 3
    thick, thin = (width * 4 / 3 + TENDON) * side, TENDON * side
    there = (start + thin, first + thick, last + thick, end + thin)
    back = (end - thin, last - thick, first - thick, start - thin)
    return np.stack((*there, *back), axis=1)


def belly(corners: Plane) -> Outline:
    """The outline of a spindle."""
    return Outline(corners, SPINDLE)


def path_text(outline: Outline) -> list[str]:
    """SVG path data of each frame's outline, whole millimetres; one entry if the frames are all alike."""
    numbers = np.rint(np.ascontiguousarray(outline.corners).view(float)).astype(int)
    if (numbers == numbers[:1]).all():
        numbers = numbers[:1]
    return [outline.form % tuple(row) for row in numbers.tolist()]
