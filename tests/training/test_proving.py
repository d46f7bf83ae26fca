"""Proving what is learned: of simulated lifters it is known what is true; what is off counts as off."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest

from curve_rank.rating.spreads import Spread
from curve_rank.training.proving import of_unlogged
from curve_rank.training.simulated_lifters import (
    KNOWN,
    REALISTIC,
    USUAL,
    USUAL_REPS,
    WEEKS,
    Lifter,
    Simulation,
)


@pytest.fixture(scope="module")
def lifter() -> Lifter:
    return Lifter(Simulation(1), 0, USUAL, np.random.default_rng(5))


def test_what_is_learned_is_held_against_what_the_lifter_really_lifts(lifter: Lifter) -> None:
    facts, logged = lifter.body(), ["chest-down-dumbbell-curl"]

    def true(key: str) -> float:
        plain = facts[key].load_for(USUAL_REPS, low=False) + facts[key].on_hands
        held = lifter.simulation.held(key, USUAL_REPS)
        return float(held * np.exp(lifter.over(key, WEEKS)) / plain)

    def learned(off: float) -> Any:
        return SimpleNamespace(
            factors={
                key: Spread(off * true(key), 0.99 * off * true(key), 1.01 * off * true(key)) for key in facts
            }
        )

    right, wrong = (of_unlogged(lifter, facts, learned(off), logged) for off in (1.0, 1.1))
    assert len(right.within) == len(facts) - len({KNOWN, *logged})
    assert right.by_log == pytest.approx([0.0] * len(right.by_log), abs=1e-9)
    assert all(right.within)
    assert wrong.by_log == pytest.approx([0.1] * len(wrong.by_log))
    assert not any(wrong.within)
    assert right.by_one == wrong.by_one


def test_a_simulated_lifter_logs_what_a_person_could_have_done(lifter: Lifter) -> None:
    log = lifter.log(["standing-barbell-curl", "rope-press-down"], REALISTIC)
    assert len(log) >= WEEKS
    for one in log:
        able = lifter.simulation.capacity(one.variant, one.load_kg, lifter.over(one.variant, 0))
        assert one.reps + one.reserve == pytest.approx(able, abs=8)
    assert len({one.key for one in log}) == len(log)
