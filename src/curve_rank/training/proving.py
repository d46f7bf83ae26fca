"""What learning from a log is held against: simulated lifters, of whom it is known what is true."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from curve_rank.practice.facts import Facts
from curve_rank.practice.units import KG_PER_LB
from curve_rank.rating.spreads import interval
from curve_rank.study.proving import Proof
from curve_rank.training.learning import LogFindings, learn
from curve_rank.training.log import LoggedSet
from curve_rank.training.simulated_lifters import (
    KNOWN,
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

LIFTERS, EXERCISES, LOG_SEED = 60, 6, 1
"""Simulated lifters, exercises that each of them logs, and the seed of their logs."""
APART = 0.10
"""By how much the part inside may differ from what is stated: of so few lifters more is chance [1]."""
LEAST_FALL, LEAST_ASKED, MOST_ASKED = 0.25, 0.9, 0.05
"""By how much a log must beat one known set; of how many lifters a log in pounds is asked about, and one in
kilograms [1]."""


@dataclass
class Unlogged:
    """Exercises that a lifter never logged.

    Attributes
    ----------
    by_one, by_log : list of float
        How far off their loads are by one known set alone, and by what is learned of the log [1].
    within : list of bool
        Whether what is true lies within what is learned.
    """

    by_one: list[float] = field(default_factory=list)
    by_log: list[float] = field(default_factory=list)
    within: list[bool] = field(default_factory=list)


@dataclass(frozen=True)
class Training:
    """A lifter's exercises and their log, their facts by one known set, and what is learned of it."""

    lifter: Lifter
    mine: tuple[str, ...]
    log: tuple[LoggedSet, ...]
    facts: Mapping[str, Facts]
    learned: LogFindings


def trainings(
    simulation: Simulation, exercises: int, noise: Noise, kind: Kind, lifters: int, unit: float = 1.0
) -> Iterator[Training]:
    """Lifters of a kind who log so many exercises, each learned; loads times `unit`."""
    rng = np.random.default_rng(LOG_SEED)
    keys = [variant.id for variant in simulation.variants]
    for number in range(lifters):
        lifter = Lifter(simulation, number, kind, rng)
        mine = tuple(keys[n] for n in rng.choice(len(keys), exercises, replace=False))
        log, facts = tuple(lifter.log(mine, noise, unit)), lifter.body()
        learned = learn(log, facts, TODAY, simulation.bank.strays, known=KNOWN)
        yield Training(lifter, mine, log, facts, learned)


def of_unlogged(
    lifter: Lifter, facts: Mapping[str, Facts], learned: LogFindings, logged: Sequence[str]
) -> Unlogged:
    """How well loads of what was never logged are known, after the last week.

    Parameters
    ----------
    lifter : Lifter
        Who it is of.
    facts : mapping
        Of each exercise, by the one known set.
    learned : LogFindings
        Of their log.
    logged : sequence of str
        Exercises of the log.
    """
    found = Unlogged()
    for key, fact in facts.items():
        if key in (*logged, KNOWN):
            continue
        true = lifter.simulation.held(key, USUAL_REPS) * np.exp(lifter.over(key, WEEKS))
        plain, factor = fact.load_for(USUAL_REPS, low=False) + fact.on_hands, learned.factors[key]
        # Some arms cannot hold some exercises at all: what is off by its whole is off by no more.
        found.by_one.append(min(abs(plain / true - 1), 1.0))
        found.by_log.append(min(abs(plain * factor.median / true - 1), 1.0))
        found.within.append(bool(factor.low <= true / plain <= factor.high))
    return found


def learning_proofs() -> list[Proof]:
    """What is learned of six weeks of a few exercises, worked out now."""
    simulation = Simulation(LIFTERS)
    others, asked = _learned(simulation, 1.0)
    _, in_pounds = _learned(simulation, 1 / KG_PER_LB)
    inside = float(np.mean([one for each in others for one in each.within]))
    by_one, by_log = (
        float(np.median([np.mean(getattr(each, name)) for each in others])) for name in ("by_one", "by_log")
    )
    said = f"{LIFTERS} simulated lifters, {EXERCISES} exercises over {WEEKS} weeks"
    return [
        Proof(
            "learning",
            f"{said}: true loads of all other exercises inside what is learned",
            f"{100 * interval():.0f} ± {100 * APART:.0f} %",
            "the interval’s own statement",
            f"{100 * inside:.1f} %",
            abs(inside - interval()) <= APART,
        ),
        Proof(
            "learning",
            "How far off those loads are, beside one known set alone",
            f"at least {100 * LEAST_FALL:.0f} % less",
            "one known set",
            f"{100 * by_log:.1f} % off instead of {100 * by_one:.1f}",
            by_log <= (1 - LEAST_FALL) * by_one,
        ),
        Proof(
            "learning",
            "Logs in pounds that are read as kilograms: asked about",
            f"at least {100 * LEAST_ASKED:.0f} %",
            "a log that contradicts the known set",
            f"{100 * in_pounds:.0f} %",
            in_pounds >= LEAST_ASKED,
        ),
        Proof(
            "learning",
            "The same logs in kilograms: asked about",
            f"at most {100 * MOST_ASKED:.0f} %",
            "a log that contradicts the known set",
            f"{100 * asked:.0f} %",
            asked <= MOST_ASKED,
        ),
    ]


def _learned(simulation: Simulation, unit: float) -> tuple[list[Unlogged], float]:
    """Of each lifter of whom something is learned; and the part of all who are asked about their log [1]."""
    every = list(trainings(simulation, EXERCISES, REALISTIC, USUAL, LIFTERS, unit))
    found = [
        of_unlogged(one.lifter, one.facts, one.learned, one.mine) for one in every if not one.learned.why_not
    ]
    return found, sum(bool(one.learned.asks) for one in every) / LIFTERS
