"""What a log says of a person's arm: readings from its sets, and loads that follow from them."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import date, timedelta
from typing import Any

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_of, usual_effort
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.facts import Facts, LoadLine, times
from curve_rank.practice.rules import rule
from curve_rank.practice.session import fall_per_set
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.spreads import Spread
from curve_rank.rating.words import counted
from curve_rank.study.personal import LEAST_HELD, Evidence, Factor, PersonalArm, Prior, strays_of
from curve_rank.study.strictness import help_of
from curve_rank.study.transfer import Transfer, on_steps
from curve_rank.training.log import MOST_TRUSTED_REPS, LoggedSet

USUAL_REST = 90
"""Rest that sets of an unplanned exercise are taken to have had [s]."""
MOST_READINGS = 480
"""The newest of so many readings: they are conditioned on together, as a square of that many numbers."""
Rows = Callable[[Sequence[Variant], Sequence[int]], Mapping[str, Array]]
"""How each of some draws strays on each of some variants, by id."""


@dataclass(frozen=True)
class LogFindings:
    """What was learned of a person.

    Attributes
    ----------
    factors : mapping
        Per variant, what the hands hold over what one known set says [1]; empty where nothing is learned.
    draws : int
        Of the bank, whose normal distribution is conditioned.
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
    strength : float
        What the readings alone say of the strength, over the body's [1].
    asks : str
        What somebody has to answer before anything is learned: "unit", "apart" or nothing.
    """

    factors: Mapping[str, Factor]
    draws: int
    sets: int
    variants: int
    why_not: str = ""
    moved: tuple[tuple[str, float], ...] = ()
    until: date | None = None
    middle: tuple[float, ...] = ()
    strength: float = 1.0
    asks: str = ""


Helped = Callable[[LoadLine, str], float]
"""What the hands hold on an exercise done in some manner, over what they hold strictly [1]."""


def helped_by(body: Body, modeller: Modeller) -> Helped:
    """How much trunk and elbows help a body."""

    def helped(fact: LoadLine, manner: str) -> float:
        return help_of(fact.variant, manner, fact.on_hands, body, usual_effort(), modeller)

    return helped


def unhelped(_fact: LoadLine, _manner: str) -> float:
    """As if every set were strict."""
    return 1.0


def evidence_of(
    log: Sequence[LoggedSet], facts: Mapping[str, LoadLine], today: date, helped: Helped = unhelped
) -> tuple[Evidence, ...]:
    """What the last weeks say, a reading a day of each exercise and side, oldest first.

    Nothing is read from pain, part, guesses or what was only planned. Of a day it is the first set of which
    somebody said what was left; a later one is put back to the first by the rule of fatigue, scattering more.
    What trunk and elbows helped with is taken off, and scatters by half of it.
    """
    since = today - timedelta(days=rule("personal.window_days"))
    first: dict[tuple[date, str, str], LoggedSet] = {}
    for one in log:
        if one.teaches and since <= one.day <= today and one.variant in facts:
            at = (one.day, one.variant, one.side)
            if at not in first or one.set < first[at].set:
                first[at] = one
    read = [_reading(facts[one.variant], one, today, helped) for _, one in sorted(first.items())]
    return tuple(one for one in read if one is not None)[-MOST_READINGS:]


def _reading(fact: LoadLine, one: LoggedSet, today: date, helped: Helped) -> Evidence | None:
    """One set as a reading; None for so many repetitions that they say little."""
    left = (1 - fall_per_set(USUAL_REST)) ** (one.set - 1)
    reps = one.to_failure / left
    if reps > MOST_TRUSTED_REPS:
        return None
    held, rise = _held(fact, reps)
    # A repetition more or less left is this much effort, and so this much load.
    per_rep = rise / (parameter_set().number("readings.reps_constant") + reps)
    tired = per_rep * reps * rule("personal.fatigue_error") * (one.set - 1)
    told = per_rep * rule("personal.reps_error") / left
    eased = 0.0 if one.is_strict else float(np.log(helped(fact, one.done)))
    noise = float(np.sqrt(rule("personal.noise") ** 2 + told**2 + tired**2 + (eased / 2) ** 2))
    excess = float(np.log(max(one.load_kg + fact.on_hands, LEAST_HELD) / held)) - eased
    return Evidence(
        one.variant, excess, rise, per_rep, noise, (one.day - today).days / 7, one.day.toordinal()
    )


def _held(fact: LoadLine, reps: float) -> tuple[float, float]:
    """What the hands should hold for some repetitions [kg], and how it rises with strength [1]."""
    lifted = fact.slope * effort_of(reps)
    held = max(fact.base + lifted + fact.on_hands, LEAST_HELD)
    return held, lifted / held


def _of_known_set(fact: Facts) -> Evidence:
    """The known set that the body's strength was found from, as a reading: just what was expected."""
    _, rise = _held(fact, DEFAULT_EFFORT_REPS)
    return Evidence(fact.variant.id, 0.0, rise, 0.0, rule("personal.known_error"))


