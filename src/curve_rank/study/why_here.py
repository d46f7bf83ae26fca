"""Why a set-up stands where it does: its score's parts beside the middle of the list."""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from curve_rank.rating.ranking import Row
from curve_rank.rating.scoring import CriterionScore
from curve_rank.rating.words import in_a_row, lower_first, printed

Surprise = Literal["high", "low", ""]

FEWEST_ROWS = 6
"""A shorter list has no middle to stand beside."""
SURPRISING_PART = 0.25
"""Part of the list between a place and the one that the weightiest criterion alone would give [1]."""
LEAST_POINTS = 1.5
"""Points of the score from which a part is named."""
MOST_NAMED = 2


@dataclass(frozen=True)
class WhyHere:
    """Why a set-up stands where it does.

    Attributes
    ----------
    surprise : str
        "high" or "low" where the weightiest criterion alone would put it much elsewhere; else empty.
    says : str
        The reason, in sentences.
    """

    surprise: Surprise
    says: str

    @property
    def question(self) -> str:
        """What somebody would ask of it."""
        return f"Why so {self.surprise}?" if self.surprise else "Why here?"


def why_here(rows: Sequence[Row]) -> dict[str, WhyHere]:
    """Of every row of a ranking, by its variant's id, why it stands there; nothing of a list too short.

    Parameters
    ----------
    rows : sequence of Row
        Best first, all scored through one lens.
    """
    if len(rows) < FEWEST_ROWS:
        return {}
    middle = tuple(statistics.median(points) for points in zip(*map(_points, rows), strict=True))
    weightiest = max(range(len(middle)), key=lambda n: rows[0].criteria[n].weight)
    alone = [row.criteria[weightiest].score for row in rows]
    usual = statistics.median(row.score for row in rows)
    found = {}
    for row in rows:
        part = row.criteria[weightiest]
        there = _place(row.rank, part.score, alone)
        surprise = _surprise(row.rank, there, SURPRISING_PART * len(rows))
        begin = (
            f"By {lower_first(part.criterion.name)} alone, which weighs most here, it would stand at "
            f"{there}, not at {row.rank}."
            if surprise
            else f"It has {row.score:.0f} points, the middle of the list {usual:.0f}."
        )
        found[row.variant.id] = WhyHere(surprise, " ".join((begin, *_moved(row, middle))))
    return found


def _place(rank: int, score: float, among: Sequence[float]) -> int:
    """The place that a score has among others; of those that like scores share, the one nearest to a rank."""
    first = 1 + sum(other > score for other in among)
    last = sum(other >= score for other in among)
    return min(max(rank, first), last)


def _points(row: Row) -> list[float]:
    """What each part gives the score."""
    return [part.weight * part.score for part in row.criteria]


def _surprise(place: int, alone: int, least: float) -> Surprise:
    if abs(alone - place) < least:
        return ""
    return "high" if place < alone else "low"


def _moved(row: Row, middle: tuple[float, ...]) -> tuple[str, ...]:
    """What raises and lowers it most beside the middle of the list, a sentence each."""
    gains = sorted(
        ((points - usual, usual / part.weight, part) for points, usual, part in
         zip(_points(row), middle, row.criteria, strict=True) if part.weight),
        key=lambda one: -one[0],
    )  # fmt: skip
    told = (
        ("Raised most by", [one for one in gains if one[0] >= LEAST_POINTS]),
        ("Lowered most by", [one for one in reversed(gains) if one[0] <= -LEAST_POINTS]),
    )
    return tuple(
        f"{begin} {in_a_row([_part(*one) for one in some[:MOST_NAMED]])}." for begin, some in told if some
    )


def _part(gain: float, usual: float, part: CriterionScore) -> str:
    return (
        f"{lower_first(part.criterion.name)} ({part.score:.0f} of 100, the middle {usual:.0f}: "
        f"{printed(gain, 0, sign=True)} points)"
    )
