"""The scale between two statements: it tips by the probability that the first one holds."""

from __future__ import annotations

import math

from curve_rank.figures.shapes import Circle, Label, Path, Picture, Shape, line

WIDTH, HEIGHT = 168, 92
MIDDLE, TOP, FOOT = 84.0, 18.0, 84.0
BEAM, PAN, HANG = 58.0, 18.0, 22.0
MOST_TILT = 17.0
"""Tilt of a scale that is sure [degrees]."""


def balance(probability: float | None) -> Picture:
    """A scale whose left pan sinks as the first statement holds; level and empty where nothing is weighed."""
    tilt = 0.0 if probability is None else math.radians(MOST_TILT * (1 - 2 * probability))
    across, down = BEAM * math.cos(tilt), BEAM * math.sin(tilt)
    left, right = (MIDDLE - across, TOP - down), (MIDDLE + across, TOP + down)
    faint = " scale-empty" if probability is None else ""
    shapes: list[Shape] = [
        line("scale-post", MIDDLE, TOP, MIDDLE, FOOT),
        line("scale-post", MIDDLE - 14, FOOT, MIDDLE + 14, FOOT),
        line(f"scale-beam{faint}", *left, *right),
    ]
    for n, (x, y) in enumerate((left, right)):
        edge = y + HANG
        hung = f"M{x:.1f} {y:.1f}L{x - PAN:.1f} {edge:.1f}M{x:.1f} {y:.1f}L{x + PAN:.1f} {edge:.1f}"
        shapes.append(Path("scale-cord", hung))
        bowl = f"M{x - PAN:.1f} {edge:.1f}A{PAN:g} {PAN:g} 0 0 0 {x + PAN:.1f} {edge:.1f}Z"
        part = None if probability is None else (probability, 1 - probability)[n]
        heavy = part is not None and part > 0.5
        shapes.append(Path(f"scale-pan{' scale-heavy' if heavy else faint}", bowl))
        if part is not None:
            shapes.append(Label("scale-part", x, edge + PAN + 11, f"{100 * part:.0f}", "middle"))
    shapes.append(Circle("scale-pin", MIDDLE, TOP, 3.2))
    words = (
        "nothing is weighed" if probability is None else f"{100 * probability:.0f} of 100 arms on the left"
    )
    return Picture("scale", WIDTH, HEIGHT, tuple(shapes), label=f"Scale: {words}")
