"""A house learns by how much its logs scatter."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest

from curve_rank.training.house_noise import Scatter, house_noise, scatter_of
from curve_rank.training.slopes import Noise, SaidBout, usual_noise

MONDAY = date(2026, 1, 5)


def log_of(rng: np.random.Generator, noise: Noise, weeks: int = 8, keys: str = "abcd") -> list[SaidBout]:
    """Somebody who grows at a pace of their own, three days a week."""
    growth, found = rng.normal(0.005, 0.005), []
    for week in range(weeks):
        form = rng.normal(0, noise.week)
        for day in (0, 2, 4):
            today = form + rng.normal(0, noise.day)
            for key in keys:
                value = growth * (week + day / 7) + today + rng.normal(0, noise.own)
                found.append(SaidBout(key, MONDAY + timedelta(days=7 * week + day), (key, "", 1), value))
    return found


def people(noise: Noise, count: int, seed: int = 1) -> list[Scatter]:
    rng = np.random.default_rng(seed)
    found = [scatter_of(log_of(rng, noise)) for _ in range(count)]
    return [one for one in found if one is not None]


@pytest.mark.parametrize("true", [Noise(0.06, 0.01, 0.03), Noise(0.02, 0.03, 0.005), usual_noise()])
def test_the_noise_of_many_is_found_whatever_it_is(true: Noise) -> None:
    found = house_noise(people(true, 60))
    assert found.own == pytest.approx(true.own, rel=0.15)
    assert found.day == pytest.approx(true.day, rel=0.25, abs=0.004)
    assert found.week == pytest.approx(true.week, rel=0.35, abs=0.004)


def test_it_is_the_usual_for_nine_and_leans_towards_it_for_ten() -> None:
    loud = people(Noise(0.08, 0.02, 0.015), 10)
    assert house_noise(loud[:9]) == usual_noise()
    assert usual_noise().own < house_noise(loud).own < 0.08


def test_the_forms_are_without_bias_and_know_neither_levels_nor_growth() -> None:
    true, rng = Noise(0.05, 0.03, 0.02), np.random.default_rng(3)
    squares = np.array([true.own, true.day, true.week]) ** 2
    apart = []
    for _ in range(400):
        one = scatter_of(log_of(rng, true, weeks=6, keys="ab"))
        assert one is not None
        apart.append(np.array(one.forms) - np.array(one.weights) @ squares)
    error = np.std(apart, axis=0) / np.sqrt(len(apart))
    assert (np.abs(np.mean(apart, axis=0)) < 3.5 * error).all()
    said = log_of(rng, true)
    raised = [
        SaidBout(b.variant, b.day, b.level, b.value + 3 + 0.2 * ((b.day - MONDAY).days / 7)) for b in said
    ]
    one, other = scatter_of(said), scatter_of(raised)
    assert one is not None
    assert other is not None
    assert one.forms == pytest.approx(other.forms, rel=1e-6)


def test_a_short_log_says_nothing() -> None:
    rng = np.random.default_rng(2)
    assert scatter_of(log_of(rng, usual_noise(), weeks=5)) is None
    assert scatter_of([]) is None
