"""The checks the model must pass: outcomes a practitioner knows, emerging from the physics."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.rating.modelling import Modelled, model_variants
from tests.conftest import modelled

STANDING = "standing-dumbbell-curl"


def hanging(pitch: float) -> Modelled:
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


def test_the_pad_is_hardest_in_the_long_third_and_slack_at_the_top() -> None:
    pad = modelled(
        "pad-45-dumbbell-curl", posture__upper_arm=50.0, path__0__elbow=10.0, path__last__elbow=135.0
    )
    assert pad.readings.hard_third == "long"
    assert pad.readings.slack[-1][1] == pytest.approx(1)


def test_chest_down_is_hardest_in_the_short_third() -> None:
    assert modelled("chest-down-dumbbell-curl").readings.hard_third == "short"


def test_the_pull_back_is_hardest_near_straight_and_slack_at_its_start() -> None:
    readings = modelled("bent-over-pull-back").readings
    assert readings.hard_spot <= 15
    start, end = readings.slack[0]
    assert start == 0
    assert end >= 0.2


def test_tilting_the_upper_arms_back_takes_the_rest_out_of_a_lying_extension() -> None:
    upright, tilted = modelled("lying-upright-angled-bar"), modelled("lying-arms-back-angled-bar")
    top = [sum(end - start for start, end in m.readings.slack if end > 0.9) for m in (tilted, upright)]
    assert top[0] < top[1]
    assert tilted.readings.evenness > upright.readings.evenness


def test_turning_the_palm_down_moves_work_from_biceps_to_brachialis_and_brachioradialis() -> None:
    curls = [modelled(STANDING, posture__forearm=turn) for turn in (-90.0, 0.0, 80.0)]
    biceps = [m.head("biceps_long").share + m.head("biceps_short").share for m in curls]
    others = [m.head("brachialis").share + m.head("brachioradialis").share for m in curls]
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
    turning = offset.batch.external.per_kg.forearm
    assert turning.min() >= -1e-9
    assert turning.max() > 0.1
    for head in ("biceps_long", "biceps_short"):
        assert offset.head(head).share > plain.head(head).share
        assert offset.head(head).mean_drive > plain.head(head).mean_drive


def test_a_rigid_handle_lets_the_biceps_work_with_the_thumb_up() -> None:
    free, rigid = (
        modelled(STANDING, posture__forearm=0.0, equipment__handle=h) for h in ("free", "straight_bar")
    )
    assert rigid.head("biceps_long").share > free.head("biceps_long").share
    assert rigid.readings.load > free.readings.load


def test_the_balances_hold_at_every_sample(all_modelled: tuple[Modelled, ...]) -> None:
    """Active, passive and external elbow moments add up to nothing, for every built-in variant."""
    batch = all_modelled[0].batch
    scale = batch.body.scale
    sign = np.array([[1.0 if s.flexes else -1.0] for s in batch.setups])
    inside = ((batch.force + batch.passive_force) * batch.geometry.elbow_arm).sum(axis=0) * scale
    assert batch.feasible.all()
    np.testing.assert_allclose(inside, sign * batch.demand, atol=1e-6)


def test_work_of_the_joints_is_the_change_in_potential_energy(all_modelled: tuple[Modelled, ...]) -> None:
    """Free weights on a still trunk: elbow work and shoulder work lift arm and load, and nothing else."""
    for m in all_modelled:
        variant = m.variant
        still = all(key.trunk_pitch is None and key.rotation is None for key in variant.path)
        planar = not (variant.posture.abduction or variant.posture.rotation or variant.posture.trunk_roll)
        if not (variant.lines[0].kind == "weight" and still and planar and variant.lines[0].offset_m == 0):
            continue
        i, external, load = m.place, m.batch.external, m.readings.load
        lifted = _potential(m, load)
        elbow = external.static.elbow[i] + load * external.per_kg.elbow[i]
        shoulder = external.static.shoulder[2, i] + load * external.per_kg.shoulder[2, i]
        work = -np.trapezoid(elbow, np.deg2rad(m.angle("elbow"))) - np.trapezoid(
            shoulder, np.deg2rad(m.angle("shoulder"))
        )
        assert work == pytest.approx(lifted, rel=0.005, abs=0.02), variant.id


def _potential(m: Modelled, load: float) -> float:
    """Change in potential energy of arm and load from first to last sample [J]."""
    frame, body, i = m.batch.frame, m.batch.body, m.place
    centres, masses = body.segment_centres, body.segment_masses
    points = (
        (masses[0], centres[0] * frame.upper_arm[:, i]),
        (masses[1], frame.elbow[:, i] + centres[1] * frame.forearm[:, i]),
        (masses[2], frame.wrist[:, i] + centres[2] * frame.hand[:, i]),
        (load * m.variant.lines[0].share / m.variant.equipment.hands, frame.grip[:, i]),
    )
    down = frame.down[:, i]
    heights = sum(-mass * 9.81 * (point * down).sum(axis=0) for mass, point in points)
    return float(heights[-1] - heights[0])


@pytest.fixture(scope="module")
def all_modelled() -> tuple[Modelled, ...]:
    from curve_rank.catalogue.library import built_in

    return model_variants(built_in(), Body(), effort=0.75)


def test_more_strength_lifts_more_and_a_taller_body_of_one_shape_lifts_by_its_mass() -> None:
    default = modelled(STANDING).readings.load
    assert modelled(STANDING, Body(strength=1.2)).readings.load > 1.15 * default
    assert modelled(STANDING, Body(height=1.9, mass=97)).readings.load > default
