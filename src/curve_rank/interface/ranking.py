"""Rankings: a question, its rows, and how sure they are."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from curve_rank.answers.board import BoardAnswer, BoardRequest, Sureness, board, ranked, sureness
from curve_rank.answers.plain import plain
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS
from curve_rank.interface import table
from curve_rank.interface.arm import Arm
from curve_rank.interface.draws import DrawPlan
from curve_rank.interface.here import means


@dataclass(frozen=True)
class RankedRow:
    """One row of a ranking; numbers are medians over drawn arms, with 80 % intervals.

    `tie` counts from 1: rows of one tie cannot be told apart. `beats_next` is the chance that it scores above
    the next row [1].
    """

    rank: int
    variant: str
    name: str
    score: float
    score_low: float
    score_high: float
    load_kg: float
    load_low_kg: float
    load_high_kg: float
    rank_low: int
    rank_high: int
    tie: int
    beats_next: float
    says: str


@dataclass(frozen=True, eq=False)
class Ranking(table.Tabular):
    """The answer to a question: as the board has it, from the draws that were asked for."""

    answer: BoardAnswer
    sure: Sureness

    @property
    def rows(self) -> tuple[RankedRow, ...]:
        """Best first."""
        return tuple(
            RankedRow(
                rank=row.rank,
                variant=row.variant,
                name=row.name,
                score=row.score,
                score_low=sure.score_interval[0],
                score_high=sure.score_interval[1],
                load_kg=row.load_drawn_kg.median,
                load_low_kg=row.load_drawn_kg.low,
                load_high_kg=row.load_drawn_kg.high,
                rank_low=sure.rank_interval[0],
                rank_high=sure.rank_interval[1],
                tie=sure.tie,
                beats_next=sure.beats_next,
                says=row.why,
            )
            for row, sure in zip(self.answer.rows, self.sure.rows, strict=True)
        )

    @property
    def left_out(self) -> dict[str, str]:
        """What is not ranked, and why, by id."""
        return {one.variant: one.reason for one in self.answer.left_out}

    @property
    def deciding(self) -> tuple[str, ...]:
        """What decides between the first rows, a sentence a pair."""
        return self.answer.deciding

    def to_dict(self) -> dict[str, Any]:
        """As the board's data and `curve-rank rank --json` have it."""
        found: dict[str, Any] = plain(self.answer)
        return found

    @property
    def _columns(self) -> table.Columns:
        return table.columns_of(RankedRow, self.rows)

    def __repr__(self) -> str:
        first = self.rows[0].name if self.rows else "nothing"
        asked = self.answer.question
        return f"<Ranking for {asked.target.key} by {asked.lens.key}: {len(self.rows)} rows, {first} first>"

    def _repr_html_(self) -> str:
        wanted = ("rank", "name", "score", "score_low", "score_high", "load_kg", "tie")
        return table.html({name: self._columns[name] for name in wanted}, digits=1)


def rank(
    target: str = "biceps_long",
    *,
    lens: str = "long_length",
    arm: Arm | None = None,
    equipment: Iterable[str] = (),
    spare: Iterable[str] = (),
    reps: int = DEFAULT_EFFORT_REPS,
    draws: DrawPlan | None = None,
) -> Ranking:
    """Rank what ships for a target, by a lens.

    Parameters
    ----------
    target : str
        A head or a group, as ``"biceps_long"`` or ``"flexors"``.
    lens : str
        What counts, as ``"long_length"``.
    arm : Arm, optional
        Whose; else the default body's.
    equipment : iterable of str
        What is to hand; empty for anything.
    spare : iterable of str
        Joints to be easy on: ``"elbow"``, ``"shoulder"``, ``"wrist"``, ``"lower_back"``.
    reps : int
        Repetitions to failure.
    draws : DrawPlan, optional
        More arms than the fixed 64, to be surer of the order; see `draws`.

    Returns
    -------
    Ranking

    Raises
    ------
    CurveRankError
        Naming the field, what stood there and what would be right.

    Examples
    --------
    >>> found = rank("biceps_long", equipment=["dumbbell"])  # doctest: +SKIP
    >>> found.rows[0].name  # doctest: +SKIP
    'Reclined curl, hands out, 45° bench'
    """
    wish = BoardRequest(target=target, lens=lens, equipment=tuple(equipment), spare=tuple(spare), reps=reps)
    asked = wish.of((arm or Arm()).client, means().library).question
    found = ranked(means(), asked)
    answer = board(means(), asked, found)
    return Ranking(answer, sureness(draws.of(found)) if draws else answer.certainty)
