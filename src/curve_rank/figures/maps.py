"""Maps of a head over two joints: contour lines on paper, and the paths of variants that walk over them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, cast

import numpy as np
from contourpy import contour_generator

from curve_rank.arm.arrays import Array
from curve_rank.arm.atlas import Atlas
from curve_rank.figures.curves import nice_ticks
from curve_rank.figures.overlay import LETTERS
from curve_rank.figures.shapes import (
    Circle,
    Label,
    Path,
    Picture,
    Shape,
    line,
    number,
    scale_line,
    true_minus,
)
from curve_rank.rating.modelling import VariantModel

Kind = Literal["length", "arm", "strength"]
KINDS: dict[Kind, tuple[str, str]] = {
    "length": ("Length", "% of range"),
    "arm": ("Moment arm at the elbow", "mm"),
    "strength": ("Moment at full drive", "N·m"),
}
WIDTH, HEIGHT, LEFT, RIGHT, TOP, FOOT = 620, 440, 52, 20, 28, 42
LINES = 9
SECTION, CUT = (300, 44, 12, 24), 140
"""A cut's width, what it keeps free at left, right and top, and its height."""
AXIS = {
    "shoulder": "up: upper arm, behind (−) to overhead [°]",
    "forearm": "up: palm up (−90) to palm down (90) [°]",
}


@dataclass(frozen=True)
class Scale:
    """Where angles stand on the map's paper: a straight line each way."""

    elbow: tuple[float, float]
    other: tuple[float, float]

    def x(self, elbow: float) -> float:
        """Across, of an elbow angle."""
        low, high = self.elbow
        return LEFT + (WIDTH - LEFT - RIGHT) * (elbow - low) / (high - low)

    def y(self, other: float) -> float:
        """Down, of the second joint's angle."""
        low, high = self.other
        return TOP + HEIGHT * (1 - (other - low) / (high - low))


def values_of(atlas: Atlas, kind: Kind) -> Array:
    """What a kind of map shows, (rows, columns), in its printed unit."""
    if kind == "length":
        return atlas.percent
    return 1000 * atlas.moment_arms["elbow"] if kind == "arm" else atlas.strength


def scale_of(atlas: Atlas) -> Scale:
    """The map's scale."""
    return Scale(
        (float(atlas.elbow[0]), float(atlas.elbow[-1])), (float(atlas.other[0]), float(atlas.other[-1]))
    )


def head_map(atlas: Atlas, kind: Kind, walks: tuple[VariantModel, ...], at: tuple[float, float]) -> Picture:
    """The map of a head.

    Parameters
    ----------
    atlas : Atlas
        What is drawn: the head's grid of angles.
    kind : str
        "length", "arm" or "strength".
    walks : tuple of VariantModel
        Whose reps are drawn over it, from the stretched end to the short one.
    at : tuple of float
        Elbow and second angle under the cross [degrees].
    """
    scale, values = scale_of(atlas), values_of(atlas, kind)
    name, unit = KINDS[kind]
    shapes: list[Shape] = [*_frame(scale, atlas), *_contours(scale, atlas, values)]
    for letter, walk in zip(LETTERS, walks, strict=False):
        shapes += _walk(scale, atlas.across, letter, walk)
    x, y = scale.x(at[0]), scale.y(at[1])
    shapes.append(
        Path("map-cross", f"M{x:.1f} {TOP}V{TOP + HEIGHT}M{LEFT} {y:.1f}H{WIDTH - RIGHT}", key="cross")
    )
    return Picture(
        role="map",
        width=WIDTH,
        height=TOP + HEIGHT + FOOT,
        shapes=tuple(shapes),
        label=f"{name} [{unit}] over elbow and {atlas.across} angle, as contour lines",
        key="map",
        scaled=True,
    )


def sections(atlas: Atlas, kind: Kind, at: tuple[float, float]) -> tuple[Picture, Picture]:
    """Cuts through a map along the elbow and along the second joint, through the cross."""
    values = values_of(atlas, kind)
    bounds = nice_ticks(float(values.min()), float(values.max()))
    along_elbow = np.array([np.interp(at[1], atlas.other, values[:, n]) for n in range(atlas.elbow.size)])
    along_other = np.array([np.interp(at[0], atlas.elbow, values[n]) for n in range(atlas.other.size)])
    second = "upper arm" if atlas.across == "shoulder" else "forearm"
    unit = KINDS[kind][1]
    return (
        _section(f"along the elbow [{unit}]", atlas.elbow, along_elbow, bounds, "elbow"),
        _section(f"along the {second} [{unit}]", atlas.other, along_other, bounds, "other"),
    )


