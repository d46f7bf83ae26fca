"""Blocks of made-up clients keep every rule; edits, mends and what falls with fatigue."""

from __future__ import annotations

import random
from dataclasses import replace

import numpy as np
import pytest

from curve_rank.catalogue.equipment import lacking
from curve_rank.errors import BadInputError
from curve_rank.practice.block import Block, Exercise, Session, back_to_back, checked
from curve_rank.practice.edit_kinds import read_edit
from curve_rank.practice.edits import edited, said
from curve_rank.practice.finishers import finish
from curve_rank.practice.limits import Limits
from curve_rank.practice.make_block import BlockWish, place_days
from curve_rank.practice.plan_warnings import PlanContext, warnings
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room, is_a_step
from curve_rank.practice.session import (
    fall_per_set,
    freshness,
    seconds_of,
    set_targets,
    warm_up_due,
    why_beyond,
)
from curve_rank.practice.weekly_sets import heads_of_week
from curve_rank.rating.joints import spare_above
from curve_rank.rating.lenses import lenses
from curve_rank.study.schemes import schemes
from curve_rank.training.planning import session_plan
from tests.helpers import modelled
from tests.training.quick import GYM, HOME, picks_for, planner

LIMITS = (Limits(), Limits(shoulder_back=30, shoulder_overhead=140), Limits(elbow_straight=15, palm_up=70))
TARGETS = (("biceps_long", "triceps_long"), ("brachialis",), ("flexors", "triceps_lateral"))
SPARE: tuple[tuple[str, ...], ...] = ((), ("elbow",), ("shoulder", "wrist"))
JOINTS = ((LIMITS[0], SPARE[0]), (LIMITS[1], SPARE[1]), (LIMITS[2], SPARE[2]), (LIMITS[2], SPARE[1]))
"""What somebody cannot do, with what they spare; a set for each is chosen once."""


def somebody(rng: random.Random) -> tuple[ClientProfile, Room, BlockWish]:
    """A client, a room and a wish at random."""
    per_week = rng.choice((1, 2, 3, 3, 4))
    limits, spare = rng.choice(JOINTS)
    profile = ClientProfile(
        targets=rng.choice(TARGETS),
        spare=spare,
        limits=limits,
        minutes=rng.choice((30, 40, 55, 75)),
        days=tuple(sorted(rng.sample(range(7), rng.randint(5, 7)))),
        pulling_days=tuple(rng.sample(range(7), rng.randint(0, 2))),
        pressing_days=tuple(rng.sample(range(7), rng.randint(0, 2))),
    )
    wish = BlockWish(
        weeks=rng.randint(3, 6),
        per_week=per_week,
        first=rng.choice(("triceps", "biceps", "alternate")),
        kind=rng.choice(("straight", "ramp", "pyramid")),
        rotate=rng.random() < 0.4,
        stretches=rng.random() < 0.3,
        last=rng.choice(("same", "easier", "swap")),
        override="two sessions missed" if per_week == 4 or rng.random() < 0.1 else "",
    )
    return profile, rng.choice((HOME, GYM)), wish


STACK_OF_FIVES = Room(
    name="Fives", dumbbells_kg=(2.5, 5, 7.5, 10, 15, 20), stack_from_kg=5, stack_to_kg=80, stack_step_kg=5
)


def made_for(profile: ClientProfile, room: Room, wish: BlockWish) -> tuple[Block, PlanContext] | None:
    bare = ClientProfile(limits=profile.limits).model_dump_json()
    try:
        picks = picks_for(profile.targets, profile.spare, bare, room.name)
        plan = planner(profile, room)
        return plan.make(picks, wish, "long_length"), plan.context()
    except BadInputError:
        return None


def test_blocks_of_forty_clients_keep_every_rule() -> None:
    rng, made = random.Random(11), 0
    for _ in range(40):
        profile, room, wish = somebody(rng)
        found = made_for(profile, room, wish)
        if found is None:
            continue
        made += 1
        block, context = found
        told = warnings(block, context)
        kinds = {one.kind for one in told}
        assert made % 10 or made_for(profile, room, wish) == found  # the same for the same, now and then
        wrong = {"unfit", "unavailable", "spared_joint", "step", "minutes", "equipment_twice", "order"}
        assert not kinds & (wrong | {"no_warm_up", "same_curve"})
        for w, week in enumerate(block.weeks):
            days = tuple(s.day for s in week.sessions)
            assert set(days) <= set(profile.days)
            assert not back_to_back(days) or block.override
            sets = heads_of_week(week, context.facts, profile)
            outside = [h for h, one in sets.items() if not block.low <= one.sets <= block.high]
            mine = [h for h in outside if h in profile.targets and not week.easier]
            assert not mine or "weekly_sets" in kinds
            for session in week.sessions:
                assert _fits(session, block, context)
                due = warm_up_due(session, context.facts)
                assert week.easier or all(e.warm_up >= n for e, n in zip(session.exercises, due, strict=True))
                for one, done in zip(
                    session.exercises, session_plan(block, w, session, context, {}), strict=True
                ):
                    fact = context.facts[one.variant]
                    assert all(fact.strain[j] <= spare_above() for j in profile.spare)
                    assert context.there(fact)
                    assert done is not None
                    light = [t for t in done.warm_up if t.load]  # without a weight where none is lighter
                    assert all(is_a_step(room, fact.variant, t.load) for t in (*light, *done.sets))
                    reps = [t.reps for t in done.sets]
                    if one.kind == "straight":
                        assert reps == sorted(reps, reverse=True)
                        assert len({t.load for t in done.sets}) == 1
    assert made == 40


