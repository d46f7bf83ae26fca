"""What is seen of a house: exercises beside the model, offsets, numbers, editions, and all of it together."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

import numpy as np

from curve_rank.answers.claims import UnderWay
from curve_rank.answers.doubt import DoubtedNumber
from curve_rank.answers.house_growth import DoseSeen
from curve_rank.answers.plain import SHAPES, Shown, to_digits
from curve_rank.arm.body import Body
from curve_rank.arm.draws import SCALES
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.schema import Variant
from curve_rank.house.fit import HouseFit, NumberFound
from curve_rank.house.forecasts import Calibration, Drift
from curve_rank.house.surprise import Surprise
from curve_rank.practice.facts import lines_for
from curve_rank.practice.rules import rule
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.spreads import Spread
from curve_rank.store.house.pooling import Turn
from curve_rank.study.claim_words import off_words
from curve_rank.study.personal import TENTH
from curve_rank.study.verdicts import Turn as NumberOff


@dataclass(frozen=True)
class ExerciseSeen:
    """One exercise, or one over another, as it was lifted, beside what the model says; in per cent."""

    variants: tuple[str, ...]
    name: str
    people: int
    lifted: Annotated[Spread, to_digits(1)]
    model: Annotated[Spread, to_digits(1)]
    days: Annotated[float, to_digits(1)]


@dataclass(frozen=True)
class ExerciseOffset:
    """By how much the house lifts more on an exercise than the model says, the house's strength taken off.

    In per cent; loads are for ten repetitions of the default body [kg].
    """

    variant: str
    name: str
    readings: int
    more: Annotated[Spread, to_digits(1)]
    load_kg: Annotated[float, to_digits(2)]
    load_then_kg: Annotated[float, to_digits(2)]

    @property
    def is_sure(self) -> bool:
        """Whether the interval lies on one side."""
        return self.more.low > 0 or self.more.high < 0


@dataclass(frozen=True)
class NumberSeen:
    """A number of the model, as it is published and as the house would have it."""

    key: str
    name: str
    kind: str
    z: Annotated[float, to_digits(2)]
    middle: Annotated[float, to_digits(2)]
    low: Annotated[float, to_digits(2)]
    high: Annotated[float, to_digits(2)]
    speaks: bool
    settles_at: int | None
    says: str
    interval: str


@dataclass(frozen=True)
class HouseEditionSeen:
    """An edition, whether it speaks, and whether it is of just those who agree still."""

    id: int
    name: str
    note: str
    month: str
    author: str
    made: str
    speaks: bool
    current: bool


@dataclass(frozen=True)
class HouseAnswer:
    """What a house finds out, for somebody who may read its logs."""

    __pydantic_config__ = SHAPES

    month: str
    months: tuple[str, ...]
    agreed: int
    logging: int
    people: int
    may_freeze: bool
    fitted: bool
    own_error: Annotated[float | None, to_digits(3)]
    scales: str
    exercises: tuple[ExerciseSeen, ...]
    pairs: tuple[ExerciseSeen, ...]
    offsets: tuple[ExerciseOffset, ...]
    numbers: tuple[NumberSeen, ...]
    editions: tuple[HouseEditionSeen, ...]
    doses: DoseSeen
    calibration: dict[str, tuple[Calibration, ...]]
    drift: Drift
    turns: Shown[tuple[Turn, ...]]
    under_way: Shown[UnderWay | None] = None

    @property
    def least(self) -> int:
        """Of so many people something is fitted."""
        return int(rule("house.least_people"))

    @property
    def spoken(self) -> HouseEditionSeen | None:
        """The edition that speaks now."""
        return next((one for one in self.editions if one.speaks), None)

    @property
    def saying(self) -> tuple[NumberSeen, ...]:
        """The numbers of which something may be said."""
        return tuple(one for one in self.numbers if one.speaks)

    @property
    def as_doubts(self) -> list[str]:
        """The same numbers, each off as it seems to be here, as the page that doubts numbers reads them."""
        return [f"{one.key}:{one.middle:.1f}" for one in self.saying]

    @property
    def ends(self) -> tuple[float, float]:
        """Of the scale that all exercises share [%]."""
        rows = self.exercises
        spreads = [one.lifted for one in rows] + [one.model for one in rows]
        most = max((abs(v) for s in spreads for v in (s.low, s.high)), default=10.0)
        return -most, most


def offsets_seen(
    fitted: HouseFit, variants: tuple[Variant, ...], modeller: Modeller
) -> tuple[ExerciseOffset, ...]:
    lines = lines_for(variants, Body(), modeller)
    against = fitted.against_the_house
    low, high = against.interval()
    found = []
    for n, key in enumerate(against.variants):
        if key not in lines or not fitted.said.readings[n]:
            continue
        line, more = lines[key], [float(np.expm1(v[n])) for v in (against.middle, low, high)]
        load = line.base + line.slope * usual_effort()
        then = (load + line.on_hands) * (1 + more[0]) - line.on_hands
        count = int(fitted.said.readings[n])
        found.append(
            ExerciseOffset(key, line.variant.name, count, Spread(*(100 * v for v in more)), load, then)
        )
    return tuple(sorted(found, key=lambda one: -abs(one.more.median)))


def exercise_seen(one: Surprise, names: dict[str, str]) -> ExerciseSeen:
    called = [names.get(key, key) for key in one.variants]
    return ExerciseSeen(
        one.variants, " over ".join(called), one.people, _percent(one.lifted), _percent(one.model),
        100 * one.days,
    )  # fmt: skip


def _percent(part: Spread) -> Spread:
    return Spread(100 * part.median, 100 * part.low, 100 * part.high)


def number_seen(one: NumberFound) -> NumberSeen:
    def off(spreads: float) -> str:
        return off_words(NumberOff(one.name, spreads)) or f"{spreads:+.1f} spreads".replace("-", "−")

    says = {
        "unseen": "cannot be seen from loads",
        "at least": f"at least {off(one.low)}",
        "at most": f"at most {off(one.high)}",
        "known": off(one.middle),
    }[one.kind]
    return NumberSeen(
        one.name, DoubtedNumber.of(one.name).name, one.kind, one.z, one.middle, one.low, one.high,
        one.speaks, one.settles, says, f"{off(one.low)} to {off(one.high)}",
    )  # fmt: skip


def scales_seen(fitted: HouseFit) -> str:
    """Flexors' scale of force over extensors': each alone is one thing with the house's strength."""
    names = fitted.effects.names
    middle, wide = fitted.difference(*(names.index(key) for key in SCALES))
    spread = parameter_set()[next(iter(SCALES))].spread
    ends = (middle, middle - TENTH * wide, middle + TENTH * wide)
    told = [f"{100 * np.expm1(spread * v):+.0f}".replace("-", "−") for v in ends]
    return f"{told[0]} % ({told[1]} to {told[2]})"
