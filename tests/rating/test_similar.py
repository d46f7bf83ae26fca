"""Neighbours are alike, complements add."""

from __future__ import annotations

from itertools import pairwise

import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in
from curve_rank.rating.modelling import Modeller, VariantModel, model_variants
from curve_rank.rating.similar import complements, neighbours


@pytest.fixture(scope="module")
def everything() -> tuple[VariantModel, ...]:
    return model_variants(built_in(), Body(), effort=0.75)


def test_neighbours_are_alike_and_complements_add(everything: tuple[VariantModel, ...]) -> None:
    by_id = {m.variant.id: m for m in everything}
    near = neighbours(by_id["reclined-60-dumbbell-curl"], everything, Modeller())
    assert all(n.modelled.variant.group == "flexors" for n in near)
    assert [n.difference for n in near] == sorted(n.difference for n in near)
    assert any(n.modelled.variant.family == "reclined" for n in near)
    back = complements(by_id["bent-over-pull-back"], everything, Modeller())
    assert {c.length for c in back} & {"long", "middle"}
    assert all(a.gain >= b.gain for a, b in pairwise(back))
