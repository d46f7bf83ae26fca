"""Strength over weeks: every exercise's best set on one line, as the load it is worth on one exercise."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date

from curve_rank.figures.curves import nice_ticks
from curve_rank.figures.shapes import Circle, Group, Label, Path, Picture, Shape, line, scale_line

HEIGHT, LEFT, TOP, FOOT, RIGHT = 190, 52, 26, 40, 16
DESK, PHONE = 640, 358
"""Widths: what has to be pushed aside on a phone shows the weeks before last, and not the last."""
PER_WEEK = 80
"""So much a named week needs."""


@dataclass(frozen=True)
class TrendPoint:
    """One point: its day, the load [in the person's unit], what it is, and whether it was a record."""

    day: date
    value: float
    says: str
    record: bool = False


@dataclass(frozen=True)
class TrendBand:
    """A straight trend from the first day to the last: its start, its end, and the end's interval."""

    start: float
    end: float
    low: float
    high: float


def trend(
    points: Sequence[TrendPoint], band: TrendBand | None, unit: str, on: str, width: int = DESK
) -> Picture:
    """The line of a group of exercises.

    Parameters
    ----------
    points : sequence of TrendPoint
        Oldest first, at least one.
    band : TrendBand or None
        Where the true line lies; none where there is too little.
    unit : str
        In which the load is read.
    on : str
        The exercise on which the load is read.
    width : int, optional
        `DESK` or `PHONE`.
    """
    values = [point.value for point in points] + ([band.low, band.high] if band else [])
    ticks = nice_ticks(min(values), max(values))
    first, last = points[0].day.toordinal(), max(points[-1].day.toordinal(), points[0].day.toordinal() + 7)
    base = TOP + HEIGHT

    def x(day: int) -> float:
        return LEFT + 8 + (width - LEFT - RIGHT - 16) * (day - first) / (last - first)

    def y(value: float) -> float:
        return TOP + HEIGHT * (1 - (value - ticks[0]) / (ticks[-1] - ticks[0]))

    shapes: list[Shape] = [Label("curve-title", LEFT, TOP - 11, f"Same-effort load on {on} [{unit}]")]
    for tick in ticks:
        shapes += scale_line(tick, y(tick), LEFT, width - RIGHT)
    if band is not None:
        a, b = x(points[0].day.toordinal()), x(points[-1].day.toordinal())
        corner = f"M{a:.1f} {y(band.start):.1f}L{b:.1f} {y(band.high):.1f}L{b:.1f} {y(band.low):.1f}Z"
        shapes.append(Path("thread-ribbon", corner))
        shapes.append(line("thread-line", a, y(band.start), b, y(band.end)))
    for point in points:
        at = (x(point.day.toordinal()), y(point.value))
        shapes.append(Group((Circle("curve-dot", *at, 4.5 if point.record else 3),), title=point.says))
    shapes += _weeks(first, last, x, base, width)
    best = max(points, key=lambda point: point.value)
    at_best = x(best.day.toordinal())
    side = "end" if at_best > width / 2 else "start"
    words = f"best: {best.value:.3g} {unit}"
    shapes.append(Label("curve-value", at_best, y(best.value) - 9, words, side))
    shapes.append(line("curve-domain", LEFT, base, width - RIGHT, base))
    return Picture(
        role="trend",
        width=width,
        height=base + FOOT,
        shapes=tuple(shapes),
        label=f"Same-effort load on {on} by day; the numbers stand in the table below.",
        scaled=True,
    )


def _weeks(first: int, last: int, x: Callable[[int], float], base: float, width: int) -> list[Shape]:
    """Days along the foot, a few of them named."""
    step = max(1, round((last - first) / 7 / (width // PER_WEEK))) * 7
    found: list[Shape] = []
    for day in range(first, last + 1, step):
        named = date.fromordinal(day)
        found.append(line("curve-axis", x(day), base, x(day), base + 4))
        found.append(Label("curve-text", x(day), base + 17, f"{named.day} {named:%b}", "middle"))
    found.append(Label("curve-text", (LEFT + width - RIGHT) / 2, base + 34, "day", "middle"))
    return found
