"""Lenses beside published comparisons."""

from __future__ import annotations

from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.study.evidence import comparisons, verdicts


def test_the_long_length_lens_agrees_with_the_published_comparisons_it_can(modeller: Modeller) -> None:
    said = {c.key: verdicts(c, tuple(lenses().values()), modeller) for c in comparisons()}
    for key in ("overhead_extension", "arm_curl_range", "elbow_angle_range"):
        assert {v.says for v in said[key] if v.lens.key == "long_length"} == {"agrees"}
    everything = {v.says for row in said.values() for v in row}
    assert everything == {"agrees", "disagrees", "says neither"}
