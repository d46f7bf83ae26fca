"""Today's targets: a weight that nobody knows is found first, and what was found is what comes next."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from curve_rank.practice.block import Block, Exercise, Session, Week
from curve_rank.practice.plan_warnings import PlanContext
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room, is_a_step
from curve_rank.training.log import LoggedSet, bouts
from curve_rank.training.pain import PainState
from curve_rank.training.same_effort import strength_of
from curve_rank.training.today import ExerciseToday, exercises_today, swaps
from tests.training.logged import CURL, MONDAY
from tests.training.quick import planner

BLOCK = Block(
    name="First",
    targets=("biceps_long",),
    weeks=(Week(sessions=(Session(day=0, exercises=(Exercise(variant=CURL, sets=3),)),)),) * 2,
)


@pytest.fixture(scope="module")
def context() -> PlanContext:
    found = planner(ClientProfile()).context()
    return replace(found, facts={key: replace(fact, low_ratio=0.7) for key, fact in found.facts.items()})


def today(context: PlanContext, log: list[LoggedSet], day: int, **loads: float) -> ExerciseToday:
    session = BLOCK.weeks[0].sessions[0]
    by_hand = {key.replace("_", "-"): kg for key, kg in loads.items()}
    (one,) = exercises_today(BLOCK, 0, session, context, log, MONDAY + timedelta(days=day), by_hand)
    return one


def done(first: ExerciseToday, left: int) -> list[LoggedSet]:
    """Its sets, done as they were planned, the last one with so many left as somebody says."""
    return [
        LoggedSet(
            key=f"found-{n:08d}",
            day=MONDAY,
            variant=CURL,
            set=n,
            load_kg=target.load,
            reps=target.reps,
            reserve=left if n == len(first.sets) else target.reserve,
            as_planned=n < len(first.sets),
        )
        for n, target in enumerate(first.sets, 1)
    ]


def test_what_was_found_decides_what_comes_next(context: PlanContext) -> None:
    first = today(context, [], 0)
    assert first.finds
    assert first.target.action == "begin"
    loads = [target.load for target in first.sets]
    assert loads == sorted(loads)
    following = [today(context, done(first, left), 7) for left in (0, 2, 6)]
    assert not any(one.finds for one in following)
    found = [one.sets[0].load for one in following]
    assert found == sorted(found)
    assert found[0] < found[-1]
    for left, one in zip((0, 2, 6), following, strict=True):
        top = done(first, left)[-1]
        assert "Found by set 3" in one.target.reason
        strength = strength_of(top, one.fact)
        assert strength
        # What the sets say is what that strength has left at their load.
        able = one.fact.reps_at((one.sets[0].load - one.fact.base) / strength + one.fact.base)
        assert one.sets[0].reps + one.sets[0].reserve == pytest.approx(able, abs=1)


def test_where_the_next_step_is_too_far_repetitions_carry_it_and_today_says_so(context: PlanContext) -> None:
    far = replace(context, room=Room(dumbbells_kg=(5, 16)))
    sure = replace(far, facts={CURL: replace(context.facts[CURL], low_ratio=0.99, base=0.0, slope=14.0)})
    one = today(sure, [], 0)
    assert {target.load for target in one.sets} == {5}
    assert one.sets[0].reps > 12
    assert "The next weight here is 16 kg, too far: more repetitions than planned." in one.target.reason


def test_a_weight_set_by_hand_is_not_looked_for(context: PlanContext) -> None:
    one = today(context, [], 0, standing_dumbbell_curl=12.0)
    assert not one.finds
    assert {target.load for target in one.sets} == {12.0}


def test_what_stands_instead_has_sets_of_its_own(context: PlanContext) -> None:
    first = today(context, [], 0)
    offered = swaps(first, context, {CURL}, bouts([]), PainState())
    assert offered
    for swap in offered:
        fact = context.facts[swap.variant]
        assert swap.finds
        assert swap.load == max(target.load for target in swap.sets)
        assert all(is_a_step(context.room, fact.variant, target.load) for target in swap.sets)
