"""What is learned of simulated lifters, and how well planned loads agree: `python -m benchmarks.lifters`.

A lifter is an arm of the model's spreads with a strength and a skill of their own on each exercise, who
trains for six weeks and says what is left as people do. What is learned is compared with one known set, on
exercises that were logged and on those that never were. Everything is drawn from seeds that are printed.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from itertools import count

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep_setup import effort_for_reps, effort_of
from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.block import Exercise
from curve_rank.practice.facts import Facts
from curve_rank.practice.rooms import Room, load_down
from curve_rank.practice.session import MOST_LEFT, fall_per_set, set_targets
from curve_rank.practice.units import KG_PER_LB
from curve_rank.rating.criteria import carried
from curve_rank.rating.draws import draw_loads
from curve_rank.rating.modelling import Modeller
from curve_rank.study.draw_bank import DrawBank
from curve_rank.study.personal import stray
from curve_rank.training.learning import LogFindings, learn
from curve_rank.training.log import LoggedSet

TODAY = date(2026, 3, 2)
WEEKS = 6
LIFTERS = 200
ODD = 20
"""Lifters of each odd kind."""
LIFTERS_SEED, LOG_SEED = 999, 1
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
    told: bool


REALISTIC, MILD = Noise("realistic", 0.037, 0.02, told=True), Noise("mild", 0.015, 0.01, told=False)


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
ODD_KINDS = (
    Kind("three times the skill", skill=0.12),
    Kind("flexors 25 % weaker, extensors stronger", flexors=-0.25),
    Kind("grows 3 % a week", growth=0.03),
    Kind("says two more left than there are", misjudges=2.0),
    Kind("half as strong again as the known set", strength=0.4),
)


class House:
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

    def __init__(self, house: House, number: int, kind: Kind, rng: np.random.Generator) -> None:
        self.house, self.rng, self.kind = house, rng, kind
        self.strength, self.growth = rng.normal(0, kind.strength), rng.normal(kind.growth, 0.004)
        self.judges = kind.misjudges + 0.5 * float(rng.choice([-1, 0, 1], p=[0.25, 0.5, 0.25]))
        self.own = {
            v.id: house.strays[number][v.id]
            + rng.normal(0, kind.skill)
            + (kind.flexors if v.group == "flexors" else -kind.flexors)
            for v in house.variants
        }
        off = self.over(KNOWN, 0) + rng.normal(0, 0.042) + rng.choice([-1, 0, 1]) * self._per_rep(KNOWN)
        self.known = off / house.rise(KNOWN)
        """Logarithm of the strength that one known set says [1]."""

    def _per_rep(self, key: str) -> float:
        return self.house.rise(key) / (_CONSTANT + USUAL_REPS)

    def over(self, key: str, week: int) -> float:
        """Logarithm of what the hands hold over the middle arm's."""
        return self.own[key] + self.house.rise(key) * (self.strength + self.growth * week)

    def body(self) -> dict[str, Facts]:
        """Facts with the strength that the known set says."""
        part = float(np.exp(self.known))
        return {key: replace(fact, slope=fact.slope * part) for key, fact in self.house.facts.items()}

    def log(self, keys: Sequence[str], noise: Noise, unit: float = 1.0) -> list[LoggedSet]:
        """Six weeks, each exercise once a week, its first set with what is left as they say it."""
        found = []
        for week in range(WEEKS):
            form = self.rng.normal(0, noise.day)
            day = TODAY - timedelta(weeks=WEEKS - week)
            for key in keys:
                fact = self.house.facts[key]
                guess = self.over(key, 0) + (0 if week else self.rng.normal(0, 0.1))
                aimed = self.house.held(key, AIM) * np.exp(guess) - fact.on_hands
                load = load_down(Room(), fact.variant, float(aimed))
                over = self.over(key, week) + form + self.rng.normal(0, noise.own)
                able = self.house.capacity(key, load, over)
                if not 3 <= able <= 25:
                    continue
                reps = max(1, int(able - 2))
                left = able - reps + (self.judges + self.rng.choice([-1, 0, 1]) if noise.told else 0)
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


def tally(house: House, exercises: int, noise: Noise, kind: Kind, lifters: int, unit: float = 1.0) -> Tally:
    """Lifters who log so many exercises, learned and compared."""
    rng, found = np.random.default_rng(LOG_SEED), Tally()
    keys = [v.id for v in house.variants]
    for number in range(lifters):
        lifter = Lifter(house, number, kind, rng)
        mine = [keys[n] for n in rng.choice(len(keys), exercises, replace=False)]
        log = lifter.log(mine, noise, unit)
        facts = lifter.body()
        learned = learn(log, facts, TODAY, house.bank.strays, known=KNOWN)
        found.of += 1
        found.asked += bool(learned.asks)
        if learned.why_not:
            continue
        found.learned += 1
        _compare(found, lifter, facts, learned, mine, log)
    return found


