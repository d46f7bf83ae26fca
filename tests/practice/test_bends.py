"""A shared block bends for one of those who do it, and for nobody else."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache

import pytest
from hypothesis import given
from hypothesis import strategies as st

from curve_rank.errors import BadInputError
from curve_rank.practice.bends import Bends, read_bends, with_day, with_exercise
from curve_rank.practice.block import Block, checked
from curve_rank.practice.edit_kinds import MoveSession, RemoveExercise, SwapExercise
from curve_rank.practice.edits import edited
from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import ClientProfile
from tests.training.quick import planner

CURL, PULL_BACK, OTHER = "standing-dumbbell-curl", "bent-over-pull-back", "pad-45-dumbbell-curl"
NONE = Bends()


def block(days: tuple[int, ...] = (0, 2, 4), override: str = "") -> Block:
    ones = [{"variant": CURL}, {"variant": PULL_BACK, "note": "slowly"}]
    week = {"sessions": [{"day": day, "exercises": ones} for day in days]}
    data = {"name": "B", "targets": ["biceps_long"], "weeks": [week, week], "override": override}
    return checked(data)


@cache
def facts() -> Mapping[str, Facts]:
    return planner(ClientProfile()).context().facts


def test_an_own_exercise_stands_in_every_place_of_the_shared_one_in_its_own_repetitions() -> None:
    bends = with_exercise(NONE, block(), CURL, OTHER, facts())
    guide = facts()[OTHER].variant.guide
    for _, _, session in bends.of(block()).sessions:
        mine, shared = session.exercises
        assert (mine.variant, mine.reps_from, mine.reps_to) == (OTHER, guide.reps_from, guide.reps_to)
        assert (shared.variant, shared.note) == (PULL_BACK, "slowly")
    assert with_exercise(bends, block(), CURL, "", facts()).of(block()) == block()
    assert read_bends(bends.model_dump(mode="json")) == bends


def test_bends_hold_when_the_shared_line_is_edited_and_leave_alone_what_is_gone() -> None:
    bends = with_exercise(with_day(NONE, block(), 4, 5), block(), CURL, OTHER, facts())
    taken = RemoveExercise(week=0, session=1, exercise=0, everywhere=True)
    swapped = SwapExercise(week=0, session=0, exercise=0, variant=PULL_BACK)
    for edit in (taken, swapped):
        line = edited(block(), edit, facts())
        own = bends.of(line)
        for (_, _, mine), (_, _, theirs) in zip(own.sessions, line.sessions, strict=True):
            assert mine.day == {4: 5}.get(theirs.day, theirs.day)
            there = [{CURL: OTHER}.get(one.variant, one.variant) for one in theirs.exercises]
            assert [one.variant for one in mine.exercises] == there


@pytest.mark.parametrize(
    ("key", "own", "field"),
    [("chin-up", OTHER, "exercise"), (CURL, "flying-curl", "own"), (CURL, PULL_BACK, "own")],
)
def test_what_cannot_be_is_refused(key: str, own: str, field: str) -> None:
    with pytest.raises(BadInputError, match=f"^{field}"):
        with_exercise(NONE, block(), key, own, facts())


def test_an_own_day_keeps_the_order_and_its_rest_days() -> None:
    line = block()
    assert [s.day for s in with_day(NONE, line, 4, 5).of(line).weeks[0].sessions] == [0, 2, 5]
    for day, own in ((0, 3), (0, 2), (4, 3), (2, 3), (1, 5)):
        with pytest.raises(BadInputError, match="day"):
            with_day(NONE, line, day, own)
    assert with_day(NONE, block(override="they asked"), 2, 3).days == {2: 3}
    assert with_day(with_day(NONE, line, 4, 5), line, 4, 4) == NONE


@given(st.dictionaries(st.integers(0, 6), st.integers(0, 6)), st.integers(0, 6))
def test_no_own_days_turn_the_sessions_of_a_week_round(days: dict[int, int], to: int) -> None:
    line = block()
    if to not in (2, 4, 1, 3, 5):
        line = edited(line, MoveSession(week=0, session=0, day=to, everywhere=True), {})
    own = [session.day for session in Bends(days=days).of(line).weeks[0].sessions]
    assert own == sorted(set(own))