def _fits(session: Session, block: Block, context: PlanContext) -> bool:
    return seconds_of(session, context.facts, stretches=block.stretches) <= 60 * block.minutes + 30


@pytest.fixture(scope="module")
def context() -> PlanContext:
    return planner(ClientProfile()).context()


@pytest.fixture
def block() -> Block:
    found = made_for(ClientProfile(minutes=60), GYM, BlockWish())
    assert found
    return found[0]


def test_repetitions_fall_with_sets_rest_and_what_went_before(context: PlanContext) -> None:
    fact = context.facts["standing-dumbbell-curl"]
    short, long = (
        set_targets(Exercise(variant=fact.variant.id, sets=4, rest_s=rest), fact, GYM) for rest in (45, 180)
    )
    assert short[-1].load < long[-1].load  # less rest, a lighter load for the same range
    assert all(t.reps >= 8 for t in (*short, *long))
    alone = Session(day=0, exercises=(Exercise(variant="reclined-60-dumbbell-curl"),))
    after = Session(day=0, exercises=(Exercise(variant="standing-dumbbell-curl", sets=5), *alone.exercises))
    other = Session(day=0, exercises=(Exercise(variant="rope-press-down", sets=5), *alone.exercises))
    fresh = [freshness(s, context.facts)[-1] for s in (alone, other, after)]
    assert fresh[0] == fresh[1] == 1.0
    assert fresh[2] < 1.0
    pair = after.model_copy(
        update={"exercises": tuple(e.model_copy(update={"group": "A"}) for e in after.exercises)}
    )
    assert freshness(pair, context.facts)[-1] < fresh[2]


def test_kinds_of_sets_climb_and_fall(context: PlanContext) -> None:
    fact = context.facts["standing-dumbbell-curl"]
    ramp = set_targets(Exercise(variant=fact.variant.id, kind="ramp", sets=4, rest_s=120), fact, GYM)
    assert [t.reps for t in ramp] == [12, 11, 9, 8]
    assert [t.load for t in ramp] == sorted(t.load for t in ramp)
    for by_hand in (8, 10, 14):  # far lighter than planned, as after a week away: it still rises
        low = set_targets(
            Exercise(variant=fact.variant.id, kind="ramp", sets=4, rest_s=120), fact, GYM, load=by_hand
        )
        assert [t.load for t in low] == sorted({t.load for t in low})
        assert low[-1].load == by_hand
    up_down = set_targets(Exercise(variant=fact.variant.id, kind="pyramid", sets=5, rest_s=120), fact, GYM)
    assert [t.reps for t in up_down] == [12, 10, 8, 10, 12]
    loads = [t.load for t in up_down]
    assert loads[:3] == sorted(set(loads[:3]))
    assert loads[2:] == sorted(set(loads[2:]), reverse=True)
    own = set_targets(Exercise(variant=fact.variant.id), fact, GYM, load=14.0)
    assert {t.load for t in own} == {14.0}


@pytest.mark.parametrize("room", [GYM, HOME, STACK_OF_FIVES], ids=lambda room: room.name)
@pytest.mark.parametrize("reserve", [4, 2, 1])
def test_load_repetitions_and_what_is_left_are_one_statement(
    context: PlanContext, room: Room, reserve: int
) -> None:
    """What a set leaves at its load is what it says, whichever step the room has nearest."""
    off, over = [], []
    for fact in context.facts.values():
        if lacking(fact.variant, room.equipment):
            continue
        one = Exercise(variant=fact.variant.id, sets=3)
        sets = set_targets(one, fact, room, reserve=reserve)
        for n, target in enumerate(sets):
            able = fact.reps_at(target.load) * (1 - fall_per_set(one.rest_s)) ** n
            off.append(min(able, target.reps + 10) - target.reps - target.reserve)
        model = fact.load_for(sets[0].reps + sets[0].reserve, low=False)
        over.append((sets[0].load + fact.on_hands) / (model + fact.on_hands))
        heavier = set_targets(one, fact, room, reserve=max(reserve - 3, 0))
        assert heavier[0].load >= sets[0].load
    assert np.abs(off).max() <= 1
    assert 0.97 <= np.median(over) <= max(over) <= 1.03  # less only where a step is too far


