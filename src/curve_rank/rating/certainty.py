"""How sure a ranking is: rank intervals, chances, ties, and what the order hangs on."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array, Index
from curve_rank.arm.draws import FIXED, deviates, uncertain
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.readings import Readings
from curve_rank.rating.criteria import Basis
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.ranking import Ranking
from curve_rank.rating.scoring import scores
from curve_rank.rating.spreads import interval, quantiles, tails

MOST_SENSITIVITIES = 5
FEWEST_FOR_SENSITIVITY = 20
TOP = 10
EVEN_CHANCE = 0.5
"""Neighbours that the draws put the other way round share a tie."""


@dataclass(frozen=True)
class RowCertainty:
    """How sure one row is.

    Attributes
    ----------
    variant : str
    rank_low, rank_high : int
        80 % rank interval.
    score_low, score_high : float
        80 % interval of the score.
    beats_next : float
        Chance that it scores above the row below; 1 for the last row.
    tie : int
        Rows of one tie are not resolved against the tie's first row; counted from 1.
    """

    variant: str
    rank_low: int
    rank_high: int
    score_low: float
    score_high: float
    beats_next: float
    tie: int


@dataclass(frozen=True)
class Sensitivity:
    """A parameter that the order of the top hangs on: its part of the variance of score differences."""

    parameter: str
    part: float


@dataclass(frozen=True)
class Certainty:
    """How sure a whole ranking is, from some number of draws.

    Attributes
    ----------
    draws, seed : int
    rows : tuple of RowCertainty
        Best first.
    hangs_on : tuple of Sensitivity
        What the order of the first ten hangs on most.
    beats : array, shape (rows, rows)
        Chance that one row scores above another; draws that tie count half.
    """

    draws: int
    seed: int
    rows: tuple[RowCertainty, ...]
    hangs_on: tuple[Sensitivity, ...]
    beats: Array

    @property
    def tie_sizes(self) -> Counter[int]:
        """Rows in each tie."""
        return Counter(row.tie for row in self.rows)


def drawn_scores(ranking: Ranking, drawn: dict[str, Readings]) -> Array:
    """Scores of every row in every draw, shape (draws, rows).

    Parameters
    ----------
    ranking : Ranking
        The rows in their order.
    drawn : dict of Readings
        Of every row's variant by id, S = (draws,), all of the same draws.
    """
    question = ranking.question
    columns = [
        scores(Basis(drawn[row.variant.id], row.variant, question.body, question.judged), question.weighing)
        for row in ranking.rows
    ]
    return np.stack(columns, axis=1)


def ranks_of(drawn: Array) -> Index:
    """Rank of every row in every draw, 1 the best, (draws, rows); equal scores share the order of rows."""
    order = np.argsort(-drawn, axis=1, kind="stable")
    ranks = np.empty_like(order)
    np.put_along_axis(ranks, order, np.arange(1, drawn.shape[1] + 1)[None, :], axis=1)
    return ranks


def certainty(ranking: Ranking, drawn: dict[str, Readings] | None = None, *, seed: int = FIXED) -> Certainty:
    """How sure a ranking is.

    Parameters
    ----------
    ranking : Ranking
        The rows in their order.
    drawn : dict of Readings, optional
        As in `drawn_scores`; without, the fixed draws that the rows stand on.
    seed : int
        The draws' seed, for the deviates behind them.
    """
    if not ranking.rows:
        return Certainty(0, seed, (), (), np.zeros((0, 0)))
    table = drawn_scores(ranking, drawn) if drawn else np.stack([row.scores for row in ranking.rows], axis=1)
    ranks, beats = ranks_of(table), _chances(table)
    ties = _ties(beats)
    low, high = quantiles(table.T, tails()).T
    rows = []
    for i, row in enumerate(ranking.rows):
        rank_low, rank_high = rank_interval(ranks[:, i])
        last = i == len(ranking.rows) - 1
        rows.append(
            RowCertainty(
                variant=row.variant.id,
                rank_low=rank_low,
                rank_high=rank_high,
                score_low=float(low[i]),
                score_high=float(high[i]),
                beats_next=1.0 if last else float(beats[i, i + 1]),
                tie=ties[i],
            )
        )
    return Certainty(table.shape[0], seed, tuple(rows), _sensitivities(table, seed), beats)


def fixed_certainty(ranking: Ranking, modeller: Modeller) -> Certainty:
    """How sure a ranking is by the fixed draws it stands on, kept beside its models."""
    asked, keys = ranking.question, tuple(row.modelled.key for row in ranking.rows)
    return modeller.once(("sure", asked.judged.key, asked.weighing, keys), lambda: certainty(ranking))


def rank_interval(ranks: Index) -> tuple[int, int]:
    """The 80 % interval of whole ranks: of those that start or end next to the quantiles, the one whose
    share of the draws is nearest to 80 %."""
    low, high = (int(v) for v in np.quantile(ranks, tails(), method="inverted_cdf"))
    best, least = (low, high), np.inf
    for start in (low, low + 1):
        for end in (high, high - 1):
            if start <= end:
                miss = abs(float(((ranks >= start) & (ranks <= end)).mean()) - interval())
                if miss < least:
                    best, least = (start, end), miss
    return best


def _chances(drawn: Array) -> Array:
    """Chance that row i scores above row j, (rows, rows)."""
    rows = []
    for i in range(drawn.shape[1]):
        difference = drawn[:, i : i + 1] - drawn
        rows.append((difference > 0).mean(axis=0) + 0.5 * (difference == 0).mean(axis=0))
    return np.stack(rows)


def _ties(beats: Array) -> list[int]:
    """A new tie begins where the tie's first row is resolved against the row, and its neighbour beats it."""
    resolved = parameter_set().number("certainty.resolved")
    ties, leader, tie = [], 0, 1
    for i in range(beats.shape[0]):
        if i > leader and beats[leader, i] >= resolved and beats[i - 1, i] >= EVEN_CHANCE:
            leader, tie = i, tie + 1
        ties.append(tie)
    return ties


def _sensitivities(drawn: Array, seed: int) -> tuple[Sensitivity, ...]:
    """Which deviates explain the score differences between the first rows and those after them."""
    top = min(drawn.shape[1], TOP)
    if top < 2 or drawn.shape[0] < FEWEST_FOR_SENSITIVITY:
        return ()
    values = np.stack([deviates(seed, n) for n in range(drawn.shape[0])])
    values = (values - values.mean(axis=0)) / values.std(axis=0)
    parts = np.zeros(values.shape[1])
    weight = 0.0
    for i in range(top - 1):
        difference = drawn[:, i] - drawn[:, i + 1 : top].mean(axis=1)
        spread = difference.std()
        if spread > 1e-9:
            correlation = values.T @ ((difference - difference.mean()) / spread) / len(difference)
            parts += correlation**2 * spread**2
            weight += spread**2
    noise = 1 / drawn.shape[0]
    shares = np.maximum(parts / max(weight, 1e-12) - noise, 0.0)
    # The largest of so many squared correlations of mere chance is about this large.
    chance = 2 * np.log(values.shape[1]) * noise
    best = np.argsort(-shares)[:MOST_SENSITIVITIES]
    return tuple(Sensitivity(uncertain()[k], float(shares[k])) for k in best if shares[k] > chance)
