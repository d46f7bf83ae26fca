"""Scores of a list along one number of the model: where two lines cross, their order turns."""

from __future__ import annotations

from collections.abc import Sequence

from curve_rank.figures.curves import nice_ticks
from curve_rank.figures.shapes import Circle, Label, Path, Picture, Rect, Shape, kept_apart, line, scale_line

WIDTH, HEIGHT, LEFT, TOP, FOOT, NAMES = 800, 250, 40, 26, 44, 300
LINES = 8
"""So many rows have a line."""
NAME_APART = 14
PUBLISHED = 1.28
"""Eight of ten draws lie within so many spreads."""


def crossing(
    rows: Sequence[tuple[str, Sequence[float]]], stops: Sequence[float], here: int, number: str
) -> Picture:
    """The picture of a list's first rows.

    Parameters
    ----------
    rows : sequence
        Name of each row and its score at every stop, best first as the list stands.
    stops : sequence of float
        By how many spreads the number is off, rising.
    here : int
        The stop that is looked at.
    number : str
        What the number is called.
    """
    some = rows[:LINES]
    values = [value for _, scores in some for value in scores]
    ticks = nice_ticks(min(values), max(values))
    base, right = TOP + HEIGHT, WIDTH - NAMES

    def x(spreads: float) -> float:
        return LEFT + 8 + (right - LEFT - 16) * (spreads - stops[0]) / (stops[-1] - stops[0])

    def y(value: float) -> float:
        return TOP + HEIGHT * (1 - (value - ticks[0]) / (ticks[-1] - ticks[0]))

    shapes: list[Shape] = [
        Rect("curve-slack", x(-PUBLISHED), TOP, x(PUBLISHED) - x(-PUBLISHED), HEIGHT),
        Label("curve-title", LEFT, TOP - 11, "Score, of 100"),
        Label("thread-turn", x(0), TOP + 12, "eight arms of ten", "middle"),
    ]
    for tick in ticks:
        shapes += scale_line(tick, y(tick), LEFT, right)
    shapes.append(line("curve-cursor", x(stops[here]), TOP, x(stops[here]), base))
    ends = _name_heights([y(scores[-1]) for _, scores in some], base)
    for place, ((name, scores), end) in enumerate(zip(some, ends, strict=True), 1):
        points = "L".join(f"{x(stop):.1f} {y(value):.1f}" for stop, value in zip(stops, scores, strict=True))
        shapes.append(Path("crossing-first" if place == 1 else "crossing-line", f"M{points}"))
        shapes.append(Circle("curve-dot", x(stops[here]), y(scores[here]), 3))
        shapes.append(line("crossing-lead", x(stops[-1]) + 2, y(scores[-1]), right + 8, end))
        shapes.append(Label("curve-name", right + 11, end + 4, f"{place} {name}"))
    for stop in stops:
        if stop == int(stop):
            words = "as published" if stop == 0 else f"{stop:+.0f}".replace("-", "−")
            shapes.append(Label("curve-text", x(stop), base + 16, words, "middle"))
    shapes.append(line("curve-domain", LEFT, base, right, base))
    shapes.append(Label("curve-text", (LEFT + right) / 2, base + 34, f"{number} [spreads]", "middle"))
    return Picture(
        role="crossing",
        width=WIDTH,
        height=base + FOOT,
        shapes=tuple(shapes),
        label=f"Scores of the first {len(some)} along {number.lower()}; the table below has the numbers.",
        scaled=True,
    )


def _name_heights(heights: list[float], base: float) -> list[float]:
    """Where the names of lines that end at some heights stand, in the lines' order, none below the base."""
    order = sorted(range(len(heights)), key=lambda n: heights[n])
    down = kept_apart([heights[n] for n in order], NAME_APART)
    up = kept_apart([base - min(height, base) for height in reversed(down)], NAME_APART)
    return [base - up[len(up) - 1 - order.index(n)] for n in range(len(heights))]