def test_the_nearest_step_is_taken_but_not_far_over_the_middle(context: PlanContext) -> None:
    fact = replace(context.facts["rope-press-down"], base=0.0, slope=40.0, on_hands=0.0, low_ratio=0.8)
    room = Room(stack_from_kg=5, stack_to_kg=60, stack_step_kg=5)
    assert fact.load_for(10, low=False) == pytest.approx(30)
    assert fact.load_near(room, 10) == 30
    assert fact.load_near(room, 8) == 30  # 31.6 kg: 30 is nearer
    assert fact.load_near(room, 6) == 35  # 33.3 kg
    sure = replace(fact, low_ratio=0.95)
    assert sure.load_near(room, 6) == 30  # 35 is further over than half of what is uncertain
    far = Room(stack_from_kg=10, stack_to_kg=60, stack_step_kg=25)
    sets = set_targets(Exercise(variant=fact.variant.id, sets=2), sure, far)
    # 10 kg goes 90 times, 35 kg 4 times: repetitions carry what the step cannot, and say what is left.
    assert [(t.load, t.reps, t.reserve) for t in sets] == [(10, 18, 10), (10, 18, 10)]
    planned = Exercise(variant=fact.variant.id, sets=2)
    assert why_beyond(planned, sets, sure, far, "kg").startswith("The next weight here is 35 kg, too far")
    by_hand = set_targets(planned, sure, far, load=10)
    assert [t.reps for t in by_hand] == [12, 12]  # a coach's own load keeps to the range
    assert why_beyond(planned, by_hand, sure, far, "kg") == ""


def test_days_have_a_rest_between_and_leave_rows_and_presses_alone() -> None:
    assert place_days(ClientProfile(pulling_days=(0,), pressing_days=(3,)), 2) in (
        (1, 5),
        (2, 5),
        (1, 4),
        (0, 3),
    )
    with pytest.raises(BadInputError, match="rest day between"):
        place_days(ClientProfile(days=(0, 1, 2)), 3)
    with pytest.raises(BadInputError, match="rest day between"):
        place_days(ClientProfile(), 4)  # Sunday and Monday are neighbours
    assert len(place_days(ClientProfile(), 4, override=True)) == 4


def test_every_warning_has_a_mend_that_mends_it(block: Block, context: PlanContext) -> None:
    curls = ("standing-dumbbell-curl", "pad-45-dumbbell-curl", "standing-barbell-curl")
    broken = block.model_dump() | {
        "weeks": [
            {
                "sessions": [
                    {"day": 0, "exercises": [{"variant": key, "sets": 4} for key in curls]},
                    {
                        "day": 1,
                        "exercises": [
                            {"variant": "overhead-rope-low-pulley", "group": "A"},
                            {"variant": "rope-press-down", "group": "A", "sets": 5},
                        ],
                    },
                ]
            }
        ],
        "minutes": 25,
    }
    one_cable = PlanContext(context.facts, ClientProfile(spare=("elbow",)), Room(name="Small"), {})
    state = checked(broken)
    seen: set[str] = set()
    for _ in range(40):
        told = [one for one in warnings(state, one_cable) if one.mend is not None]
        seen |= {one.kind for one in told}
        if not told:
            break
        first = told[0]
        after = edited(state, first.mend, context.facts)  # type: ignore[arg-type]
        assert after != state, first
        still = [one.says for one in warnings(after, one_cable) if one.kind == first.kind]
        assert first.says not in still, first
        state = after
    assert {"back_to_back", "no_warm_up", "equipment_twice", "uncovered", "spared_joint"} <= seen
    assert len(seen) >= 6


