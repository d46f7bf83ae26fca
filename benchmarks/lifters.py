"""What is learned of simulated lifters, and how well planned loads agree: `python -m benchmarks.lifters`.

A lifter is an arm of the model's spreads with a strength and a skill of their own on each exercise, who
trains for six weeks and says what is left as people do. What is learned is compared with one known set, on
exercises that were logged and on those that never were. Everything is drawn from seeds that are printed.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import timedelta

import numpy as np

from curve_rank.practice.block import Exercise
from curve_rank.practice.rooms import Room
from curve_rank.practice.session import MOST_LEFT, fall_per_set, set_targets
from curve_rank.practice.units import KG_PER_LB
from curve_rank.training.learning import learn
from curve_rank.training.proving import LOG_SEED, Training, of_unlogged, trainings
from curve_rank.training.simulated_lifters import (
    KNOWN,
    LIFTERS_SEED,
    MILD,
    REALISTIC,
    TODAY,
    USUAL,
    USUAL_REPS,
    WEEKS,
    Kind,
    Lifter,
    Noise,
    Simulation,
)

LIFTERS = 200
ODD = 20
"""Lifters of each odd kind."""
ODD_KINDS = (
    Kind("three times the skill", skill=0.12),
    Kind("flexors 25 % weaker, extensors stronger", flexors=-0.25),
    Kind("grows 3 % a week", growth=0.03),
    Kind("says two more left than there are", misjudges=2.0),
    Kind("half as strong again as the known set", strength=0.4),
)


@dataclass
class Tally:
    """What came of many lifters."""

    learned: int = 0
    asked: int = 0
    of: int = 0
    by_one: list[float] = field(default_factory=list)
    by_log: list[float] = field(default_factory=list)
    within: list[bool] = field(default_factory=list)
    logged: list[float] = field(default_factory=list)
    last: list[float] = field(default_factory=list)

    def line(self, name: str) -> str:
        """A row of the table."""
        one, log = np.array(self.by_one), np.array(self.by_log)
        if not len(log):
            return f"{name:42} {self.learned:3}/{self.of:<3} asked about {self.asked}"
        return (
            f"{name:42} {self.learned:3}/{self.of:<3} "
            f"{100 * np.median(one):6.1f} {100 * np.median(log):6.1f} "
            f"{100 * (np.median(log) / np.median(one) - 1):+6.0f} {100 * np.mean(self.within):7.0f} "
            f"{100 * np.mean(log > 1.05 * one):5.0f} {100 * np.median(self.logged):7.1f} "
            f"{100 * np.median(self.last):5.1f} {100 * np.mean(log) / np.mean(one) - 100:+6.0f}"
        )


HEAD = (
    f"{'':42} learned  one set  log   fall  in 80 %  harm  logged  last   mean\n"
    f"{'':42}             [%]    [%]    [%]     [%]   [%]     [%]   [%]    [%]"
)


def tally(
    simulation: Simulation, exercises: int, noise: Noise, kind: Kind, lifters: int, unit: float = 1.0
) -> Tally:
    """Lifters who log so many exercises, learned and compared."""
    found = Tally()
    for one in trainings(simulation, exercises, noise, kind, lifters, unit):
        found.of += 1
        found.asked += bool(one.learned.asks)
        if not one.learned.why_not:
            found.learned += 1
            _compare(found, one)
    return found


def _compare(found: Tally, one: Training) -> None:
    lifter, facts, learned = one.lifter, one.facts, one.learned
    for key in one.mine:
        rows = [each for each in one.log if each.variant == key]
        if not rows:
            continue
        fact, last = facts[key], rows[-1]
        true = lifter.simulation.held(key, USUAL_REPS) * np.exp(lifter.over(key, WEEKS))
        plain = fact.load_for(USUAL_REPS, low=False) + fact.on_hands
        rule_of_thumb = (last.load_kg + fact.on_hands) * (1 + last.to_failure / 30) / (1 + USUAL_REPS / 30)
        found.logged.append(abs(plain * learned.factors[key].median / true - 1))
        found.last.append(abs(rule_of_thumb / true - 1))
    others = of_unlogged(lifter, facts, learned, one.mine)
    found.within += others.within
    found.by_one.append(float(np.mean(others.by_one)))
    found.by_log.append(float(np.mean(others.by_log)))


def learning_table(simulation: Simulation, lifters: int, say: Callable[[str], None]) -> None:
    """Learning by exercises and noise; odd kinds; loads in the other unit."""
    say(HEAD)
    for noise in (MILD, REALISTIC):
        for exercises in (2, 4, 6, 8, 12):
            say(
                tally(simulation, exercises, noise, USUAL, lifters).line(
                    f"{exercises} exercises, {noise.name}"
                )
            )
    for kind in ODD_KINDS:
        for exercises in (4, 8):
            say(tally(simulation, exercises, REALISTIC, kind, ODD).line(f"{exercises}, {kind.name}"))
    for exercises in (2, 4, 8):
        wrong = tally(simulation, exercises, REALISTIC, USUAL, lifters, 1 / KG_PER_LB)
        say(f"{f'{exercises}, pounds read as kilograms':42} asked about {wrong.asked} of {wrong.of}")
        right = tally(simulation, exercises, REALISTIC, USUAL, lifters)
        say(f"{f'{exercises}, kilograms':42} asked about {right.asked} of {right.of}")


ROOMS = (
    Room(),
    Room(name="Home, 2 kg steps", dumbbells_kg=tuple(float(n) for n in range(2, 26, 2))),
    Room(name="Stack of fives", dumbbells_kg=(2.5, 5, 7.5, 10, 15, 20, 25), stack_from_kg=5, stack_step_kg=5),
)


def agreement_table(simulation: Simulation, say: Callable[[str], None]) -> None:
    """Planned load over the model's for the repetitions and what is left that are said with it, by room."""
    say(f"{'':42}  sets  load over model's   within 2 repetitions   too far a step")
    for room in ROOMS:
        ratios, off, far = [], [], 0
        for key, fact in simulation.facts.items():
            one = Exercise(variant=key, sets=3)
            for reserve in (3, 2, 1):
                sets = set_targets(one, fact, room, reserve=reserve)
                if sets[0].reserve == MOST_LEFT or sets[0].reps < one.reps_from:
                    far += len(sets)
                    continue
                for n, target in enumerate(sets):
                    able = (1 - fall_per_set(one.rest_s)) ** n
                    model = fact.load_for((target.reps + target.reserve) / able, low=False)
                    ratios.append((target.load + fact.on_hands) / (model + fact.on_hands))
                    off.append(abs(fact.reps_at(target.load) * able - target.reps - target.reserve) <= 2)
        say(
            f"{room.name:42} {len(ratios):5} {np.median(ratios):10.3f} "
            f"({np.min(ratios):.3f} to {np.max(ratios):.3f}) {100 * np.mean(off):12.0f} % {far:16}"
        )


