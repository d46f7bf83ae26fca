"""Scores depend on their variant alone."""

from __future__ import annotations

import pytest

from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.ranking import Ranking, question, rank
from curve_rank.rating.targets import targets


def test_nothing_in_the_data_favours_a_variant_by_name(modeller: Modeller) -> None:
    """Renamed, a variant keeps its score to the last digit."""
    plain = find_variant("cable-curl-arm-behind", built_in())
    renamed = plain.model_copy(update={"id": "something-else", "name": "Something else"})
    for lens in lenses():
        rows = rank(question("biceps_long", lens), (plain, renamed), modeller).rows
        assert rows[0].score == rows[1].score


def scores(ranking: Ranking) -> dict[str, float]:
    return {row.variant.id: row.score for row in ranking.rows}


@pytest.mark.parametrize("lens", lenses())
def test_changing_or_hiding_a_variant_leaves_every_other_score_alone(lens: str, modeller: Modeller) -> None:
    asked = question("biceps_long", lens)
    whole = scores(rank(asked, built_in(), modeller))
    first = next(iter(whole))
    edited = tuple(
        changed(v, (parse_setting("posture.forearm=12"),)) if v.id == first else v for v in built_in()
    )
    hidden = scores(rank(asked, tuple(v for v in built_in() if v.id != first), modeller))
    other = scores(rank(asked, edited, modeller))
    assert other.pop(first) != whole.pop(first)
    assert hidden == other == whole


def test_scores_are_the_weighted_sum_of_their_parts_inside_0_to_100(modeller: Modeller) -> None:
    for target in targets():
        for lens in lenses():
            for row in rank(question(target, lens), built_in(), modeller).rows:
                assert 0 <= row.score <= 100
                assert row.spread.low <= row.score == row.spread.median <= row.spread.high
                assert row.score == pytest.approx(sum(p.score * p.weight for p in row.criteria), abs=8)
                assert row.why.startswith("Hardest ")