def random_edit(rng: random.Random, block: Block, keys: list[str]) -> dict[str, object]:
    """An edit that may or may not be possible."""
    week = rng.randrange(len(block.weeks))
    session = rng.randrange(len(block.weeks[week].sessions))
    place = {"week": week, "session": session, "everywhere": rng.random() < 0.5}
    exercise = rng.randrange(6)
    return rng.choice(
        [
            {"do": "move_session", **place, "day": rng.randrange(7)},
            {
                "do": "move_exercise",
                **place,
                "exercise": exercise,
                "to_session": rng.randrange(3),
                "to": exercise,
            },
            {"do": "add_exercise", **place, "variant": rng.choice(keys)},
            {"do": "remove_exercise", **place, "exercise": exercise},
            {"do": "swap_exercise", **place, "exercise": exercise, "variant": rng.choice(keys)},
            {"do": "set_exercise", **place, "exercise": exercise, "values": {"sets": rng.randint(1, 6)}},
            {"do": "group_exercise", **place, "exercise": exercise, "together": rng.random() < 0.5},
            {"do": "order_session", **place, "first": "biceps"},
            {"do": "warm_up", **place},
            {"do": "copy_week", "week": week, "to": rng.randrange(5)},
            {"do": "add_week"},
            {"do": "remove_week", "week": week},
            {"do": "easier_week", "week": week},
            {"do": "set_block", "low": float(rng.randint(2, 9)), "name": f"Block {rng.randrange(99)}"},
        ]
    )


def test_edits_give_whole_blocks_or_say_what_is_wrong(block: Block, context: PlanContext) -> None:
    rng, done, refused = random.Random(5), 0, 0
    keys = sorted(context.facts)
    for n in range(300):
        try:
            made = read_edit(random_edit(rng, block, keys))
            after = edited(block, made, context.facts)
        except BadInputError:
            refused += 1
            continue
        assert checked(after.model_dump()) == after
        assert said(made, context.facts)
        if n % 10 == 0:
            warnings(after, context)
        block, done = after, done + 1
    assert done > 110
    assert refused > 20
    for wrong in ({"do": "fly"}, {"do": "move_session"}, [], {"do": "add_week", "x": 1}):
        with pytest.raises(BadInputError):
            read_edit(wrong)


def test_weekly_sets_count_shares_and_what_is_done_elsewhere(context: PlanContext) -> None:
    week = Block(
        name="x",
        targets=("biceps_long",),
        weeks=(
            {"sessions": ({"day": 0, "exercises": ({"variant": "standing-dumbbell-curl", "sets": 4},)},)},
        ),  # type: ignore[arg-type]
    ).weeks[0]
    alone = heads_of_week(week, context.facts, ClientProfile())
    rows = heads_of_week(week, context.facts, ClientProfile(pulling_days=(1, 4), pulling_sets=5))
    assert alone["biceps_long"].sets == pytest.approx(
        4 * context.facts["standing-dumbbell-curl"].counts["biceps_long"]
    )
    assert 0 < rows["biceps_long"].elsewhere <= 10
    assert rows["biceps_long"].here == alone["biceps_long"].here
    assert np.isclose(rows["brachialis"].sets, rows["brachialis"].here + rows["brachialis"].elsewhere)


def test_a_tempo_takes_its_time_and_a_finisher_says_where_it_adds(context: PlanContext) -> None:
    curl = "standing-dumbbell-curl"
    slow, own = (
        Session(day=0, exercises=(Exercise(variant=curl, tempo=tempo),)) for tempo in ("5-2-1-0", "")
    )
    fact = context.facts[curl]
    more = seconds_of(slow, context.facts) - seconds_of(own, context.facts)
    assert more == pytest.approx(3 * 10 * (8 - fact.seconds))
    with pytest.raises(ValueError, match="a tempo"):
        Exercise(variant=curl, tempo="slowly")
    found = {
        key: finish(modelled("pad-45-dumbbell-curl"), scheme, "biceps_long", 10)
        for key, scheme in schemes().items()
    }
    assert {one.most for one in found.values()} >= {"long"}
    assert all(one.says.startswith(schemes()[key].name) for key, one in found.items())
    lowering = next(one for key, one in found.items() if "lower" in key)
    assert max(lowering.times.values()) > 1


def test_a_pool_has_nothing_that_the_rooms_steps_do_not_fit() -> None:
    """A stack that begins at 40 kg by forties, and light dumbbells: no cable curl for eight to twelve."""
    coarse = Room(name="Coarse", dumbbells_kg=(4, 6, 8, 10, 12, 14), stack_from_kg=40, stack_step_kg=40)
    here = planner(ClientProfile(targets=("biceps_long", "triceps_long")), coarse)
    facts = here.context().facts
    pool = here.pool(lenses()["long_length"], BlockWish())
    assert len(pool) == len(set(pool)) == 10
    for key in pool:
        fact = facts[key]
        reps = fact.reps_at(fact.load_near(coarse, fact.variant.guide.reps_to))
        assert fact.variant.guide.reps_from - 4 <= reps <= fact.variant.guide.reps_to + 8, key
    assert len(here.pool(lenses()["long_length"], BlockWish(vary=False))) <= 6
