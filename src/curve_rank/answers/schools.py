"""A lens that is being made: what it would rank first, and how its list moves from the one it began with."""

from __future__ import annotations

from dataclasses import dataclass

from markupsafe import Markup

from curve_rank.answers.board import ranked
from curve_rank.answers.drawn import strip_of
from curve_rank.answers.means import Means
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.criteria import criteria
from curve_rank.rating.lenses import Lens
from curve_rank.rating.ranking import Question
from curve_rank.rating.spreads import Spread
from curve_rank.rating.targets import Target

SHOWN = 10


@dataclass(frozen=True)
class TriedRow:
    """One of the first rows by a lens that is being made.

    Attributes
    ----------
    rank : int
    was : int or None
        Its rank by the lens that this one began with; None where that leaves it out.
    document : Variant
    score : Spread
    strip : Markup
    """

    rank: int
    was: int | None
    document: Variant
    score: Spread
    strip: Markup

    @property
    def moved(self) -> str:
        """How it moved, in words; nothing where it stayed."""
        if self.was is None:
            return "new"
        up = self.was - self.rank
        return f"up {up}" if up > 0 else f"down {-up}" if up < 0 else ""


@dataclass(frozen=True)
class TriedLens:
    """What a lens that is being made would say."""

    target: Target
    start: Lens
    weights: tuple[tuple[str, float], ...]
    """What counts, by name, and its part of the whole."""
    rows: tuple[TriedRow, ...]
    ranked: int
    left_out: int

    @property
    def stayed(self) -> int:
        """How many of the first rows are among the first by the lens it began with."""
        return sum(row.was is not None and row.was <= SHOWN for row in self.rows)


def try_lens(means: Means, target: Target, lens: Lens, start: Lens) -> TriedLens:
    """What a lens would rank first, for the default body with anything to hand.

    Parameters
    ----------
    means : Means
        With what it is worked out.
    target : Target
        What is ranked for.
    lens, start : Lens
        The one that is being made, and the one that it began with.
    """
    now, before = (ranked(means, Question(target, one)) for one in (lens, start))
    was = {row.variant.id: row.rank for row in before.rows}
    return TriedLens(
        target=target,
        start=start,
        weights=tuple((criteria()[key].name, part) for key, part in lens.weights),
        rows=tuple(
            TriedRow(
                row.rank,
                was.get(row.variant.id),
                row.variant,
                row.spread,
                strip_of(means.modeller, row.modelled, target),
            )
            for row in now.rows[:SHOWN]
        ),
        ranked=len(now.rows),
        left_out=len(now.left_out),
    )
