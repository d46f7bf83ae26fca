"""One slope a person: by hand where it can be, and how often it is wrong where it cannot."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from curve_rank.training.log import bouts
from curve_rank.training.slopes import (
    AS_SCATTERED,
    Noise,
    SaidBout,
    by_holm,
    covariance,
    lately,
    said_bouts,
    slope_of,
    slopes_by_exercise,
    usual_noise,
)
from tests.training.logged import CURL, DOWN, MONDAY, did

OWN = Noise(0.03, 0.0, 0.0)


def said(week: float, value: float, variant: str = "a", number: int = 1) -> SaidBout:
    day = MONDAY + timedelta(days=round(7 * week))
    return SaidBout(variant, day, (variant, "", number), value)


def test_a_line_by_hand() -> None:
    """0, .01, .03, .02 in four weeks: least squares say .008; s² from 4 readings and 20 usual ones."""
    slope = slope_of([said(week, value) for week, value in enumerate((0.0, 0.01, 0.03, 0.02))], OWN)
    assert slope is not None
    assert slope.weekly == pytest.approx(0.008)
    left = 0.0002 / 0.03**2  # of the line .003 + .008 t
    scale = (left + AS_SCATTERED) / (4 - 2 + AS_SCATTERED)
    assert slope.error == pytest.approx(np.sqrt(scale * 0.03**2 / 5), rel=1e-2)
    assert (slope.free, slope.bouts, slope.weeks, slope.span) == (22, 4, 4, 3.0)


def test_each_set_number_and_exercise_has_a_level_of_its_own() -> None:
    rows = [said(week, 0.01 * week + 0.5 * n, "ab"[n // 2], n) for week in range(4) for n in range(4)]
    slope = slope_of(rows, OWN)
    assert slope is not None
    assert slope.weekly == pytest.approx(0.01)


def test_form_that_a_day_shares_is_counted_once() -> None:
    """Ten exercises a day are no ten days."""
    one = slope_of([said(week, 0.0) for week in range(6)], Noise(0.0001, 0.03, 0.0))
    ten = slope_of([said(w, 0.0, f"e{n}") for w in range(6) for n in range(10)], Noise(0.0001, 0.03, 0.0))
    assert one is not None
    assert ten is not None
    # Apart from s², which more readings bring down.
    errors = [s.error / np.sqrt(AS_SCATTERED / s.free) for s in (one, ten)]
    assert errors[0] == pytest.approx(errors[1], rel=1e-3)
    v = covariance([said(0, 0.0), said(0, 0.0, "b"), said(2 / 7, 0.0)], Noise(0.03, 0.02, 0.01))
    assert v == pytest.approx(1e-4 * np.array([[14, 5, 1], [5, 14, 1], [1, 1, 14]]))


def test_a_week_without_training_does_not_count() -> None:
    rows = [said(week, 0.01 * n) for n, week in enumerate((0, 1, 5, 6))]
    slope = slope_of(rows, OWN)
    assert slope is not None
    assert slope.weekly == pytest.approx(0.01)
    assert lately([said(w, 0.0) for w in range(0, 40, 4)])[0].day == said(8, 0.0).day


def test_only_what_somebody_said_is_read_of_no_lighter_week_and_once_an_exercise_is_learned() -> None:
    log = [
        *did(0, 10, 9), *did(7, 10, as_planned=True), *did(14, 10, reserve=None),
        *did(21, 10, pain=3, pain_joint="elbow"), *did(28, 10, plan=1, week=4),
        *[one for n in range(5) for one in did(20 + 7 * n, 8, variant=DOWN)],
    ]  # fmt: skip
    found = said_bouts(bouts(log), lambda one: one.load_kg * one.to_failure, {(1, 4)})
    assert [(one.variant, (one.day - MONDAY).days) for one in found] == [(CURL, 0), (DOWN, 41), (DOWN, 48)]
    assert found[0].level == (CURL, "", 1)
    assert found[0].value == pytest.approx(np.log(110))
    half = [one.model_copy(update={"as_planned": one.set == 1}) for one in did(0, 10, 9)]
    (second,) = said_bouts(bouts(half), lambda one: one.load_kg)
    assert second.level == (CURL, "", 2)


def test_holm_by_hand() -> None:
    assert by_holm({"a": 0.012, "b": 0.02, "c": 0.2}, 0.05) == {"a", "b"}  # .012 < .05/3, .02 < .05/2
    assert by_holm({"a": 0.02, "b": 0.001, "c": 0.03}, 0.05) == {"a", "b", "c"}
    assert by_holm({"a": 0.017, "b": 0.01701}, 0.033) == frozenset()


def lifters(
    weekly: float, exercises: int, days: int, weeks: int, count: int
) -> Iterator[tuple[SaidBout, ...]]:
    rng = np.random.default_rng(5)
    noise = usual_noise()
    for _ in range(count):
        rows = []
        for week in range(weeks):
            good_week = rng.normal(0, noise.week)
            for day in range(days):
                form = good_week + rng.normal(0, noise.day)
                at = week + 2 * day / 7
                rows += [
                    said(at, weekly * at + form + rng.normal(0, noise.own), f"e{n}") for n in range(exercises)
                ]
        yield tuple(rows)


def part(weekly: float, weeks: int, word: str) -> float:
    slopes = [slope_of(rows, usual_noise()) for rows in lifters(weekly, 2, 3, weeks, 200)]
    return float(np.mean([getattr(slope, word) for slope in slopes]))


def test_standing_still_is_found_and_growing_is_seldom_taken_for_it() -> None:
    """Six said bouts a week: error of these parts at most 4 of 100."""
    assert part(0.01, 4, "stalls") <= 0.14
    assert part(0.01, 8, "stalls") <= 0.14
    assert part(0.02, 8, "stalls") <= 0.02
    assert part(0.0, 8, "stalls") >= 0.75
    assert part(0.0, 8, "climbs") <= 0.09
    assert part(0.01, 8, "climbs") >= 0.7


def test_whoever_grows_has_no_alarm_and_too_early_is_said_with_how_much_is_wanted() -> None:
    early = slope_of([said(w, 0.0, e) for w in range(2) for e in "ab"], usual_noise())
    assert early is not None
    assert not early.stalls
    assert early.says == f"Too early to say whether strength grows: about {early.more_bouts} more bouts."
    known = replace(early, weekly=0.001, error=0.003, weeks=8, bouts=48)
    assert (known.stalls, known.more_bouts) == (True, 0)
    assert known.says.startswith("Gains less than 1 % a week: 0.1 % over 8 weeks, nine in ten under 0.")
    assert replace(known, weekly=0.005).stalls is False
    assert replace(known, weekly=0.012).says.startswith("Climbs 1.2 % a week, nine in ten over 0.")


def test_an_exercise_is_apart_from_the_mean_of_all() -> None:
    rows = [
        said(w + d / 7, g * (w + d / 7), e)
        for w in range(6)
        for d in (0, 3)
        for e, g in (("a", 0.0), ("b", 0.03))
    ]
    found = slopes_by_exercise(rows, usual_noise())
    assert found["a"][0].weekly == pytest.approx(0, abs=1e-9)
    assert found["a"][1].weekly == pytest.approx(0.015)
    assert found["b"][1].weekly == pytest.approx(-0.015)
    assert found["a"][1].error < found["a"][0].error  # the form they share is in neither's difference
    assert slopes_by_exercise(rows[:6], usual_noise()) == {}
