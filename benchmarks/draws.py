"""Draws behind the certainty of a ranking: the whole run on all cores, and how time grows.

Prints the time of 120 variants × 500 draws × 31 postures on all cores with the time to its first results;
the same draws variant by variant on one core as the alternative, and the ratio per core; and how far time
against the number of variants (10 to 1000) and of draws strays from a straight line.
"""

from __future__ import annotations

import argparse
import os
import resource
import time

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.background.draws import DrawQuestion, Draws
from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.draws import DRAW_SAMPLES, DrawTask, model_draws

EFFORT = 0.75
ONESELF = 0
SIZES = (10, 50, 150, 400, 1000)
DRAW_COUNTS = (4, 8, 16, 32)


def many(count: int) -> tuple[Variant, ...]:
    """That many variants: the built-in ones over again, each with a number of its own."""
    base = built_in()
    return tuple(
        base[n % len(base)].model_copy(update={"id": f"copy-{n}"}) if n >= len(base) else base[n]
        for n in range(count)
    )


def spent(variants: tuple[Variant, ...], draws: int, *, rounds: int = 3) -> float:
    """Least time of some draws in this process, set-up aside [s]."""
    model_draws(DrawTask(variants, Body(), EFFORT, 1, 0, 1))
    times = []
    for _ in range(rounds):
        start = time.perf_counter()
        model_draws(DrawTask(variants, Body(), EFFORT, 1, 0, draws))
        times.append(time.perf_counter() - start)
    return min(times)


def strays(counts: tuple[int, ...], times: list[float]) -> float:
    """Largest distance from the straight line through the measurements, over the time there [1].

    The line is fitted so that relative distances count.
    """
    x, y = np.array(counts, dtype=float), np.array(times)
    weights = 1 / y
    slope, start = np.polyfit(x, y, 1, w=weights)
    return float(np.abs((start + slope * x) / y - 1).max())


def main(arguments: list[str] | None = None) -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--variants", type=int, default=120)
    parser.add_argument("--draws", type=int, default=500)
    given = parser.parse_args(arguments)

    desk, start, first = Draws(), time.perf_counter(), 0.0
    question = DrawQuestion(many(given.variants), Body(), EFFORT, seed=1, draws=given.draws)
    run = desk.start(ONESELF, question)
    while not run.wait(0.02):
        if not first and run.done:
            first = time.perf_counter() - start
    whole = time.perf_counter() - start
    desk.close()
    print(
        f"{given.variants} variants × {given.draws} draws × {DRAW_SAMPLES} postures, "
        f"{os.cpu_count()} cores: {whole:.1f} s, first results after {first:.1f} s"
    )
    together = spent(many(given.variants), 4) / 4
    apart = sum(spent((v,), 1, rounds=1) for v in many(given.variants))
    print(f"all cores over one core             {together * given.draws / whole:7.2f} times")
    print(f"one draw of all together, one core  {1000 * together:7.1f} ms")
    print(f"one draw variant by variant         {1000 * apart:7.1f} ms")
    print(f"ratio                               1/{apart / together:.1f}")
    by_variants = [spent(many(count), 4) for count in SIZES]
    told = ", ".join(f"{n}: {1000 * t / 4:.0f} ms" for n, t in zip(SIZES, by_variants, strict=True))
    print(f"a draw by number of variants        {told}")
    print(f"strays from a straight line         {100 * strays(SIZES, by_variants):.0f} %")
    by_draws = [spent(many(60), count) for count in DRAW_COUNTS]
    print(f"by number of draws, strays          {100 * strays(DRAW_COUNTS, by_draws):.0f} %")
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"peak memory of this process         {peak:.0f} MB")


if __name__ == "__main__":
    main()