def _section(title: str, angles: Array, values: Array, ticks: tuple[float, ...], key: str) -> Picture:
    width, left, right, top = SECTION

    def x(angle: float) -> float:
        return left + (width - left - right) * (angle - float(angles[0])) / float(angles[-1] - angles[0])

    def y(value: float) -> float:
        return top + CUT * (1 - (value - ticks[0]) / (ticks[-1] - ticks[0]))

    shapes: list[Shape] = [Label("curve-title", left, top - 8, title)]
    for tick in ticks:
        shapes += scale_line(tick, y(tick), left, width - right)
    for angle in nice_ticks(float(angles[0]), float(angles[-1]), 5):
        if angles[0] <= angle <= angles[-1]:
            words = true_minus(f"{angle:g}°")
            shapes.append(Label("curve-text", x(angle), top + CUT + 16, words, "middle"))
    points = zip(angles.tolist(), values.tolist(), strict=True)
    path = "M" + "L".join(f"{x(a):.1f} {y(v):.1f}" for a, v in points)
    shapes.append(Path("curve", path, key=f"cut-{key}"))
    return Picture("section", width, top + CUT + 24, tuple(shapes), title, scaled=True)


def _frame(scale: Scale, atlas: Atlas) -> list[Shape]:
    """Axes with their angles."""
    right, base = WIDTH - RIGHT, TOP + HEIGHT
    shapes: list[Shape] = [Path("map-frame", f"M{LEFT} {TOP}H{right}V{base}H{LEFT}Z")]
    for angle in range(0, 150, 30):
        x = scale.x(angle)
        shapes += [
            line("curve-axis", x, TOP, x, base),
            Label("curve-text", x, base + 16, f"{angle}°", "middle"),
        ]
    for angle in range(-90, 181, 30):
        if scale.other[0] <= angle <= scale.other[1]:
            y = scale.y(angle)
            words = true_minus(f"{angle}°")
            shapes += [
                line("curve-axis", LEFT, y, right, y),
                Label("curve-text", LEFT - 6, y + 4, words, "end"),
            ]
    shapes.append(Label("curve-title", right, base + 34, "elbow angle [°], straight to bent", "end"))
    shapes.append(Label("curve-title", LEFT, TOP - 8, AXIS[atlas.across]))
    return shapes


def _contours(scale: Scale, atlas: Atlas, values: Array) -> list[Shape]:
    """Contour lines at round values, every other one heavier and named."""
    lines = contour_generator(atlas.elbow, atlas.other, values)
    shapes: list[Shape] = []
    names: list[Shape] = []
    for n, level in enumerate(nice_ticks(float(values.min()), float(values.max()), LINES)):
        role = "map-line map-heavy" if n % 2 == 0 else "map-line"
        for points in cast("list[Array]", lines.lines(level)):
            if len(points) < 2:
                continue
            across = np.array([scale.x(a) for a in points[:, 0]])
            down = np.array([scale.y(b) for b in points[:, 1]])
            shapes.append(Path(role, _polyline(across, down)))
            if np.hypot(np.ptp(across), np.ptp(down)) > 60:
                middle = int(len(points) * (0.35 + 0.3 * (n % 4) / 3))
                words = true_minus(f"{level:g}")
                names.append(
                    Label("map-value", float(across[middle]), float(down[middle]) + 4, words, "middle")
                )
    return shapes + names


def _walk(scale: Scale, across: str, letter: str, modelled: VariantModel) -> list[Shape]:
    """A rep's way over the map: a dot at its stretched end, a notch at its hard spot, a letter at its end."""
    elbow = modelled.angle("elbow")
    other = modelled.angle(across)
    x, y = np.array([scale.x(a) for a in elbow]), np.array([scale.y(b) for b in other])
    hard = modelled.hard
    return [
        Path(f"column-{letter}", _polyline(x, y)),
        Circle(f"column-dot-{letter}", float(x[0]), float(y[0]), 3.5),
        Path(f"column-text-{letter}", f"M{x[hard]:.1f} {y[hard] - 2:.1f}l-5 -8h10Z"),
        Label(f"column-text-{letter}", float(x[-1]), float(y[-1]) - 8, letter.upper(), "middle"),
    ]


def _polyline(x: Array, y: Array) -> str:
    return "M" + "L".join(f"{number(a)} {number(b)}" for a, b in zip(x.tolist(), y.tolist(), strict=True))
