"""Sweeps: zero, calibration, and a known profile through noise, friction, drift and lag."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.errors import BadInputError
from curve_rank.measure.sweeps import Calibration, calibration, fold_sweeps

ZERO, PER_NM, FRICTION, DRIFT, LAG = 8130.0, 54.0, 1.4, 0.02, 0.06
KNOWN = Calibration(ZERO, 0.0, 1 / PER_NM, 0.0)


def truth(angle: np.ndarray) -> np.ndarray:
    return 30 + 18 * np.sin(np.radians(1.3 * angle)) - 0.05 * angle


def swept(
    seed: int, noise: float = 1.0, friction: float = 0.0, drift: float = 0.0, lag: float = 0.0
) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Time, angle and counts of eight sweeps to and fro, some samples lost."""
    chance = np.random.default_rng(seed)
    time = np.arange(0, 32, 0.01)
    turn = 2 * np.pi / 4

    def angle(at: np.ndarray) -> np.ndarray:
        return np.asarray(67.5 - 62.5 * np.cos(turn * at))

    before = time - lag
    torque = truth(angle(before)) + friction * np.sign(np.sin(turn * before)) + drift * time
    counts = ZERO + PER_NM * (torque + chance.normal(0, noise, time.size))
    kept = chance.random(time.size) > 0.04
    return time[kept], (angle(time) + chance.normal(0, 0.1, time.size))[kept], counts[kept]


@pytest.mark.parametrize(
    "wrong", [{}, {"lag": LAG}, {"drift": DRIFT}, {"friction": FRICTION, "drift": DRIFT, "lag": LAG}]
)
def test_a_known_profile_lies_within_the_interval(wrong: dict[str, float]) -> None:
    held = []
    for seed in range(6):
        found = fold_sweeps(*swept(seed, **wrong), KNOWN)
        true, profile = truth(found.profile.angle), found.profile
        held.append(float(((profile.low <= true) & (true <= profile.high)).mean()))
        assert found.lag == pytest.approx(wrong.get("lag", 0.0), abs=0.01)
        assert profile.drift == pytest.approx(wrong.get("drift", 0.0), abs=0.006)
        assert profile.friction.mean() == pytest.approx(wrong.get("friction", 0.0), abs=0.15)
        assert (profile.high - profile.low).max() < 3
    assert np.mean(held) >= 0.95
    assert min(held) >= 0.85


def test_lifting_and_lowering_lie_on_either_side_of_the_curve() -> None:
    profile = fold_sweeps(*swept(1, noise=0.2, friction=2.0), KNOWN).profile
    np.testing.assert_allclose(profile.bending - profile.straightening, 4.0, atol=0.2)
    np.testing.assert_allclose((profile.bending + profile.straightening) / 2, profile.torque)


def test_one_way_alone_tells_no_friction_and_no_drift() -> None:
    time, angle, counts = swept(2, friction=FRICTION)
    up = time < 1.9
    profile = fold_sweeps(time[up], angle[up], counts[up], KNOWN).profile
    assert not profile.friction.any()
    assert profile.drift == 0


def test_a_known_weight_says_what_a_count_is() -> None:
    chance = np.random.default_rng(4)
    moment = 10 * 9.81 * 0.3
    empty, loaded = chance.normal(ZERO, 20, 200), chance.normal(ZERO + PER_NM * moment, 20, 200)
    found = calibration(empty, loaded, 10, 0.3)
    assert found.zero == pytest.approx(ZERO, abs=5)
    assert found.torque_per_count == pytest.approx(1 / PER_NM, rel=0.005)
    # What the calibration is unsure of makes the interval of a profile wider.
    unsure = Calibration(found.zero, 50.0, found.torque_per_count, 0.02)
    sure, wide = (fold_sweeps(*swept(5), known).profile for known in (found, unsure))
    assert ((wide.high - wide.low) > (sure.high - sure.low)).all()


@pytest.mark.parametrize(
    ("empty", "loaded", "weight", "says"),
    [
        (np.ones(5), np.ones(50), 10, "at least 20"),
        (np.ones(50), np.ones(50), 10, "is the weight on it"),
        (np.ones(50), 90 * np.ones(50), 0, "more than nothing"),
    ],
)
def test_what_calibrates_nothing_is_refused(
    empty: np.ndarray, loaded: np.ndarray, weight: float, says: str
) -> None:
    with pytest.raises(BadInputError, match=says):
        calibration(empty, loaded, weight, 0.3)


def test_standing_still_is_no_sweep() -> None:
    time = np.arange(0, 5, 0.01)
    for angle in (np.full(time.size, 60.0), 60 + np.sin(time)):
        with pytest.raises(BadInputError, match="20°"):
            fold_sweeps(time, angle, np.full(time.size, ZERO), KNOWN)
    with pytest.raises(BadInputError, match="samples"):
        fold_sweeps(time[:3], time[:3], time[:3], KNOWN)
