"""The tape and the trial: no change where there is none, and a real one found."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest

from curve_rank.practice.block import checked
from curve_rank.training.circumference import ArmMeasure, compare, due, hopes, why_not_now, within
from curve_rank.training.slopes import SaidBout, usual_noise
from curve_rank.training.trial import (
    NONE_SHOWN,
    block_slope,
    coin,
    power,
    power_words,
    strength_compared,
    tape_compared,
    tape_gain,
    verdict,
    weekly_strength,
)
from tests.training.logged import MONDAY

END = MONDAY + timedelta(days=55)
BLOCK = checked(
    {"name": "Eight", "targets": ["biceps_long"], "weeks": [{"sessions": []}] * 8, "start": MONDAY}
)


def sitting(rng: np.random.Generator, true: float, day: date = MONDAY, **told: object) -> ArmMeasure:
    def three(at: float) -> list[float]:
        return list(at + rng.normal(0, 0.25) + rng.normal(0, 0.25, 3))

    when = "start" if day == MONDAY else "end"
    return ArmMeasure.model_validate(
        {"day": day, "when": when, "relaxed": three(true - 2), "flexed": three(true), **told}
    )


def test_no_change_is_claimed_where_there_is_none_and_a_real_one_is_found() -> None:
    rng, rounds = np.random.default_rng(1), 400

    def claimed(change: float) -> float:
        found = [compare(sitting(rng, 35), sitting(rng, 35 + change, END)) for _ in range(rounds)]
        return sum(any(one.claimed for one in each) for each in found) / rounds

    assert claimed(0.0) <= 0.10
    assert claimed(1.5) >= 0.80


def test_a_small_change_is_called_so_and_an_unlike_sitting_claims_nothing() -> None:
    rng = np.random.default_rng(2)
    before = sitting(rng, 35)
    small, _ = compare(before, sitting(rng, 35.2, END))
    assert "within the error of measuring" in small.says
    elsewhere = compare(before, sitting(rng, 39, END, site_cm=13))
    assert not any(one.claimed for one in elsewhere)
    assert elsewhere[0].alike == ("site",)
    careless = [sitting(np.random.default_rng(n), 35) for n in range(6)]
    spread, free = within(careless)
    assert free == 24
    assert spread == pytest.approx(0.25, abs=0.08)


def test_it_is_due_at_both_ends_and_only_then() -> None:
    rng = np.random.default_rng(3)
    start = sitting(rng, 35)
    assert due(BLOCK, MONDAY, []) == "start"
    assert due(BLOCK, MONDAY, [start]) == ""
    assert due(BLOCK, MONDAY + timedelta(days=25), [start]) == ""
    assert due(BLOCK, END, [start]) == "end"
    assert "Not yet: the block ends on 26 April" in why_not_now(BLOCK, MONDAY + timedelta(days=25))
    assert why_not_now(BLOCK, END) == why_not_now(None, END) == ""
    assert "0.0 to 0.6 cm" in hopes(8)


GROUPS = {"a": "flexors", "b": "flexors", "c": "extensors", "d": "extensors"}


def block_of(
    rng: np.random.Generator, start: date, rates: dict[str, float], weeks: int = 8, form: float = 0.02
) -> list[SaidBout]:
    """Four exercises three times a week, with the usual scatter and a form that each week shares."""
    said, noise = [], usual_noise()
    for week in range(weeks):
        good_week = rng.normal(0, form)
        for day in (0, 2, 4):
            good = good_week + rng.normal(0, noise.day)
            for key, group in GROUPS.items():
                value = rates[group] * (week + day / 7) + good + rng.normal(0, np.hypot(noise.own, 0.017))
                said.append(SaidBout(key, start + timedelta(days=7 * week + day), (key, "", 1), value))
    return said


def shown(difference: float, *, crossed: bool, rounds: int = 200) -> float:
    """Part of trials of two blocks of eight weeks that show the second way as better, or show any."""
    rng, found = np.random.default_rng(4), 0
    one, other = 0.005, 0.005 + difference
    for _ in range(rounds):
        first = {"flexors": one, "extensors": other if crossed else one}
        second = {"flexors": other, "extensors": one if crossed else other}
        blocks = [block_of(rng, MONDAY, first), block_of(rng, MONDAY + timedelta(weeks=8), second)]
        measure = strength_compared(blocks[0], blocks[1], GROUPS, crossed=crossed)
        assert measure is not None
        found += measure.shown and (measure.difference > 0 or not difference)
    return found / rounds


@pytest.mark.parametrize("crossed", [False, True])
def test_two_blocks_without_a_true_difference_show_none_and_a_real_one_is_found(crossed: bool) -> None:
    """Where weeks share two per cent of form: false in at most 8 of 100, and as powerful as is said."""
    assert shown(0.0, crossed=crossed) <= 0.08
    for weekly in (0.01, 0.02):
        assert shown(weekly, crossed=crossed) == pytest.approx(power(8, weekly, crossed=crossed), abs=0.11)


def test_power_is_said_before_and_grows_with_weeks_and_by_crossing() -> None:
    assert power(8, 0.02, crossed=False) == pytest.approx(0.87, abs=0.05)
    assert power(8, 0.01, crossed=True) > 2 * power(8, 0.01, crossed=False) - 0.05
    assert power(12, 0.01, crossed=False) > power(8, 0.01, crossed=False) > power(6, 0.01, crossed=False)
    assert power(5, 0.02, crossed=True) == 0.0
    assert power_words(8, crossed=False).startswith(
        "One after the other, 8 weeks each: where one way does 2 % a week more, 8"
    )


def test_a_line_through_weeks_by_hand() -> None:
    """Six weeks on a line of .01: the slope is that; levels and exercises left out shift nothing."""
    said = [
        SaidBout(key, MONDAY + timedelta(weeks=week), (key, "", 1), 0.01 * week + level)
        for week in range(6)
        for key, level in (("a", 0.0), ("b", 0.7))
        if key == "a" or week % 2
    ]
    line = block_slope(weekly_strength(said))
    assert line is not None
    assert line.weekly == pytest.approx(0.01)
    assert line.left == pytest.approx(0, abs=1e-12)
    assert (line.free, line.weeks) == (4, 6)
    alike = 0.3 ** np.abs(np.subtract.outer(np.arange(6), np.arange(6)))
    at = np.arange(6) - 2.5
    # Centred and symmetric, so the level takes nothing from the slope.
    assert line.per_scatter == pytest.approx(1 / (at @ np.linalg.inv(alike) @ at))
    assert block_slope(dict.fromkeys(range(5), 0.0)) is None


def test_the_tape_shows_what_its_error_does_not_make() -> None:
    rng, rounds, seen = np.random.default_rng(4), 150, 0
    for _ in range(rounds):
        tapes = [tape_gain(compare(sitting(rng, 35), sitting(rng, 35.3, END))) for _ in range(2)]
        one = tape_compared(*tapes)
        assert one is not None
        seen += one.shown
    assert seen <= 0.1 * rounds
    assert tape_compared(None, None) is None
    assert verdict([]) == NONE_SHOWN


def test_the_coin_falls_both_ways_and_can_be_thrown_again() -> None:
    assert {coin(seed) for seed in range(12)} == {(0, 1), (1, 0)}
    assert coin(7) == coin(7)
