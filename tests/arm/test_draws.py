"""Draws of the arm: no deviation is the default arm, and lengths follow the drawn moment arms."""

from __future__ import annotations

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.arm.draws import arm_draw, deviates, uncertain
from curve_rank.arm.muscle import default_anatomy, head_geometry


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
