"""Load sharing: this project's batch solver against a Python loop over quadprog, same problems, same run.

Problems are the postures of the built-in variants at their working loads and at random fractions of them.
Prints the largest difference in drives and the time per problem of each, and their ratio.
"""

from __future__ import annotations

import argparse
import resource
import time

import numpy as np
import quadprog

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
    columns = held.actuators
    demand = -(rows + columns.passive)
    chosen = rng.integers(0, demand.shape[1], count)
    return columns.matrix[:, :, chosen], demand[:, chosen], columns


def quadprog_loop(matrix: np.ndarray, demand: np.ndarray, columns: Actuators) -> np.ndarray:
    """Drives of shape (columns, problems), one problem at a time; NaN where quadprog finds none."""
    size = columns.cost.size
    quadratic, linear = np.diag(columns.cost), np.zeros(size)
    bounds = np.concatenate((np.eye(size), -np.eye(size)), axis=1)
    limits = np.concatenate((columns.low, -columns.high))
    drives = np.full((size, demand.shape[1]), np.nan)
    for i in range(demand.shape[1]):
        constraints = np.concatenate((matrix[:, :, i].T, bounds), axis=1)
        try:
            solved = quadprog.solve_qp(
                quadratic, linear, constraints, np.concatenate((demand[:, i], limits)), 3
            )
        except ValueError:
            continue
        drives[:, i] = solved[0]
    return drives


def main(arguments: list[str] | None = None) -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--problems", type=int, default=100_000)
    parser.add_argument("--rounds", type=int, default=3, help="runs of both in turn; medians are printed")
    parser.add_argument("--seed", type=int, default=1)
    given = parser.parse_args(arguments)
    matrix, demand, columns = problems(given.problems, given.seed)
    share_load(matrix[:, :, :100], demand[:, :100], cost=columns.cost, low=columns.low, high=columns.high)

    batch_times, loop_times = [], []
    for _ in range(given.rounds):
        start = time.perf_counter()
        ours = share_load(matrix, demand, cost=columns.cost, low=columns.low, high=columns.high)
        batch_times.append(time.perf_counter() - start)
        start = time.perf_counter()
        theirs = quadprog_loop(matrix, demand, columns)
        loop_times.append(time.perf_counter() - start)
    batch_time, loop_time = np.median(batch_times), np.median(loop_times)

    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    solved = ~np.isnan(theirs[0])
    both = solved & ours.feasible
    print(f"problems                    {given.problems}")
    print(f"flagged differently         {int((solved != ours.feasible).sum())}")
    print(f"largest difference in drive {np.abs(ours.drives[:, both] - theirs[:, both]).max():.1e}")
    print(f"batch, per problem          {1e6 * batch_time / given.problems:.2f} µs")
    print(f"quadprog loop, per problem  {1e6 * loop_time / given.problems:.2f} µs")
    print(f"ratio                       1/{loop_time / batch_time:.1f}")
    print(f"peak memory, problems and all {peak:.0f} MB")


if __name__ == "__main__":
    main()
