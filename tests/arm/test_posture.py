"""Frames of trunk and room, axes of the arm, and postures that cannot be."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from curve_rank.arm.body import Body
from curve_rank.arm.posture import arm_frame, room_to_trunk, trunk_to_room
from tests.helpers import posture

BODY = Body()
angles = st.floats(-80, 80)


@given(pitch=angles, roll=angles, x=st.floats(-2, 2), y=st.floats(0, 2), z=st.floats(-2, 2))
def test_room_and_trunk_frames_are_inverse(pitch: float, roll: float, x: float, y: float, z: float) -> None:
    at = posture(trunk_pitch=pitch, trunk_roll=roll)
    point = np.array([x, y, z])
    back = trunk_to_room(room_to_trunk(point, at, BODY, 0.9), at, BODY, 0.9)
    np.testing.assert_allclose(back[:, 0], point, atol=1e-12)


def test_axes_stay_square_and_the_palm_turns_as_named() -> None:
    at = posture(
        shoulder=[0, 40, 120],
        abduction=[0, 30, 80],
        rotation=[0, -50, 70],
        elbow=[90, 20, 130],
        forearm=[-90, 10, 60],
    )
    frame = arm_frame(at, BODY)
    for a, b in (("upper_arm", "elbow_axis"), ("forearm", "bend"), ("palm", "thumb"), ("forearm", "palm")):
        assert np.abs((getattr(frame, a) * getattr(frame, b)).sum(axis=0)).max() < 1e-12
    np.testing.assert_allclose(frame.palm[:, 0], [0, 1, 0], atol=1e-12)  # forearm level, palm up
    np.testing.assert_allclose(frame.thumb[:, 0], [0, 0, 1], atol=1e-12)  # thumb out to the right
