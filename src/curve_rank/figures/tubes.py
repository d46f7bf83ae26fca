"""Tubes and hulls: how a limb with four half widths along its axis looks in a picture's plane.

Points of the plane are complex numbers in millimetres, as in `outlines`; arrays have shape (frames,) or
(frames, sections).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.figures.outlines import CLOSED, OPEN, Outline, Plane, unit

END_ON = 0.42
"""A limb that ever shows less of its length than this part is drawn as the hull of its sections."""
DIRECTIONS = np.exp(2j * np.pi * np.arange(22) / 22)
"""In which a hull is looked for, from the limb's own axis on."""


@dataclass(frozen=True)
class Sections:
    """Half widths along a limb, (sections,) each, in parts of its length."""

    at: Array
    front: Array
    back: Array
    outer: Array
    inner: Array

    @classmethod
    def read(cls, table: Mapping[str, list[float]]) -> Sections:
        """From a table of lists by name."""
        return cls(**{name: np.array(values) for name, values in table.items()})

    def times(self, by: float) -> Sections:
        """With other half widths."""
        return Sections(self.at, by * self.front, by * self.back, by * self.outer, by * self.inner)

    def between(self, first: float, last: float) -> Sections:
        """Those of a stretch of the limb, with one made at its end."""
        ends = [at for at in (first, last) if self.at[0] < at < self.at[-1]]
        at = np.sort(np.concatenate((self.at[(self.at >= first) & (self.at <= last)], ends)))
        names = ("front", "back", "outer", "inner")
        return Sections(at, *(np.interp(at, self.at, getattr(self, name)) for name in names))


@dataclass(frozen=True)
class Axis:
    """A limb in the plane, (frames,) each: where it begins, where it goes, and its own directions.

    Attributes
    ----------
    start, way : array
        Its beginning, and from there to its end [mm].
    front, side : array
        Unit vectors of the limb, towards where it bends and outwards, as the plane shows them.
    length : float
        True length [mm].
    """

    start: Plane
    way: Plane
    front: Plane
    side: Plane
    length: float


def tube(axis: Axis, sections: Sections) -> Outline:
    """The outline of a limb: two edges, or the hull of its sections where it is ever seen end on."""
    if is_end_on(axis):
        return _hull(axis, sections)
    right, left = _sides(axis, sections)
    return closed_curve(np.concatenate((right, left[:, ::-1]), axis=1))


def edges(axis: Axis, sections: Sections, first: float) -> list[Outline]:
    """The two edges of a limb from a place along it on; none where it is ever seen end on."""
    if is_end_on(axis):
        return []
    some = sections.at >= first
    return [open_curve(side[:, some]) for side in _sides(axis, sections)]


def is_end_on(axis: Axis) -> bool:
    """Whether a limb ever shows so little of its length that it has no edges."""
    return bool(np.abs(axis.way).min() < END_ON * axis.length)


def hull_of_balls(centres: Plane, radii: Array) -> Outline:
    """The hull of balls, centres (frames, balls) and radii (balls,) [mm]."""
    ways = DIRECTIONS
    reach = (np.conj(ways)[:, None] * centres[:, None, :]).real + radii
    far = reach.argmax(axis=2)
    points = np.take_along_axis(centres, far, axis=1) + radii[far] * ways
    return closed_curve(points)


def closed_curve(points: Plane) -> Outline:
    """A smooth closed curve through points, (frames, points)."""
    return Outline(points, CLOSED + " ".join(["%d %d"] * points.shape[1]))


def open_curve(points: Plane) -> Outline:
    """The same through points from one end to the other."""
    return Outline(points, OPEN + " ".join(["%d %d"] * points.shape[1]))


def _half_width(axis: Axis, sections: Sections, way: Plane) -> Array:
    """How far sections reach in directions of the plane, way (frames, …, 1) [mm]."""
    each = (-1, *(1,) * (way.ndim - 1))
    front = (np.conj(way) * axis.front.reshape(each)).real
    side = (np.conj(way) * axis.side.reshape(each)).real
    deep = np.where(front > 0, sections.front, sections.back) * front
    wide = np.where(side > 0, sections.outer, sections.inner) * side
    return np.asarray(axis.length * np.hypot(deep, wide))


def _centres(axis: Axis, sections: Sections) -> Plane:
    return np.asarray(axis.start[:, None] + sections.at * axis.way[:, None])


def _sides(axis: Axis, sections: Sections) -> tuple[Plane, Plane]:
    """Points of both edges, (frames, sections), to the right of the way along it and to the left."""
    centres, across = _centres(axis, sections), 1j * unit(axis.way)[:, None]
    right = centres + _half_width(axis, sections, across) * across
    return np.asarray(right), np.asarray(centres - _half_width(axis, sections, -across) * across)


def _hull(axis: Axis, sections: Sections) -> Outline:
    centres = _centres(axis, sections)[:, None]
    ways = (DIRECTIONS * unit(axis.way)[:, None])[..., None]
    width = _half_width(axis, sections, ways)
    far = ((np.conj(ways) * centres).real + width).argmax(axis=2)[..., None]
    return closed_curve(np.take_along_axis(centres + width * ways, far, axis=2)[..., 0])