def prior_of_anybody() -> Prior:
    """What is taken for granted of anybody whose log is read."""
    return Prior(
        between=rule("personal.between"),
        strength=rule("personal.strength"),
        misjudged=rule("personal.misjudged"),
        growth=rule("personal.growth"),
        growth_spread=rule("personal.growth_spread"),
        form=rule("personal.form"),
    )


def learn(
    log: Sequence[LoggedSet],
    facts: Mapping[str, Facts],
    today: date,
    rows: Rows,
    wanted: Sequence[str] | None = None,
    *,
    known: str = "",
    confirmed: float | None = None,
    helped: Helped = unhelped,
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
    rows : callable
        Asked for the bank's draws.
    wanted : sequence of str, optional
        Variants whose factors are worked out; all there are facts of, unless they are named.
    known : str
        Variant of the known set that the body's strength was found from, where there was one.
    confirmed : float, optional
        Strength over the body's that somebody has said is right [1].
    helped : callable
        How much trunk and elbows help.
    """
    read = evidence_of(log, facts, today, helped)
    done = {one.variant for one in read}
    teaching = [one for one in log if one.teaches and one.day <= today]
    until = max((one.day for one in teaching), default=None)

    def nothing(why: str, asks: str = "", strength: float = 1.0) -> LogFindings:
        return LogFindings({}, draws, len(read), len(done), why, (), until, (), strength, asks)

    draws = 0
    if len(done) < rule("personal.least_variants") or len(read) < rule("personal.least_sets"):
        least = f"{rule('personal.least_sets'):.0f} on {rule('personal.least_variants'):.0f}"
        return nothing(
            f"{counted(len(read), 'reading')} on {counted(len(done), 'exercise')}; {least} are needed, "
            "with the repetitions left said, and without pain"
        )
    draws = int(rule("personal.draws"))
    keys = list(dict.fromkeys([*sorted(done), *(wanted if wanted is not None else facts)]))
    numbers = range(draws)
    table = rows([facts[key].variant for key in [*keys, known] if key in facts], numbers)
    arm = PersonalArm(
        tuple(one for one in read if one.variant in table), prior_of_anybody(), strays_of(table, numbers)
    )
    arm = _as_fast_as_seen(arm)
    most = rule("personal.most_strength") * max(confirmed or 1.0, 1.0)
    if arm.strength > most:
        return nothing(_too_strong(arm.strength), "unit", arm.strength)
    if arm.contradiction > rule("personal.misfit") and confirmed is None:
        return nothing(
            "the exercises contradict one another more than chance does: are some of these loads in "
            "another unit, or somebody else's?",
            "apart",
            arm.strength,
        )
    strength = arm.strength
    if known in table and known in facts:
        arm = replace(arm, evidence=(*arm.evidence, _of_known_set(facts[known])))
    factors = {
        key: arm.factor(key, _held(facts[key], DEFAULT_EFFORT_REPS)[1]) for key in keys if key in table
    }
    middle = tuple(float(v) for v in arm.middle)
    return LogFindings(factors, draws, len(read), len(done), "", tuple(arm.moved()), until, middle, strength)


def _as_fast_as_seen(arm: PersonalArm) -> PersonalArm:
    """The same arm; where the readings rise far faster than trained people's, as somebody's who may."""
    fast = replace(arm, prior=replace(arm.prior, growth_spread=rule("personal.fast_growth_spread")))
    return fast if fast.likelihood > arm.likelihood + rule("personal.fast_growth_odds") else arm


def _too_strong(strength: float) -> str:
    return (
        f"these loads would take {strength:.1f} times the strength of this body: "
        "are they in pounds, or somebody else's?"
    )


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
    known = {key: value for key, value in data.items() if key != "effective"}  # of how it was learned once
    return LogFindings(**{**known, **again})


def _corrected(fact: Facts, factor: Factor) -> Facts:
    return replace(times(fact, factor.median), low_ratio=factor.low / max(factor.median, 1e-9))


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
