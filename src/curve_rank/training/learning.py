"""What a log says of a person's arm: evidence from its sets, and loads that follow from it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import date, timedelta
from typing import Any

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_of
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.facts import Facts
from curve_rank.practice.rules import rule
from curve_rank.rating.spreads import Spread
from curve_rank.study.personal import (
    LEAST_HELD,
    Evidence,
    Factor,
    PersonalArm,
    Prior,
    factor_of,
    weigh,
)
from curve_rank.study.transfer import Transfer, on_steps
from curve_rank.training.log import LoggedSet

FRESH_SETS = 2
"""So many sets of a bout are learned from: later ones tell of fatigue."""
Strays = Callable[[Sequence[Variant], Sequence[int]], Mapping[str, Array]]
"""How each of some draws strays on each of some variants, by id."""


@dataclass(frozen=True)
class LogFindings:
    """What was learned of a person.

    Attributes
    ----------
    factors : mapping
        Per variant, what the hands hold over what one known set says [1]; empty where nothing is learned.
    effective : float
        Effective number of draws.
    draws : int
        From how many.
    sets, variants : int
        It rests on.
    why_not : str
        Why nothing is learned; empty where something is.
    moved : tuple of (str, float)
        Numbers of the arm that moved most, in spreads.
    until : date, optional
        Of the newest set.
    middle : tuple of float
        Deviates of the arm that explains the person best.
    """

    factors: Mapping[str, Factor]
    effective: float
    draws: int
    sets: int
    variants: int
    why_not: str = ""
    moved: tuple[tuple[str, float], ...] = ()
    until: date | None = None
    middle: tuple[float, ...] = ()


def evidence_of(log: Sequence[LoggedSet], facts: Mapping[str, Facts], today: date) -> tuple[Evidence, ...]:
    """What the last weeks say, by exercise: nothing is learned from pain, part or guessed sets."""
    since = today - timedelta(days=rule("personal.window_days"))
    by: dict[str, list[LoggedSet]] = {}
    for one in log:
        fresh = one.set <= FRESH_SETS and since <= one.day <= today
        if one.teaches and fresh and one.variant in facts:
            by.setdefault(one.variant, []).append(one)
    return tuple(_evidence(facts[variant], sets) for variant, sets in sorted(by.items()))


def _evidence(fact: Facts, sets: Sequence[LoggedSet]) -> Evidence:
    constant = parameter_set().number("readings.reps_constant")
    excess, rises, noises = [], [], []
    for one in sets:
        held, rise = _held(fact, one.to_failure)
        excess.append(float(np.log(max(one.load_kg + fact.on_hands, LEAST_HELD) / held)))
        rises.append(rise)
        # A repetition more or less left is this much effort, and so this much load.
        noises.append(
            np.hypot(rule("personal.noise"), rise * rule("personal.reps_error") / (constant + one.to_failure))
        )
    noise = float(np.sqrt(np.mean(np.square(noises)) / len(sets)))
    return Evidence(fact.variant.id, float(np.mean(excess)), float(np.mean(rises)), noise, len(sets))


def _held(fact: Facts, reps: float) -> tuple[float, float]:
    """What the hands should hold for some repetitions [kg], and how it rises with strength [1]."""
    lifted = fact.slope * effort_of(reps)
    held = max(fact.base + lifted + fact.on_hands, LEAST_HELD)
    return held, lifted / held


def learn(
    log: Sequence[LoggedSet],
    facts: Mapping[str, Facts],
    today: date,
    strays: Strays,
    wanted: Sequence[str] | None = None,
) -> LogFindings:
    """Learn a person's arm from a log.

    Parameters
    ----------
    log : sequence of LoggedSet
        What was logged, oldest first.
    facts : mapping
        Of the person's body, with the strength that a known set says.
    today : date
        The day it is where the person is.
    strays : callable
        Asked for more draws where few fit.
    wanted : sequence of str, optional
        Variants whose factors are worked out; all there are facts of, unless they are named.
    """
    told = evidence_of(log, facts, today)
    sets = sum(one.sets for one in told)
    until = max((one.day for one in log if one.teaches and one.day <= today), default=None)
    if len(told) < rule("personal.least_variants") or sets < rule("personal.least_sets"):
        least = f"{rule('personal.least_sets'):.0f} on {rule('personal.least_variants'):.0f}"
        told_so = "with repetitions left told, and without pain"
        why = f"{sets} sets on {len(told)} exercises; {least} are needed, {told_so}"
        return LogFindings({}, 0.0, 0, sets, len(told), why, (), until)
    prior = Prior(
        rule("personal.between"),
        rule("personal.strength"),
        rule("personal.least_effective"),
        rule("personal.misfit"),
    )
    draws, most = int(rule("personal.draws")), int(rule("personal.most_draws"))
    named = [facts[one.variant].variant for one in told]
    while True:
        arm = weigh(strays(named, range(draws)), told, prior)
        if arm.fits or draws >= most:
            break
        draws *= 2
    if not arm.fits:
        return LogFindings({}, arm.effective, draws, sets, len(told), arm.why, (), until)
    keys = [key for key in (wanted if wanted is not None else facts) if key in facts]
    others = strays([facts[key].variant for key in keys], arm.heavy.tolist())
    few = arm.of_heavy()
    factors = {key: _factor(few, facts[key], others[key]) for key in keys if key in others}
    moved = tuple(arm.moved())
    middle = tuple(float(v) for v in arm.middle)
    return LogFindings(factors, arm.effective, draws, sets, len(told), "", moved, until, middle)


def _factor(arm: PersonalArm, fact: Facts, strays: Array) -> Factor:
    _, rise = _held(fact, DEFAULT_EFFORT_REPS)
    return factor_of(arm, strays, rise)


def with_factors(facts: Mapping[str, Facts], factors: Mapping[str, Factor]) -> dict[str, Facts]:
    """Facts of a body as its own log corrects them: loads, and where their interval begins."""
    return {key: _corrected(fact, factors[key]) if key in factors else fact for key, fact in facts.items()}


def learned_data(learned: LogFindings) -> dict[str, Any]:
    """What was learned as plain data, to be kept."""
    data = asdict(learned)
    return data | {"until": learned.until.isoformat() if learned.until else None}


def learned_from(data: Mapping[str, Any]) -> LogFindings:
    """What was kept, read again."""
    factors = {key: Factor(**one) for key, one in data["factors"].items()}
    moved = tuple((name, spreads) for name, spreads in data["moved"])
    until = date.fromisoformat(data["until"]) if data["until"] else None
    again = {"factors": factors, "moved": moved, "until": until, "middle": tuple(data["middle"])}
    return LogFindings(**{**data, **again})


def _corrected(fact: Facts, factor: Factor) -> Facts:
    base = (fact.base + fact.on_hands) * factor.median - fact.on_hands
    return replace(
        fact, base=base, slope=fact.slope * factor.median, low_ratio=factor.low / max(factor.median, 1e-9)
    )


def personal_transfer(one: Transfer, known: str, factors: Mapping[str, Factor], hands: float) -> Transfer:
    """A load carried over as a person's log corrects it; as it is where the log says nothing of either.

    Parameters
    ----------
    one : Transfer
        As the model carries it over.
    known : str
        The variant of the known set.
    factors : mapping
        What was learned, by variant id.
    hands : float
        What the hands carry of the body on the other variant [kg].
    """
    if known not in factors or one.variant.id not in factors or one.variant.id == known:
        return one
    here, there = factors[known].median, factors[one.variant.id]
    held = one.nominal + hands
    load, low, high = (held * part / here - hands for part in (there.median, there.low, there.high))
    return replace(one, load=load, low=low, high=high, rounded=on_steps(load, one.variant))


def loads_of(facts: Mapping[str, Facts], learned: LogFindings, reps: float) -> dict[str, Spread]:
    """Loads for so many repetitions to failure, with their 80 % intervals, by variant id [kg].

    Where nothing is learned they are those of the body as it is, with the interval of the fixed draws.
    """
    found = {}
    for key, fact in facts.items():
        load = fact.load_for(reps, low=False)
        held = load + fact.on_hands
        factor = learned.factors.get(key) or Factor(1.0, fact.low_ratio, 1 / fact.low_ratio)
        ends = (held * part - fact.on_hands for part in (factor.median, factor.low, factor.high))
        found[key] = Spread(*ends)
    return found
