"""A block's end, by hand: what was done of what was planned, sets a week, and what to keep or rotate."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from curve_rank.practice.block import Block, checked
from curve_rank.training.log import LoggedSet
from curve_rank.training.pain import pain_state
from curve_rank.training.review import Review, due_sessions, in_block, review
from curve_rank.training.same_effort import load_at
from tests.training.logged import CHIN, CURL, DOWN, MONDAY, did, fact_of

FACTS = {key: fact_of(key) for key in (CURL, DOWN, CHIN)}
END = MONDAY + timedelta(days=27)


def block_of(*variants: str, sets: int = 3) -> Block:
    """Four weeks, the same exercises on Monday and Thursday."""
    exercises = [{"variant": one, "sets": sets, "reps_from": 8, "reps_to": 12} for one in variants]
    week = {"sessions": [{"day": day, "exercises": exercises} for day in (0, 3)]}
    return checked({"name": "Four", "targets": ["biceps_long"], "weeks": [week] * 4, "start": MONDAY})


def placed(rows: list[LoggedSet], week: int, session: int) -> list[LoggedSet]:
    return [one.model_copy(update={"plan": 7, "week": week, "session": session}) for one in rows]


def reviewed(block: Block, log: list[LoggedSet], **told: object) -> Review:
    return review(block, log, FACTS, END, number=7, **told)  # type: ignore[arg-type]


def test_what_was_done_of_what_was_planned() -> None:
    block = block_of(CURL, DOWN)
    assert len(due_sessions(block, END)) == 8
    assert due_sessions(block, MONDAY + timedelta(days=3)) == [(0, 0), (0, 1)]
    assert due_sessions(block, MONDAY - timedelta(days=1)) == []
    assert due_sessions(block, MONDAY + timedelta(days=7)) == [(0, 0), (0, 1), (1, 0)]
    log = [
        *placed(did(0, 10, 10, 9), 0, 0), *placed(did(0, 12, 12, variant=DOWN), 0, 0),
        *placed(did(3, 10, 10, 10), 0, 1), *placed(did(7, 11, 10, 10), 1, 0),
    ]  # fmt: skip
    both_sides = [
        one for side in ("left", "right") for one in placed(did(10, 8, 8, variant=DOWN, side=side), 1, 1)
    ]
    before, warm = did(-5, 20, 20), did(14, 5, kind="warm_up")
    events = ({"kind": "skip"}, {"kind": "skip"}, {"kind": "move"})
    found = reviewed(block, [*before, *log, *both_sides, *warm], events=events).adherence
    # 4 of 8 sessions; 3 + 2 + 3 + 3 sets, and the 2 of the one-arm pair, of 8 · 2 · 3
    assert (found.sessions, found.planned, found.sets, found.planned_sets) == (4, 8, 13, 48)
    assert (found.skipped, found.moved, found.part) == (2, 1, 0.5)
    early = [*placed(did(-2, 10), 0, 0), *did(-1, 10)]  # before its first day: two sessions, none was due
    of_it = [one.model_copy(update={"plan": 7}) for one in early]
    found = review(block, of_it, FACTS, MONDAY - timedelta(days=1), number=7).adherence
    assert (found.sessions, found.planned, found.part) == (2, 0, 0.0)


def test_sets_of_no_block_count_by_their_day_and_those_of_another_never() -> None:
    block = block_of(CURL)
    inside, first, last, after = did(9, 10), did(0, 10), did(27, 10), did(28, 10)
    others = [one.model_copy(update={"plan": 8}) for one in did(9, 10)]
    later = [one.model_copy(update={"plan": 7}) for one in did(40, 10)]
    found = in_block([*inside, *first, *last, *after, *others, *later], block, 7)
    assert {one.key for one in found} == {one.key for one in (*inside, *first, *last, *later)}
    # three days of no session beside one of the block's own
    assert reviewed(block, [*inside, *first, *last, *placed(did(4, 9), 0, 1)]).adherence.sessions == 4


def test_hard_sets_a_week_and_tension_by_hand() -> None:
    block = block_of(CURL)
    log = [*placed(did(0, 10, 8), 0, 0), *placed(did(3, 6, side="left"), 0, 1)]
    (head,) = reviewed(block, log).heads
    # to the 27th day: 27/7 weeks. Two sets and half a one-arm one; tension .1 and .2 a repetition.
    assert head.head == "biceps_long"
    assert head.sets == pytest.approx(2.5 / (27 / 7))
    assert head.planned == pytest.approx(2 * 3)
    assert head.long == pytest.approx(0.1 * (10 + 8 + 6 / 2) / (27 / 7))
    assert head.short == pytest.approx(2 * head.long)
    # half of a set's work, on its third day: a week at least; and what was never done reads nothing
    half = {CURL: replace(FACTS[CURL], counts={"biceps_long": 0.5}), DOWN: FACTS[DOWN]}
    first, second = review(block_of(CURL, DOWN), log[:2], half, MONDAY + timedelta(days=2), number=7).heads
    assert (first.sets, first.planned) == (2 * 0.5, 2 * 3 * 0.5)
    assert (second.head, second.sets, second.planned, second.long) == ("triceps_long", 0.0, 6.0, 0.0)


def climbing(gain: float, variant: str = CURL, noise: float = 0.0) -> list[LoggedSet]:
    """Eight bouts of one set to failure, whose load climbs by so much from first to last."""
    return [
        one
        for n in range(8)
        for one in placed(
            did(3 * n, 10, load=10 * (1 + gain * n / 7 + noise * (-1) ** n), variant=variant, reserve=0),
            n // 2,
            n % 2,
        )
    ]


@pytest.mark.parametrize(
    ("log", "keep", "says"),
    [
        ([], False, "Rotate: it was never done"),
        (did(0, 10, variant=DOWN, instead_of=CURL), False, "Rotate: it was swapped away every time"),
        (did(0, 10), True, "Too few sessions for a trend"),
        (climbing(0.30), True, "It climbs by itself"),
        (climbing(-0.10), False, "Gains less than 1 % a week: −3.2 % over 4 weeks"),
        (climbing(0.02, noise=0.08), True, "Too early to say whether strength grows"),
        (
            did(0, 8, pain=6, pain_joint="elbow") + climbing(0.30)[1:],
            False,
            "Sharp or strong pain in set 1 on",
        ),
    ],
)
def test_what_is_kept_and_what_is_rotated(log: list[LoggedSet], keep: bool, says: str) -> None:
    (advice,) = reviewed(block_of(CURL), log).advice
    assert (advice.variant, advice.keep) == (CURL, keep)
    assert advice.why.startswith(says)


def test_of_several_only_what_is_more_than_noise_is_said() -> None:
    """All climb alike: they move together; all but one: that lags; none: half is rotated, half stays."""

    def log(curl: float, down: float, chin: float) -> list[LoggedSet]:
        return [
            one
            for n in range(12)
            for variant, weekly in ((CURL, curl), (DOWN, down), (CHIN, chin))
            for load in [load_at((1 + weekly) ** (n / 3), FACTS[variant], 10)]
            for one in placed(
                did(7 * (n // 3) + 2 * (n % 3), 8, load=load, variant=variant, reserve=2), n // 3, 0
            )
        ]

    block = block_of(CURL, DOWN, CHIN)

    def why(*weekly: float) -> dict[str, str]:
        return {one.variant: one.why for one in reviewed(block, log(*weekly)).advice}

    assert why(0.05, 0.05, 0.0)[CHIN].startswith("It lags the rest (0.0 % a week, all together 3.")
    assert set(why(0.012, 0.012, 0.012).values()) == {
        "It moves with the others, which climb 1.2 % a week: keep it."
    }
    still = reviewed(block, log(-0.02, -0.03, -0.025)).advice
    assert {one.variant: one.keep for one in still} == {CURL: True, DOWN: False, CHIN: False}


def test_what_hurt_twice_is_rotated_whatever_it_gained_and_every_report_is_told() -> None:
    log = climbing(0.30)
    hurt = [one.model_copy(update={"pain": 4, "pain_joint": "elbow"}) for one in log[-2:]]
    log = [*log[:-2], *hurt]
    found = reviewed(block_of(CURL), log, pain=pain_state(log, END))
    (advice,) = found.advice
    assert not advice.keep
    assert "elbows hurt in 2 sessions" in advice.why
    assert found.pain == tuple(hurt)
    swaps = [one.model_copy(update={"instead_of": DOWN}) for one in placed(did(0, 10, 10), 0, 0)]
    assert [one.set for one in reviewed(block_of(CURL), swaps).swaps] == [1]  # once, not set by set
