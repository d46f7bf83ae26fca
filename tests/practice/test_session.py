"""A session's order."""

from __future__ import annotations

from curve_rank.practice.block import Exercise
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.session import ordered
from tests.training.quick import planner


def test_nothing_deep_overhead_begins_a_session_that_has_anything_else() -> None:
    facts = planner(ClientProfile()).context().facts
    deep, curl, press = "overhead-dumbbell-two-hands", "standing-dumbbell-curl", "rope-press-down"
    assert facts[deep].deep_overhead

    def order(first: str, *keys: str) -> list[str]:
        return [one.variant for one in ordered([Exercise(variant=key) for key in keys], facts, first)]

    for first in ("triceps", "alternate"):
        assert order(first, deep, curl) == [curl, deep]
        assert order(first, deep, curl, press)[0] == press
    assert order("triceps", deep) == [deep]
