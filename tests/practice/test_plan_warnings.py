"""What is wrong with a block: each warning where its cause stands, said with its numbers, and its mend."""

from __future__ import annotations

from dataclasses import replace
from math import floor
from typing import Any

import pytest

from curve_rank.practice.block import Block, checked
from curve_rank.practice.edits import edited
from curve_rank.practice.plan_warnings import PlanContext, PlanWarning, warnings
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room
from tests.training.quick import planner

CURL, DOWN, ROPE, CHIN = "standing-dumbbell-curl", "rope-press-down", "overhead-rope-low-pulley", "chin-up"


@pytest.fixture(scope="module")
def context() -> PlanContext:
    return planner(ClientProfile()).context()


def block_of(*sessions: tuple[int, list[dict[str, Any]]], weeks: int = 1, **told: Any) -> Block:
    week = {"sessions": [{"day": day, "exercises": rows} for day, rows in sessions]}
    plain = {"name": "One", "targets": ["biceps_long"], "minutes": 120, "low": 2, "high": 20}
    return checked(plain | {"weeks": [week] * weeks} | told)


def one(variant: str, **told: Any) -> dict[str, Any]:
    return {"variant": variant, "sets": 3, "warm_up": 5} | told


def of_kind(block: Block, context: PlanContext, kind: str) -> list[PlanWarning]:
    return [each for each in warnings(block, context) if each.kind == kind]


def mended(block: Block, told: PlanWarning, context: PlanContext) -> Block:
    assert told.mend is not None
    return edited(block, told.mend, context.facts)


def test_days_without_a_rest_between(context: PlanContext) -> None:
    block = block_of((0, [one(CURL)]), (1, [one(CURL)]), (4, [one(CURL)]), override="on holiday")
    (told,) = of_kind(block, context, "back_to_back")
    assert told.says == "Monday and Tuesday have no rest day between: “on holiday”."
    assert told.mend is None
    bare = block.model_copy(update={"override": ""})
    (told,) = of_kind(bare, context, "back_to_back")
    assert (told.says, told.session) == ("Monday and Tuesday have no rest day between.", 1)
    assert told.mend_says == "Move it to Wednesday"
    assert [s.day for s in mended(bare, told, context).weeks[0].sessions] == [0, 2, 4]
    full = replace(context, profile=ClientProfile(days=(0, 1, 4)))
    assert of_kind(bare, full, "back_to_back")[0].mend is None


def test_days_on_which_nobody_comes_or_that_lie_beside_rows_and_presses(context: PlanContext) -> None:
    whose = replace(context, profile=ClientProfile(days=(0, 2, 4, 5), pulling_days=(5,)))
    block = block_of((1, [one(CURL)]), (4, [one(CURL)]))
    (told,) = of_kind(block, whose, "cannot_come")
    assert (told.says, told.mend_says) == ("Tuesday is no day on which they can come.", "Move it to Monday")
    moved = mended(block, told, whose)
    assert [s.day for s in moved.weeks[0].sessions] == [0, 4]
    (busy,) = of_kind(moved, whose, "busy_day")
    assert (busy.says, busy.session) == ("Friday lies on, before or after rows and presses.", 1)
    after = mended(moved, busy, whose)
    assert [s.day for s in after.weeks[0].sessions] == [0, 2]
    kinds = {each.kind for each in warnings(after, whose)}
    assert not kinds & {"cannot_come", "busy_day", "back_to_back"}
    only = replace(context, profile=ClientProfile(days=(1, 4), pulling_days=(5,)))
    assert of_kind(block, only, "busy_day") == []  # nothing better is there


def test_hard_sets_a_week_at_their_bounds(context: PlanContext) -> None:
    share = context.facts[CURL].counts["biceps_long"]
    block = block_of((0, [one(CURL, sets=4)]), low=4 * share, high=4 * share)
    assert of_kind(block, context, "weekly_sets") == []
    low = block.model_copy(update={"low": 4 * share + 0.1, "high": 20.0})
    (told,) = of_kind(low, context, "weekly_sets")
    assert told.says == f"Biceps long head: {4 * share:.1f} hard sets a week, under {4 * share + 0.1:g}."
    assert mended(low, told, context).weeks[0].sessions[0].exercises[0].sets == 5
    high = block.model_copy(update={"low": 0.0, "high": 4 * share - 0.1})
    (told,) = of_kind(high, context, "weekly_sets")
    assert told.mend_says == "Bring all sets into the range"
    assert mended(high, told, context).weeks[0].sessions[0].exercises[0].sets == 3
    narrow = block.model_copy(update={"low": 4.2 * share, "high": 4.4 * share})
    (told,) = of_kind(narrow, context, "weekly_sets")  # four are too few, and five too many
    assert told.says.endswith("Sets alone cannot bring it in, within the minutes and for all heads.")
    assert told.mend_says == f"Let the range begin at {floor(4 * share)}"
    assert of_kind(mended(narrow, told, context), context, "weekly_sets") == []
    two = block_of((0, [one(CURL, sets=5), one(CHIN, sets=5)]), (3, [one(CURL, sets=5)]), low=2, high=9)
    assert len(of_kind(two, context, "weekly_sets")) == 1  # one click for all of them, none taken out
    after = mended(two, of_kind(two, context, "weekly_sets")[0], context)
    assert of_kind(after, context, "weekly_sets") == []
    assert [len(s.exercises) for s in after.weeks[0].sessions] == [2, 1]
    easy = low.weeks[0].model_copy(update={"easier": True})
    assert of_kind(low.model_copy(update={"weeks": (easy,)}), context, "weekly_sets") == []


