"""Set-ups fitted to joints and rooms; a room's real loads."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.practice.limits import Limits, NotFittingError, fit
from curve_rank.practice.rooms import Room, is_a_step, load_down, loads_in
from curve_rank.rating.rep_of_variant import rep_setup

TIGHT = Limits(
    elbow_straight=15, shoulder_back=35, shoulder_overhead=150, shoulder_out=80, palm_up=75, palm_down=70
)


def test_whoever_goes_all_the_way_has_every_variant_as_it_stands() -> None:
    assert all(fit(v, Limits()).variant is v for v in built_in())


def test_nothing_fitted_goes_where_it_hurts_and_what_cannot_be_says_why() -> None:
    fitted, out = 0, 0
    for variant in built_in():
        try:
            posture = rep_setup(fit(variant, TIGHT).variant, Body()).posture
        except NotFittingError:
            out += 1
            continue
        fitted += 1
        assert posture.elbow.min() >= 14.4
        assert posture.shoulder.min() >= -35.6
        assert posture.shoulder.max() <= 150.6
        assert np.abs(posture.abduction).max() <= 80.6
        assert posture.forearm.min() >= -75.6
        assert posture.forearm.max() <= 70.6
    assert fitted > 60
    assert out > 10


def test_a_bench_is_raised_until_the_shoulder_allows_it_in_the_benchs_holes() -> None:
    low = find_variant("reclined-30-dumbbell-curl", built_in())
    held = fit(low, Limits(shoulder_back=40))
    assert held.variant.posture.trunk_pitch == pytest.approx(-40)
    in_holes = fit(low, Limits(shoulder_back=40), Room(bench_deg=(0, 30, 45, 60, 90)))
    assert in_holes.variant.posture.trunk_pitch == pytest.approx(-30)  # 60° from the floor
    assert "no further back" in in_holes.told[0].why
    with pytest.raises(NotFittingError):
        fit(low, Limits(shoulder_back=40), Room(bench_deg=(0, 30)))
    assert fit(low, Limits(), Room(bench_deg=(0, 30))).changes == ()


def test_a_pulley_goes_to_the_nearest_hole_or_not_at_all() -> None:
    press = find_variant("rope-press-down", built_in())
    height = press.lines[0].up  # type: ignore[union-attr]
    near = fit(press, Limits(), Room(pulley_m=(0.2, height - 0.1)))
    assert near.variant.lines[0].up == pytest.approx(height - 0.1)  # type: ignore[union-attr]
    with pytest.raises(NotFittingError):
        fit(press, Limits(), Room(pulley_m=(0.2, 1.0)))


@pytest.mark.parametrize(
    ("variant", "has", "has_not", "under_13"),
    [
        ("standing-dumbbell-curl", (4, 12.5), (13, 5), 12.5),
        ("standing-barbell-curl", (20, 22.5, 25, 30), (21,), 20),
        ("rope-press-down", (5, 10, 60), (7.5, 65), 10),
        ("dip-upright", (0, 2.5, 5, -5), (1,), 12.5),
    ],
)
def test_loads_are_the_rooms_own(
    variant: str, has: tuple[float, ...], has_not: tuple[float, ...], under_13: float
) -> None:
    room = Room(
        dumbbells_kg=(4, 8, 12.5), plates_kg=(1.25, 2.5, 5), stack_from_kg=5, stack_to_kg=60, stack_step_kg=5
    )
    found = find_variant(variant, built_in())
    assert all(is_a_step(room, found, kg) for kg in has)
    assert not any(is_a_step(room, found, kg) for kg in has_not)
    assert load_down(room, found, 13.0) == under_13
    steps = loads_in(room, found)
    assert steps is not None
    assert (np.diff(steps) > 0).all()
