"""Rungs: names with a number and its interval each, on one scale, as many as a slide holds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from curve_rank.figures.curves import nice_ticks
from curve_rank.figures.shapes import Circle, Label, Picture, Shape, line, number, true_minus

RUNG, TOP, FOOT, NAMES, SCALE, VALUE = 24.0, 30.0, 12.0, 300.0, 460.0, 130.0
MOST = 12
"""Rungs that can be read from the back of a room."""


@dataclass(frozen=True)
class Rung:
    """One name and its number; `before` stands in front of it, as a rank does."""

    name: str
    median: float
    low: float
    high: float
    says: str
    before: str = ""


def ladder(rungs: Sequence[Rung], title: str, ends: tuple[float, float] | None = None) -> Picture:
    """The first rungs on one scale.

    Parameters
    ----------
    rungs : sequence of Rung
        From the top on, at least one.
    title : str
        What is read, with its unit.
    ends : tuple of float, optional
        Where the scale begins and ends; as far as the intervals go where it is not given.
    """
    shown = rungs[:MOST]
    title = f"{title}; the first {MOST} of {len(rungs)}" if len(rungs) > MOST else title
    low, high = ends or (min(0.0, *(r.low for r in shown)), max(0.0, *(r.high for r in shown)))
    ticks = nice_ticks(low, high)

    def x(value: float) -> float:
        return NAMES + SCALE * (value - ticks[0]) / (ticks[-1] - ticks[0])

    base = TOP + RUNG * len(shown)
    shapes: list[Shape] = [Label("curve-title", NAMES, TOP - 16, title)]
    for tick in ticks:
        shapes.append(line("curve-axis", x(tick), TOP - 4, x(tick), base))
        shapes.append(Label("curve-text", x(tick), base + 14, true_minus(f"{tick:g}"), "middle"))
    for n, rung in enumerate(shown):
        y = TOP + RUNG * (n + 0.5)
        shapes += [
            Label("curve-value", 24, y + 4, rung.before, "end"),
            Label("curve-value", 32, y + 4, rung.name),
            line("whisker-line", x(rung.low), y, x(rung.high), y),
            Circle("curve-dot", x(rung.median), y, 4),
            Label("curve-text", NAMES + SCALE + 14, y + 4, rung.says),
        ]
    told = "; ".join(f"{r.before} {r.name}: {number(r.median)}".strip() for r in shown)
    return Picture(
        role="ladder",
        width=NAMES + SCALE + VALUE,
        height=base + FOOT + 10,
        shapes=tuple(shapes),
        label=f"{title}. {told}",
        scaled=True,
    )
