"""A room's steps in kilograms and pounds, as they are marked, and loads that read alike."""

from __future__ import annotations

from datetime import timedelta

import pytest

from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.practice.rooms import Room, loads_in, on_step, plates_for, room_in_pounds
from curve_rank.practice.units import KG_PER_LB, mass_shown
from curve_rank.training.log import bouts
from curve_rank.training.progression import Range, next_target
from tests.training.logged import CURL, DOWN, MONDAY, did

FIVES = Room(stack_from_kg=5, stack_to_kg=60, stack_step_kg=5)
PRESS_DOWN, DUMBBELLS = find_variant(DOWN, built_in()), find_variant(CURL, built_in())
BAND, BOTH = (find_variant(key, built_in()) for key in ("band-standing-curl", "dumbbell-band-curl"))
BAR = next(v for v in built_in() if "barbell" in v.equipment.loads)


def test_pounds_that_read_like_a_pin_are_that_pin() -> None:
    assert on_step(FIVES, PRESS_DOWN, 33 * KG_PER_LB) == 15
    assert on_step(FIVES, PRESS_DOWN, 34 * KG_PER_LB) == pytest.approx(34 * KG_PER_LB)
    assert on_step(None, PRESS_DOWN, 14.0) == 14.0


@pytest.mark.parametrize("reps", [12, 9])
def test_nothing_is_ever_0_lb_more(reps: int) -> None:
    """Three sets of 33 lb on a stack that says 15 kg: the same weight, or the next pin."""
    log = did(0, reps, reps, reps, load=33 * KG_PER_LB, variant=DOWN)
    today = MONDAY + timedelta(days=3)
    found = next_target(bouts(log)[DOWN], PRESS_DOWN, Range(3, 8, 12), Room(), today, unit="lb")
    assert found.load == (17.5 if reps == 12 else 15)
    assert ("5.5 lb more" in found.reason) == (reps == 12)


def test_a_room_in_pounds_has_pounds_and_says_them() -> None:
    room = room_in_pounds("Barn")
    dumbbells, stack = loads_in(room, DUMBBELLS), loads_in(room, PRESS_DOWN)
    assert dumbbells is not None
    assert stack is not None
    assert [round(kg / KG_PER_LB, 3) for kg in dumbbells[:3]] == [2.5, 5, 7.5]
    assert [round(kg / KG_PER_LB, 3) for kg in stack[:2]] == [5, 10]
    assert plates_for(room, DUMBBELLS, 25 * KG_PER_LB).endswith("of 25 lb")
    assert plates_for(room, PRESS_DOWN, 40 * KG_PER_LB) == "pin at 40 lb"
    assert plates_for(room, BAR, 65 * KG_PER_LB) == "bar 45 lb, each side 10"
    assert mass_shown(65 * KG_PER_LB, "lb") == "65 lb"


def test_bands_are_what_they_pull_at_a_length_one_or_two_together() -> None:
    home = Room(bands_kg=(4, 6, 10), dumbbells_kg=(6.5, 13))
    steps, mixed = loads_in(home, BAND), loads_in(home, BOTH)
    assert steps is not None
    assert mixed is not None
    assert list(steps) == [4, 6, 10, 14, 16]
    assert list(mixed) == pytest.approx([10, 20])
    assert loads_in(Room(), BAND) is None
    assert plates_for(home, BAND, 10) == "a band that pulls 10 kg at 1.3 m"
    assert plates_for(home, BAND, 14) == "bands 4 + 10 kg, which pull 14 kg at 1.3 m"
    assert plates_for(home, BOTH, 10) == "two dumbbells of 6.5 kg and a band that pulls 3.5 kg at 1.4 m"


def test_help_and_added_weight_are_what_stands_in_the_room() -> None:
    dip = find_variant("dip-upright", built_in())
    bare = Room(name="Bare", equipment=("body_weight", "dip_bars"))
    assert loads_in(bare, dip).tolist() == [0.0]  # type: ignore[union-attr]
    shed = Room(name="Shed", equipment=("body_weight", "dip_bars", "dumbbell"), dumbbells_kg=(5, 10))
    assert loads_in(shed, dip).tolist() == [0.0, 5.0, 10.0]  # type: ignore[union-attr]
    assert plates_for(shed, dip, 10.0) == "hang the dumbbell of 10 kg from the belt"
    gym = Room(name="Gym")
    there = loads_in(gym, dip)
    assert there is not None
    assert there[0] < 0 < there[-1]
    assert plates_for(gym, dip, 12.5) == "hang 10 + 2.5 kg from the belt"
