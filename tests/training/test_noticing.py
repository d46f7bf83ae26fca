"""What is noticed in a log, at its thresholds: just enough is noticed, a little less is not."""

from __future__ import annotations

import pytest

from curve_rank.training.log import LoggedSet, bouts
from curve_rank.training.noticing import Notice, notices
from curve_rank.training.same_effort import load_at
from tests.training.logged import CURL, DOWN, did, fact_of

FACTS = {key: fact_of(key) for key in (CURL, DOWN)}


def found(log: list[LoggedSet], rest: float = 90.0) -> dict[str, Notice]:
    return {one.kind: one for one in notices(bouts(log), FACTS, {CURL: rest})}


def test_what_lags_the_rest_is_noticed_where_the_rest_climbs_and_nothing_else_of_one_exercise() -> None:
    def log(curl: float, down: float) -> list[LoggedSet]:
        return [
            one
            for n in range(24)
            for variant, weekly in ((CURL, curl), (DOWN, down))
            for load in [load_at((1 + weekly) ** (n / 3), FACTS[variant], 12)]
            for one in did(7 * (n // 3) + 2 * (n % 3), 10, load=load, variant=variant, reserve=2)
        ]

    lags = found(log(0.0, 0.04))["lags"]
    assert lags.variant == CURL
    assert lags.says == "Lags the rest: 0.0 % a week, all together 2.0 %."
    for alike in (log(0.0, 0.0), log(0.02, 0.02), log(-0.02, -0.02)):
        assert "lags" not in found(alike)


def sides(*pairs: tuple[int, int]) -> list[LoggedSet]:
    return [
        one
        for n, pair in enumerate(pairs)
        for side, reps in zip(("left", "right"), pair, strict=True)
        for one in did(3 * n, reps, side=side)
    ]


def test_a_side_lags_by_a_tenth_three_sessions_running_the_same_way() -> None:
    assert found(sides((8, 14), (8, 14), (8, 14)))["sides"].says.startswith("The left side gives ")
    assert found(sides((14, 8), (14, 8), (14, 8)))["sides"].says.startswith("The right side gives ")
    for log in (
        sides((8, 14), (8, 14)),  # two sessions only
        sides((8, 14), (14, 8), (8, 14)),  # now the one, now the other
        sides((10, 11), (10, 11), (10, 11)),  # one repetition
    ):
        assert "sides" not in found(log)


def reserves(*left: int | None, reps: int = 10) -> list[LoggedSet]:
    return [one for n, reserve in enumerate(left) for one in did(3 * n, reps, reserve=reserve)]


def test_less_and_less_in_reserve_at_the_same_weight_and_repetitions() -> None:
    drift = found(reserves(3, 2, 1))["drift"]
    assert drift.says == "10 kg × 10 left 3 in reserve, now 1: it grew harder."
    for log in (reserves(3, 2), reserves(2, 2, 1), reserves(3, 0, 1), reserves(3, None, 1)):
        assert "drift" not in found(log)
    planned = [one.model_copy(update={"as_planned": True}) for one in reserves(3, 2, 1)]
    assert "drift" not in found(planned)  # a block that comes closer to failure says so by itself
    other = [*reserves(3, 2), *did(6, 11, reserve=1)]
    assert "drift" not in found(other)


def test_repetitions_that_fall_faster_than_the_rest_lets_them() -> None:
    # After 90 s a set loses 13 % of the repetitions, give or take 5; 12 to 6 in two steps are 29 % each.
    fall = found(did(0, 12, 9, 6, reserve=0))["fall"]
    assert fall.says == "10 kg × 12, 9, 6: 29 % lost from set to set, usual is 13 %."
    assert "fall" not in found(did(0, 12, 10, 8, reserve=0))  # 18 %
    assert "fall" not in found(did(0, 12, 9, 6, reserve=0), rest=45)  # usual is 22 %
    assert "fall" not in found(did(0, 12, 6, reserve=0))  # two sets say nothing
    assert "fall" not in found([*did(0, 12, 9, reserve=0), *did(0, 6, load=12, reserve=0)])


@pytest.mark.parametrize("what", ["grip", "wrist", "breath", "other_muscle"])
def test_the_same_thing_gives_out_twice_before_the_muscle(what: str) -> None:
    twice = [one for n in range(2) for one in did(3 * n, 10, gave_out=what)]
    assert found(twice)["gave_out"].says.startswith("Twice running ")
    assert "gave_out" not in found(twice[:1])
    assert "gave_out" not in found([*did(0, 10, gave_out=what), *did(3, 10, gave_out="target")])


def test_of_several_exercises_the_newest_stands_first_and_what_is_unknown_is_passed_over() -> None:
    log = [*reserves(3, 2, 1), *did(20, 12, 9, 6, variant=DOWN, reserve=0)]
    told = notices(bouts(log), FACTS, {DOWN: 90.0})
    assert [one.variant for one in told] == [DOWN, CURL]
    assert notices(bouts(log), {CURL: FACTS[CURL]}, {}) == told[1:]
