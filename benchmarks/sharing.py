"""Load sharing: this project's batch solver against Python loops over known solvers, same problems, same run.

Problems are the postures of the built-in variants at their working loads and at random fractions of them. At
exponent 2 the loop is over quadprog, at exponent 3 over SciPy's SLSQP, a general solver, on some of them.
Prints the largest difference in drives and the time per problem of each, and their ratios.
"""

from __future__ import annotations

import argparse
import resource
import time

import numpy as np
import quadprog
from scipy.optimize import minimize

from curve_rank.arm.actuators import Actuators
from curve_rank.arm.balance import balance
from curve_rank.arm.body import Body
from curve_rank.arm.rep import model_reps
from curve_rank.arm.rep_setup import stack_reps
from curve_rank.arm.sharing import share_load
from curve_rank.catalogue.library import built_in
from curve_rank.rating.rep_of_variant import rep_setup


def problems(count: int, seed: int) -> tuple[np.ndarray, np.ndarray, Actuators]:
    """`count` sharing problems (matrix, demand) of all three balances, and their columns' bounds."""
    body, rng = Body(), np.random.default_rng(seed)
    stack = stack_reps(tuple(rep_setup(variant, body) for variant in built_in()))
    held, load = balance(stack, stack.posture, body), model_reps(stack, body=body).load
    at = load[:, None] * rng.uniform(0.3, 1.0, held.shape)
    outside = held.external.static + held.external.per_kg.times(at)
    rows = np.stack((outside.elbow, outside.forearm, outside.shoulder[2])).reshape(3, -1)
    columns = held.actuators.gripping(held.grip(load).ravel())
    demand = -(rows + columns.passive)
    chosen = rng.integers(0, demand.shape[1], count)
    return columns.matrix[:, :, chosen], demand[:, chosen], columns.only(chosen)


def quadprog_loop(matrix: np.ndarray, demand: np.ndarray, columns: Actuators) -> np.ndarray:
    """Drives of shape (columns, problems), one problem at a time; NaN where quadprog finds none."""
    size = columns.cost.shape[0]
    linear = np.zeros(size)
    bounds = np.concatenate((np.eye(size), -np.eye(size)), axis=1)
    limits = np.concatenate((columns.low, -columns.high))
    drives = np.full((size, demand.shape[1]), np.nan)
    for i in range(demand.shape[1]):
        constraints = np.concatenate((matrix[:, :, i].T, bounds), axis=1)
        try:
            solved = quadprog.solve_qp(
                np.diag(columns.cost[:, i]), linear, constraints, np.concatenate((demand[:, i], limits)), 3
            )
        except ValueError:
            continue
        drives[:, i] = solved[0]
    return drives


def slsqp_loop(matrix: np.ndarray, demand: np.ndarray, columns: Actuators) -> np.ndarray:
    """Drives at exponent 3, one problem at a time; NaN where SLSQP ends without an answer."""
    bounds = np.stack((columns.low, columns.high), axis=1)

    def solve(rows: np.ndarray, asked: np.ndarray, cost: np.ndarray) -> np.ndarray:
        solved = minimize(
            lambda a: cost @ np.abs(a) ** 3,
            np.full(cost.size, 0.3),
            jac=lambda a: 3 * cost * a * np.abs(a),
            method="SLSQP",
            bounds=bounds,
            constraints={"type": "eq", "fun": lambda a: rows @ a - asked, "jac": lambda _a: rows},
            options={"ftol": 1e-14, "maxiter": 500},
        )
        return solved.x if solved.success else np.full(cost.size, np.nan)

    return np.stack(
        [solve(matrix[:, :, i], demand[:, i], columns.cost[:, i]) for i in range(demand.shape[1])], axis=1
    )


def main(arguments: list[str] | None = None) -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--problems", type=int, default=100_000)
    parser.add_argument("--general", type=int, default=1000, help="problems for SLSQP")
    parser.add_argument("--rounds", type=int, default=3, help="runs of both in turn; medians are printed")
    parser.add_argument("--seed", type=int, default=1)
    given = parser.parse_args(arguments)
    matrix, demand, columns = problems(given.problems, given.seed)
    share_load(
        matrix[:, :, :100], demand[:, :100], cost=columns.cost[:, :100], low=columns.low, high=columns.high
    )

    batch_times, loop_times = [], []
    for _ in range(given.rounds):
        start = time.perf_counter()
        ours = share_load(matrix, demand, cost=columns.cost, low=columns.low, high=columns.high)
        batch_times.append(time.perf_counter() - start)
        start = time.perf_counter()
        theirs = quadprog_loop(matrix, demand, columns)
        loop_times.append(time.perf_counter() - start)
    batch_time, loop_time = np.median(batch_times), np.median(loop_times)

    cubes = {"cost": columns.cost, "low": columns.low, "high": columns.high, "exponent": 3.0}
    start = time.perf_counter()
    cubed = share_load(matrix, demand, **cubes)
    cube_time = (time.perf_counter() - start) / given.problems
    some = slice(0, given.general)
    start = time.perf_counter()
    general = slsqp_loop(matrix[:, :, some], demand[:, some], columns)
    general_time = (time.perf_counter() - start) / given.general
    told = ~np.isnan(general[0])
    acts = np.abs(matrix[:, :, some]).max(axis=0) > 0
    apart = np.where(acts, np.abs(cubed.drives[:, some] - general), 0.0)[:, told].max()

    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    solved = ~np.isnan(theirs[0])
    both = solved & ours.feasible
    print(f"problems                    {given.problems}")
    print(f"flagged differently         {int((solved != ours.feasible).sum())}")
    print(f"largest difference in drive {np.abs(ours.drives[:, both] - theirs[:, both]).max():.1e}")
    print(f"batch, per problem          {1e6 * batch_time / given.problems:.2f} µs")
    print(f"quadprog loop, per problem  {1e6 * loop_time / given.problems:.2f} µs")
    print(f"ratio                       1/{loop_time / batch_time:.1f}")
    print(f"exponent 3, batch           {1e6 * cube_time:.2f} µs")
    print(f"exponent 3, SLSQP loop      {1e6 * general_time:.0f} µs, {told.sum()} of {given.general} solved")
    print(f"ratio at exponent 3         1/{general_time / cube_time:.0f}")
    print(f"largest difference there    {apart:.1e}")
    print(f"peak memory, problems and all {peak:.0f} MB")


if __name__ == "__main__":
    main()
