"""Cautions come with their reasons."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in
from curve_rank.rating.cautions import cautions_for
from curve_rank.rating.modelling import VariantModel, model_variants
from tests.helpers import modelled


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


# strain = (reading − easy) / (hard − easy); the caution applies from its own strain on:
# biceps tendon 300 + 0.25 · 700 = 475 N, deep bend 700 + 0.35 · 1500 = 1225 N, shoulder 5 + 0.05 · 55 =
# 7.75 N·m, wrist 40 + 0.05 · 210 = 50.5 N, lower back 40 + 0.45 · 180 = 121 N·m.
@pytest.mark.parametrize(
    ("caution", "note", "from_"),
    [
        ("lower_biceps_tendon", "biceps_tendon", 475.0),
        ("deep_elbow_bend", "elbow_compression", 1225.0),
        ("shoulder_room", "shoulder_end", 7.75),
        ("wrist", "wrist_forced", 50.5),
        ("lower_back", "lower_back", 121.0),
    ],
)
def test_a_caution_applies_from_its_own_strain_on(caution: str, note: str, from_: float) -> None:
    plain = modelled("standing-dumbbell-curl")
    bare = plain.variant.model_copy(update={"cautions": ()})
    for reading, applies in ((0.99 * from_, False), (1.01 * from_, True)):
        readings = replace(plain.readings, **{note: np.array(reading)})
        found = {c.caution.key for c in cautions_for(replace(plain, variant=bare, readings=readings))}
        assert (caution in found) == applies
