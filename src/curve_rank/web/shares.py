"""Small bars: which heads do the work, and what a score is made of."""

from __future__ import annotations

from functools import lru_cache

from markupsafe import Markup, escape

from curve_rank.rating.modelling import Modelled
from curve_rank.rating.scoring import CriterionScore
from curve_rank.rating.vocabulary import aims

WIDTH, HEIGHT = 150, 12
SCORE_WIDTH, SCORE_HEIGHT, SCORE_GAP = 64, 5, 1.0


@lru_cache(maxsize=2048)
def shares_svg(modelled: Modelled) -> Markup:
    """Each counted head's share of the elbow's work, left to right, helpers last."""
    group = aims()[modelled.variant.target]
    shares = [(head, aims()[head].name, modelled.head(head).share) for head in group.heads]
    rest = max(0.0, 1 - sum(share for _, _, share in shares))
    x, bars, words = 0.0, [], []
    for key, name, share in (*shares, ("others", "Helpers", rest)):
        words.append(f"{name} {100 * share:.0f} %")
        bars.append(
            f'<rect x="{x:.1f}" width="{WIDTH * share:.1f}" height="{HEIGHT}" fill="url(#pat-{key})">'
            f"<title>{escape(words[-1])}</title></rect>"
        )
        x += WIDTH * share
    return Markup(
        f'<svg class="shares" viewBox="0 0 {WIDTH} {HEIGHT}" width="{WIDTH}" height="{HEIGHT}" role="img" '
        f'aria-label="{escape("Shares of the elbow’s work: " + ", ".join(words))}">{"".join(bars)}</svg>'
    )


def score_bar(criteria: tuple[CriterionScore, ...]) -> Markup:
    """A score out of 100 as the parts its criteria give, in the lens's order; the words stand in the row."""
    x, parts = 0.0, []
    for part in criteria:
        width = SCORE_WIDTH * part.weight * part.score / 100
        if width > 0:
            words = f"{part.criterion.name} gives {part.weight * part.score:.1f}"
            parts.append(
                f'<rect class="score-got" x="{x:.1f}" width="{max(width - SCORE_GAP, 0.4):.1f}" '
                f'height="{SCORE_HEIGHT}"><title>{escape(words)}</title></rect>'
            )
        x += width
    return Markup(
        f'<svg class="score-bar" viewBox="0 0 {SCORE_WIDTH} {SCORE_HEIGHT}" width="{SCORE_WIDTH}" '
        f'height="{SCORE_HEIGHT}" aria-hidden="true"><rect class="score-full" width="{SCORE_WIDTH}" '
        f'height="{SCORE_HEIGHT}"/>{"".join(parts)}</svg>'
    )
