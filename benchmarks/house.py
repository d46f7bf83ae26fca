"""A house of 200 lifters over 12 weeks, read and fitted; somebody joins and leaves: `python -m
benchmarks.house`.

Beside it, in the same run, what is named as the alternative: one normal distribution of all readings at
once, of as few people as that can be asked of.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Sequence

import numpy as np
from scripts.write_demo_house import EXERCISES

from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.house.contributions import contribution_of, together
from curve_rank.house.effects import EffectTable
from curve_rank.house.fit import fit
from curve_rank.house.simulated import house_of, lifter_of
from curve_rank.practice.rules import rule
from curve_rank.rating.modelling import Modeller
from curve_rank.study.draw_bank import DrawBank
from curve_rank.study.personal import PersonalArm, strays_of
from curve_rank.training.learning import prior_of_anybody

PEOPLE, FEW, DRAWS = 200, 12, 192


def main(_arguments: Sequence[str]) -> None:
    """Print times and their ratio."""
    variants = tuple(find_variant(key, built_in()) for key in sorted(EXERCISES))
    strays = strays_of(DrawBank(Modeller()).strays(variants, range(DRAWS)), range(DRAWS))
    effects, prior, rng = EffectTable().of(variants), prior_of_anybody(), np.random.default_rng(1)
    true = house_of(rng, effects, 0.05)
    lifters = [lifter_of(rng, true, prior, strays) for _ in range(PEOPLE)]
    start = time.perf_counter()
    said = [one for lifter in lifters if (one := contribution_of(lifter.evidence, prior, strays))]
    read = time.perf_counter() - start
    start = time.perf_counter()
    found = fit(together(said), effects)
    _ = found.numbers, found.against_the_house
    fitted = time.perf_counter() - start
    whole = together(said)
    start = time.perf_counter()
    whole.minus(said[7]).plus(said[7])
    moved = (time.perf_counter() - start) / 2
    readings = int(whole.readings.sum())
    kept = sum(one.information.nbytes + one.score.nbytes for one in said)
    print(
        f"{PEOPLE} people, {readings} readings: read {read:.2f} s, fitted {fitted:.2f} s, {kept // 1024} KiB"
    )
    each = 1000 * read / PEOPLE
    print(f"one more, or one fewer: {1000 * moved:.2f} ms, and {each:.1f} ms to read a log")
    few = lifters[:FEW]
    start = time.perf_counter()
    fit(together(one for lifter in few if (one := contribution_of(lifter.evidence, prior, strays))), effects)
    ours = time.perf_counter() - start
    start = time.perf_counter()
    arms = [PersonalArm(lifter.evidence, prior, strays) for lifter in few]
    place = {key: n for n, key in enumerate(effects.variants)}
    at = np.array([place[one.variant] for arm in arms for one in arm.evidence])
    slopes = effects.slopes(np.zeros(len(effects.names)))
    before = slopes @ slopes.T + 0.05**2 * np.eye(len(place)) + rule("house.strength") ** 2
    all_of = before[np.ix_(at, at)]
    first = 0
    for arm in arms:
        some = slice(first, first := first + len(arm.evidence))
        all_of[some, some] += arm.covariance
    np.linalg.solve(all_of, np.concatenate([arm.unexplained for arm in arms]))
    other = time.perf_counter() - start
    print(f"{FEW} people, with numbers and sizes: {ours:.2f} s")
    print(f"all their readings at once, without: {other:.2f} s ({other / ours:.1f} times)")


if __name__ == "__main__":
    main(sys.argv[1:])
