"""A sketch on its paper, and the truth over it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.monotone import MonotoneCubic
from curve_rank.figures.shapes import Label, Path, Picture, Shape, line
from curve_rank.rating.modelling import VariantModel
from curve_rank.study.sketch import PLACES, Judgement

WIDTH, HEIGHT, LEFT, RIGHT, TOP, BASE = 560, 220, 14, 546, 30, 190
ROOM = 44
"""Half the room that a label takes."""


def sketched(
    drawn: Sequence[float], modelled: VariantModel | None = None, judged: Judgement | None = None
) -> Picture:
    """A sketch; with a model the truth filled behind it, and how far apart the hard spots are."""
    places = np.linspace(LEFT, RIGHT, PLACES)
    sketch = np.asarray(drawn, dtype=float)
    shapes: list[Shape] = []
    if modelled is not None:
        demand = np.maximum(modelled.along("demand"), 0.0)
        x = np.linspace(LEFT, RIGHT, demand.size)
        outline = _points(x, _down(demand / demand.max()))
        hard = float(x[modelled.hard])
        said = float(np.clip(hard, LEFT + ROOM, RIGHT - ROOM))
        shapes += [
            Path("strip-area", f"M{LEFT} {BASE}L{outline}L{RIGHT} {BASE}Z"),
            Path("strip-line", f"M{outline}"),
            Path("strip-notch", f"M{hard:.1f} {TOP:.1f}l-5 -8h10Z"),
            Label("sketch-truth", said, TOP - 13, f"hardest at {modelled.readings.hard_spot:.0f}°", "middle"),
        ]
    full = max(float(sketch.max()), 1e-9) if modelled is not None else 1.0
    fine = np.linspace(LEFT, RIGHT, 81)
    curve = np.clip(MonotoneCubic(places, sketch / full)(fine), 0, 1)
    shapes.append(Path("sketch-line", f"M{_points(fine, _down(curve))}", key="sketch-line"))
    if judged is not None:
        highest = fine[curve >= curve.max() - 1e-6]
        peak = float(np.clip(highest.mean(), LEFT + ROOM, RIGHT - ROOM))
        shapes.append(
            Label(
                "sketch-own",
                peak,
                float(_down(curve).min()) + 16,
                f"drawn at {judged.drawn_hard:.0f}°",
                "middle",
            )
        )
    shapes += [
        line("strip-base", LEFT, BASE, RIGHT, BASE),
        Label("strip-text", LEFT, BASE + 18, "stretched"),
        Label("strip-text", RIGHT, BASE + 18, "short", "end"),
    ]
    label = "The sketch" if modelled is None else "The sketch over what the load asks"
    return Picture("sketch", WIDTH, HEIGHT, tuple(shapes), label=label, key="sketch", scaled=True)


def _down(values: Array) -> Array:
    return np.asarray(BASE - (BASE - TOP) * values)


def _points(x: Array, y: Array) -> str:
    return "L".join(f"{a:.1f} {b:.1f}" for a, b in zip(x.tolist(), y.tolist(), strict=True))


def overlaid(several: Sequence[Sequence[float]], modelled: VariantModel | None = None) -> Picture:
    """Sketches of many over each other, each over its own most; the truth behind them where it is given."""
    base = sketched((0.0,) * PLACES, modelled)
    places, fine = np.linspace(LEFT, RIGHT, PLACES), np.linspace(LEFT, RIGHT, 41)
    lines = []
    for drawn in several:
        sketch = np.asarray(drawn, dtype=float)
        curve = np.clip(MonotoneCubic(places, sketch / max(float(sketch.max()), 1e-9))(fine), 0, 1)
        lines.append(Path("sketch-one", f"M{_points(fine, _down(curve))}"))
    kept = tuple(shape for shape in base.shapes if getattr(shape, "key", "") != "sketch-line")
    says = f"{len(several)} sketches" + (" over what the load asks" if modelled is not None else "")
    return replace(base, shapes=(*lines, *kept) if modelled is None else (*kept, *lines), label=says, key="")