def planned_table(simulation: Simulation, say: Callable[[str], None]) -> None:
    """By how much two weeks done just as planned move what was learned, and how long learning takes."""
    rng, keys = np.random.default_rng(LOG_SEED), [v.id for v in simulation.variants]
    moved, seconds = [0.0], []
    for number in range(ODD):
        lifter = Lifter(simulation, number, USUAL, rng)
        log = lifter.log([keys[n] for n in rng.choice(len(keys), 8, replace=False)], REALISTIC)
        facts, began = lifter.body(), time.perf_counter()
        before = learn(log, facts, TODAY, simulation.bank.strays, known=KNOWN)
        seconds.append(time.perf_counter() - began)
        planned = [
            one.model_copy(
                update={"key": f"{one.key}-{days}", "day": TODAY - timedelta(days=days), "as_planned": True}
                | {"load_kg": round(0.8 * one.load_kg, 3), "reserve": 3}
            )
            for one in log[-8:]
            for days in (13, 10, 6, 3, 1)
        ]
        after = learn([*log, *planned], facts, TODAY, simulation.bank.strays, known=KNOWN)
        moved += [abs(after.factors[key].median / one.median - 1) for key, one in before.factors.items()]
    say(f"two weeks as planned move a load by at most {100 * max(moved):.1f} %")
    say(f"a person is learned in {1000 * np.median(seconds):.0f} ms, once the bank is drawn")


def main(arguments: list[str] | None = None) -> None:
    """Print both tables; `--quick` with a fifth of the lifters."""
    lifters = LIFTERS // 5 if "--quick" in (arguments if arguments is not None else sys.argv[1:]) else LIFTERS
    print(f"{lifters} lifters of seed {LIFTERS_SEED}, logs of seed {LOG_SEED}")
    simulation = Simulation(lifters)
    print(f"{len(simulation.variants)} exercises, all that are loaded with something")
    agreement_table(simulation, print)
    learning_table(simulation, lifters, print)
    planned_table(simulation, print)


if __name__ == "__main__":
    main()
