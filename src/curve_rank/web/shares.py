"""The bar that says which heads do the work."""

from __future__ import annotations

from markupsafe import Markup, escape

from curve_rank.rating.modelling import Modelled
from curve_rank.rating.vocabulary import aims

WIDTH, HEIGHT = 150, 12


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
