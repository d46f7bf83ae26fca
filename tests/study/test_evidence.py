"""Lenses beside published comparisons."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from curve_rank.catalogue.library import built_in
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.ranking import Question, rank
from curve_rank.rating.targets import targets
from curve_rank.study.evidence import comparisons, every_comparison, tally, unforetold, verdicts


def test_the_long_length_lens_agrees_with_the_published_comparisons_it_can(modeller: Modeller) -> None:
    said = {c.key: verdicts(c, tuple(lenses().values()), modeller) for c in comparisons()}
    for key in ("overhead_extension", "arm_curl_range", "elbow_angle_range"):
        assert {v.says for v in said[key] if v.lens.key == "long_length"} == {"agrees"}
    everything = {v.says for row in said.values() for v in row}
    assert everything == {"agrees", "disagrees", "says neither"}


def test_a_study_is_agreed_with_as_far_as_draws_and_itself_are_sure(modeller: Modeller) -> None:
    """Differences by more than 2 points, none within 10; and a tally by counting every outcome."""
    by_key = {one.key: one for one in comparisons()}
    apart = np.array([5.0, 3.0, 1.0, -20.0])
    assert by_key["overhead_extension"].chance(apart) == pytest.approx(0.9 * 0.5 + 0.1 * 0.5)
    assert by_key["overhead_or_pushed_down"].chance(apart) == pytest.approx(0.7 * 0.75 + 0.3 * 0.25)
    found, lens = every_comparison(tuple(lenses().values()), modeller), lenses()["long_length"]
    chances = [next(v.chance for v in said if v.lens is lens) for _, said in found]
    coin = np.random.default_rng(1).random((20_000, len(chances))) < chances
    counted, told = coin.sum(axis=1), tally(found, lens)
    assert told.expected == pytest.approx(counted.mean(), abs=0.05)
    assert (counted < told.low).mean() <= 0.11
    assert (counted > told.high).mean() <= 0.11
    for study in unforetold(found):
        (said,) = (row for one, row in found if one is study)
        assert all(v.chance < 0.5 for v in said if v.target is study.targets[0])


def test_what_schools_say_of_passive_tension_is_so(modeller: Modeller) -> None:
    """With what a stretched fibre holds counted in, seven to ten of each list's first ten stay."""
    lens = lenses()["long_length"]
    whole = replace(
        lens, weights=tuple(("long_tension" if k == "long_active" else k, w) for k, w in lens.weights)
    )
    kept = []
    for target in targets():
        first, other = (
            {row.variant.id for row in rank(Question(targets()[target], one), built_in(), modeller).rows[:10]}
            for one in (lens, whole)
        )
        kept.append(len(first & other))
    assert (min(kept), max(kept)) == (7, 10)
