"""Each edit of a block, by hand: what it changes, where, and what it leaves."""

from __future__ import annotations

from typing import Any

import pytest

from curve_rank.errors import BadInputError
from curve_rank.practice.block import Block, checked
from curve_rank.practice.edit_kinds import read_edit
from curve_rank.practice.edits import MOST_WEEKS, edited, said
from curve_rank.practice.plan_warnings import PlanContext
from curve_rank.practice.profile import ClientProfile
from tests.training.quick import planner

CURL, DOWN, ROPE, CHIN = "standing-dumbbell-curl", "rope-press-down", "overhead-rope-low-pulley", "chin-up"


@pytest.fixture(scope="module")
def context() -> PlanContext:
    return planner(ClientProfile()).context()


def exercises(*variants: str, **told: Any) -> list[dict[str, Any]]:
    return [{"variant": one, "sets": 3, "reps_from": 8, "reps_to": 12} | told for one in variants]


@pytest.fixture
def block() -> Block:
    """Two weeks; Monday a curl, a press-down and a rope, Thursday a rope alone."""
    week = {
        "sessions": [
            {"day": 0, "exercises": exercises(CURL, DOWN, ROPE)},
            {"day": 3, "exercises": exercises(ROPE)},
        ]
    }
    return checked({"name": "Two", "targets": ["biceps_long"], "weeks": [week, week]})


def names(block: Block) -> list[list[list[str]]]:
    """Variants by week, session and place."""
    return [[[e.variant for e in s.exercises] for s in week.sessions] for week in block.weeks]


def after(block: Block, context: PlanContext, do: str, **told: Any) -> Block:
    return edited(block, read_edit({"do": do} | told), context.facts)


FIRST = {"week": 0, "session": 0}
MONDAY, THURSDAY = [CURL, DOWN, ROPE], [ROPE]


def test_a_session_goes_to_another_day_with_rest_around_it(block: Block, context: PlanContext) -> None:
    moved = after(block, context, "move_session", week=0, session=0, day=5)
    assert [[s.day for s in week.sessions] for week in moved.weeks] == [[3, 5], [0, 3]]
    assert names(moved) == [
        [THURSDAY, MONDAY],
        [MONDAY, THURSDAY],
    ]  # in the order of their days
    every = after(block, context, "move_session", **FIRST, everywhere=True, day=1)
    assert [[s.day for s in week.sessions] for week in every.weeks] == [[1, 3], [1, 3]]
    for day, right in ((3, "without a session"), (2, "rest day"), (4, "rest day")):
        with pytest.raises(BadInputError, match=right):
            after(block, context, "move_session", **FIRST, day=day)
    told = after(block, context, "set_block", override="holidays")
    assert [s.day for s in after(told, context, "move_session", **FIRST, day=2).weeks[0].sessions] == [2, 3]


def test_exercises_move_come_go_and_are_swapped(block: Block, context: PlanContext) -> None:
    within = after(block, context, "move_exercise", **FIRST, exercise=0, to_session=0, to=2)
    assert names(within) == [[[DOWN, ROPE, CURL], THURSDAY], [MONDAY, THURSDAY]]
    across = after(block, context, "move_exercise", **FIRST, everywhere=True, exercise=1, to_session=1, to=0)
    assert names(across) == [[[CURL, ROPE], [DOWN, ROPE]]] * 2
    far = after(block, context, "move_exercise", **FIRST, exercise=0, to_session=1, to=50)
    assert names(far)[0] == [[DOWN, ROPE], [ROPE, CURL]]
    more = after(block, context, "add_exercise", week=1, session=1, variant=CHIN)
    assert names(more) == [[MONDAY, THURSDAY], [MONDAY, [ROPE, CHIN]]]
    less = after(block, context, "remove_exercise", **FIRST, exercise=1)
    assert names(less) == [[[CURL, ROPE], THURSDAY], [MONDAY, THURSDAY]]
    swapped = after(block, context, "swap_exercise", **FIRST, exercise=0, variant=CHIN)
    guide = context.facts[CHIN].variant.guide
    one = swapped.weeks[0].sessions[0].exercises[0]
    assert (one.variant, one.reps_from, one.reps_to, one.sets) == (CHIN, guide.reps_from, guide.reps_to, 3)
    for wrong, right in (
        ({"do": "remove_exercise", **FIRST, "exercise": 3}, "1 to 3"),
        ({"do": "remove_exercise", "week": 2, "session": 0, "exercise": 0}, "1 to 2"),
        ({"do": "remove_exercise", "week": 0, "session": 2, "exercise": 0}, "session"),
        ({"do": "add_exercise", **FIRST, "variant": "flying-curl"}, "flying-curl"),
    ):
        with pytest.raises(BadInputError, match=right):
            edited(block, read_edit(wrong), context.facts)


