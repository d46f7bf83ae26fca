"""The catalogue holds every common fault that teachers name, and each document can be used."""

from __future__ import annotations

import pytest

from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.schema import Variant

FAULTS = (
    "drifts forward", "Shoulders", "lift off the pad", "Sits up", "30° short at the bottom",
    "short at the top", "past the slack point", "flare 25°", "Swings the trunk", "Bounces",
    "Bends forward over", "drops 25°",
    "wrist", "too close to the pulley", "too far from the pulley", "one hole too high",
)  # fmt: skip


@pytest.mark.parametrize("fault", FAULTS)
def test_each_common_fault_stands_somewhere(fault: str) -> None:
    assert any(fault.lower() in f.name.lower() for v in built_in() for f in v.faults), fault


@pytest.mark.parametrize("variant", built_in(), ids=lambda v: v.id)
def test_each_is_written_to_be_used(variant: Variant) -> None:
    assert variant.faults, "no fault written down"
    assert all(len(step) > 8 for step in variant.setup)
    words = (variant.name + " " + variant.summary).lower()
    assert not any(mark in words for mark in ("™", "®", "todo"))
