"""Verdicts on claims, from draws of the arm.

In a draw a claim holds or it does not; the part of the draws in which it holds is its probability. Draws in
which one number alone is off say what a verdict hangs on, and what would have to be different for it to turn.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.draws import uncertain
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.rating.criteria import Basis
from curve_rank.rating.draws import Draw, one_off_draws
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.readings import Reading, all_readings
from curve_rank.rating.scoring import scores
from curve_rank.rating.spreads import Spread, spread_of, spreads_of
from curve_rank.rating.targets import targets
from curve_rank.study.claims import SCORE, Claim, ClaimTest
from curve_rank.study.compare import resolved

MOST_HANGS_ON, MOST_TURNS = 5, 3
FARTHEST_TURN = 3.0
"""So many spreads off a number may be for a claim to be told to turn on it."""
TRIED = (0.6, 1.0, 1.5)
"""Where a turn is looked for, over where a straight line has it."""

Outcome = Literal["holds", "fails", "too_close", "outside"]


@dataclass(frozen=True)
class Influence:
    """A number that a verdict hangs on: its part of what the numbers, each by one spread, do to the size."""

    parameter: str
    part: float


@dataclass(frozen=True)
class Turn:
    """Where a claim would turn: one number alone, so many spreads off."""

    parameter: str
    spreads: float


@dataclass(frozen=True)
class Verdict:
    """What the model says of a claim.

    Attributes
    ----------
    outcome : str
        "holds", "fails", "too_close" or "outside".
    probability : float or None
        Part of the draws in which the claim holds [1]; None where it is outside the model.
    size : Spread or None
        How much more the first reads, in the reading's unit; without a second, the reading.
    pairs : tuple of Spread
        The same of every pair, where there are several.
    hangs_on : tuple of Influence
    turns : tuple of Turn
        What alone would have to be different for it to turn, the least first.
    missing : str
        What the model lacks, where it has no say.
    """

    outcome: Outcome
    probability: float | None = None
    size: Spread | None = None
    pairs: tuple[Spread, ...] = ()
    hangs_on: tuple[Influence, ...] = ()
    turns: tuple[Turn, ...] = ()
    missing: str = ""


Resolve = Callable[[str], Variant]
"""The set-up that a line names."""


def reading_of(test: ClaimTest, lenses: dict[str, Lens]) -> Reading:
    """The reading of a test; a lens's score is one as well.

    Raises
    ------
    BadInputError
    """
    if test.reading != SCORE:
        return all_readings()[test.reading]
    if test.lens not in lenses:
        raise BadInputError("lens", test.lens, "one of: " + ", ".join(lenses))
    return Reading(SCORE, f"Score by {lenses[test.lens].name.lower()}", "of 100", told_from=1, better="up")


def digest_of(claim: Claim, resolve: Resolve) -> str:
    """Changes with a claim's test, and with the set-ups it is about."""
    test = claim.test
    setups = [resolve(line).digest for line in test.setups] if test else []
    return hashlib.sha256("|".join((repr(test), claim.missing, *setups)).encode()).hexdigest()[:16]


@dataclass(frozen=True)
class ClaimSetups:
    """A test whose set-ups are found: what is drawn for it."""

    test: ClaimTest
    more: tuple[Variant, ...]
    less: tuple[Variant, ...]
    lens: Lens | None

    @property
    def setups(self) -> tuple[Variant, ...]:
        """All of them, those said to read more first."""
        return self.more + self.less

    def sizes(self, drawn: tuple[Readings, ...], body: Body) -> Array:
        """How much more each pair's first reads in every draw, (pairs, draws)."""
        read = [self.read(variant, d, body) for variant, d in zip(self.setups, drawn, strict=True)]
        first, second = np.stack(read[: len(self.more)]), read[len(self.more) :]
        if self.test.against:
            head = targets()[self.test.against].heads[0]
            second = [all_readings()[self.test.reading].values(d, head) for d in drawn]
        return np.asarray(first - np.stack(second) if second else first)

    def margins(self, sizes: Array) -> Array:
        """By how much the claim holds in every draw, (draws,); below 0 where it does not."""
        sign = 1.0 if self.test.way == "up" else -1.0
        mean = sizes.mean(axis=0)
        return np.asarray(sign * (mean - self.test.by) if self.test.is_alone else sign * mean - self.test.by)

    def read(self, variant: Variant, drawn: Readings, body: Body) -> Array:
        target = targets()[self.test.head]
        if self.lens is not None:
            return np.asarray(scores(Basis(drawn, variant, body, target.judged), self.lens))
        return all_readings()[self.test.reading].values(drawn, target.heads[0])


def asked_of(claim: Claim, resolve: Resolve, lenses: dict[str, Lens]) -> ClaimSetups | None:
    """What is drawn for a claim; None where the model has no say.

    Raises
    ------
    CurveRankError
        For a set-up that there is not, or that is for other muscles than the head.
    """
    test = claim.test
    if test is None:
        return None
    reading_of(test, lenses)
    setups = tuple(resolve(line) for line in test.setups)
    group = targets()[test.head].group
    for variant in setups:
        if variant.group != group:
            raise BadInputError("set-up", variant.name, f"one for the {group}, as {test.head} asks")
    count = len(test.more)
    return ClaimSetups(test, setups[:count], setups[count:], lenses.get(test.lens))


