"""Load sharing: which drives hold a load, for many postures at once.

Among all drives that satisfy the balances the one with the least sum of squared drives is taken
(Crowninshield & Brand 1981, exponent 2). Each problem is

    minimise ½ Σ c x²   subject to   A x = b,   low ≤ x ≤ high,

with at most three rows in A. Its dual has one multiplier per row and is concave and piecewise quadratic,
so Newton's method with step control on all problems at once ends in a handful of steps.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
BoolArray = NDArray[np.bool_]

BLOCK = 2048
"""Problems solved together: their columns then fit the processor's cache."""
MOST_STEPS = 60
TOLERANCE = 1e-10
"""Largest imbalance left, over the size of the row."""


@dataclass(frozen=True)
class Sharing:
    """Drives of shape (columns, problems) and, per problem, whether they satisfy the balances."""

    drives: Array
    feasible: BoolArray


def share_load(matrix: Array, demand: Array, *, cost: Array, low: Array, high: Array) -> Sharing:
    """Solve many sharing problems.

    Parameters
    ----------
    matrix : array, shape (rows, columns, problems)
        Moment that each column makes in each balance at full drive [N·m]; rows of zeros are ignored.
    demand : array, shape (rows, problems)
        What the balances ask [N·m].
    cost, low, high : array, shape (columns,)
        Weight c and bounds of each drive.

    Returns
    -------
    Sharing
        An infeasible problem is flagged; its drives are those of the nearest the bounds allow.

    Raises
    ------
    ValueError
        When shapes disagree.
    """
    rows, columns, problems = matrix.shape
    if demand.shape != (rows, problems) or not cost.shape == low.shape == high.shape == (columns,):
        raise ValueError(f"shapes disagree: {matrix.shape}, {demand.shape}, {cost.shape}")
    drives = np.empty((columns, problems))
    feasible = np.empty(problems, dtype=bool)
    bounds = (cost[:, None], low[:, None], high[:, None])
    for start in range(0, problems, BLOCK):
        part = slice(start, min(start + BLOCK, problems))
        drives[:, part], feasible[part] = _solve_block(matrix[:, :, part], demand[:, part], *bounds)
    return Sharing(drives, feasible)


def _solve_block(
    matrix: Array, demand: Array, cost: Array, low: Array, high: Array
) -> tuple[Array, BoolArray]:
    size = np.sqrt((matrix**2).sum(axis=1)) + 1e-12
    rows = matrix / size[:, None]
    asked = np.where(size > 1e-9, demand / size, 0.0)
    count = rows.shape[2]
    drives, feasible = np.empty((rows.shape[1], count)), np.zeros(count, dtype=bool)
    open_ = np.arange(count)
    multipliers = _newton_direction(rows, asked, np.ones_like(rows[0]), cost)
    for _ in range(MOST_STEPS):
        drive = _drives(rows, multipliers, cost, low, high)
        gap = asked - np.einsum("jkn,kn->jn", rows, drive)
        done = np.abs(gap).max(axis=0) < TOLERANCE * (1 + np.abs(asked).max(axis=0))
        if done.any():
            drives[:, open_[done]], feasible[open_[done]] = drive[:, done], True
            keep = ~done
            open_, rows, asked = open_[keep], rows[:, :, keep], asked[:, keep]
            multipliers, drive, gap = multipliers[:, keep], drive[:, keep], gap[:, keep]
        if open_.size == 0:
            return drives, feasible
        free = ((drive > low) & (drive < high)).astype(float)
        step = _newton_direction(rows, gap, free, cost)
        multipliers = _controlled_step(multipliers, step, gap, (rows, asked, cost, low, high))
    drives[:, open_] = _drives(rows, multipliers, cost, low, high)
    return drives, feasible


def _drives(rows: Array, multipliers: Array, cost: Array, low: Array, high: Array) -> Array:
    pull = multipliers[0] * rows[0]
    for multiplier, row in zip(multipliers[1:], rows[1:], strict=True):
        pull += multiplier * row
    pull /= cost
    return np.clip(pull, low, high, out=pull)


def _newton_direction(rows: Array, gap: Array, free: Array, cost: Array) -> Array:
    """Solve (A_free C⁻¹ A_freeᵀ) step = gap for each problem by Cholesky's method, written out."""
    count = rows.shape[0]
    weighted = [row * (free / cost) for row in rows]
    factor: list[list[Array]] = [[] for _ in range(count)]
    half: list[Array] = []
    for i in range(count):
        for j in range(i):
            total = np.einsum("kn,kn->n", weighted[i], rows[j])
            for m in range(j):
                total -= factor[i][m] * factor[j][m]
            factor[i].append(total / factor[j][j])
        square = np.einsum("kn,kn->n", weighted[i], rows[i])
        ridge = 1e-9 * (1 + square)
        for m in range(i):
            square -= factor[i][m] ** 2
        # A row that no free column moves gets a small ridge: a long step that step control cuts.
        factor[i].append(np.sqrt(np.maximum(square, ridge)))
        partial = gap[i].copy()
        for m in range(i):
            partial -= factor[i][m] * half[m]
        half.append(partial / factor[i][i])
    step = np.empty_like(gap)
    for i in reversed(range(count)):
        partial = half[i]
        for m in range(i + 1, count):
            partial = partial - factor[m][i] * step[m]
        step[i] = partial / factor[i][i]
    return step


def _dual(multipliers: Array, problem: tuple[Array, Array, Array, Array, Array]) -> Array:
    rows, asked, cost, low, high = problem
    drive = _drives(rows, multipliers, cost, low, high)
    held = np.einsum("jkn,kn->jn", rows, drive)
    effort = 0.5 * np.einsum("kn,kn->n", cost * drive, drive)
    value: Array = effort + np.einsum("jn,jn->n", multipliers, asked - held)
    return value


def _controlled_step(
    multipliers: Array, step: Array, gap: Array, problem: tuple[Array, Array, Array, Array, Array]
) -> Array:
    """The longest of 1, ¼, … of the step that raises the dual enough."""
    rows, asked, cost, low, high = problem
    before = _dual(multipliers, problem)
    promise = np.einsum("jn,jn->n", gap, step)
    result = multipliers + step
    rise = _dual(result, problem) - before
    short = np.flatnonzero(rise < 1e-4 * promise - 1e-13 * np.abs(before))
    length = 1.0
    while short.size and length > 1e-9:
        length /= 4
        trial = multipliers[:, short] + length * step[:, short]
        part = (rows[:, :, short], asked[:, short], cost, low, high)
        rise = _dual(trial, part) - before[short]
        result[:, short] = trial
        short = short[rise < 1e-4 * length * promise[short] - 1e-13 * np.abs(before[short])]
    return result
