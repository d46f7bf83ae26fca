"""Profiles: a known curve comes back within its interval, through noise and whatever the sweeps were."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.errors import BadInputError
from curve_rank.measure.profile import INTERVAL, fold


def truth(angle: np.ndarray) -> np.ndarray:
    return 30 + 18 * np.sin(np.radians(1.3 * angle)) - 0.05 * angle


def swept(seed: int, sweeps: int, noise: float) -> tuple[np.ndarray, np.ndarray]:
    chance = np.random.default_rng(seed)
    angle = np.concatenate([np.sort(chance.uniform(5, 135, 90)) for _ in range(sweeps)])
    return angle, truth(angle) + chance.normal(0, noise, angle.size)


def test_a_curve_without_noise_comes_back() -> None:
    angle, torque = swept(1, 2, 0.0)
    found = fold(angle, torque)
    np.testing.assert_allclose(found.torque, truth(found.angle), atol=0.05)
    assert found.noise < 0.02


def test_the_interval_holds_the_curve_over_its_part_of_the_angles() -> None:
    held, noises = [], []
    for seed in range(40):
        found = fold(*swept(seed, 3, 2.0))
        true = truth(found.angle)
        held.append(float(((found.low <= true) & (true <= found.high)).mean()))
        noises.append(found.noise)
    assert np.mean(held) == pytest.approx(INTERVAL, abs=0.05)
    assert np.mean(noises) == pytest.approx(2.0, rel=0.05)


def test_more_sweeps_make_it_surer() -> None:
    few, many = (fold(*swept(3, n, 2.0)) for n in (1, 9))
    assert (many.high - many.low).mean() < 0.6 * (few.high - few.low).mean()


@pytest.mark.parametrize("angle", [np.array([]), np.linspace(0, 90, 5), np.linspace(40, 50, 200)])
def test_too_little_is_refused(angle: np.ndarray) -> None:
    with pytest.raises(BadInputError, match="at least"):
        fold(angle, np.ones_like(angle))
