"""The catalogue holds every family of set-ups and every common fault that teachers name."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.schema import Variant

ASKED_FOR = (
    # what a teacher would look for, by what the document says, not by its name
    ("a dumbbell curl on each recline", lambda v: v.family == "reclined", 8),
    ("a pad at several angles", lambda v: v.family == "supported" and v.support.surface == "pad", 5),
    ("chest down", lambda v: v.support.surface == "chest_bench" and v.group == "flexors", 3),
    (
        "arm behind the body, cable",
        lambda v: v.equipment.loads == ("cable",) and v.posture.upper_arm < -20,
        2,
    ),
    ("palm down", lambda v: v.group == "flexors" and v.posture.forearm >= 60, 5),
    ("thumb up", lambda v: v.group == "flexors" and abs(v.posture.forearm) < 10, 6),
    ("palm turning through the rep", lambda v: len({k.forearm for k in v.path} - {None}) > 1, 3),
    ("chin-ups and pull-ups", lambda v: v.support.base == "hanging", 4),
    ("press-downs", lambda v: v.family == "press_down", 10),
    ("overhead, one and two arms", lambda v: v.family == "overhead", 12),
    ("lying extensions", lambda v: v.family == "lying", 10),
    ("pull-backs", lambda v: v.family == "arm_behind", 4),
    ("straight-arm work", lambda v: v.coordinate == "shoulder", 4),
    ("dips", lambda v: v.support.base == "dip_support", 2),
    ("push-ups", lambda v: v.support.base == "push_up", 5),
    ("bench presses", lambda v: v.family == "pressing" and v.support.base == "bench_lying", 4),
    ("rows", lambda v: v.family == "pulling" and v.support.base != "hanging", 4),
    ("bands", lambda v: "band" in v.equipment.loads, 5),
    ("a machine", lambda v: "machine" in v.equipment.loads, 1),
    ("an angled bar", lambda v: "angled_bar" in v.equipment.loads, 8),
    ("one arm at a time", lambda v: v.equipment.arms == 1, 5),
)

FAULTS = (
    "drifts forward", "Shoulders", "lift off the pad", "Sits up", "30° short at the bottom",
    "short at the top", "past the slack point", "flare 25°", "Swings the trunk", "Bounces",
    "Bends forward over", "drops 25°",
    "wrist", "too close to the pulley", "too far from the pulley", "one hole too high",
)  # fmt: skip


@pytest.mark.parametrize(
    ("asked", "is_one", "least"), ASKED_FOR, ids=lambda p: p if isinstance(p, str) else ""
)
def test_what_a_teacher_looks_for_is_there(asked: str, is_one: Callable[[Variant], bool], least: int) -> None:
    found = [v.id for v in built_in() if is_one(v)]
    assert len(found) >= least, (asked, found)


@pytest.mark.parametrize("fault", FAULTS)
def test_each_common_fault_stands_somewhere(fault: str) -> None:
    assert any(fault.lower() in f.name.lower() for v in built_in() for f in v.faults), fault


@pytest.mark.parametrize("variant", built_in(), ids=lambda v: v.id)
def test_each_is_written_to_be_used(variant: Variant) -> None:
    assert variant.faults, "no fault written down"
    assert all(len(step) > 8 for step in variant.setup)
    words = (variant.name + " " + variant.summary).lower()
    assert not any(mark in words for mark in ("™", "®", "todo"))