def test_light_sets_are_due_before_the_first_of_each_group(context: PlanContext) -> None:
    block = block_of((0, [one(CURL, warm_up=1), one(DOWN, warm_up=0)]))
    (told,) = of_kind(block, context, "no_warm_up")  # said once a session, of the first
    assert told.says == "Monday: Standing dumbbell curl begins with 1 light sets; 2 are due."
    sets = [e.warm_up for e in mended(block, told, context).weeks[0].sessions[0].exercises]
    assert sets == [2, 3]


def test_minutes_over_what_is_there(context: PlanContext) -> None:
    block = block_of((0, [one(CURL, sets=5), one(DOWN, sets=4)]), minutes=15)
    (told,) = of_kind(block, context, "minutes")
    assert told.says.endswith(" minutes, 15 are there.")
    after = mended(block, told, context)
    assert of_kind(after, context, "minutes") == []
    assert [e.variant for e in after.weeks[0].sessions[0].exercises] == [CURL, DOWN]
    room = block_of((0, [one(CURL, sets=5), one(DOWN, sets=4)]), minutes=24)
    (fewer,) = of_kind(room, context, "minutes")
    assert fewer.mend_says == "Fewer sets, as the range allows"
    assert of_kind(mended(room, fewer, context), context, "minutes") == []
    few = block_of((0, [one(CURL, sets=2), one(DOWN, sets=2)]), minutes=10)
    (told,) = of_kind(few, context, "minutes")
    taken = int(told.says.split()[1])
    assert told.mend_says in (f"Let a session take {minutes} minutes" for minutes in (taken, taken + 1))
    assert of_kind(mended(few, told, context), context, "minutes") == []
    enough = few.model_copy(update={"minutes": taken})
    assert of_kind(enough, context, "minutes") == []


def test_one_cable_for_two_at_once(context: PlanContext) -> None:
    small = replace(context, room=Room(name="Small", stations=1))
    block = block_of((0, [one(DOWN, group="A"), one(ROPE, group="A")]))
    (told,) = of_kind(block, small, "equipment_twice")
    names = " and ".join(context.facts[key].variant.name.lower() for key in (DOWN, ROPE))
    assert told.says == f"Monday: {names} need the same equipment at once."
    assert [e.group for e in mended(block, told, small).weeks[0].sessions[0].exercises] == ["", ""]
    assert of_kind(block_of((0, [one(DOWN), one(ROPE)])), small, "equipment_twice") == []


def test_what_somebody_cannot_do_has_not_or_should_spare(context: PlanContext) -> None:
    block = block_of((0, [one(CURL)]))
    cannot = replace(context, left_out={CURL: "asks for more than the elbow bends"})
    (told,) = of_kind(block, cannot, "unfit")
    assert told.says == "Monday: Standing dumbbell curl asks for more than the elbow bends."
    bare = replace(context, room=Room(name="The shed", equipment=("cable", "no_bench")))
    (told,) = of_kind(block, bare, "unavailable")
    assert told.says == "Monday: Standing dumbbell curl needs what The shed has not."
    other = mended(block, told, bare).weeks[0].sessions[0].exercises[0].variant
    assert bare.may(bare.facts[other])
    heavy = replace(context, room=Room(name="The shed", dumbbells_kg=(60, 70)))
    (told,) = of_kind(block, heavy, "step")
    assert told.says == "Monday: Standing dumbbell curl: the lightest load in The shed is too heavy."
    sore = next(key for key, fact in context.facts.items() if fact.strain["shoulder"] > 0.5)
    sparing = replace(context, profile=ClientProfile(spare=("shoulder",)))
    (told,) = of_kind(block_of((0, [one(sore)])), sparing, "spared_joint")
    assert told.says.endswith(" strains the shoulders, which is to be spared.")


def test_equal_weeks_are_looked_at_once_and_what_is_not_loaded_is_said_with_what_would(
    context: PlanContext,
) -> None:
    block = block_of((0, [one(DOWN)]), (3, [one(DOWN), one(ROPE)]), weeks=3)
    told = of_kind(block, context, "uncovered")
    assert [each.week for each in told] == [0, 0]
    assert [each.says for each in told] == [
        f"Nothing loads the biceps long head {length}." for length in ("long", "short")
    ]
    after = mended(block, told[0], context)
    assert all(len(week.sessions[0].exercises) == 2 for week in after.weeks)  # put where the fewest are
    assert told[0].says not in [each.says for each in warnings(after, context)]


def test_the_same_curve_three_times(context: PlanContext) -> None:
    fact = context.facts[CURL]
    alike = [key for key, other in context.facts.items() if other.alike(fact)][:3]
    assert len(alike) == 3
    block = block_of((0, [one(key) for key in alike]))
    (told,) = of_kind(block, context, "same_curve")
    assert told.says.startswith("The same curve 3 times: ")
    assert told.mend_says.startswith("Put ")
    after = mended(block, told, context)
    assert len(after.weeks[0].sessions[0].exercises) == 3
    assert of_kind(after, context, "same_curve") == []
    assert of_kind(block_of((0, [one(key) for key in alike[:2]])), context, "same_curve") == []
