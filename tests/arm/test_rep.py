"""A rep balances, conserves energy, and grows with strength."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from curve_rank.arm.arrays import of_reps
from curve_rank.arm.body import Body
from curve_rank.arm.lines import FreeWeight
from curve_rank.arm.posture import trunk_to_room
from curve_rank.arm.readings import shoulder_turns
from curve_rank.arm.rep import RepBatch, model_reps
from curve_rank.catalogue.library import built_in
from curve_rank.rating.rep_of_variant import rep_setup
from tests.helpers import modelled

STANDING = "standing-dumbbell-curl"


def test_the_balances_hold_at_every_sample() -> None:
    """Muscles, helpers and the world add up to nothing about elbow, forearm and, unsupported, shoulder."""
    batch = model_reps(tuple(rep_setup(v, Body()) for v in built_in()), body=Body(), effort=0.75)
    assert batch.feasible.all()
    outside = batch.external.static + batch.external.per_kg.times(batch.load[:, None])
    inside = (batch.force + batch.passive_force) * batch.geometry.elbow_moment_arm * batch.body.scale
    np.testing.assert_allclose(inside.sum(axis=0), -outside.elbow, atol=1e-6)
    sign = np.array([[1.0 if s.flexes else -1.0] for s in batch.setups])
    straight = np.array([s.coordinate == "shoulder" for s in batch.setups])
    np.testing.assert_allclose(batch.demand[~straight], -(sign * outside.elbow)[~straight], atol=1e-9)
    np.testing.assert_allclose(batch.demand[straight], -(sign * outside.shoulder[2])[straight], atol=1e-9)
    passive = sign * (batch.passive_force * batch.geometry.shoulder_moment_arm).sum(axis=0) * batch.body.scale
    held = batch.moment.sum(axis=0) + batch.other_moment + passive
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
    body, one = batch.body, slice(i, i + 1)
    frame, posture = of_reps(batch.frame, one), of_reps(batch.posture, one)
    centres, masses, setup = body.segment_centres, body.segment_masses, batch.setups[i]
    points = [
        (masses[0], centres[0] * frame.upper_arm),
        (masses[1], frame.elbow + centres[1] * frame.forearm),
        (masses[2], frame.wrist + centres[2] * frame.hand),
    ]
    for line in setup.lines:
        if isinstance(line, FreeWeight):
            points.append((line.load_part * batch.load[i], frame.grip + line.offset * frame.thumb))
        else:
            carried = line.load_part * batch.load[i] + line.carried * body.mass
            points.append((-carried, frame.grip))

    def energy(pitch: np.ndarray) -> np.ndarray:
        at = replace(posture, trunk_pitch=pitch[None])
        return sum(9.81 * m * trunk_to_room(p, at, body, 0.0)[1, 0] for m, p in points)

    pitch = posture.trunk_pitch[0]
    slope = (energy(pitch + 0.01) - energy(pitch - 0.01)) / 0.02
    return energy(pitch), 0.5 * (slope[1:] + slope[:-1]) * np.diff(pitch)


def test_more_strength_lifts_more_and_a_taller_body_of_one_shape_lifts_by_its_mass() -> None:
    default = modelled(STANDING).readings.load
    assert modelled(STANDING, Body(strength=1.2)).readings.load > 1.15 * default
    assert modelled(STANDING, Body(height=1.9, mass=97)).readings.load > default


def test_straight_arm_work_moves_the_long_head_and_only_it() -> None:
    pullover = modelled("dumbbell-pullover", path__0__elbow=15.0)
    assert pullover.head("triceps_long").excursion > 8
    assert pullover.head("triceps_lateral").excursion < 0.01
    assert pullover.variant.coordinate == "shoulder"
    assert pullover.head("triceps_long").work_share < 0.5
