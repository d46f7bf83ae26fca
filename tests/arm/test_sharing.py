"""The batch solver against an independent solver of quadratic programmes."""

from __future__ import annotations

import numpy as np
import pytest
import quadprog
from scipy.optimize import Bounds, minimize

from curve_rank.arm.actuators import Actuators
from curve_rank.arm.sharing import share_load
from tests.helpers import random_columns


def independent(
    matrix: np.ndarray, demand: np.ndarray, columns: Actuators, cost: np.ndarray
) -> np.ndarray | None:
    """Drives by quadprog, or None where it finds the problem infeasible."""
    size = cost.size
    bounds = np.concatenate((np.eye(size), -np.eye(size)), axis=1)
    limits = np.concatenate((demand, columns.low, -columns.high))
    constraints = np.concatenate((matrix.T, bounds), axis=1)
    try:
        return quadprog.solve_qp(np.diag(cost), np.zeros(size), constraints, limits, len(demand))[0]
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
        expected = independent(matrix[:, :, n], demand[:, n], columns, columns.cost[:, n])
        assert found.feasible[n] == (expected is not None)
        if expected is None:
            infeasible += 1
        else:
            np.testing.assert_allclose(found.drives[:, n], expected, atol=1e-6)
    assert 100 < infeasible < count / 2


@pytest.mark.parametrize("exponent", [3.0, 2.4])
def test_drives_agree_with_a_general_convex_solver_above_exponent_2(exponent: float) -> None:
    count, rng = 60, np.random.default_rng(9)
    columns = random_columns(count, rng)
    reach = np.abs(columns.matrix).sum(axis=1) * np.array([0.4, 0.25, 0.4])[:, None]
    demand = rng.uniform(-1, 1, (3, count)) * reach
    bounds = {"cost": columns.cost, "low": columns.low, "high": columns.high}
    found = share_load(columns.matrix, demand, exponent=exponent, **bounds)
    squares = share_load(columns.matrix, demand, **bounds)
    assert (found.feasible == squares.feasible).all()
    assert found.feasible.sum() > 20
    for n in np.flatnonzero(found.feasible):
        cost = columns.cost[:, n]
        rows, asked = columns.matrix[:, :, n], demand[:, n]
        expected = minimize(
            lambda a, cost=cost: cost @ np.abs(a) ** exponent,
            squares.drives[:, n],
            jac=lambda a, cost=cost: exponent * cost * np.abs(a) ** (exponent - 1) * np.sign(a),
            method="SLSQP",
            bounds=Bounds(columns.low, columns.high),
            constraints={
                "type": "eq",
                "fun": lambda a, rows=rows, asked=asked: rows @ a - asked,
                "jac": lambda _a, rows=rows: rows,
            },
            options={"ftol": 1e-18, "maxiter": 3000},
        )
        acts = np.abs(columns.matrix[:, :, n]).max(axis=0) > 0
        np.testing.assert_allclose(found.drives[acts, n], expected.x[acts], atol=2e-6)
        ours = cost @ np.abs(found.drives[:, n]) ** exponent
        assert ours <= expected.fun + 1e-8


def test_shapes_that_disagree_are_refused() -> None:
    columns = random_columns(3, np.random.default_rng(0))
    with pytest.raises(ValueError, match="shapes disagree"):
        share_load(columns.matrix, np.zeros((3, 4)), cost=columns.cost, low=columns.low, high=columns.high)
    with pytest.raises(ValueError, match="from 2 to 3"):
        share_load(
            columns.matrix,
            np.zeros((3, 3)),
            cost=columns.cost,
            low=columns.low,
            high=columns.high,
            exponent=4,
        )
