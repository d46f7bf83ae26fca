"""The whisker that says how sure a rank is."""

from __future__ import annotations

from curve_rank.figures.shapes import Circle, Path, Picture, line

WIDTH, HEIGHT = 64, 12
EDGE = 4.0


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
