"""Strength against an independent linear programme, and the load that reaches an effort."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.optimize import linprog

from curve_rank.arm.actuators import ELBOW, FOREARM
from curve_rank.arm.strength import (
    ElbowStrength,
    elbow_link,
    load_at_effort,
    window_matrix,
)
from tests.helpers import random_columns


def test_working_load_is_the_one_whose_hardest_tenth_reaches_the_effort() -> None:
    rng = np.random.default_rng(4)
    capacity, static, per_kg = (rng.uniform(*span, (50, 41)) for span in ((30, 80), (-2, 4), (0.2, 3)))
    found = load_at_effort(elbow_link("elbow", capacity, static, per_kg), 0.75, np.zeros(50), 41)
    effort = np.maximum(static + found[:, None] * per_kg, 0) / capacity
    np.testing.assert_allclose((effort @ window_matrix(41).T).max(axis=1), 0.75, atol=1e-9)
    assert np.isinf(
        load_at_effort(elbow_link("never", capacity, static, -per_kg), 0.75, np.zeros(50), 41)
    ).all()


def test_strength_agrees_with_an_independent_linear_programme() -> None:
    count, rng = 120, np.random.default_rng(5)
    columns = random_columns(count, rng)
    turning = rng.uniform(-3, 3, count)
    for direction in (1.0, -1.0):
        ours = ElbowStrength(columns, np.full(count, direction)).at(turning)
        for n in range(count):
            solved = linprog(
                -direction * columns.matrix[ELBOW, :, n],
                A_eq=columns.matrix[FOREARM, :, n][None, :],
                b_eq=[-columns.passive[FOREARM, n] - turning[n]],
                bounds=np.stack((columns.low, columns.high), axis=1),
            )
            expected = -solved.fun + direction * columns.passive[ELBOW, n] if solved.success else 0.0
            assert ours[n] == pytest.approx(max(expected, 0.0), abs=1e-6)
