"""Releases: noise that hides who was there, and a refusal where it would hide the answer as well."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.errors import BadInputError
from curve_rank.house.release import TRIAL_TOLD, Release, of_trial, refusal, release, release_from
from curve_rank.practice.rules import rule


def told(rows: list[dict[str, float]], rng: np.random.Generator) -> Release:
    return release(rows, ("difference",), "trial", 2026, (), rng)


def test_differencing_with_and_without_somebody_finds_no_more_than_epsilon_allows() -> None:
    """Whoever knows all others looks at where releases fall: the odds differ by e^ε at most."""
    rng = np.random.default_rng(10)
    others = [{"difference": float(v)} for v in rng.normal(0, 0.1, 60)]
    there, gone = [*others, {"difference": 9.0}], [*others, {}]
    looks = 4000
    one, other = (
        np.array([told(rows, rng).means["difference"] for _ in range(looks)]) for rows in (there, gone)
    )
    edges = np.quantile(np.concatenate((one, other)), np.linspace(0.05, 0.95, 19))
    for edge in edges:
        with_them, without = np.mean(one > edge), np.mean(other > edge)
        apart = abs(np.log(with_them / without))
        assert apart <= rule("release.epsilon") + 4 * np.sqrt((1 / with_them + 1 / without) / looks)
    assert abs(one.mean() - other.mean()) > 0.002  # there is something to hide


def test_it_is_of_use_at_the_size_that_is_asked_and_refused_below_it() -> None:
    rng = np.random.default_rng(11)
    rows = [{"difference": 0.05}] * 50
    made = told(rows, rng)
    assert made.noise == pytest.approx(0.6 / 50)
    assert (made.people, made.epsilon, made.spent) == (50, 1.0, 1.0)
    with pytest.raises(BadInputError, match="hides the answer"):
        told(rows[:49], rng)
    assert "has its release" in refusal("trial", 90, (made,), 2026)
    five = [Release(2020 + n, "trial", {}, 0.01, 60, 1.0, 1.0 + n) for n in range(5)]
    assert "spent" in refusal("trial", 90, five, 2026)


def test_a_trials_one_number_is_its_difference_however_much_everybody_grew() -> None:
    rng = np.random.default_rng(15)
    changes = [
        (n, n % 2, 0.3 + (0.25 if n % 2 == 0 else -0.25) + rng.normal(0, 0.2), 0.4) for n in range(200)
    ]
    rows = of_trial(changes)
    assert 5 * np.mean([row["difference"] for row in rows]) == pytest.approx(0.5, abs=0.08)
    made = [release(rows[:50], TRIAL_TOLD, "trial", 2026, (), rng).means["difference"] for _ in range(200)]
    assert 5 * np.std(made) < 0.15  # of use beside half a centimetre
    with pytest.raises(BadInputError, match="hides the answer"):
        release(rows[:40], TRIAL_TOLD, "trial", 2026, (), rng)


def test_another_houses_release_is_read_and_nonsense_is_named() -> None:
    made = told([{"difference": 0.05}] * 50, np.random.default_rng(12))
    assert release_from(made.as_data()) == made
    for field, value in (
        ("format", "x"),
        ("content", "all"),
        ("people", -1),
        ("means", {}),
        ("epsilon", "x"),
    ):
        with pytest.raises(BadInputError, match=field):
            release_from(made.as_data() | {field: value})
    with pytest.raises(BadInputError, match="difference"):
        release_from(made.as_data() | {"means": {"difference": float("nan")}})
