"""Sets of a file are found to be a block's sessions, by day and exercises."""

from __future__ import annotations

from datetime import timedelta

from curve_rank.practice.block import Block, Exercise, Session, Week
from curve_rank.training.log import LoggedSet
from curve_rank.training.placing import placed
from tests.training.logged import CHIN, CURL, DOWN, MONDAY, did

WEEK = Week(
    sessions=(
        Session(day=0, exercises=(Exercise(variant=CURL), Exercise(variant=DOWN))),
        Session(day=3, exercises=(Exercise(variant=CHIN), Exercise(variant=DOWN))),
    )
)
BLOCK = Block(name="Two days", targets=("biceps_long",), weeks=(WEEK, WEEK), start=MONDAY)


def at(sets: tuple[LoggedSet, ...]) -> list[tuple[int | None, ...]]:
    return [(one.plan, one.week, one.session, one.place) for one in sets]


def test_a_day_is_the_session_most_of_whose_exercises_were_done_on_it() -> None:
    first = [*did(0, 8, variant=CURL), *did(0, 8, variant=DOWN), *did(0, 8, variant=CHIN)]
    late = [*did(4, 8, variant=DOWN), *did(4, 8, variant=CHIN)]
    assert at(placed(first, BLOCK, 7, ())) == [(7, 0, 0, 0), (7, 0, 0, 1), (None,) * 4]
    assert at(placed(late, BLOCK, 7, ())) == [(7, 0, 1, 1), (7, 0, 1, 0)]
    assert at(placed([*did(7, 8, variant=CURL)], BLOCK, 7, ())) == [(7, 1, 0, 0)]


def test_a_session_is_one_days_and_what_was_logged_already_is_not_taken_again() -> None:
    twice = [*did(0, 8, variant=CURL), *did(1, 8, variant=CURL)]
    assert at(placed(twice, BLOCK, 7, ())) == [(7, 0, 0, 0), (None,) * 4]
    assert at(placed(twice, BLOCK, 7, {(0, 0)})) == [(None,) * 4] * 2


def test_what_is_far_of_another_block_or_without_a_first_day_stays_as_it_is() -> None:
    far = did(20, 8, variant=CURL)
    other = [one.model_copy(update={"plan": 3}) for one in did(0, 8, variant=CURL)]
    assert placed([*far, *other], BLOCK, 7, ()) == (*other, *far)
    undated = BLOCK.model_copy(update={"start": None})
    assert placed(did(0, 8, variant=CURL), undated, 7, ())[0].plan is None
    assert MONDAY + timedelta(days=20) == far[0].day
