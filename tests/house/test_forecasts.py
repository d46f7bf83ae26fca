"""Forecasts that are scored: calibration, and an alarm that is seldom false."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np

from curve_rank.house.forecasts import Forecast, calibrated, drift

START = date(2026, 1, 5)


def foretold(
    rng: np.random.Generator, *, weeks: int, shift: float = 0.0, wide: float = 1.0
) -> list[Forecast]:
    rows = []
    for person in range(12):
        for week in range(weeks):
            for _ in range(3):
                off = shift * (week >= weeks // 2) + rng.normal(0, wide)
                rows.append(
                    Forecast(
                        person, START + timedelta(days=7 * week), "curl", "barn", "", 10.0, 1.0, 10 + off
                    )
                )
    return rows


def test_what_is_calibrated_holds_and_what_is_too_sure_does_not() -> None:
    rng = np.random.default_rng(13)
    good = [calibrated(foretold(rng, weeks=8), lambda one: one.variant)[0].holds for _ in range(60)]
    assert 0.65 <= np.mean(good) <= 0.95  # an 80 % interval
    (sure,) = calibrated(foretold(rng, weeks=8, wide=2.0), lambda one: one.room)
    assert not sure.holds
    assert sure.inside < 0.6
    rows = [*foretold(rng, weeks=2), Forecast(1, START, "dip", "barn", "", 8, 2, 8)]
    assert [one.name for one in calibrated(rows, lambda one: one.variant)] == ["curl", "dip"]


def test_the_alarm_is_false_in_at_most_one_house_of_twenty_and_hears_a_drift() -> None:
    rng = np.random.default_rng(14)
    false = [drift(foretold(rng, weeks=30)).since is not None for _ in range(120)]
    assert np.mean(false) <= 0.09  # 0.05, within 120 houses' luck
    heard = [drift(foretold(rng, weeks=20, shift=0.6)).since for _ in range(20)]
    assert np.mean([since is not None and since >= START + timedelta(weeks=10) for since in heard]) >= 0.9
    assert drift([]).weeks == 0
