"""Coverage: each head in three parts, long, middle and short, inked by how much the set places there."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from curve_rank.arm.readings import LENGTHS
from curve_rank.figures.shapes import Label, Path, Picture, Rect, Shape, line
from curve_rank.practice.coverage import Coverage
from curve_rank.practice.rules import rule
from curve_rank.rating.targets import targets

LEFT, CELL, GAP, ROW, BAR, TOP = 138, 104, 6, 40, 22, 30
WORDS = {"long": "stretched long", "middle": "in the middle", "short": "squeezed short"}


def coverage_picture(coverage: Coverage, names: Sequence[str]) -> Picture:
    """Heads by lengths, with the letter of each set-up that covers a part.

    Parameters
    ----------
    coverage : Coverage
        Of the set's picks.
    names : sequence of str
        A letter a pick.
    """
    heads = list(dict.fromkeys(cell.head for cell in coverage.cells))
    shapes: list[Shape] = []
    for n, length in enumerate(LENGTHS):
        shapes.append(Label("curve-text", LEFT + n * (CELL + GAP), TOP - 10, WORDS[length]))
    for row, head in enumerate(heads):
        top = TOP + row * ROW
        shapes.append(Label("coverage-head", 0, top + BAR - 6, targets()[head].name))
        for n, length in enumerate(LENGTHS):
            place = next(i for i, c in enumerate(coverage.cells) if (c.head, c.length) == (head, length))
            shapes += _cell(coverage, place, LEFT + n * (CELL + GAP), top, head, names)
    width = LEFT + len(LENGTHS) * (CELL + GAP)
    return Picture(
        role="coverage",
        width=width,
        height=TOP + len(heads) * ROW,
        shapes=tuple(shapes),
        label="How much of the most that any set-up places each head gets while long, in the middle and "
        "short; the table beside it says the same.",
        scaled=True,
    )


def _cell(
    coverage: Coverage, place: int, left: float, top: float, head: str, names: Sequence[str]
) -> list[Shape]:
    placed = coverage.placed[:, place]
    most = float(placed.max(initial=0.0))
    shapes: list[Shape] = [Rect("coverage-room", left, top, CELL, BAR)]
    if most > 0:
        says = f"{100 * most:.0f} % of the most there is"
        shapes.append(Rect(f"head-{head}", left, top, CELL * min(1.0, most), BAR, pattern=head, title=says))
    least = left + CELL * rule("coverage.least")
    shapes.append(line("coverage-least", least, top - 2, least, top + BAR + 2))
    who = [names[n] for n in np.flatnonzero(coverage.covered[:, place]).tolist()]
    if who:
        shapes.append(Label("coverage-who", left + 4, top + BAR - 6, " ".join(who)))
    elif coverage.asked[place]:
        shapes.append(Path("coverage-gap", f"M{left:g} {top:g}h{CELL}v{BAR}h-{CELL}Z"))
        shapes.append(Label("coverage-none", left + CELL - 4, top + BAR - 6, "not covered", "end"))
    return shapes
