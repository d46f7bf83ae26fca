"""Curves of several set-ups over one axis: elbow angle, place in the rep, or the head's length.

Every set-up keeps one letter, stroke and dash in all panels; the page's script moves a dot along each.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.figures.curves import nice_ticks
from curve_rank.figures.shapes import (
    Circle,
    Group,
    Label,
    Path,
    Picture,
    Shape,
    kept_apart,
    line,
    scale_line,
    true_minus,
)
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target

Axis = Literal["place", "angle", "length"]
AXES: dict[Axis, str] = {
    "place": "place in the rep [%], stretched to short",
    "angle": "elbow angle [°]",
    "length": "length of the head [% of its range]",
}
LETTERS = "abcd"
WIDTH, HEIGHT, LEFT, RIGHT, TOP, FOOT = 600, 190, 44, 26, 20, 40
LETTER_SPACE = 13.0


@dataclass(frozen=True)
class Overlay:
    """A picture a panel, and where each dot stands at each sample: by dot, pairs across and down."""

    pictures: tuple[Picture, ...]
    dots: dict[str, list[tuple[float, float]]]

    def as_data(self) -> dict[str, Any]:
        """For the script."""
        return {"dots": self.dots}


@dataclass(frozen=True)
class _Panel:
    title: str
    across: list[Array]
    values: list[Array]

    def shapes(self, axis: Axis) -> tuple[list[Shape], list[list[tuple[float, float]]]]:
        """The panel, and each curve's points on the paper."""
        every, wide = np.concatenate(self.values), np.concatenate(self.across)
        down = nice_ticks(min(0.0, float(every.min())), float(every.max()))
        ticks = nice_ticks(float(wide.min()), float(wide.max()), 5)
        points = [
            list(zip(self._x(a, ticks), self._y(v, down), strict=True))
            for a, v in zip(self.across, self.values, strict=True)
        ]
        right, base = WIDTH - RIGHT, TOP + HEIGHT
        shapes: list[Shape] = [Label("curve-title", LEFT, TOP - 7, self.title)]
        for tick, y in zip(down, self._y(np.array(down), down), strict=True):
            shapes += scale_line(tick, y, LEFT, right)
        for tick, x in zip(ticks, self._x(np.array(ticks), ticks), strict=True):
            shapes.append(line("curve-domain", x, base, x, base + 4))
            shapes.append(Label("curve-text", x, base + 16, true_minus(f"{tick:g}"), "middle"))
        shapes.append(line("curve-domain", LEFT, base, right, base))
        shapes.append(Label("curve-text", (LEFT + right) / 2, base + 31, AXES[axis], "middle"))
        for letter, along in zip(LETTERS, points, strict=False):
            path = "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in along)
            shapes.append(Path(f"column-{letter}", path))
        return [*shapes, *_letters(points)], points

    def _x(self, values: Array, ticks: tuple[float, ...]) -> list[float]:
        part = (values - ticks[0]) / (ticks[-1] - ticks[0])
        placed: list[float] = np.round(LEFT + (WIDTH - LEFT - RIGHT) * part, 1).tolist()
        return placed

    def _y(self, values: Array, ticks: tuple[float, ...]) -> list[float]:
        part = (values - ticks[0]) / (ticks[-1] - ticks[0])
        placed: list[float] = np.round(TOP + HEIGHT * (1 - part), 1).tolist()
        return placed


def overlay(models: tuple[VariantModel, ...], target: Target, axis: Axis = "place") -> Overlay:
    """The curves of two to four set-ups.

    Parameters
    ----------
    models : tuple of VariantModel
        The set-ups, modelled; one curve each.
    target : Target
        Whose first head's drive and length are drawn.
    axis : str
        What runs across: "place" in the rep, elbow "angle", or the head's "length".
    """
    head = target.heads[0]
    across = [_across(m, head, axis) for m in models]
    named = [
        ("Moment the load asks [N·m]", [m.along("demand") for m in models]),
        ("Effort [% of strength]", [100 * m.along("effort") for m in models]),
        (f"Drive of {target.name.lower()} [%]", [100 * m.drive_along(head) for m in models]),
        ("Elbow angle [°]", [m.angle("elbow") for m in models])
        if axis == "length"
        else (f"Length of {target.name.lower()} [% of range]", [m.length_along(head) for m in models]),
    ]
    pictures: list[Picture] = []
    dots: dict[str, list[tuple[float, float]]] = {}
    for n, (title, values) in enumerate(named):
        shapes, points = _Panel(title, across, values).shapes(axis)
        marks: list[Shape] = []
        for letter, m, along in zip(LETTERS, models, points, strict=False):
            key = f"dot-{n}-{letter}"
            dots[key] = along
            marks.append(Circle(f"column-dot-{letter}", *along[m.hard], 4, key=key))
        pictures.append(
            Picture(
                role="overlay",
                width=WIDTH,
                height=TOP + HEIGHT + FOOT,
                shapes=(*shapes, Group(tuple(marks))),
                label=f"{title} of {len(models)} set-ups over {AXES[axis]}",
                scaled=True,
            )
        )
    return Overlay(tuple(pictures), dots)


def _across(modelled: VariantModel, head: str, axis: Axis) -> Array:
    if axis == "place":
        return np.linspace(0, 100, modelled.along("demand").size)
    return modelled.angle("elbow") if axis == "angle" else modelled.length_along(head)


def _letters(points: list[list[tuple[float, float]]]) -> list[Shape]:
    """Each curve's letter beside its end, pushed apart where they would stand on each other."""
    ends = sorted(
        (along[-1][1], along[-1][0], letter) for letter, along in zip(LETTERS, points, strict=False)
    )
    at = kept_apart([y for y, _, _ in ends], LETTER_SPACE)
    return [
        Label(f"column-text-{letter}", x + 8, y + 4, letter.upper())
        for y, (_, x, letter) in zip(at, ends, strict=True)
    ]
