"""Cautions come with their reasons."""

from __future__ import annotations

import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in
from curve_rank.rating.cautions import cautions_for
from curve_rank.rating.modelling import VariantModel, model_variants


@pytest.fixture(scope="module")
def everything() -> tuple[VariantModel, ...]:
    return model_variants(built_in(), Body(), effort=0.75)


def test_cautions_come_with_their_reasons(everything: tuple[VariantModel, ...]) -> None:
    found = {m.variant.id: {c.caution.key: c.reason for c in cautions_for(m)} for m in everything}
    assert "over neck or face" in found["lying-bar-to-forehead"]["bar_over_face"]
    assert "bar_over_face" not in found["standing-barbell-curl"]
    assert "swings" in found["momentum-curl"]["momentum"]
    assert "shoulder" in found["overhead-barbell-standing"]["shoulder_room"]
    for m in everything:
        assert set(m.variant.cautions) <= set(found[m.variant.id])
        assert all(found[m.variant.id].values())
