"""Outlines of capsules, discs and strokes in a drawing plane, for many frames at once.

Points of the plane are complex numbers in millimetres: across, and down times i, as in SVG. A quarter turn is
then a factor of i. Arrays of points have shape (frames,), corners of an outline (frames, corners).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

Plane: TypeAlias = NDArray[np.complex128]

Point: TypeAlias = tuple[int, int]
MOST_CURVED = 0.36
"""How far a smooth curve's inner points lie from its ends at most, over the piece: beyond, it would loop."""
CLOSED, OPEN = "@", "~"
"""What stands before the points of a smooth curve, in place of commands."""

HALF_TURN = "A1 1 0 0 1 %d %d"
"""An arc to a point, clockwise; radii too small for it are enlarged to half the way, whatever it is."""
CAPSULE, DISC, LINE = f"M%d %d{HALF_TURN}L%d %d{HALF_TURN}Z", f"M%d %d{HALF_TURN}{HALF_TURN}Z", "M%d %dL%d %d"


@dataclass(frozen=True)
class Outline:
    """Corners in every frame, and SVG path data with room for two numbers a corner.

    A form that begins with `CLOSED` or `OPEN` has the points of a smooth curve instead.
    """

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

    def told(self, frame: int) -> str:
        """One frame for a script that draws smooth curves itself."""
        return self.form % self._row(frame)

    def at(self, frame: int) -> str:
        """SVG path data of one frame."""
        row = self._row(frame)
        return smooth(row, self.form[0]) if self.form[0] in (CLOSED, OPEN) else self.form % row

    def _row(self, frame: int) -> tuple[int, ...]:
        return tuple(self.numbers[0 if self.is_still else frame].tolist())


def _control(at: Point, to: Point, beyond: Point) -> Point:
    """A piece's inner point at one of its ends: as the points on both sides lie, no farther than it bears."""
    x, y = (to[0] - beyond[0]) / 6, (to[1] - beyond[1]) / 6
    most, long = MOST_CURVED * math.hypot(to[0] - at[0], to[1] - at[1]), math.hypot(x, y)
    by = most / long if long > most else 1.0
    return math.floor(at[0] + by * x + 0.5), math.floor(at[1] + by * y + 0.5)


def smooth(numbers: tuple[int, ...], kind: str) -> str:
    """Catmull and Rom's curve through points x, y, x, y, … as SVG path data, in whole millimetres.

    `parts/figure.js` does the same.
    """
    points = list(zip(numbers[::2], numbers[1::2], strict=True))
    if kind == CLOSED:
        around = [points[-1], *points, points[0], points[1]]
    else:
        around = [points[0], *points, points[-1]]
    pieces = [f"M{points[0][0]} {points[0][1]}"]
    for before, start, end, after in zip(around, around[1:], around[2:], around[3:], strict=False):
        controls = (*_control(start, end, before), *_control(end, start, after))
        pieces.append("C" + " ".join(map(str, (*controls, *end))))
    return "".join(pieces) + ("Z" if kind == CLOSED else "")


@dataclass(frozen=True)
class MovingPath:
    """One path of the figure: its key, its role, and its data in every frame."""

    key: str
    role: str
    frames: Frames

    def at(self, frame: int) -> str:
        """Its path data in one frame."""
        return self.frames.at(frame)

    def told(self, frame: int) -> str:
        """The same for the page's script."""
        return self.frames.told(frame)


def unit(way: Plane) -> Plane:
    """The direction of a way; to the right where it has no length."""
    long = np.abs(way)
    return np.where(long > 0, way / np.where(long > 0, long, 1.0), 1.0 + 0j)


def capsule(start: Plane, start_radius: float, end: Plane, end_radius: float) -> Outline:
    """A limb from `start` to `end`, round at both ends, radii in millimetres."""
    side = 1j * unit(end - start)
    first, last = start_radius * side, end_radius * side
    return Outline(np.stack((start + first, start - first, end - last, end + last), axis=1), CAPSULE)


def disc(centre: Plane, radius: float) -> Outline:
    """A circle."""
    return Outline(centre[:, None] + radius * np.array((-1, 1, -1)), DISC)


def slab(middle: Plane, halves: list[Plane], corner: float) -> Outline:
    """A box whose three half axes the plane shows so, as a rectangle with round corners.

    The longest half axis lies along it; what the others reach along it and across is added up.
    """
    sizes = [float(np.abs(half).max()) for half in halves]
    along = unit(halves[int(np.argmax(sizes))])
    u, v = (
        sum((np.abs((half * np.conj(way)).real) for half in halves), np.zeros(1))
        for way in (along, 1j * along)
    )
    radius = max(int(min(corner, u.min(), v.min())), 1)
    x, y, r = along * u, 1j * along * v, radius
    ahead, down = r * along, 1j * r * along
    corners = (
        (x - y + down, x + y - down), (x + y - ahead, y - x + ahead),
        (y - x - down, -x - y + down), (ahead - x - y, x - y - ahead),
    )  # fmt: skip
    turn = f"A{r} {r} 0 0 1 %d %d"
    form = "M%d %dL%d %d" + 3 * (turn + "L%d %d") + f"A{r} {r} 0 0 1 %d %dZ"
    points = [middle + point for pair in corners for point in pair] + [middle + corners[0][0]]
    return Outline(np.stack(points, axis=1), form)


def strokes(ends: list[tuple[Plane, Plane]]) -> Outline:
    """Several straight strokes as one."""
    return Outline(np.stack([end for pair in ends for end in pair], axis=1), LINE * len(ends))


def line(start: Plane, end: Plane) -> Outline:
    """A straight stroke."""
    return Outline(np.stack((start, end), axis=1), LINE)


def polyline(corners: list[Plane]) -> Outline:
    """An open stroke with corners."""
    return Outline(np.stack(corners, axis=1), "M" + "L".join(["%d %d"] * len(corners)))


def polygon(corners: Plane) -> Outline:
    """A closed shape with straight sides."""
    return Outline(corners, "M" + "L".join(["%d %d"] * corners.shape[1]) + "Z")
