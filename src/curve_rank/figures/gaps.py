"""One reading of several set-ups on one scale, each with its interval: the gap between them is seen."""

from __future__ import annotations

from curve_rank.figures.overlay import LETTERS
from curve_rank.figures.shapes import Circle, Label, Picture, Shape, line
from curve_rank.study.compare import ComparedReading

WIDTH, ROW, EDGE = 190, 13, 16
TOP = 3


def gaps(reading: ComparedReading) -> Picture:
    """A line for each set-up: its interval, and a dot at its median under its letter."""
    low = min(told.low for told in reading.columns)
    high = max(told.high for told in reading.columns)
    span = max(high - low, 1e-9)

    def across(value: float) -> float:
        return EDGE + (WIDTH - 2 * EDGE) * (value - low) / span

    shapes: list[Shape] = []
    for n, (letter, told) in enumerate(zip(LETTERS, reading.columns, strict=False)):
        y = TOP + ROW * (n + 0.5)
        start, end = across(told.low), across(told.high)
        shapes += [
            line("gap-scale", EDGE, y, WIDTH - EDGE, y),
            line(f"column-{letter}", start, y, max(end, start + 1), y),
            Circle(f"column-dot-{letter}", across(told.median), y, 3.4),
            Label(f"column-text-{letter}", 0, y + 4, letter.upper()),
        ]
    return Picture(
        role="gaps", width=WIDTH, height=2 * TOP + ROW * len(reading.columns), shapes=tuple(shapes)
    )
