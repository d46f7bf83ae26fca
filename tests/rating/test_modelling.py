"""The cache is never stale and never larger than it may be."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import LoadError
from curve_rank.keeping import size_of
from curve_rank.rating.modelling import Modeller, VariantModel, model_variants
from curve_rank.rating.ranking import Ranking, question, rank
from curve_rank.study.transfer import KnownSet, transfer


def scores(ranking: Ranking) -> dict[str, float]:
    return {row.variant.id: row.score for row in ranking.rows}


def test_the_cache_answers_for_content_only() -> None:
    modeller, asked, some = Modeller(), question(), built_in()[::9]
    before = rank(asked, some, modeller)
    assert rank(asked, some, modeller).rows[0].modelled is before.rows[0].modelled
    edited = tuple(changed(v, (parse_setting("posture.forearm=12"),)) for v in some)
    assert scores(rank(asked, edited, modeller)) == scores(rank(asked, edited, Modeller()))
    bigger = replace(asked, body=Body(1.9, 95))
    assert scores(rank(bigger, some, modeller)) == scores(rank(bigger, some, Modeller()))


def test_a_kept_model_keeps_its_own_rep_alone() -> None:
    together = Modeller().model(built_in()[:30], Body(), effort=0.75)
    alone = model_variants(built_in()[:1], Body(), effort=0.75)[0]
    first = together[0]
    assert isinstance(first, VariantModel)
    assert first.rep.demand.base is None
    assert size_of(first.rep) == size_of(alone.rep)
    for name in ("demand", "effort", "drive", "limits"):
        np.testing.assert_allclose(getattr(first.rep, name), getattr(alone.rep, name), rtol=1e-9, atol=1e-9)


def test_a_set_up_that_asks_nothing_of_its_muscles_is_refused() -> None:
    # Lying, the forearm upright throughout: the weight stands over the elbow and only the shoulder works.
    body, press = Body(), find_variant("bench-press-narrow", built_in()).model_dump(mode="json")
    upper = body.upper_arm / (body.upper_arm + body.forearm + body.grip)
    press["hand_path"]["elbow_towards"] = [-1, -0.6, 0]
    press["hand_path"]["keys"] = [
        {"forward": upper * np.sin(a) + 1 - upper, "up": -upper * np.cos(a), "out": 0.0}
        for a in np.radians((-25, 0, 25, 50, 75))
    ]
    press["lines"] = [{"kind": "weight"}]
    idle, curl = Variant.model_validate(press), find_variant("standing-dumbbell-curl", built_in())
    with pytest.raises(LoadError, match="asked of the target muscles"):
        model_variants((idle,), body, effort=0.75)
    with pytest.raises(LoadError, match="asked of the target muscles"):
        transfer(body, KnownSet(curl, 12.0, 10), (idle,), Modeller(), reps=10)
