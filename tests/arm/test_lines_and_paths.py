"""Bands, machines and body weight; hand paths and the arm that follows them."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from curve_rank.arm.body import Body
from curve_rank.arm.hand_path import HandPath, arm_angles, sampled
from curve_rank.arm.posture import Posture, arm_frame
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.errors import BadInputError, PostureError
from tests.conftest import modelled

BODY = Body()
ARM = BODY.upper_arm + BODY.forearm + BODY.grip


def path(
    points: list[tuple[float, float, float]], towards: tuple[float, float, float], flare: float = 0.0
) -> HandPath:
    count = len(points)
    return HandPath(
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
    if not 0.35 < reach < 0.995:
        return
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
        ([(-0.7, 0.2, 0.1), (-0.5, 0.1, 0)], "hand_path point 1.*shoulder"),
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


def test_a_band_is_slack_until_its_length_and_pulls_harder_as_it_stretches() -> None:
    curl = modelled("band-standing-curl")
    pull = np.linalg.norm(curl.batch.external.pull_per_kg[:, 0], axis=0)
    assert (np.diff(pull) > 0).all()
    long_band = modelled("band-standing-curl", lines__0__slack_m=0.95)
    assert np.linalg.norm(long_band.batch.external.pull_per_kg[:, 0, 0]) == pytest.approx(0)
    assert long_band.readings.hard_at > curl.readings.hard_at


def test_a_band_fills_the_slack_top_of_a_dumbbell_curl() -> None:
    plain, banded = modelled("standing-dumbbell-curl"), modelled("dumbbell-band-curl")
    tops = [m.along("demand")[-1] / m.readings.peak_demand for m in (plain, banded)]
    assert tops[1] > tops[0] + 0.05


def test_a_machine_has_a_moment_and_no_lever() -> None:
    machine = modelled("machine-pad-curl")
    assert np.isnan(machine.along("lever")).all()
    at_80 = np.interp(80, machine.angle("elbow"), machine.along("demand") / machine.readings.load)
    weightless = 2.9 / 2  # N·m per kg of stack for each hand, less what the forearm's own weight adds
    assert at_80 == pytest.approx(weightless, abs=0.35)


def test_body_weight_can_be_added_to_and_taken_off() -> None:
    chin = find_variant("chin-up", built_in())
    strong, weak = (modelled(chin, Body(strength=s)).readings.load for s in (1.3, 0.6))
    assert weak < 0 < strong
    heavy = modelled(chin, Body(mass=110, strength=(80 / 110) ** (2 / 3))).readings.load
    assert heavy == pytest.approx(modelled(chin).readings.load - 30, abs=3)


@pytest.mark.parametrize("field", ["upper_arm_m", "forearm_m", "grip_m"])
def test_measured_segments_are_used_and_checked(field: str) -> None:
    longer = modelled("standing-dumbbell-curl", Body(**{field: 1.05 * getattr(BODY, field[:-2])}))
    assert longer.readings.load != pytest.approx(
        modelled("standing-dumbbell-curl").readings.load, abs=1e-6
    ) or (field == "upper_arm_m")
    with pytest.raises(BadInputError, match=field):
        Body(**{field: 2.0})


def test_straight_arm_work_moves_the_long_head_and_only_it() -> None:
    pullover = modelled("dumbbell-pullover", path__0__elbow=15.0)
    assert pullover.head("triceps_long").excursion > 8
    assert pullover.head("triceps_lateral").excursion < 0.01
    assert pullover.variant.coordinate == "shoulder"
    assert pullover.head("triceps_long").share < 0.5
