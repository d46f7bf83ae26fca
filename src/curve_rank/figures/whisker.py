"""The whisker that says how sure a rank is."""

from __future__ import annotations

from curve_rank.figures.shapes import Circle, Path, Picture, Rect, line, number
from curve_rank.rating.spreads import Spread

WIDTH, HEIGHT = 64, 12
EDGE = 4.0


CHANGE_WIDTH, CHANGE_HEIGHT = 220, 16
BESIDE_WIDTH = 520


def change_whisker(median: float, low: float, high: float, ends: tuple[float, float]) -> Picture:
    """A change with its interval on a scale that begins and ends somewhere and holds zero."""

    def at(value: float) -> float:
        return EDGE + (CHANGE_WIDTH - 2 * EDGE) * (value - ends[0]) / (ends[1] - ends[0])

    middle = CHANGE_HEIGHT / 2
    return Picture(
        role="whisker",
        width=CHANGE_WIDTH,
        height=CHANGE_HEIGHT,
        shapes=(
            line("whisker-scale", EDGE, middle, CHANGE_WIDTH - EDGE, middle),
            line("curve-axis", at(0), 0, at(0), CHANGE_HEIGHT),
            Path("whisker-line", f"M{at(low):.1f} {middle:g}H{max(at(high), at(low) + 1):.1f}"),
            Circle("whisker-here", at(median), middle, 2.8),
        ),
        label=f"{number(median)}, {number(low)} to {number(high)}",
    )


def beside_whisker(lifted: Spread, model: Spread, ends: tuple[float, float]) -> Picture:
    """What was done over what was foretold: people's line and median on the model's interval."""

    def at(value: float) -> float:
        part = min(max((value - ends[0]) / (ends[1] - ends[0]), 0.0), 1.0)
        return EDGE + (BESIDE_WIDTH - 2 * EDGE) * part

    middle = CHANGE_HEIGHT / 2
    low, high = at(model.low), at(model.high)
    people = f"M{at(lifted.low):.1f} {middle:g}H{max(at(lifted.high), at(lifted.low) + 1):.1f}"
    return Picture(
        role="whisker",
        width=BESIDE_WIDTH,
        height=CHANGE_HEIGHT,
        shapes=(
            Rect("whisker-band", low, 1, max(high - low, 1.0), CHANGE_HEIGHT - 2),
            line("whisker-scale", EDGE, middle, BESIDE_WIDTH - EDGE, middle),
            line("curve-domain", at(0), 0, at(0), CHANGE_HEIGHT),
            Path("whisker-line", people),
            Circle("whisker-here", at(lifted.median), middle, 3.2),
        ),
        label=(
            f"lifted {number(lifted.median)} % more, people {number(lifted.low)} to {number(lifted.high)}; "
            f"the model {number(model.low)} to {number(model.high)}"
        ),
    )


def whisker(rank_low: int, rank_high: int, rank: int, rows: int) -> Picture:
    """A line over the 80 % rank interval, with the rank on it, on a scale of all ranks."""

    def at(place: int) -> float:
        return EDGE + (WIDTH - 2 * EDGE) * (place - 1) / max(rows - 1, 1)

    low, high, here = at(rank_low), at(rank_high), at(rank)
    middle = HEIGHT / 2
    bars = (
        f"M{low:.1f} {middle:g}H{max(high, low + 1):.1f}"
        f"M{low:.1f} {middle - 3:g}v6M{high:.1f} {middle - 3:g}v6"
    )
    return Picture(
        role="whisker",
        width=WIDTH,
        height=HEIGHT,
        shapes=(
            line("whisker-scale", EDGE, middle, WIDTH - EDGE, middle),
            Path("whisker-line", bars),
            Circle("whisker-here", here, middle, 2.6),
        ),
        label=f"Eight draws in ten rank it {rank_low} to {rank_high}",
    )
