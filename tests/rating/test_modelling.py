"""The cache is never stale and never larger than it may be."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from curve_rank.arm.arrays import size_of
from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import built_in
from curve_rank.rating.modelling import Modeller, VariantModel, model_variants
from curve_rank.rating.ranking import Ranking, question, rank


def scores(ranking: Ranking) -> dict[str, float]:
    return {row.variant.id: row.score for row in ranking.rows}


def test_the_cache_answers_for_content_only() -> None:
    modeller, asked = Modeller(), question()
    before = rank(asked, built_in(), modeller)
    assert rank(asked, built_in(), modeller).rows[0].modelled is before.rows[0].modelled
    edited = tuple(changed(v, (parse_setting("posture.forearm=12"),)) for v in built_in())
    assert scores(rank(asked, edited, modeller)) == scores(rank(asked, edited, Modeller()))
    bigger = replace(asked, body=Body(1.9, 95))
    assert scores(rank(bigger, built_in(), modeller)) == scores(rank(bigger, built_in(), Modeller()))


def test_a_kept_model_keeps_its_own_rep_alone() -> None:
    together = Modeller().model(built_in()[:30], Body(), effort=0.75)
    alone = model_variants(built_in()[:1], Body(), effort=0.75)[0]
    first = together[0]
    assert isinstance(first, VariantModel)
    assert first.rep.demand.base is None
    assert size_of(first.rep) == size_of(alone.rep)
    for name in ("demand", "effort", "drive", "limits"):
        np.testing.assert_allclose(getattr(first.rep, name), getattr(alone.rep, name), rtol=1e-9, atol=1e-9)
