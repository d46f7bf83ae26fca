"""Lengths and moment arms are one potential."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from curve_rank.arm.arrays import DEGREE
from curve_rank.arm.muscle import HeadGeometry, default_anatomy, head_geometry

ANATOMY = default_anatomy()
JOINTS = {"elbow": (0, 145), "forearm": (-90, 90), "shoulder": (-60, 180), "abduction": (-40, 110)}
HEIGHT = 1e-3
postures = st.fixed_dictionaries(
    {
        name: st.floats(low + 0.01, high - 0.01).map(lambda x: round(x, 3))
        for name, (low, high) in JOINTS.items()
    }
)


def geometry(**angles: object) -> HeadGeometry:
    full = {name: np.atleast_1d(np.asarray(angles.get(name, 0.0), dtype=float)) for name in JOINTS}
    shape = np.broadcast_shapes(*(v.shape for v in full.values()))
    return head_geometry(ANATOMY, **{k: np.broadcast_to(v, shape).copy() for k, v in full.items()})


@given(posture=postures, joint=st.sampled_from(list(JOINTS)))
def test_finite_differences_of_length_give_minus_each_arm(posture: dict[str, float], joint: str) -> None:
    here = geometry(**posture)
    ahead, behind = (geometry(**(posture | {joint: posture[joint] + sign * HEIGHT})) for sign in (1, -1))
    arm = getattr(here, f"{joint}_moment_arm")[:, 0]
    slopes = [
        (ahead.shortening - here.shortening)[:, 0] / (HEIGHT * DEGREE),
        (here.shortening - behind.shortening)[:, 0] / (HEIGHT * DEGREE),
    ]
    # one-sided, so that a knot between the two steps is allowed for
    error = np.minimum(*(np.abs(slope - arm) for slope in slopes))
    assert error.max() < 1e-6


@given(corners=st.lists(postures, min_size=3, max_size=5))
def test_moment_arms_integrated_round_a_closed_loop_return_to_the_same_length(
    corners: list[dict[str, float]],
) -> None:
    total = np.zeros(len(ANATOMY.keys))
    for start, end in zip(corners, [*corners[1:], corners[0]], strict=True):
        t = np.linspace(0, 1, 1501)
        along = geometry(**{name: start[name] + t * (end[name] - start[name]) for name in JOINTS})
        for name in JOINTS:
            step = (end[name] - start[name]) * DEGREE
            total += np.trapezoid(getattr(along, f"{name}_moment_arm"), t, axis=1) * step
    assert np.abs(total).max() < 2e-6


def test_a_length_is_monotonic_where_its_arm_keeps_its_sign() -> None:
    for joint, (low, high) in JOINTS.items():
        angle = np.linspace(low, high, 800)
        for held in (
            {"forearm": -90},
            {"forearm": 0, "elbow": 60, "shoulder": 30},
            {"forearm": 80, "elbow": 120},
        ):
            found = geometry(**({k: v for k, v in held.items() if k != joint} | {joint: angle}))
            arm = getattr(found, f"{joint}_moment_arm")
            step = np.diff(found.shortening, axis=1)
            rising, falling = (((s * arm)[:, :-1] > 1e-9) & ((s * arm)[:, 1:] > 1e-9) for s in (1, -1))
            assert (step[rising] > 0).all()
            assert (step[falling] < 0).all()


def test_reference_lengths_and_the_range_of_every_head() -> None:
    straight = geometry(forearm=-90)
    for head, length in (("biceps_long", 1.22), ("biceps_short", 1.16)):
        assert straight.length[ANATOMY.index(head), 0] == pytest.approx(length)
    thumb_up = geometry()
    assert thumb_up.length[ANATOMY.index("triceps_long"), 0] == pytest.approx(0.78)
    grid = geometry(
        elbow=np.linspace(0, 145, 30)[:, None, None],
        forearm=np.linspace(-90, 90, 19)[None, :, None],
        shoulder=np.linspace(-60, 180, 25)[None, None, :],
    )
    low, high = (f(grid.percent.reshape(len(ANATOMY.keys), -1), axis=1) for f in (np.min, np.max))
    assert low.min() > -0.01
    assert high.max() < 100.01
    assert low.max() < 1.5
    assert high.min() > 98.5
