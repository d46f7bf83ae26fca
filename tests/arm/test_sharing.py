"""The batch solver against an independent solver of quadratic programmes."""

from __future__ import annotations

import numpy as np
import pytest
import quadprog

from curve_rank.arm.actuators import Actuators
from curve_rank.arm.sharing import share_load
from tests.helpers import random_columns


def independent(matrix: np.ndarray, demand: np.ndarray, columns: Actuators) -> np.ndarray | None:
    """Drives by quadprog, or None where it finds the problem infeasible."""
    size = columns.cost.size
    bounds = np.concatenate((np.eye(size), -np.eye(size)), axis=1)
    limits = np.concatenate((demand, columns.low, -columns.high))
    constraints = np.concatenate((matrix.T, bounds), axis=1)
    try:
        return quadprog.solve_qp(np.diag(columns.cost), np.zeros(size), constraints, limits, len(demand))[0]
    except ValueError:
        return None


@pytest.mark.parametrize("rows", [2, 3])
def test_drives_agree_with_an_independent_solver_and_both_flag_the_infeasible(rows: int) -> None:
    count, rng = 3000, np.random.default_rng(rows)
    columns = random_columns(count, rng)
    reach = np.abs(columns.matrix).sum(axis=1) * np.array([0.5, 0.35, 0.5])[:, None]
    demand = (rng.uniform(-1, 1, (3, count)) * reach)[:rows]
    matrix = columns.matrix[:rows]
    found = share_load(matrix, demand, cost=columns.cost, low=columns.low, high=columns.high)
    infeasible = 0
    for n in range(count):
        expected = independent(matrix[:, :, n], demand[:, n], columns)
        assert found.feasible[n] == (expected is not None)
        if expected is None:
            infeasible += 1
        else:
            np.testing.assert_allclose(found.drives[:, n], expected, atol=1e-6)
    assert 100 < infeasible < count / 2


def test_shapes_that_disagree_are_refused() -> None:
    columns = random_columns(3, np.random.default_rng(0))
    with pytest.raises(ValueError, match="shapes disagree"):
        share_load(columns.matrix, np.zeros((3, 4)), cost=columns.cost, low=columns.low, high=columns.high)