def _compare(
    found: Tally,
    lifter: Lifter,
    facts: dict[str, Facts],
    learned: LogFindings,
    mine: Sequence[str],
    log: Sequence[LoggedSet],
) -> None:
    one, by_log = [], []
    for key, fact in facts.items():
        true = lifter.house.held(key, USUAL_REPS) * np.exp(lifter.over(key, WEEKS))
        plain = fact.load_for(USUAL_REPS, low=False) + fact.on_hands
        factor = learned.factors[key]
        if key in mine:
            rows = [s for s in log if s.variant == key]
            if rows:
                last = rows[-1]
                rule_of_thumb = (
                    (last.load_kg + fact.on_hands) * (1 + last.to_failure / 30) / (1 + USUAL_REPS / 30)
                )
                found.logged.append(abs(plain * factor.median / true - 1))
                found.last.append(abs(rule_of_thumb / true - 1))
        elif key != KNOWN:
            # Some arms cannot hold some exercises at all: what is off by its whole is off by no more.
            one.append(min(abs(plain / true - 1), 1.0))
            by_log.append(min(abs(plain * factor.median / true - 1), 1.0))
            found.within.append(factor.low <= true / plain <= factor.high)
    found.by_one.append(float(np.mean(one)))
    found.by_log.append(float(np.mean(by_log)))


def learning_table(house: House, lifters: int, say: Callable[[str], None]) -> None:
    """Learning by exercises and noise; odd kinds; loads in the other unit."""
    say(HEAD)
    for noise in (MILD, REALISTIC):
        for exercises in (2, 4, 6, 8, 12):
            say(tally(house, exercises, noise, USUAL, lifters).line(f"{exercises} exercises, {noise.name}"))
    for kind in ODD_KINDS:
        for exercises in (4, 8):
            say(tally(house, exercises, REALISTIC, kind, ODD).line(f"{exercises}, {kind.name}"))
    for exercises in (2, 4, 8):
        wrong = tally(house, exercises, REALISTIC, USUAL, lifters, 1 / KG_PER_LB)
        say(f"{f'{exercises}, pounds read as kilograms':42} asked about {wrong.asked} of {wrong.of}")
        right = tally(house, exercises, REALISTIC, USUAL, lifters)
        say(f"{f'{exercises}, kilograms':42} asked about {right.asked} of {right.of}")


ROOMS = (
    Room(),
    Room(name="Home, 2 kg steps", dumbbells_kg=tuple(float(n) for n in range(2, 26, 2))),
    Room(name="Stack of fives", dumbbells_kg=(2.5, 5, 7.5, 10, 15, 20, 25), stack_from_kg=5, stack_step_kg=5),
)


def agreement_table(house: House, say: Callable[[str], None]) -> None:
    """Planned load over the model's for the repetitions and what is left that are said with it, by room."""
    say(f"{'':42}  sets  load over model's   within 2 repetitions   too far a step")
    for room in ROOMS:
        ratios, off, far = [], [], 0
        for key, fact in house.facts.items():
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


def planned_table(house: House, say: Callable[[str], None]) -> None:
    """By how much two weeks done just as planned move what was learned, and how long learning takes."""
    rng, keys = np.random.default_rng(LOG_SEED), [v.id for v in house.variants]
    moved, seconds = [0.0], []
    for number in range(ODD):
        lifter = Lifter(house, number, USUAL, rng)
        log = lifter.log([keys[n] for n in rng.choice(len(keys), 8, replace=False)], REALISTIC)
        facts, began = lifter.body(), time.perf_counter()
        before = learn(log, facts, TODAY, house.bank.strays, known=KNOWN)
        seconds.append(time.perf_counter() - began)
        planned = [
            one.model_copy(
                update={"key": f"{one.key}-{days}", "day": TODAY - timedelta(days=days), "as_planned": True}
                | {"load_kg": round(0.8 * one.load_kg, 3), "reserve": 3}
            )
            for one in log[-8:]
            for days in (13, 10, 6, 3, 1)
        ]
        after = learn([*log, *planned], facts, TODAY, house.bank.strays, known=KNOWN)
        moved += [abs(after.factors[key].median / one.median - 1) for key, one in before.factors.items()]
    say(f"two weeks as planned move a load by at most {100 * max(moved):.1f} %")
    say(f"a person is learned in {1000 * np.median(seconds):.0f} ms, once the bank is drawn")


def main(arguments: list[str] | None = None) -> None:
    """Print both tables; `--quick` with a fifth of the lifters."""
    lifters = LIFTERS // 5 if "--quick" in (arguments if arguments is not None else sys.argv[1:]) else LIFTERS
    print(f"{lifters} lifters of seed {LIFTERS_SEED}, logs of seed {LOG_SEED}")
    house = House(lifters)
    print(f"{len(house.variants)} exercises, all that are loaded with something")
    agreement_table(house, print)
    learning_table(house, lifters, print)
    planned_table(house, print)


if __name__ == "__main__":
    main()
