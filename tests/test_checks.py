"""The checks the model must pass: outcomes a practitioner knows, emerging from the physics."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.actuators import Actuators, actuators
from curve_rank.arm.body import Body
from curve_rank.arm.muscle import HeadGeometry, default_anatomy, head_geometry
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.strength import ElbowStrength
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.rating.modelling import VariantModel, model_variants
from tests.helpers import modelled

STANDING = "standing-dumbbell-curl"
ANATOMY = default_anatomy()
JOINTS = {"elbow": (0, 145), "forearm": (-90, 90), "shoulder": (-60, 180), "abduction": (-40, 110)}


def hanging(pitch: float) -> VariantModel:
    """A dumbbell curl with the arm hanging from a trunk at some pitch."""
    return modelled(STANDING, posture__upper_arm_from="vertical", posture__trunk_pitch=pitch)


def test_leaning_back_lengthens_both_biceps_heads_at_the_hard_spot() -> None:
    for head in ("biceps_long", "biceps_short"):
        lengths = [hanging(pitch).head(head).length_at_hard_spot for pitch in (-45, 0, 50)]
        assert lengths == sorted(lengths, reverse=True)
        assert lengths[0] - lengths[2] > 5


def test_the_triceps_long_head_is_longest_overhead_then_lying_then_at_the_side_then_behind() -> None:
    order = ("overhead-dumbbell-two-hands", "lying-bar-to-forehead", "bar-press-down", "bent-over-pull-back")
    lengths = [modelled(variant).head("triceps_long").length_at_hard_spot for variant in order]
    assert lengths == sorted(lengths, reverse=True)


def test_the_pad_is_hardest_in_the_first_third_and_slack_at_the_top() -> None:
    pad = modelled(
        "pad-45-dumbbell-curl", posture__upper_arm=50.0, path__0__elbow=10.0, path__last__elbow=135.0
    )
    assert pad.hard_third == "first"
    assert pad.slack[-1][1] == pytest.approx(1)


def test_chest_down_is_hardest_in_the_last_third() -> None:
    assert modelled("chest-down-dumbbell-curl").hard_third == "last"


def test_the_pull_back_is_hardest_near_straight_and_slack_at_its_start() -> None:
    pull_back = modelled("bent-over-pull-back")
    assert pull_back.readings.hard_spot <= 15
    start, end = pull_back.slack[0]
    assert start == 0
    assert end >= 0.2


def test_tilting_the_upper_arms_back_takes_the_rest_out_of_a_lying_extension() -> None:
    upright, tilted = modelled("lying-upright-angled-bar"), modelled("lying-arms-back-angled-bar")
    top = [sum(end - start for start, end in m.slack if end > 0.9) for m in (tilted, upright)]
    assert top[0] < top[1]
    assert tilted.readings.evenness > upright.readings.evenness


def test_turning_the_palm_down_moves_work_from_biceps_to_brachialis_and_brachioradialis() -> None:
    curls = [modelled(STANDING, posture__forearm=turn) for turn in (-90.0, 0.0, 80.0)]
    biceps = [m.head("biceps_long").work_share + m.head("biceps_short").work_share for m in curls]
    others = [m.head("brachialis").work_share + m.head("brachioradialis").work_share for m in curls]
    assert biceps == sorted(biceps, reverse=True)
    assert others == sorted(others)


def test_overhead_beats_at_the_side_for_the_long_head_by_long_length_tension() -> None:
    """The published comparison that a joint path can express; half-range curls follow below."""
    overhead, side = modelled("overhead-rope-low-pulley"), modelled("rope-press-down")
    assert overhead.head("triceps_long").long_tension > side.head("triceps_long").long_tension


def test_the_stretched_half_of_a_curl_beats_the_shortened_half_by_long_length_tension() -> None:
    long_half = modelled("pad-45-dumbbell-curl", path__0__elbow=10.0, path__last__elbow=70.0)
    short_half = modelled("pad-45-dumbbell-curl", path__0__elbow=70.0, path__last__elbow=130.0)
    for head in ("biceps_long", "brachialis"):
        assert long_half.head(head).long_tension > short_half.head(head).long_tension


def test_an_off_centre_grip_makes_gravity_resist_the_turn() -> None:
    """With the weight towards the little finger gravity turns the palm down, against the biceps."""
    plain = modelled("standing-turning-curl", lines__0__offset_m=0.0)
    offset = modelled("standing-turning-curl", lines__0__offset_m=-0.03)
    turning = offset.rep.external.per_kg.forearm
    assert turning.min() >= -1e-9
    assert turning.max() > 0.1
    for head in ("biceps_long", "biceps_short"):
        assert offset.head(head).work_share > plain.head(head).work_share
        assert offset.head(head).mean_drive > plain.head(head).mean_drive


def test_a_rigid_handle_lets_the_biceps_work_with_the_thumb_up() -> None:
    free, rigid = (
        modelled(STANDING, posture__forearm=0.0, equipment__handle=h) for h in ("free", "straight_bar")
    )
    assert rigid.head("biceps_long").work_share > free.head("biceps_long").work_share
    assert rigid.readings.load > free.readings.load


def test_a_narrow_tucked_press_works_the_triceps_more_per_kilogram_than_a_wide_one() -> None:
    narrow, wide = (modelled(f"bench-press-{width}", lines__0__sideways=0.0) for width in ("narrow", "wide"))
    levers = [float(np.mean(m.along("lever"))) for m in (narrow, wide)]
    demands = [m.readings.peak_demand / m.readings.load for m in (narrow, wide)]
    assert levers[0] > levers[1]
    assert demands[0] > demands[1]


def test_the_press_down_leans_on_the_long_head_more_than_the_press_does() -> None:
    def ratio(variant: str) -> float:
        one = modelled(variant)
        return one.head("triceps_long").mean_tension / one.head("triceps_lateral").mean_tension

    presses = ("bench-press-narrow", "dip-upright", "push-up-hands-close", "overhead-press")
    assert min(ratio(v) for v in ("bar-press-down", "rope-press-down")) > max(ratio(v) for v in presses)


def test_palms_up_chin_ups_work_the_biceps_and_palms_away_pull_ups_the_brachialis() -> None:
    up, away = modelled("chin-up"), modelled("pull-up-palms-away")
    biceps = [m.head("biceps_long").work_share + m.head("biceps_short").work_share for m in (up, away)]
    brachialis = [m.head("brachialis").work_share for m in (up, away)]
    assert biceps[0] > biceps[1]
    assert brachialis[0] < brachialis[1]


@pytest.mark.parametrize("variant", ["dip-upright", "chin-up", "push-up-hands-close"])
def test_the_default_body_manages_one_at_full_drive(variant: str) -> None:
    one = model_variants((find_variant(variant, built_in()),), Body(), effort=1.0)[0]
    assert one.readings.load >= 0


def geometry(**angles: object) -> HeadGeometry:
    full = {name: np.atleast_1d(np.asarray(angles.get(name, 0.0), dtype=float)) for name in JOINTS}
    shape = np.broadcast_shapes(*(v.shape for v in full.values()))
    return head_geometry(ANATOMY, **{k: np.broadcast_to(v, shape).copy() for k, v in full.items()})


def acting(elbow: np.ndarray, forearm: float) -> Actuators:
    """What acts with the arm at the side."""
    hanging = np.tile([[0.0], [-1.0], [0.0]], elbow.size)
    at = geometry(elbow=elbow, forearm=forearm)
    return actuators(ANATOMY, at, forearm=np.full(elbow.size, forearm), upper_arm=hanging, body=Body())


def strength(elbow: np.ndarray, *, forearm: float, handle: str, direction: float) -> np.ndarray:
    """Largest moment against a handle that is held as hard as it pulls."""
    per_kg, count = parameter_set().number(f"helpers.grip_{handle}"), elbow.size
    link, grip = ElbowStrength(acting(elbow, forearm), np.full(count, direction)), np.zeros(count)
    for _ in range(8):
        moment = link.at(np.zeros(count), grip)
        grip = per_kg * moment / (9.81 * (Body().forearm + Body().grip))
    return moment


def test_the_forearm_turns_as_strongly_as_published() -> None:
    columns = acting(np.array([90.0]), 0.0)
    turn, low = columns.matrix[1, :, 0], columns.low
    assert 8 <= np.maximum(turn, low * turn).sum() <= 14
    assert 10 <= -np.minimum(turn, low * turn).sum() <= 18


def test_flexion_is_strongest_thumb_up_and_weakest_palm_down() -> None:
    up, thumb, down = (
        strength(np.array([90.0]), forearm=turn, handle="free", direction=1.0)[0] for turn in (-90, 0, 80)
    )
    assert 1.00 <= thumb / up <= 1.15
    assert 0.60 <= down / up <= 0.85
    shares = [
        modelled(v).head("biceps_long").work_share + modelled(v).head("biceps_short").work_share
        for v in ("palm-down-dumbbell-curl", "palm-down-bar-curl")
    ]
    assert abs(shares[0] - shares[1]) < 0.15


def test_flexion_strength_stands_in_the_published_range() -> None:
    angles = np.arange(0.0, 146.0)
    moment = strength(angles, forearm=-90, handle="straight_bar", direction=1.0)
    peak = moment.max()
    assert 70 <= peak <= 105
    assert 70 <= angles[moment.argmax()] <= 100
    for angle, low, high in ((10, 0.40, 0.60), (30, 0.60, 0.78), (120, 0.65, 0.88)):
        assert low <= moment[angle] / peak <= high


def test_extension_strength_stands_in_the_published_range() -> None:
    angles = np.arange(0.0, 146.0)
    moment = strength(angles, forearm=0, handle="free", direction=-1.0)
    assert 40 <= moment.max() <= 68
    assert 45 <= angles[moment.argmax()] <= 90
    assert 0.75 <= moment[120] / moment.max() <= 0.95