def able_of(
    claim: Claim, resolve: Resolve, lenses: dict[str, Lens], modeller: Modeller, body: Body, effort: float
) -> ClaimSetups | None:
    """As `asked_of`, of set-ups that can be modelled.

    Raises
    ------
    CurveRankError
        As `asked_of`, and for a set-up that cannot be modelled.
    """
    found = asked_of(claim, resolve, lenses)
    for variant in found.setups if found else ():
        modeller.one(variant, body, effort=effort)
    return found


def outcome_of(margins: Array) -> tuple[Outcome, float]:
    """What the margins of all draws come to, (draws,), and in which part of them the claim holds."""
    probability = float((margins > 0).mean() + (margins == 0).mean() / 2)
    if probability >= resolved():
        return "holds", probability
    return ("fails" if probability <= 1 - resolved() else "too_close"), probability


def verdict_of(
    asked: ClaimSetups, fixed: tuple[Readings, ...], apart: tuple[Readings, ...], body: Body
) -> Verdict:
    """What draws say of a claim, where it turns left out.

    Parameters
    ----------
    asked : ClaimSetups
        The claim as a test of readings.
    fixed, apart : tuple of Readings
        For each of its set-ups, S = (draws,): the fixed draws, and those with one number alone off.
    body : Body
        Whose they are.
    """
    sizes = asked.sizes(fixed, body)
    outcome, probability = outcome_of(asked.margins(sizes))
    several = len(asked.more) > 1
    return Verdict(
        outcome,
        probability,
        spread_of(sizes.mean(axis=0)),
        tuple(spreads_of(sizes)) if several else (),
        _hangs_on(asked.margins(asked.sizes(apart, body))),
    )


def verdicts(
    claims: dict[str, Claim],
    resolve: Resolve,
    lenses: dict[str, Lens],
    *,
    draw: Draw,
    draw_apart: Draw,
    modeller: Modeller,
    body: Body,
    effort: float,
) -> Iterator[tuple[str, Verdict]]:
    """The verdict of each of several claims, drawn together; one that cannot be modelled is outside.

    Parameters
    ----------
    claims : dict of Claim
        By key.
    resolve : callable
        Finds the set-up that a line names.
    lenses : dict of Lens
        By key, the viewer's own among them.
    draw, draw_apart : callable
        Make the fixed draws, and those with one number alone off.
    modeller : Modeller
        Models set-ups, and keeps what it has modelled.
    body : Body
        The person: size, strength, joints.
    effort : float
        Of the repetitions: the part of their strength that the hardest moment takes, 0 to 1.
    """
    asked: dict[str, ClaimSetups | None] = {}
    for key, claim in claims.items():
        try:
            asked[key] = able_of(claim, resolve, lenses, modeller, body, effort)
        except CurveRankError as error:
            yield key, Verdict("outside", missing=f"As it is set up: {error}.")
    setups = tuple(dict.fromkeys(v for one in asked.values() if one for v in one.setups))
    fixed, apart = (
        dict(zip(setups, make(setups), strict=True)) if setups else {} for make in (draw, draw_apart)
    )
    for key, one in asked.items():
        if one is None:
            yield key, Verdict("outside", missing=claims[key].missing)
            continue
        ours, alone = (tuple(made[v] for v in one.setups) for made in (fixed, apart))
        verdict = verdict_of(one, ours, alone, body)
        yield key, replace(verdict, turns=_turns(one, alone, body, effort))


def effects(values: Array) -> Array:
    """What one spread of each number does to values, from draws in which it alone is off, the last axis."""
    return np.asarray((values[..., 1::2] - values[..., 2::2]) / 2)


def _hangs_on(margins: Array) -> tuple[Influence, ...]:
    by_spread = effects(margins)
    whole = float((by_spread**2).sum())
    most = np.argsort(-np.abs(by_spread), kind="stable")[:MOST_HANGS_ON] if whole > 0 else ()
    return tuple(Influence(uncertain()[k], float(by_spread[k] ** 2 / whole)) for k in most if by_spread[k])


def _turns(asked: ClaimSetups, apart: tuple[Readings, ...], body: Body, effort: float) -> tuple[Turn, ...]:
    """The numbers that alone turn a claim: where a straight line has them near, looked for by modelling."""
    margins = asked.margins(asked.sizes(apart, body))
    plain = float(margins[0])
    needed = {k: -plain / float(effect) for k, effect in enumerate(effects(margins)) if abs(effect) > 1e-9}
    near = sorted(
        (k for k, spreads in needed.items() if abs(spreads) <= FARTHEST_TURN), key=lambda k: abs(needed[k])
    )
    tried = [(k, part * needed[k]) for k in near[:MOST_TURNS] for part in TRIED]
    if not tried:
        return ()
    found = asked.margins(asked.sizes(one_off_draws(asked.setups, body, effort, tried), body))
    turns = []
    for n, k in enumerate(near[:MOST_TURNS]):
        places = [0.0, *(spreads for _, spreads in tried[n * len(TRIED) : (n + 1) * len(TRIED)])]
        there = [plain, *found[n * len(TRIED) : (n + 1) * len(TRIED)].tolist()]
        for (a, x), (b, y) in pairwise(zip(places, there, strict=True)):
            if x * y <= 0 and x != y:
                turns.append(Turn(uncertain()[k], a + (b - a) * x / (x - y)))
                break
    return tuple(turns)
