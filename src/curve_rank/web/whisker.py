"""The whisker that says how sure a rank is."""

from __future__ import annotations

from markupsafe import Markup, escape

from curve_rank.rating.certainty import RowCertainty

WIDTH, HEIGHT = 64, 12
EDGE = 4.0


def whisker_svg(row: RowCertainty, rank: int, rows: int) -> Markup:
    """A line over the 80 % rank interval, with the rank on it, on a scale of all ranks."""

    def at(place: int) -> float:
        return EDGE + (WIDTH - 2 * EDGE) * (place - 1) / max(rows - 1, 1)

    low, high, here = at(row.rank_low), at(row.rank_high), at(rank)
    middle = HEIGHT / 2
    words = f"Eight draws in ten rank it {row.rank_low} to {row.rank_high}"
    return Markup(
        f'<svg class="whisker" viewBox="0 0 {WIDTH} {HEIGHT}" width="{WIDTH}" height="{HEIGHT}" role="img" '
        f'aria-label="{escape(words)}"><title>{escape(words)}</title>'
        f'<path class="whisker-scale" d="M{EDGE} {middle}H{WIDTH - EDGE}"/>'
        f'<path class="whisker-line" d="M{low:.1f} {middle}H{max(high, low + 1):.1f}'
        f'M{low:.1f} {middle - 3}v6M{high:.1f} {middle - 3}v6"/>'
        f'<circle class="whisker-here" cx="{here:.1f}" cy="{middle}" r="2.6"/></svg>'
    )
