"""Hand paths and the arm that follows them."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from curve_rank.arm.body import Body
from curve_rank.arm.hand_path import HandTrack, arm_angles, sampled
from curve_rank.arm.posture import Posture, arm_frame
from curve_rank.errors import PostureError

BODY = Body()
ARM = BODY.upper_arm + BODY.forearm + BODY.grip


def path(
    points: list[tuple[float, float, float]], towards: tuple[float, float, float], flare: float = 0.0
) -> HandTrack:
    count = len(points)
    return HandTrack(
        np.array(points, dtype=float).T,
        np.repeat(np.array([towards]).T, count, axis=1),
        np.full(count, flare),
    )


@given(
    forward=st.floats(-0.5, 0.9), up=st.floats(-0.9, 0.9), out=st.floats(-0.2, 0.6), flare=st.floats(-60, 90)
)
@settings(max_examples=150)
def test_the_hand_is_where_the_path_says(forward: float, up: float, out: float, flare: float) -> None:
    reach = float(np.hypot(np.hypot(forward, up), out))
    assume(0.35 < reach < 0.995)
    point = path([(forward, up, out)], (-0.3, -1.0, 0.4), flare)
    angles = arm_angles(point, BODY, check=False)
    zeros = np.zeros(1)
    posture = Posture(**vars(angles), forearm=zeros - 30, wrist=zeros, trunk_pitch=zeros, trunk_roll=zeros)
    grip = arm_frame(posture, BODY).grip[:, 0]
    np.testing.assert_allclose(grip, ARM * np.array([forward, up, out]), atol=1e-6)
    assert 0 <= angles.elbow[0] <= 145


def test_the_elbows_axis_stays_continuous_as_the_arm_comes_straight() -> None:
    out = [(0.2 + 0.0079 * n, -0.5, 0.1) for n in range(84)]
    angles = arm_angles(path(out, (-1.0, -0.4, 0.3)), BODY)
    assert angles.elbow.min() < 12
    for name in ("shoulder", "abduction", "rotation", "elbow"):
        assert np.abs(np.diff(getattr(angles, name))).max() < 12, name


def test_flare_turns_the_elbow_outwards_and_leaves_the_hand() -> None:
    tucked, flared = (arm_angles(path([(0.3, -0.3, 0.1)], (-1, -0.5, 0.0), f), BODY) for f in (0, 40))
    assert flared.abduction[0] > tucked.abduction[0] + 15
    assert flared.elbow[0] == pytest.approx(tucked.elbow[0])


@pytest.mark.parametrize(
    ("points", "says"),
    [
        ([(0.2, -0.5, 0), (1.2, 0, 0)], "hand_path point 2.*at most one arm length"),
        ([(0.1, 0.1, 0), (0.9, 0, 0)], "hand_path point 1.*at least"),
        ([(-0.5, 0.6, 0.1), (-0.5, 0.1, 0)], "hand_path point 1.*shoulder"),
        ([(0.9, 0, 0), (0.4, -0.4, 0)], "hand_path point 1.*straighten"),
    ],
)
def test_what_cannot_be_reached_is_refused_naming_the_point(
    points: list[tuple[float, float, float]], says: str
) -> None:
    with pytest.raises(PostureError, match=says):
        sampled(path(points, (-1, -0.2, 0.2)), BODY, flexes=False, samples=41)


def test_a_path_is_sampled_evenly_in_the_elbow_and_can_be_cut() -> None:
    keys = path([(0.25, -0.4, 0.05), (0.95, -0.1, 0.0)], (-1, -0.6, 0.25))
    whole, _ = sampled(keys, BODY, flexes=False, samples=31)
    steps = np.diff(arm_angles(whole, BODY).elbow)
    np.testing.assert_allclose(steps, steps.mean(), atol=0.15)
    cut, _ = sampled(keys, BODY, flexes=False, samples=31, start=0.3, end=0.8)
    assert arm_angles(cut, BODY).elbow[0] < arm_angles(whole, BODY).elbow[0] - 10
