"""Levers and moments: what rotating the room, the load's unit or the body may and may not change."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from curve_rank.arm.body import Body
from curve_rank.arm.force import ExternalLoad, external_load
from curve_rank.arm.lines import Cable, FreeWeight, Line, grouped
from curve_rank.arm.posture import Posture, arm_frame, trunk_to_room
from curve_rank.errors import PostureError
from tests.helpers import posture

BODY = Body()
angles = st.floats(-80, 80)


def load(lines: tuple[Line, ...], at: Posture, hip: float = 0.95) -> ExternalLoad:
    """Moments on one rep whose samples are the postures given; the reps axis is taken off again."""
    rep = Posture(**{name: values.reshape(1, -1) for name, values in vars(at).items()})
    found = external_load(grouped((lines,)), arm_frame(rep, BODY), rep, BODY, np.array([[hip]]))
    return _without_reps(found)


def lever_of(found: ExternalLoad) -> np.ndarray:
    return found.lever(np.ones(1))[0]


def _without_reps(found: object) -> object:
    if isinstance(found, np.ndarray):
        return found[..., 0, :]
    return type(found)(**{name: _without_reps(part) for name, part in vars(found).items()})


def test_a_free_weights_lever_is_nothing_with_the_forearm_upright_and_most_with_it_level() -> None:
    elbow = np.arange(0.0, 141.0, 5)
    lever = lever_of(load((FreeWeight(),), posture(elbow=elbow)))
    assert elbow[lever.argmax()] == 90
    assert lever[elbow == 90] == pytest.approx(BODY.forearm + BODY.grip)
    assert lever[0] == pytest.approx(0, abs=1e-12)
    upright = load((FreeWeight(),), posture(shoulder=90, elbow=90))
    assert lever_of(upright)[0] == pytest.approx(0, abs=1e-12)


@given(turn=st.floats(-40, 40), elbow=st.floats(0, 145), shoulder=st.floats(-20, 60))
def test_pitch_and_shoulder_together_leave_dumbbell_levers_unchanged(
    turn: float, elbow: float, shoulder: float
) -> None:
    one = load((FreeWeight(),), posture(shoulder=shoulder, elbow=elbow))
    other = load((FreeWeight(),), posture(shoulder=shoulder + turn, trunk_pitch=turn, elbow=elbow))
    assert lever_of(one)[0] == pytest.approx(lever_of(other)[0], abs=1e-12)
    assert one.static.elbow[0] == pytest.approx(other.static.elbow[0], abs=1e-12)


def test_a_weight_held_off_centre_turns_the_forearm_and_halves_of_a_load_add_up() -> None:
    at = posture(elbow=90, forearm=-90)
    towards_little_finger = load((FreeWeight(offset=-0.05),), at)
    assert towards_little_finger.per_kg.forearm[0] == pytest.approx(0.05 * 9.81)
    whole, halves = (
        load((FreeWeight(),), at),
        load((FreeWeight(load_part=0.5), FreeWeight(load_part=0.5)), at),
    )
    assert whole.per_kg.elbow[0] == pytest.approx(halves.per_kg.elbow[0])


def test_pressing_apart_meets_a_force_towards_the_other_hand() -> None:
    pull = load((FreeWeight(sideways=0.2),), posture(elbow=90)).pull_per_kg
    assert pull[2, 0] == pytest.approx(-0.2 * 9.81)
    assert pull[1, 0] == pytest.approx(-9.81)


@pytest.mark.parametrize("pulley", [(0.0, 1.2, 0.0), (0.05, 0.95, 0.1), (-0.05, 1.6, 0.05)])
def test_a_pulley_inside_the_body_is_refused(pulley: tuple[float, float, float]) -> None:
    with pytest.raises(PostureError, match="outside the body"):
        load((Cable(pulley=pulley),), posture(elbow=60))


def test_a_pulley_in_the_hand_and_unreachable_postures_are_refused() -> None:
    at = posture(elbow=90)
    hand = tuple(trunk_to_room(arm_frame(at, BODY).grip, at, BODY, 0.95)[:, 0])
    with pytest.raises(PostureError, match="from the hand"):
        load((Cable(pulley=hand),), at)
    with pytest.raises(PostureError, match=r"shoulder.*reaches"):
        posture(shoulder=190, elbow=20).check()
    with pytest.raises(PostureError, match="elbow"):
        posture(elbow=150).check()
    posture(shoulder=-80, abduction=60).check()  # out to the side the shoulder's own limit does not apply
