"""The tape and the trial: no change where there is none, and a real one found."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest

from curve_rank.practice.block import checked
from curve_rank.training.circumference import ArmMeasure, compare, due, hopes, why_not_now, within
from curve_rank.training.same_effort import EffortPoint
from curve_rank.training.trial import NONE_SHOWN, coin, compared, strength_gain, tape_gain, verdict
from tests.training.logged import MONDAY, did

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


def block_of(rng: np.random.Generator, gain: float, sessions: int, noise: float) -> list[EffortPoint]:
    (best,) = did(0, 10)
    return [
        EffortPoint(
            MONDAY + timedelta(days=3 * n),
            key,
            float(np.exp(gain * n / (sessions - 1) + rng.normal(0, noise))),
            best,
        )
        for key in ("a", "b", "c")
        for n in range(sessions)
    ]


def test_two_blocks_without_a_true_difference_show_none_nine_times_in_ten() -> None:
    rng, rounds, shown, found = np.random.default_rng(4), 150, 0, 0
    for _ in range(rounds):
        gain = float(rng.uniform(0, 0.12))
        both = [strength_gain(block_of(rng, gain, 8, 0.04)) for _ in range(2)]
        tapes = [tape_gain(compare(sitting(rng, 35), sitting(rng, 35.3, END))) for _ in range(2)]
        seen = [compared("strength", "1", *both), compared("arm", "cm", *tapes)]
        shown += verdict([one for one in seen if one]) != NONE_SHOWN
        more = strength_gain(block_of(rng, gain + 0.15, 8, 0.04))
        far = compared("strength", "1", both[0], more)
        assert far is not None
        found += far.verdict == "the second did more"
    assert shown <= 0.1 * rounds
    assert found >= 0.8 * rounds


def test_too_few_sessions_say_nothing_and_the_coin_falls_both_ways() -> None:
    rng = np.random.default_rng(5)
    assert strength_gain(block_of(rng, 0.1, 3, 0.03)) is None
    assert compared("strength", "1", None, None) is None
    assert {coin(seed) for seed in range(12)} == {(0, 1), (1, 0)}
    assert coin(7) == coin(7)
