"""How long heads get in positions that are held, within somebody's joints."""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.muscle import default_anatomy, head_geometry
from curve_rank.catalogue.stretches import stretch_named, stretches
from curve_rank.errors import UnknownNameError
from curve_rank.figures.held import held_picture
from curve_rank.practice.limits import Limits
from curve_rank.practice.stretching import after, arms, can_be_held, ranked, reaches, within
from curve_rank.study.heads import heads

ARMS = arms()[:8]
FREE = reaches(stretches().values(), Limits(), ARMS)
STIFF = Limits(shoulder_back=20, shoulder_overhead=110, elbow_straight=15, palm_down=40, shoulder_out=60)
BY_ID = {one.stretch.id: one for one in FREE}


def test_there_are_positions_for_every_counted_head_and_each_takes_one_of_its_group_long() -> None:
    assert 8 <= len(stretches()) <= 12
    for head in heads().values():
        if head.counted:
            assert ranked(head.key, FREE)[0].heads[head.key].percent.median > 90
    for one in FREE:
        mine = [key for key, head in heads().items() if head.group == one.stretch.group and head.counted]
        assert max(one.heads[key].percent.median for key in mine) > 90


def test_heads_over_two_joints_ask_for_both_and_the_others_for_the_elbow_alone() -> None:
    behind, front = BY_ID["arm-behind-low-pulley"].heads, BY_ID["straight-arm-palm-down"].heads
    assert behind["biceps_long"].percent.low > front["biceps_long"].percent.high
    assert abs(behind["brachialis"].percent.median - front["brachialis"].percent.median) < 3
    over, across = BY_ID["overhead-other-hand"].heads, BY_ID["across-front-folded"].heads
    assert over["triceps_long"].percent.low > across["triceps_long"].percent.high
    assert across["triceps_lateral"].percent.median >= over["triceps_lateral"].percent.median


def test_nobody_gets_past_what_their_joints_allow() -> None:
    geometry = default_anatomy()
    for limits in (Limits(), STIFF):
        for one in reaches(stretches().values(), limits, (geometry,)):
            held = one.held
            assert held.elbow >= limits.elbow_straight
            assert -limits.shoulder_back <= held.upper_arm <= limits.shoulder_overhead
            assert held.forearm <= limits.palm_down
            for reach in one.heads.values():
                assert reach.percent.median <= reach.longest + 0.5
    stiff = {one.stretch.id: one for one in reaches(stretches().values(), STIFF, ARMS)}
    assert stiff["overhead-band-behind"].nearer
    assert stiff["arm-behind-low-pulley"].heads["biceps_long"].longest < 95
    assert (
        within(stretch_named("across-front-folded").held, Limits())
        == stretch_named("across-front-folded").held
    )


def test_as_few_positions_as_take_every_trained_head_as_long_as_any_does() -> None:
    for trained in (
        ("biceps_long",),
        ("brachialis", "triceps_long"),
        tuple(k for k, h in heads().items() if h.counted),
    ):
        picked = after(trained, FREE)
        best = {key: max(one.heads[key].percent.median for one in FREE) for key in trained}

        def holds(some: tuple[object, ...], key: str, best: dict[str, float] = best) -> bool:
            return any(one.heads[key].percent.median >= best[key] - 2 for one in some)  # type: ignore[attr-defined]

        assert all(holds(picked, key) for key in trained)
        fewer = [
            some for some in combinations(FREE, len(picked) - 1) if all(holds(some, key) for key in trained)
        ]
        assert not fewer
    assert after((), FREE) == ()


def test_what_a_spared_joint_or_a_bare_room_forbids_is_left_out_with_the_reason() -> None:
    over, pulley = BY_ID["overhead-other-hand"], BY_ID["arm-behind-low-pulley"]
    assert "spared" in can_be_held(over, ("shoulder",), ())
    assert "not here" in can_be_held(pulley, (), ("dumbbell",))
    assert can_be_held(pulley, (), ("cable",)) == can_be_held(over, (), ("dumbbell",)) == ""
    with pytest.raises(UnknownNameError, match="overhead-other-hand"):
        stretch_named("splits")


@pytest.mark.parametrize("one", FREE, ids=lambda one: one.stretch.id)
def test_every_position_can_be_drawn(one: object) -> None:
    held = one.held  # type: ignore[attr-defined]
    stretch = one.stretch  # type: ignore[attr-defined]
    percent = {key: reach.percent.median for key, reach in one.heads.items()}  # type: ignore[attr-defined]
    picture = held_picture(stretch.as_setup(held), Body(height=1.6, mass=55), percent, stretch.pull)
    assert {"force", "upper", "skull"} <= {shape.key for shape in picture.shapes}


def test_the_numbers_are_the_models_own_geometry() -> None:
    held = stretch_named("seated-hands-behind").held
    (alone,) = reaches([stretch_named("seated-hands-behind")], Limits(), (default_anatomy(),))
    asked = {
        "elbow": held.elbow,
        "forearm": held.forearm,
        "shoulder": held.upper_arm,
        "abduction": held.abduction,
    }
    percent = head_geometry(default_anatomy(), **{k: np.array([v]) for k, v in asked.items()}).percent[:, 0]
    keys = default_anatomy().keys
    assert [alone.heads[key].percent.median for key in keys] == pytest.approx(percent.tolist())
