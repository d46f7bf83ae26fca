"""Strength against an independent linear programme, and the load that reaches an effort."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.optimize import linprog

from curve_rank.arm.actuators import BESIDE_HEADS, ELBOW, FOREARM, default_capacities
from curve_rank.arm.body import Body
from curve_rank.arm.force import Moments
from curve_rank.arm.strength import (
    ElbowStrength,
    elbow_link,
    load_at_effort,
    shoulder_link,
    window_matrix,
    wrist_link,
)
from tests.helpers import random_columns


def test_working_load_is_the_one_whose_hardest_stretch_reaches_the_effort() -> None:
    rng = np.random.default_rng(4)
    capacity, static, per_kg = (rng.uniform(*span, (50, 41)) for span in ((30, 80), (-2, 4), (0.2, 3)))
    found = load_at_effort(elbow_link(capacity, static, per_kg), 0.75, np.zeros(50), 41)
    effort = np.maximum(static + found[:, None] * per_kg, 0) / capacity
    np.testing.assert_allclose((effort @ window_matrix(41).T).max(axis=1), 0.75, atol=1e-9)
    assert np.isinf(load_at_effort(elbow_link(capacity, static, -per_kg), 0.75, np.zeros(50), 41)).all()


def test_strength_agrees_with_an_independent_linear_programme() -> None:
    count, rng = 120, np.random.default_rng(5)
    columns = random_columns(count, rng)
    turning = rng.uniform(-3, 3, count)
    for direction in (1.0, -1.0):
        grip = columns.matrix[FOREARM, -len(BESIDE_HEADS)]
        bare = columns.gripping(np.zeros(count))
        ours = ElbowStrength(bare, np.full(count, direction)).at(turning, grip)
        for n in range(count):
            solved = linprog(
                -direction * columns.matrix[ELBOW, :, n],
                A_eq=columns.matrix[FOREARM, :, n][None, :],
                b_eq=[-columns.passive[FOREARM, n] - turning[n]],
                bounds=np.stack((columns.low, columns.high), axis=1),
            )
            expected = -solved.fun + direction * columns.passive[ELBOW, n] if solved.success else 0.0
            assert ours[n] == pytest.approx(max(expected, 0.0), abs=1e-6)


def test_each_side_of_the_wrist_holds_with_its_own_muscles() -> None:
    # Towards the thumb the ulnar side holds, towards the little finger the radial side; bent back the
    # flexors, bent forward the extensors. 3 N·m on capacities of 10, 20, 30 and 40 N·m.
    capacities = replace(
        default_capacities(), wrist_flexors=10.0, wrist_extensors=20.0, wrist_ulnar=30.0, wrist_radial=40.0
    )
    none = np.zeros((1, 1))
    for bend, side, room in ((-3.0, 0.0, 10), (3.0, 0.0, 20), (0.0, 3.0, 30), (0.0, -3.0, 40)):
        outside = Moments(none, none, np.zeros((3, 1, 1)), none + bend, none + side)
        nothing = Moments(none, none, np.zeros((3, 1, 1)), none, none)
        effort, _ = wrist_link(outside, nothing, Body(), capacities)(none)
        assert float(effort[0, 0]) == pytest.approx(3 / room)


def test_the_shoulder_holds_by_the_way_it_drives_the_elbow_and_the_heads_help_as_hard_as_it_works() -> None:
    rng, count = np.random.default_rng(6), 200
    capacities = default_capacities()
    upper = rng.normal(size=(3, count))
    upper /= np.linalg.norm(upper, axis=0)
    asked = rng.normal(size=(3, count)) * 60
    flexors, extensors = rng.uniform(0, 20, (2, count))
    link = shoulder_link((flexors, extensors), np.zeros((3, count)), asked, upper, capacities, 1.0)
    effort, slope = link(np.ones((1, 1)))
    later, _ = link(np.full((1, 1), 1 + 1e-6))
    np.testing.assert_allclose(slope, (later - effort) / 1e-6, rtol=1e-3, atol=1e-6)

    def of_lump(n: int, given: float) -> float:
        way = np.cross(-asked[:, n] - np.array([0, 0, given]), upper[:, n])
        ahead = (capacities.shoulder_forward, capacities.shoulder_up, capacities.shoulder_out)
        back = (capacities.shoulder_backward, capacities.shoulder_down, capacities.shoulder_in)
        return float(np.linalg.norm(way / np.where(way < 0, back, ahead)))

    for n in range(count):
        most = float(effort.ravel()[n])
        assert most <= of_lump(n, 0.0) + 1e-9
        given = np.linspace(-most * extensors[n], most * flexors[n], 400)
        assert min(of_lump(n, g) for g in given) == pytest.approx(most, rel=0.03)
