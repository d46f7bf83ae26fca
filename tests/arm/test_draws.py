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
