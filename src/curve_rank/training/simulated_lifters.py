"""Simulated lifters: arms of the model's spreads, each with a strength and skills of their own, who log.

For proving what is learned of a log: of these lifters it is known what is true.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from itertools import count

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep_setup import effort_for_reps, effort_of
from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.facts import Facts
from curve_rank.practice.rooms import Room, load_down
from curve_rank.rating.criteria import carried
from curve_rank.rating.draws import draw_loads
from curve_rank.rating.modelling import Modeller
from curve_rank.study.draw_bank import DrawBank
from curve_rank.study.personal import stray
from curve_rank.training.log import LoggedSet

TODAY = date(2026, 3, 2)
WEEKS = 6
LIFTERS_SEED = 999
KNOWN = "standing-dumbbell-curl"
USUAL_REPS = 10
AIM = 11
"""Repetitions to failure that a first set is loaded for."""
_CONSTANT = parameter_set().number("readings.reps_constant")
_KEYS = count(1)


@dataclass(frozen=True)
class Noise:
    """How a lifter scatters: of the load by set and by day [1], and whether what is left is off by one."""

    name: str
    own: float
    day: float
    off_by_one: bool


REALISTIC = Noise("realistic", 0.037, 0.02, off_by_one=True)
MILD = Noise("mild", 0.015, 0.01, off_by_one=False)


@dataclass(frozen=True)
class Kind:
    """A kind of lifter: how skill scatters over exercises [1], and what else is strange of them."""

    name: str
    skill: float = 0.04
    flexors: float = 0.0
    growth: float = 0.004
    misjudges: float = 0.0
    strength: float = 0.2


USUAL = Kind("within the prior")


class Simulation:
    """Exercises, how they stray over arms, and how somebody of a strength and skill lifts them."""

    def __init__(self, lifters: int) -> None:
        self.modeller = Modeller()
        self.bank = DrawBank(self.modeller)
        self.variants = tuple(v for v in built_in() if "body_weight" not in v.equipment.loads)
        self.facts = {v.id: self._fact(v) for v in self.variants}
        loads = draw_loads(self.variants, Body(), effort_for_reps(USUAL_REPS), LIFTERS_SEED, range(lifters))
        self.strays = [
            {v.id: float(stray(loads[n, at], self.facts[v.id].on_hands, self._middle(v.id)))
             for at, v in enumerate(self.variants)}
            for n in range(lifters)
        ]  # fmt: skip

    def _fact(self, variant: Variant) -> Facts:
        usual, few = (effort_for_reps(reps) for reps in (USUAL_REPS, 4))
        one, other = (self.modeller.one(variant, Body(), effort=effort) for effort in (usual, few))
        slope = (other.load - one.load) / (few - usual)
        hands = carried(variant) * one.body.mass
        base = one.load - slope * usual
        return Facts(variant, hands, {}, {}, {}, {}, slope, base, 0.8, frozenset(), np.zeros(1))

    def _middle(self, key: str) -> float:
        return self.facts[key].load_for(USUAL_REPS, low=False)

    def held(self, key: str, reps: float) -> float:
        """What the middle arm's hands hold [kg]."""
        fact = self.facts[key]
        return fact.base + fact.slope * effort_of(reps) + fact.on_hands

    def rise(self, key: str, reps: float = USUAL_REPS) -> float:
        """How the logarithm of that rises with strength [1]."""
        return self.facts[key].slope * effort_of(reps) / self.held(key, reps)

    def capacity(self, key: str, load: float, over: float) -> float:
        """Repetitions to failure with a load of somebody who holds exp(over) times as much."""
        fact = self.facts[key]
        effort = ((load + fact.on_hands) / np.exp(over) - fact.on_hands - fact.base) / fact.slope
        return float(_CONSTANT * (1 / effort - 1)) if effort > 0 else 60.0


class Lifter:
    """One person: how much more their hands hold than the middle arm's, by exercise and week."""

    def __init__(self, simulation: Simulation, number: int, kind: Kind, rng: np.random.Generator) -> None:
        self.simulation, self.rng, self.kind = simulation, rng, kind
        self.strength, self.growth = rng.normal(0, kind.strength), rng.normal(kind.growth, 0.004)
        self.judges = kind.misjudges + 0.5 * float(rng.choice([-1, 0, 1], p=[0.25, 0.5, 0.25]))
        self.own = {
            v.id: simulation.strays[number][v.id]
            + rng.normal(0, kind.skill)
            + (kind.flexors if v.group == "flexors" else -kind.flexors)
            for v in simulation.variants
        }
        off = self.over(KNOWN, 0) + rng.normal(0, 0.042) + rng.choice([-1, 0, 1]) * self._per_rep(KNOWN)
        self.known = off / simulation.rise(KNOWN)
        """Logarithm of the strength that one known set says [1]."""

    def _per_rep(self, key: str) -> float:
        return self.simulation.rise(key) / (_CONSTANT + USUAL_REPS)

    def over(self, key: str, week: int) -> float:
        """Logarithm of what the hands hold over the middle arm's."""
        return self.own[key] + self.simulation.rise(key) * (self.strength + self.growth * week)

    def body(self) -> dict[str, Facts]:
        """Facts with the strength that the known set says."""
        part = float(np.exp(self.known))
        return {key: replace(fact, slope=fact.slope * part) for key, fact in self.simulation.facts.items()}

    def log(self, keys: Sequence[str], noise: Noise, unit: float = 1.0) -> list[LoggedSet]:
        """Six weeks, each exercise once a week, its first set with what is left as they say it."""
        found = []
        for week in range(WEEKS):
            form = self.rng.normal(0, noise.day)
            day = TODAY - timedelta(weeks=WEEKS - week)
            for key in keys:
                fact = self.simulation.facts[key]
                guess = self.over(key, 0) + (0 if week else self.rng.normal(0, 0.1))
                aimed = self.simulation.held(key, AIM) * np.exp(guess) - fact.on_hands
                load = load_down(Room(), fact.variant, float(aimed))
                over = self.over(key, week) + form + self.rng.normal(0, noise.own)
                able = self.simulation.capacity(key, load, over)
                if not 3 <= able <= 25:
                    continue
                reps = max(1, int(able - 2))
                left = able - reps + (self.judges + self.rng.choice([-1, 0, 1]) if noise.off_by_one else 0)
                found.append(
                    LoggedSet(
                        key=f"lifter-{next(_KEYS):08d}",
                        day=day,
                        variant=key,
                        load_kg=round(load * unit, 3),
                        reps=reps,
                        reserve=int(np.clip(round(left), 0, 10)),
                    )
                )
        return found
