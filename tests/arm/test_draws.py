"""Draws of the arm: no deviation is the default arm, and lengths follow the drawn moment arms."""

from __future__ import annotations

import numpy as np
import pytest
from scripts.write_even_draws import FILE, even

from curve_rank.arm.body import SEGMENT_RANGES, Body, between_people
from curve_rank.arm.draws import (
    FIXED,
    FIXED_DRAWS,
    arm_draw,
    as_strong,
    deviates,
    one_off,
    person_deviate,
    read_draws,
    uncertain,
)
from curve_rank.arm.muscle import default_anatomy, head_geometry
from curve_rank.arm.rep_setup import stack_reps
from curve_rank.catalogue.library import built_in
from curve_rank.rating.rep_of_variant import rep_setup


def test_no_deviation_is_the_default_arm_and_lengths_follow_the_drawn_arms() -> None:
    none = arm_draw(np.zeros(len(uncertain())), Body())
    assert none.body == Body(upper_arm_m=Body().upper_arm, forearm_m=Body().forearm, grip_m=Body().grip)
    np.testing.assert_allclose(none.anatomy.elbow_moment_arm.cubic, default_anatomy().elbow_moment_arm.cubic)
    other = arm_draw(deviates(3, 4), Body()).anatomy
    elbow = np.linspace(1, 144, 60)
    held = {"forearm": np.full(60, -40.0), "shoulder": np.full(60, 20.0), "abduction": np.zeros(60)}
    step = 1e-3
    here, ahead = (head_geometry(other, elbow=elbow + d, **held) for d in (0.0, step))
    slope = (ahead.shortening - here.shortening) / np.deg2rad(step)
    np.testing.assert_allclose(slope, here.elbow_moment_arm, atol=2e-6)


def test_moment_arms_are_less_sure_near_straight() -> None:
    # A biceps arm has a spread of 12 %; below 35° the whole spread is 25 %, the published range there.
    angles = {name: np.zeros(2) for name in ("forearm", "shoulder", "abduction")}
    elbow, head = np.array([20.0, 90.0]), default_anatomy().index("biceps_long")
    drawn = [arm_draw(deviates(11, n), Body()).anatomy for n in range(400)]
    arms = np.array([head_geometry(a, elbow=elbow, **angles).elbow_moment_arm[head] for a in drawn])
    near_straight, bent = arms.std(axis=0) / arms.mean(axis=0)
    assert 0.21 < near_straight < 0.29
    assert 0.10 < bent < 0.14


def test_arms_drawn_together_are_read_as_each_alone() -> None:
    kinds = ("standing-barbell-curl", "cable-curl-arm-behind", "band-overhead-extension", "machine-pad-curl")
    kinds += ("bench-press-narrow", "chin-up", "straight-arm-pull-down")
    reps = stack_reps(tuple(rep_setup(v, Body(), samples=21) for v in built_in() if v.id in kinds))
    assert len(reps.setups) == len(kinds)
    arms = [arm_draw(deviates(5, n), Body(forearm_m=0.27)) for n in range(3)]
    how = {"effort": 0.75, "near_loads": np.full(len(kinds), 20.0), "trunk_supported": (False,) * len(kinds)}
    together = read_draws(reps, arms, **how)
    assert together.load.shape == (3, len(kinds))
    for n, arm in enumerate(arms):
        alone = read_draws(reps, [arm], **how)
        for name, values in vars(together).items():
            one = getattr(alone, name)[..., 0, :]
            np.testing.assert_allclose(values[..., n, :], one, 1e-9, 1e-9, err_msg=name)


@pytest.mark.parametrize("name", ["upper_arm_length", "forearm_length", "grip_distance"])
def test_a_rare_draw_of_a_length_stays_one_that_a_body_can_have(name: str) -> None:
    place = uncertain().index(f"body.{name}")
    for spreads in (-12.0, 12.0):
        drawn = arm_draw(one_off(place, spreads), Body()).body
        for field, (low, high) in SEGMENT_RANGES.items():
            assert low <= getattr(drawn, field) <= high


def test_somebody_of_whom_no_set_is_known_is_drawn_as_strong_as_people_of_one_level_are() -> None:
    kinds = ("standing-dumbbell-curl", "bench-press-narrow", "chin-up", "lying-bar-to-forehead")
    reps = stack_reps(tuple(rep_setup(v, Body(), samples=21) for v in built_in() if v.id in kinds))
    how = {"effort": 0.75, "near_loads": np.full(len(kinds), 20.0), "trunk_supported": (False,) * len(kinds)}
    none = np.zeros(len(uncertain()))
    known, said = arm_draw(none, Body()), arm_draw(none, Body(strength_spread=between_people()))
    strong = as_strong(said, 1.5)
    read = read_draws(reps, [known, as_strong(known, 1.5), said, strong], **how).load
    np.testing.assert_allclose(read[1:3], np.stack([read[0], read[0]]), 1e-9)
    really = read_draws(reps, [arm_draw(none, Body(strength=1 + 1.5 * between_people()))], **how).load[0]
    np.testing.assert_allclose(read[3], really, 1e-6)


def test_strengths_of_the_fixed_draws_are_even_and_follow_no_number_of_the_arm() -> None:
    strengths = np.array([person_deviate(FIXED, n) for n in range(FIXED_DRAWS)])
    assert abs(strengths.mean()) < 1e-9
    assert strengths.std() == pytest.approx(1, abs=0.05)
    arms = np.stack([deviates(FIXED, n) for n in range(FIXED_DRAWS)])
    beside = [abs(np.corrcoef(strengths, column)[0, 1]) for column in arms.T]
    assert max(beside) < 0.45
    assert np.mean(beside) < 0.15


def test_the_even_sequence_is_the_one_that_its_script_makes() -> None:
    assert np.array_equal(np.load(FILE), even())
    assert even().shape == (FIXED_DRAWS, len(uncertain()))
    values = np.array([deviates(FIXED, draw) for draw in range(FIXED_DRAWS)])
    assert np.abs(values.mean(axis=0)).max() < 0.1  # even: of independent deviates 0.3 would be no surprise
    assert np.abs(values.std(axis=0) - 1).max() < 0.12
