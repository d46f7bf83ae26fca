"""Readings: one shape for a rep, a batch and draws; slack where the curve has it."""

from __future__ import annotations

from dataclasses import fields

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.lines import FreeWeight
from curve_rank.arm.readings import (
    OF_HEADS,
    Readings,
    length_weights,
    one_after_another,
    read_reps,
    slack_stretches,
    third_of,
)
from curve_rank.arm.rep import RepBatch, model_reps
from curve_rank.arm.rep_setup import RepSetup
from curve_rank.catalogue.library import built_in
from curve_rank.rating.rep_of_variant import rep_setup
from tests.helpers import modelled, posture

HEADS = 12


@pytest.fixture(scope="module")
def batch() -> Readings:
    reps = model_reps(tuple(rep_setup(v, Body()) for v in built_in()[::30]), body=Body())
    return read_reps(reps, trunk_supported=(False,) * len(reps.setups))


def test_a_batch_one_of_it_and_draws_of_it_have_one_shape(batch: Readings) -> None:
    reps = batch.load.size
    draws = one_after_another([batch.by_draw(1)] * 3)
    for field in fields(Readings):
        of_batch, of_one, of_draws = (getattr(r, field.name) for r in (batch, batch.of(1), draws))
        first = (HEADS,) if field.name in OF_HEADS else ()
        assert np.shape(of_batch) == (*first, reps)
        assert np.shape(of_one) == first
        assert np.shape(of_draws) == (*first, 3, reps)
        np.testing.assert_array_equal(of_draws[..., 2, 1], of_one)
        assert np.shape(getattr(batch.of(1).head(0), field.name)) == ()
    joined = one_after_another([batch, batch.first(2)])
    assert joined.load.shape == (reps + 2,)
    assert joined.long_tension.shape == (HEADS, reps + 2)


def test_slack_adds_up_to_its_share_and_lies_where_the_demand_is_low() -> None:
    for name in ("pad-45-dumbbell-curl", "bent-over-pull-back", "standing-dumbbell-curl", "chin-up"):
        m = modelled(name)
        assert sum(b - a for a, b in m.slack) == pytest.approx(float(m.readings.slack_share), abs=1e-9)
        demand, places = m.along("demand"), np.linspace(0, 1, m.along("demand").size)
        for start, end in m.slack:
            inside = (places > start + 1e-6) & (places < end - 1e-6)
            assert (demand[inside] < 0.2 * float(m.readings.peak_demand) + 1e-9).all()
    assert slack_stretches(np.ones(11)) == ()


def test_length_weights_add_up_to_one_and_thirds_are_of_the_rep() -> None:
    percent = np.linspace(0, 100, 101)
    weights = length_weights(percent)
    np.testing.assert_allclose(sum(weights.values()), 1)
    assert weights["long"][-1] == weights["short"][0] == 1
    assert [third_of(part) for part in (0, 0.3, 0.5, 0.7, 1)] == ["first", "first", "middle", "last", "last"]


def held(grip: str = "free", *, flexes: bool = True, rests: bool = True, **angles: float) -> RepBatch:
    """An arm that holds 5 kg still at angles, upright."""
    still = posture(**{name: np.full(41, float(angle)) for name, angle in angles.items()})
    setup = RepSetup(still, (FreeWeight(),), flexes, grip, rests, 0.94)
    return model_reps((setup,), body=Body(), loads=np.array([5.0]))


# A smooth step is one half in the middle of its range: elbow 22.5° in 15–30, forearm −60° in −75 to −45,
# elbow 110° in 100–120, shoulder 155° in 140–170, a palm on a straight bar 80° in 70–90.
@pytest.mark.parametrize(
    ("angles", "note", "part"),
    [
        ({"elbow": 14, "forearm": -90}, "biceps_tendon", 1.0),
        ({"elbow": 22.5, "forearm": -90}, "biceps_tendon", 0.5),
        ({"elbow": 31, "forearm": -90}, "biceps_tendon", 0.0),
        ({"elbow": 10, "forearm": -60}, "biceps_tendon", 0.5),
        ({"elbow": 10, "forearm": -44}, "biceps_tendon", 0.0),
        ({"elbow": 121}, "elbow_compression", 1.0),
        ({"elbow": 110}, "elbow_compression", 0.5),
        ({"elbow": 99}, "elbow_compression", 0.0),
    ],
)
def test_a_joint_note_counts_the_force_within_its_angles(
    angles: dict[str, float], note: str, part: float
) -> None:
    batch = held(**angles)
    heads = ("biceps_long", "biceps_short") if note == "biceps_tendon" else batch.anatomy.keys
    chosen = [batch.anatomy.index(h) for h in heads if note == "biceps_tendon" or h.startswith("triceps")]
    chosen += [batch.anatomy.index("anconeus")] if note == "elbow_compression" else []
    force = (batch.force + batch.passive_force)[chosen].sum(axis=0).max()
    found = getattr(read_reps(batch, trunk_supported=(True,)), note)
    assert float(found[0]) == pytest.approx(part * force, rel=1e-9, abs=1e-9)


@pytest.mark.parametrize(
    ("angles", "grip", "note", "part"),
    [
        ({"elbow": 60, "shoulder": 170}, "free", "shoulder_end", 1.0),
        ({"elbow": 60, "shoulder": 155}, "free", "shoulder_end", 0.5),
        ({"elbow": 60, "shoulder": -60}, "free", "shoulder_end", 1.0),
        ({"elbow": 60, "shoulder": 139}, "free", "shoulder_end", 0.0),
        ({"elbow": 60, "forearm": -80}, "straight_bar", "wrist_forced", 0.5),
        ({"elbow": 60, "forearm": 90}, "straight_bar", "wrist_forced", 1.0),
        ({"elbow": 60, "forearm": -80}, "free", "wrist_forced", 0.0),
    ],
)
def test_a_joint_note_counts_the_load_within_its_angles(
    angles: dict[str, float], grip: str, note: str, part: float
) -> None:
    batch = held(grip, rests=False, **angles)
    pull = np.linalg.norm(batch.external.pull(batch.load), axis=0).max()
    upper, moment = batch.frame.upper_arm, batch.shoulder_moment
    square = np.linalg.norm(moment - (moment * upper).sum(axis=0) * upper, axis=0).max()
    found = getattr(read_reps(batch, trunk_supported=(True,)), note)
    whole = square if note == "shoulder_end" else pull
    assert float(found[0]) == pytest.approx(part * whole, rel=1e-6, abs=1e-9)
