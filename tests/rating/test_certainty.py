"""Rank intervals are honest, ties hold what is not resolved."""

from __future__ import annotations

from itertools import combinations, pairwise

import numpy as np
import pytest

from curve_rank.arm.readings import Readings
from curve_rank.catalogue.library import built_in
from curve_rank.rating.certainty import certainty, drawn_scores, rank_interval, ranks_of
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.ranking import Ranking, Row, question, rank
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
def test_rows_stand_by_what_is_printed_and_neighbours_against_each_other_in_one_tie(
    modeller: Modeller, lens: str
) -> None:
    for target in targets():
        ranking = rank(question(target, lens), built_in(), modeller)
        rows, ties = ranking.rows, {row.variant: row.tie for row in certainty(ranking).rows}
        for above, below in pairwise(rows):
            assert above.score >= below.score
            against = (below.scores > above.scores).mean() + (below.scores == above.scores).mean() / 2
            assert against <= 0.5 or ties[above.variant.id] == ties[below.variant.id]
        kept = [row.variant for row in rows[::2]]
        assert [row.variant for row in rank(question(target, lens), tuple(kept[::-1]), modeller).rows] == kept
        for row in rows:
            assert row.spread.low <= row.score <= row.spread.high
            assert row.load.low <= row.load.median <= row.load.high


def test_twins_stand_with_the_first_of_their_like_and_no_two_first_ones_are_twins(modeller: Modeller) -> None:
    for target in ("biceps_long", "triceps_long"):
        rows = rank(question(target, "even_tension"), built_in(), modeller).rows
        by_id = {row.variant.id: row for row in rows}
        firsts = [row for row in rows if not row.twin_of]
        assert len(firsts) < 0.9 * len(rows)

        def apart(one: Row, other: Row) -> float:
            mine, theirs = (
                np.vstack(
                    (
                        np.clip(m.along("effort"), 0, None) / m.along("effort").max(),
                        *(m.length_along(head) / 100 for head in targets()[m.variant.group].heads),
                    )
                )
                for m in (one.modelled, other.modelled)
            )
            return float(np.sqrt(np.mean((mine - theirs) ** 2)))

        for row in rows:
            if row.twin_of:
                first = by_id[row.twin_of]
                assert not first.twin_of
                assert first.rank < row.rank
                assert first.score - row.score <= 2
                assert apart(first, row) < 0.05
        for one, other in combinations(firsts[:12], 2):
            assert one.score - other.score > 2 or apart(one, other) > 0.02


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
