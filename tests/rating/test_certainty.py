"""Rank intervals are honest, ties hold what is not resolved."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest

from curve_rank.arm.readings import Readings
from curve_rank.catalogue.library import built_in
from curve_rank.rating.certainty import certainty, drawn_scores, rank_interval, ranks_of
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.ranking import Ranking, question, rank
from curve_rank.rating.targets import targets
from tests.helpers import drawn_parts

FEW = tuple(v for v in built_in() if v.group == "flexors")[::8]


@pytest.fixture(scope="module")
def ranking() -> Ranking:
    return rank(question(), FEW, Modeller())


@pytest.fixture(scope="module")
def parts() -> dict[str, Readings]:
    """Draws of all the few."""
    return drawn_parts(FEW, 1, 300)


def test_intervals_of_ranks_and_loads_hold_their_share_of_fresh_draws(modeller: Modeller) -> None:
    ranks, loads = [], []
    for target in ("biceps_long", "triceps_long"):
        ranking = rank(question(target), built_in()[::3], modeller)
        parts = drawn_parts(tuple(row.variant for row in ranking.rows), 2, 150)
        sure, fresh = certainty(ranking), ranks_of(drawn_scores(ranking, parts))
        assert sure.hangs_on
        for i, (row, told) in enumerate(zip(ranking.rows, sure.rows, strict=True)):
            ranks.append(((fresh[:, i] >= told.rank_low) & (fresh[:, i] <= told.rank_high)).mean())
            drawn = parts[row.variant.id].load
            loads.append(((drawn >= row.load.low) & (drawn <= row.load.high)).mean())
    assert np.mean(ranks) == pytest.approx(0.80, abs=0.05)
    assert np.mean(loads) == pytest.approx(0.80, abs=0.05)


@pytest.mark.parametrize("lens", lenses())
def test_what_is_printed_stands_between_its_ends_and_neighbours_against_few_draws(
    modeller: Modeller, lens: str
) -> None:
    for target in targets():
        rows = rank(question(target, lens), built_in(), modeller).rows
        for above, below in pairwise(rows):
            assert (below.scores > above.scores).mean() <= 0.60
        for row in rows:
            assert row.spread.low <= row.score <= row.spread.high
            assert row.load.low <= row.load.median <= row.load.high


def test_ties_hold_what_is_not_resolved(ranking: Ranking, parts: dict[str, Readings]) -> None:
    sure, table = certainty(ranking, parts, seed=1), drawn_scores(ranking, parts)
    leader = 0
    for i, row in enumerate(sure.rows[1:], start=1):
        better = (table[:, leader] > table[:, i]).mean() + 0.5 * (table[:, leader] == table[:, i]).mean()
        assert (better < 0.7) == (row.tie == sure.rows[leader].tie)
        leader = leader if row.tie == sure.rows[leader].tie else i


def test_an_interval_of_whole_ranks_is_the_one_nearest_to_80_percent() -> None:
    assert rank_interval(np.full(50, 3)) == (3, 3)
    assert rank_interval(np.repeat(np.arange(1, 11), 10)) in ((1, 8), (2, 9), (3, 10))
