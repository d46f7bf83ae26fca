"""A reading along the steps of a series: its interval as a ribbon, best step and turning points marked."""

from __future__ import annotations

import numpy as np

from curve_rank.figures.curves import nice_ticks
from curve_rank.figures.shapes import Circle, Label, Path, Picture, Shape, line, scale_line, true_minus
from curve_rank.practice.units import amount_in, unit_in
from curve_rank.rating.readings import Reading
from curve_rank.rating.spreads import Spread
from curve_rank.study.series import Series

STEP, LEFT, TOP, HEIGHT, FOOT = 132, 48, 26, 170, 40


def thread(series: Series, names: tuple[str, ...], across: str, unit: str = "kg") -> Picture:
    """The picture of a series.

    Parameters
    ----------
    series : Series
        A reading step by step.
    names : tuple of str
        What each step is called under the axis.
    across : str
        What the steps are steps of.
    unit : str
        In which masses are read, "kg" or "lb".
    """
    reading = series.reading
    told = [(n, _read(step.spread, reading, unit)) for n, step in enumerate(series.steps) if step.spread]
    lows, highs = [s.low for _, s in told], [s.high for _, s in told]
    ticks = nice_ticks(min(lows), max(highs))
    width, base = LEFT + STEP * len(series.steps), TOP + HEIGHT

    def x(n: int) -> float:
        return LEFT + STEP * (n + 0.5)

    def y(value: float) -> float:
        return TOP + HEIGHT * (1 - (value - ticks[0]) / (ticks[-1] - ticks[0]))

    title = f"{reading.name} [{unit_in(unit, reading.unit)}]"
    shapes: list[Shape] = [Label("curve-title", LEFT, TOP - 11, title)]
    for tick in ticks:
        shapes += scale_line(tick, y(tick), LEFT, width)
    for run in np.split(np.array(told, dtype=object), _breaks([n for n, _ in told])):
        upper = [(x(n), y(s.high)) for n, s in run]
        lower = [(x(n), y(s.low)) for n, s in run[::-1]]
        shapes.append(Path("thread-ribbon", "M" + _points(upper + lower) + "Z"))
        shapes.append(Path("thread-line", "M" + _points([(x(n), y(s.median)) for n, s in run])))
    for n, spread in told:
        shapes.append(Circle("curve-dot", x(n), y(spread.median), 4))
        value = true_minus(f"{spread.median:.{reading.digits}f}")
        shapes.append(Label("curve-value", x(n), y(spread.median) - 9, value, "middle"))
        if n == series.best:
            shapes.append(Label("thread-best", x(n), base - 6, "best", "middle"))
        elif n in series.turns:
            shapes.append(Label("thread-turn", x(n), base - 6, "turns here", "middle"))
    for n, name in enumerate(names):
        shapes.append(Label("curve-text", x(n), base + 16, name, "middle"))
    shapes.append(line("curve-domain", LEFT, base, width, base))
    shapes.append(Label("curve-text", (LEFT + width) / 2, base + 33, across, "middle"))
    return Picture(
        role="thread",
        width=width,
        height=base + FOOT,
        shapes=tuple(shapes),
        label=f"{reading.name} along the steps; the numbers stand in the table below.",
    )


def _read(spread: Spread, reading: Reading, unit: str) -> Spread:
    return Spread(*(amount_in(unit, v, reading.unit) for v in (spread.median, spread.low, spread.high)))


def _breaks(places: list[int]) -> list[int]:
    """Where a run of steps that follow each other ends."""
    return [n for n in range(1, len(places)) if places[n] != places[n - 1] + 1]


def _points(points: list[tuple[float, float]]) -> str:
    return "L".join(f"{a:.1f} {b:.1f}" for a, b in points)
