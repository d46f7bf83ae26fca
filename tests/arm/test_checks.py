"""The checks the model must pass: outcomes a practitioner knows, emerging from the physics."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.lines import FreeWeight
from curve_rank.arm.posture import trunk_to_room
from curve_rank.arm.readings import shoulder_turns
from curve_rank.arm.rep import RepBatch, model_reps
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.modelling import Modelled, model_variants
from curve_rank.rating.setting import rep_setup
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
    """Muscles, helpers and the world add up to nothing about elbow, forearm and, unsupported, shoulder."""
    batch = all_modelled[0].batch
    assert batch.feasible.all()
    outside = batch.external.static + batch.external.per_kg.times(batch.load[:, None])
    inside = (batch.force + batch.passive_force) * batch.geometry.elbow_arm * batch.body.scale
    np.testing.assert_allclose(inside.sum(axis=0), -outside.elbow, atol=1e-6)
    sign = np.array([[1.0 if s.flexes else -1.0] for s in batch.setups])
    straight = np.array([s.coordinate == "shoulder" for s in batch.setups])
    np.testing.assert_allclose(batch.demand[~straight], -(sign * outside.elbow)[~straight], atol=1e-9)
    np.testing.assert_allclose(batch.demand[straight], -(sign * outside.shoulder[2])[straight], atol=1e-9)
    passive = sign * (batch.passive_force * batch.geometry.shoulder_arm).sum(axis=0) * batch.body.scale
    held = batch.moment.sum(axis=0) + batch.helper_moment + passive
    np.testing.assert_allclose(held[straight], batch.demand[straight], atol=1e-6)


def test_work_of_the_joints_is_the_change_in_potential_energy() -> None:
    """Elbow, forearm, shoulder and hip lift arm and load, and nothing else, in every variant."""
    body = Body()
    batch = model_reps(tuple(rep_setup(v, body, samples=601) for v in built_in()), body=body)
    turns = shoulder_turns(batch)
    outside = batch.external.static + batch.external.per_kg.times(batch.load[:, None])

    def between(values: np.ndarray) -> np.ndarray:
        return 0.5 * (values[..., 1:] + values[..., :-1])

    work = -(between(outside.shoulder) * turns).sum(axis=0)
    for angle, moment in ((batch.posture.elbow, outside.elbow), (batch.posture.forearm, outside.forearm)):
        work = work - between(moment) * np.diff(np.deg2rad(angle))
    for i, variant in enumerate(built_in()):
        kinds = {line.kind for line in variant.lines}
        if not kinds <= {"weight", "body_weight"} or any(getattr(n, "sideways", 0) for n in variant.lines):
            continue
        energy, by_hip = _potential(batch, i)
        rise = np.diff(energy)
        scale = np.abs(rise).sum()
        assert (work[i] + by_hip).sum() == pytest.approx(rise.sum(), abs=0.005 * scale), variant.id


def _potential(batch: RepBatch, i: int) -> tuple[np.ndarray, np.ndarray]:
    """Potential energy of arm and load, and the hip's work between samples, of one rep [J]."""
    frame, body, posture = batch.frame.of(np.array([i])), batch.body, batch.posture.of(np.array([i]))
    centres, masses, setup = body.segment_centres, body.segment_masses, batch.setups[i]
    points = [
        (masses[0], centres[0] * frame.upper_arm),
        (masses[1], frame.elbow + centres[1] * frame.forearm),
        (masses[2], frame.wrist + centres[2] * frame.hand),
    ]
    for line in setup.lines:
        if isinstance(line, FreeWeight):
            points.append((line.share * batch.load[i], frame.grip + line.offset * frame.thumb))
        else:
            carried = line.share * batch.load[i] + line.carried * body.mass
            points.append((-carried, frame.grip))

    def energy(pitch: np.ndarray) -> np.ndarray:
        at = replace(posture, trunk_pitch=pitch[None])
        return sum(9.81 * m * trunk_to_room(p, at, body, 0.0)[1, 0] for m, p in points)

    pitch = posture.trunk_pitch[0]
    slope = (energy(pitch + 0.01) - energy(pitch - 0.01)) / 0.02
    return energy(pitch), 0.5 * (slope[1:] + slope[:-1]) * np.diff(pitch)


@pytest.fixture(scope="module")
def all_modelled() -> tuple[Modelled, ...]:
    return model_variants(built_in(), Body(), effort=0.75)


def test_more_strength_lifts_more_and_a_taller_body_of_one_shape_lifts_by_its_mass() -> None:
    default = modelled(STANDING).readings.load
    assert modelled(STANDING, Body(strength=1.2)).readings.load > 1.15 * default
    assert modelled(STANDING, Body(height=1.9, mass=97)).readings.load > default


def test_a_narrow_tucked_press_works_the_triceps_more_per_kilogram_than_a_wide_one() -> None:
    narrow, wide = modelled("bench-press-narrow"), modelled("bench-press-wide")
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
    biceps = [m.head("biceps_long").share + m.head("biceps_short").share for m in (up, away)]
    brachialis = [m.head("brachialis").share for m in (up, away)]
    assert biceps[0] > biceps[1]
    assert brachialis[0] < brachialis[1]


@pytest.mark.parametrize("variant", ["dip-upright", "chin-up", "push-up-hands-close"])
def test_the_default_body_manages_one_at_full_drive(variant: str) -> None:
    one = model_variants((find_variant(variant, built_in()),), Body(), effort=1.0)[0]
    assert one.readings.load >= 0


@pytest.mark.parametrize("variant", [v for v in built_in() if v.family == "pressing"], ids=lambda v: v.id)
def test_presses_keep_the_forearm_near_the_line_of_pull(variant: Variant) -> None:
    if variant.id.startswith("forearm-"):
        pytest.skip("the forearm lies on the floor")
    m = modelled(variant)
    batch = m.batch
    forearm, pull = batch.frame.forearm[:2, m.place], batch.external.pull(batch.load)[:2, m.place]
    off = np.degrees(np.arctan2(*forearm) - np.arctan2(*pull)) % 180
    assert np.minimum(off, 180 - off).max() < 25
