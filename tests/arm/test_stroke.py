"""How quickly a load can be lifted, and acceleration in the room where the trunk moves."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from curve_rank.arm.arrays import Array
from curve_rank.arm.balance import balance
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import stack_reps
from curve_rank.arm.strength import window_matrix
from curve_rank.arm.stroke import least_strokes
from curve_rank.arm.tempo import Tempo, inertia_of, minimum_jerk, posture_at, time_rep
from curve_rank.rating.modelling import model_variants
from curve_rank.study.strokes import stroke_words, strokes_of
from tests.helpers import modelled

BODY = Body()
AT_THE_ELBOW = ("standing-dumbbell-curl", "pad-45-dumbbell-curl", "rope-press-down", "machine-pad-curl")


def hardest_in_time(name: str, seconds: float) -> float:
    """Of a timed lift, over even places: what `time_rep` says by its own samples."""
    m = modelled(name)
    rep = time_rep(m.setup, BODY, m.load, Tempo(seconds, 0, seconds, 0))
    lifting = rep.phase == 2
    even = np.interp(np.linspace(0, 1, 41), rep.place[lifting], rep.effort[lifting])
    return float((window_matrix(41) @ even).max())


@pytest.mark.parametrize("name", AT_THE_ELBOW)
def test_the_least_smooth_stroke_is_where_a_timed_lift_begins_to_be_possible(name: str) -> None:
    strokes = strokes_of(modelled(name))
    assert strokes is not None
    assert hardest_in_time(name, 1.1 * strokes.first) < 1.01
    assert hardest_in_time(name, 0.8 * strokes.first) > 0.99
    assert strokes.first <= strokes.last < 8


def test_heavier_is_slower_and_an_empty_hand_is_quick() -> None:
    m = modelled("standing-dumbbell-curl")
    loads = [part * m.load for part in (0.0, 0.5, 0.8, 1.0, 1.2)]
    found = [strokes_of(model_variants((m.variant,), BODY, effort=0.75, load=load)[0]) for load in loads]
    first = [one.first for one in found if one]
    assert first == sorted(first)
    assert first[0] < 0.35
    last = [one.last for one in found[2:] if one]
    assert len(last) == 3
    assert max(last) < 1.6 * min(last)  # the last repetition is about as slow at any load
    assert np.isinf(least_strokes(m.setup, BODY, 2 * m.load, 1.0).first)


def test_words_agree_with_the_tempo() -> None:
    m = modelled("standing-dumbbell-curl")
    strokes = strokes_of(m)
    quick = time_rep(m.setup, BODY, m.load, Tempo(2, 0, 1, 0))
    slow = time_rep(m.setup, BODY, m.load, Tempo(2, 0, 3, 0))
    assert "A lift in 1 s is quicker than that" in stroke_words(strokes, quick)
    assert "quicker" not in stroke_words(strokes, slow)
    assert "last repetition of the set takes about" in stroke_words(strokes, slow)
    held_by_shoulder = modelled("overhead-press")
    assert held_by_shoulder.limited_by == "shoulder"
    assert strokes_of(held_by_shoulder) is None


def test_a_trunk_that_moves_carries_the_load_along() -> None:
    """Newton in the room: hips fixed, the trunk turned by its pitch, the hand at the end of the arm."""
    m = modelled("momentum-curl")
    time = np.linspace(0, 1.2, 241)
    stack = stack_reps((m.setup,))
    held = balance(stack, posture_at(stack.posture, minimum_jerk(time / 1.2)), BODY)
    moments = inertia_of(held, np.array([40.0]), time)
    without = inertia_of(held, np.array([0.0]), time)

    pitch = held.posture.trunk_pitch[0]
    turn = Rotation.from_euler("z", -pitch[:, None], degrees=True)
    grip = held.frame.grip[:, 0].T + np.array([0.0, BODY.trunk, BODY.shoulder_half_width])
    hand = turn.apply(grip)

    def twice(values: Array) -> Array:
        return np.gradient(np.gradient(values, time, axis=0), time, axis=0)

    force = turn.inv().apply(-20.0 * twice(hand))  # half of the bar in each hand
    arm = (held.frame.grip - held.frame.elbow)[:, 0].T
    told = (held.frame.elbow_axis[:, 0].T * np.cross(arm, force)).sum(axis=1)
    middle = slice(5, -5)
    found = (moments.elbow - without.elbow)[0]
    np.testing.assert_allclose(found[middle], told[middle], atol=1e-6 + 0.01 * np.abs(told).max())
    in_trunk = -20.0 * twice(held.frame.grip[:, 0].T)
    missed = (held.frame.elbow_axis[:, 0].T * np.cross(arm, in_trunk)).sum(axis=1)
    assert np.abs(told - missed)[middle].max() > 0.2 * np.abs(told).max()
