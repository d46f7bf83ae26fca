"""Small bars: which heads do the work, what a score is made of, a part of a whole."""

from __future__ import annotations

from collections.abc import Mapping

from curve_rank.figures.shapes import Path, Picture, Rect
from curve_rank.rating.scoring import CriterionScore
from curve_rank.rating.targets import targets

WIDTH, HEIGHT = 150, 12
SCORE_WIDTH, SCORE_HEIGHT, SCORE_GAP = 64, 5, 1.0
PART_WIDTHS, PART_HEIGHT = {"strain": 80, "weight": 100}, 6
SWATCH_WIDTH, SWATCH_HEIGHT = 14, 10


def shares(group: str, shares: Mapping[str, float]) -> Picture:
    """Each counted head's share of the joint's work [1], left to right, what helps them last."""
    parts = [(head, targets()[head].name, shares[head]) for head in targets()[group].heads]
    rest = max(0.0, 1 - sum(part for _, _, part in parts))
    x, bars, told = 0.0, [], []
    for key, name, part in (*parts, ("others", "Helpers", rest)):
        bars.append(Rect("", x, 0, WIDTH * part, HEIGHT, pattern=key))
        told.append(f"{name} {100 * part:.0f} %")
        x += WIDTH * part
    words = "Shares of the elbow’s work: " + ", ".join(told)
    return Picture("shares", WIDTH, HEIGHT, tuple(bars), words)


def score_bar(criteria: tuple[CriterionScore, ...]) -> Picture:
    """A score out of 100 as the parts its criteria give, in the lens's order; the words stand in the row."""
    x, got = 0.0, ""
    for part in criteria:
        width = SCORE_WIDTH * part.weight * part.score / 100
        if width > 0:
            got += f"M{x:.1f} 0h{max(width - SCORE_GAP, 0.4):.1f}v{SCORE_HEIGHT}H{x:.1f}Z"
        x += width
    full = Rect("score-full", 0, 0, SCORE_WIDTH, SCORE_HEIGHT)
    return Picture("score-bar", SCORE_WIDTH, SCORE_HEIGHT, (full, Path("score-got", got)))


def part_bar(kind: str, part: float) -> Picture:
    """A part of a whole, 0 to 1: how much a joint is "strain"ed, or a criterion's "weight" in a lens."""
    width = PART_WIDTHS[kind]
    full = Rect("score-full", 0, 0, width, PART_HEIGHT)
    got = Rect("strain-got" if kind == "strain" else "score-got", 0, 0, width * part, PART_HEIGHT)
    return Picture("part-bar", width, PART_HEIGHT, (full, got))


def swatch(head: str) -> Picture:
    """A head's hue and pattern, to stand beside its name."""
    return Picture(
        "swatch", SWATCH_WIDTH, SWATCH_HEIGHT, (Rect("", 0, 0, SWATCH_WIDTH, SWATCH_HEIGHT, pattern=head),)
    )
