"""What of the plane a picture shows: boxes around what must be seen, with room for the words beside it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from curve_rank.figures.outlines import Plane

Box = tuple[int, int, int, int]

PANEL = 1.12
"""Width over height of the room a figure is given."""
TEXT_SHARE = 0.036
"""Size of writing in the figure, over the view box."""
WORDS = 7.5
"""How much room the lever's words take across, in sizes of writing."""
UPRIGHT = 0.25
"""A way that goes less than this across leads up or down: words stand over or under it, as a cosine."""
ROUNDS = 5
"""So often a box is made again for words whose size goes with it."""


@dataclass(frozen=True)
class Beside:
    """Where words stand from a place, in sizes of writing across and down, and where of the words it is."""

    across: float = 0.0
    down: float = -0.7
    anchor: str = "middle"

    @classmethod
    def towards(cls, way: complex) -> Beside:
        """To where a direction of the paper points."""
        if abs(way.real) < UPRIGHT:
            return Beside(0.0, 1.5 if way.imag > 0 else -0.7)
        anchor = "start" if way.real > 0 else "end"
        return Beside(round(0.7 * way.real, 2), round(0.35 + 0.7 * way.imag, 2), anchor)


@dataclass(frozen=True)
class Framing:
    """How much paper is left around what is framed, and the least that is framed [mm]."""

    margin: float
    least: float

    def around(
        self, points: list[Plane], floor: float | None, beside: tuple[Plane, Beside] | None = None
    ) -> Box:
        """A view box of the panel's proportions around points, and words beside some of them.

        Where there is a floor, hardly below it.
        """
        every = np.concatenate(points)
        corners = np.array(
            [every.real.min() + 1j * every.imag.min(), every.real.max() + 1j * every.imag.max()]
        )
        box = self._box(corners, floor)
        if beside is None:
            return box
        written, words = beside
        sides = {"start": (1.0,), "end": (-1.0,), "middle": (-0.5, 0.5)}[words.anchor]
        for _ in range(ROUNDS):
            size = TEXT_SHARE * max(box[2:])
            wide = (WORDS + abs(words.across)) * size - 0.5 * self.margin
            top, base = ((words.down - 1.3) * size + self.margin, (words.down + 0.3) * size - self.margin)
            around = (*(side * wide for side in sides), 1j * top, 1j * base)
            box = self._box(np.concatenate((corners, *(written + way for way in around))), floor)
        return box

    def _box(self, corners: Plane, floor: float | None) -> Box:
        across, down = corners.real, corners.imag if floor is None else np.minimum(corners.imag, floor)
        (left, right), (top, bottom) = ((float(at.min()), float(at.max())) for at in (across, down))
        width, height = (max(size + 2 * self.margin, self.least) for size in (right - left, bottom - top))
        width, height = max(width, PANEL * height), max(height, width / PANEL)
        left, top = (left + right - width) / 2, (top + bottom - height) / 2
        if floor is not None:
            top = min(top, floor + self.margin - height)
        return round(left), round(top), round(width), round(height)


NEAR, WHOLE = Framing(62, 820), Framing(120, 1200)
"""Around arm, load and line of force; and around the whole body."""