def test_an_exercises_values_are_set_alone_and_checked(block: Block, context: PlanContext) -> None:
    values = {"sets": 5, "rest_s": 75, "note": "slowly"}
    made = after(block, context, "set_exercise", **FIRST, exercise=1, values=values)
    one, other = made.weeks[0].sessions[0].exercises[1], made.weeks[1].sessions[0].exercises[1]
    assert (one.sets, one.rest_s, one.note, one.reps_from) == (5, 75, "slowly", 8)
    assert other == block.weeks[1].sessions[0].exercises[1]
    for wrong in ({"variant": CHIN}, {"sets": 0}, {"reps_from": 15}):
        with pytest.raises(BadInputError):
            after(block, context, "set_exercise", **FIRST, exercise=1, values=wrong)


def groups(block: Block) -> list[str]:
    return [e.group for e in block.weeks[0].sessions[0].exercises]


def test_what_is_done_together_has_a_letter_and_what_is_alone_has_none(
    block: Block, context: PlanContext
) -> None:
    pair = after(block, context, "group_exercise", **FIRST, exercise=0, together=True)
    assert groups(pair) == ["A", "A", ""]
    three = after(pair, context, "group_exercise", **FIRST, exercise=1, together=True)
    assert groups(three) == ["A", "A", "A"]
    apart = after(three, context, "group_exercise", **FIRST, exercise=0, together=False)
    assert groups(apart) == ["", "A", "A"]
    assert groups(after(pair, context, "group_exercise", **FIRST, exercise=0, together=False)) == ["", "", ""]
    assert groups(after(pair, context, "remove_exercise", **FIRST, exercise=0)) == ["", ""]
    with pytest.raises(BadInputError, match="another follows"):
        after(block, context, "group_exercise", **FIRST, exercise=2, together=True)


def test_weeks_are_copied_added_removed_and_made_easier(block: Block, context: PlanContext) -> None:
    other = after(block, context, "remove_exercise", **FIRST, exercise=0)
    copied = after(other, context, "copy_week", week=0, to=1)
    assert copied.weeks[0] == copied.weeks[1] == other.weeks[0]
    more = after(other, context, "add_week")
    assert names(more) == [*names(other), names(other)[-1]]
    assert names(after(more, context, "remove_week", week=0)) == names(more)[1:]
    easy = after(other, context, "easier_week", week=1).weeks[1]
    assert easy.easier
    assert [e.sets for e in easy.sessions[0].exercises] == [2, 2, 2]
    last = after(block, context, "remove_week", week=1)
    with pytest.raises(BadInputError, match="at least one"):
        after(last, context, "remove_week", week=0)
    full = block
    while len(full.weeks) < MOST_WEEKS:
        full = after(full, context, "add_week")
    with pytest.raises(BadInputError, match="at most 8"):
        after(full, context, "add_week")
    with pytest.raises(BadInputError, match="1 to 2"):
        after(block, context, "copy_week", week=0, to=2)


def test_order_and_warm_ups_as_they_are_due(block: Block, context: PlanContext) -> None:
    placed = after(block, context, "order_session", **FIRST, first="biceps").weeks[0].sessions[0]
    assert placed.exercises[0].variant == CURL
    other = after(block, context, "order_session", **FIRST, first="triceps").weeks[0].sessions[0]
    assert other.exercises[0].variant in (DOWN, ROPE)
    warmed = after(block, context, "warm_up", **FIRST).weeks[0].sessions[0]
    assert warmed.exercises[0].warm_up > 0
    assert [e.variant for e in warmed.exercises] == MONDAY


def test_the_block_itself_and_what_is_said_of_each(block: Block, context: PlanContext) -> None:
    made = after(block, context, "set_block", name="New", low=5.0, minutes=50)
    assert (made.name, made.low, made.minutes, made.high) == ("New", 5.0, 50, block.high)
    assert made.weeks == block.weeks
    for edit, words in (
        ({"do": "move_session", **FIRST, "day": 4}, "Session moved to Friday in week 1"),
        (
            {"do": "add_exercise", **FIRST, "everywhere": True, "variant": CURL},
            "Standing dumbbell curl added in every week",
        ),
        (
            {"do": "swap_exercise", **FIRST, "exercise": 0, "variant": CURL},
            "Standing dumbbell curl instead in week 1",
        ),
        ({"do": "group_exercise", **FIRST, "exercise": 0, "together": False}, "Taken apart in week 1"),
        ({"do": "copy_week", "week": 0, "to": 3}, "Week 1 copied to week 4"),
        ({"do": "add_week"}, "Week added"),
    ):
        assert said(read_edit(edit), context.facts) == words
