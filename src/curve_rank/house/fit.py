"""What the model would have to be for a house to lift what it lifts, in closed form.

All logs together (equation H1 of `house.contributions`) say of f, by how much everybody here lifts more on an
exercise than the model's middle arm,

    f = Σ h_k(θ_k) + b + r·s,    θ_k ~ N(0, 1),  b ~ N(0, β²),  s ~ N(0, spread of strengths)      (H2)

h_k: what one of the model's numbers does, θ_k spreads off (`house.effects`); b: the model's own error of an
exercise, which no number explains: without it most true numbers would seem to move; r·s: the house's
strength. β is what makes the logs likeliest. Gauss and Newton find the middle; each number's own posterior
is then taken over its whole range, since what stops limiting stops telling.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.house.contributions import Contribution
from curve_rank.house.effects import Effects
from curve_rank.practice.rules import row_of_rules, rule
from curve_rank.study.personal import TENTH

ROUNDS, SETTLED, LONGEST = 40, 1e-4, 1.0
"""Of Gauss and Newton at most; the step after which they end, and the longest one [spreads]."""
RANGE = np.linspace(-4, 4, 81)
"""Over which a number's posterior is taken [spreads]."""
Kind = Literal["unseen", "at least", "at most", "known"]


@dataclass(frozen=True)
class NumberFound:
    """What a house says of one number of the model.

    Attributes
    ----------
    name : str
    middle, low, high : float
        Median and ends of the 80 % interval [spreads from what is published].
    z : float
        How much likelier the logs are than with the published value, as a standard normal deviate with a
        sign.
    kind : str
        "unseen" where loads hardly say anything, "at least" and "at most" where they bound one side alone.
    settles : int or None
        From how many people like these the interval would be half as wide; None: never.
    """

    name: str
    middle: float
    low: float
    high: float
    z: float
    kind: Kind
    settles: int | None

    @property
    def speaks(self) -> bool:
        """Whether it may be said to lie somewhere else than is published."""
        return abs(self.z) > rule("house.surprising") and self.kind != "unseen"


@dataclass(frozen=True)
class Offsets:
    """By how much a house lifts more on each exercise than the model says, one normal distribution.

    Attributes
    ----------
    variants : tuple of str
    middle : array, shape (exercises,)
        Of the logarithm [1].
    covariance : array, shape (exercises, exercises)
    """

    variants: tuple[str, ...]
    middle: Array
    covariance: Array

    def interval(self) -> tuple[Array, Array]:
        """The 80 % interval of each, (exercises,) twice [1]."""
        wide = TENTH * np.sqrt(np.maximum(np.diag(self.covariance), 0.0))
        return self.middle - wide, self.middle + wide


@dataclass(frozen=True)
class HouseFit:
    """The fit of a house.

    Attributes
    ----------
    said : Contribution
        What all logs say together, over the exercises of the effects.
    effects : Effects
    own_error : float
        β [1].
    spreads : array, shape (numbers,)
        θ at the middle.
    strength : float
        s [1].
    """

    said: Contribution
    effects: Effects
    own_error: float
    spreads: Array
    strength: float

    @cached_property
    def _state(self) -> _Linear:
        return _Linear.at(self.said, self.effects, self.own_error, self.spreads)

    @cached_property
    def offsets(self) -> Offsets:
        """f: all that everybody here lifts more, the house's strength with it."""
        state = self._state
        middle = state.offset + state.prior @ state.seen @ (state.pull - state.offset_pull)
        covariance = state.prior - state.prior @ state.seen @ state.information @ state.prior
        return Offsets(self.effects.variants, middle, (covariance + covariance.T) / 2)

    @cached_property
    def against_the_house(self) -> Offsets:
        """f without the house's strength: each exercise against all that is done here."""
        whole, rise = self.offsets, self.said.rise
        weight = self.said.readings / max(float(self.said.readings @ rise), 1e-9)
        without = np.eye(len(rise)) - np.outer(rise, weight)
        return Offsets(whole.variants, without @ whole.middle, without @ whole.covariance @ without.T)

    @cached_property
    def numbers(self) -> tuple[NumberFound, ...]:
        """What the house says of each number, the most surprising first."""
        found = [self._number(self._state, k) for k in range(len(self.effects.names))]
        return tuple(sorted(found, key=lambda one: -abs(one.z)))

    def difference(self, one: int, other: int) -> tuple[float, float]:
        """Middle and one standard deviation of one number less another [spreads]."""
        state = self._state
        covariance = np.eye(state.rows.shape[1]) - state.rows.T @ state.told @ state.rows
        apart = np.zeros(state.rows.shape[1])
        apart[one], apart[other] = 1.0, -1.0
        return float(apart[:-1] @ self.spreads), float(np.sqrt(np.maximum(apart @ covariance @ apart, 0.0)))

    def _number(self, state: _Linear, k: int) -> NumberFound:
        """One number's posterior over its whole range, all else normal."""
        rest = state.without(k)
        shift = self.effects.at(k, RANGE) - self.effects.at(k, float(self.spreads[k]))
        held = rest.offset + self.effects.rise(k, float(self.spreads[k])) * float(self.spreads[k])
        likely = shift @ rest.left(held) - 0.5 * np.einsum("ge,ef,gf->g", shift, rest.told, shift)
        most, unmoved = int(np.argmax(likely)), float(likely[RANGE.size // 2])
        z = float(np.copysign(np.sqrt(2 * max(likely[most] - unmoved, 0.0)), RANGE[most]))
        log = likely - 0.5 * RANGE**2
        part = np.exp(log - log.max())
        below = np.concatenate(([0.0], np.cumsum((part[1:] + part[:-1]) / 2)))
        below /= below[-1]
        low, middle, high = np.interp((0.1, 0.5, 0.9), below, RANGE).tolist()
        return NumberFound(
            self.effects.names[k], middle, low, high, z, _kind(low, middle, high), self._settles(state, k)
        )

    def _settles(self, state: _Linear, k: int) -> int | None:
        """From how many people on the number is known twice as well."""
        people = max(self.said.people, 1)
        now = state.spread_of(k)
        for more in row_of_rules("house.people"):
            if more > people and state.with_more(more / people).spread_of(k) <= now / 2:
                return int(more)
        return None


@dataclass(frozen=True)
class _Linear:
    """The fit with the effects made straight about one place: all is normal.

    Attributes
    ----------
    information, pull : array
        A and a.
    offset : array, shape (exercises,)
        What the prior of f has its middle at [1].
    rows : array, shape (exercises, numbers + 1)
        How f follows numbers and strength, each in its own spread.
    own_error : float
    """

    information: Array
    pull: Array
    offset: Array
    rows: Array
    own_error: float

    @classmethod
    def at(cls, said: Contribution, effects: Effects, own_error: float, spreads: Array) -> _Linear:
        """About some place."""
        slopes = effects.slopes(spreads)
        rows = np.column_stack((slopes, said.rise * rule("house.strength")))
        offset = effects.whole(spreads) - slopes @ spreads
        return cls(said.information, said.score, offset, rows, own_error)

    @cached_property
    def prior(self) -> Array:
        """Covariance of f before anything is read."""
        return np.asarray(self.own_error**2 * np.eye(len(self.offset)) + self.rows @ self.rows.T)

    @cached_property
    def seen(self) -> Array:
        """(1 + A·prior)⁻¹."""
        return np.asarray(np.linalg.inv(np.eye(len(self.offset)) + self.information @ self.prior))

    @property
    def offset_pull(self) -> Array:
        """What the prior's middle explains of a."""
        return np.asarray(self.information @ self.offset)

    @cached_property
    def told(self) -> Array:
        """What the logs say of a shift of f's middle: its information, with f itself unknown."""
        return np.asarray(self.seen @ self.information)

    def left(self, offset: Array) -> Array:
        """The pull on a shift of f's middle."""
        return np.asarray(self.seen @ (self.pull - self.information @ offset))

    @property
    def likelihood(self) -> float:
        """Logarithm of how likely the logs are, but for what does not change."""
        left = self.pull - self.offset_pull
        gained = left @ self.prior @ self.seen @ left
        from_offset = self.pull @ self.offset - 0.5 * self.offset @ self.offset_pull
        return float(0.5 * gained + from_offset + 0.5 * np.linalg.slogdet(self.seen)[1])

    def without(self, k: int) -> _Linear:
        """The same with one number held where it is."""
        rows = self.rows.copy()
        rows[:, k] = 0.0
        return _Linear(self.information, self.pull, self.offset, rows, self.own_error)

    def with_more(self, times: float) -> _Linear:
        """The same with so many times the people."""
        return _Linear(self.information * times, self.pull * times, self.offset, self.rows, self.own_error)

    def spread_of(self, k: int) -> float:
        """One standard deviation of a number afterwards [spreads]."""
        return float(np.sqrt(1.0 / (1.0 + self._told_of(k))))

    def _told_of(self, k: int) -> float:
        rest = self.without(k)
        return float(self.rows[:, k] @ rest.told @ self.rows[:, k])


def fit(said: Contribution, effects: Effects) -> HouseFit:
    """The fit of what logs say together.

    Parameters
    ----------
    said : Contribution
        Of exercises that are all among those of the effects.
    effects : Effects
        Of the numbers on those exercises.
    """
    said = said.on(effects.variants)
    spreads, strength = np.zeros(len(effects.names)), 0.0
    own_error = rule("house.own_error")
    for _ in range(ROUNDS):
        state = _likeliest(_Linear.at(said, effects, own_error, spreads))
        own_error = state.own_error
        # The posterior of numbers and strength, the own errors of exercises taken over.
        alone = replace(state, rows=np.zeros_like(state.rows))
        told = state.rows.T @ alone.told @ state.rows + np.eye(state.rows.shape[1])
        new = np.linalg.solve(told, state.rows.T @ alone.left(state.offset))
        step = new - np.append(spreads, strength / rule("house.strength"))
        size = float(np.abs(step).max())
        step *= min(1.0, LONGEST / max(size, 1e-9))
        spreads, strength = spreads + step[:-1], strength + step[-1] * rule("house.strength")
        if size < SETTLED:
            break
    return HouseFit(said, effects, own_error, spreads, strength)


def _likeliest(state: _Linear) -> _Linear:
    """The same with the own error of an exercise that makes the logs likeliest, beside what is usual."""
    sizes = np.array(row_of_rules("house.own_errors"))
    usual, apart = rule("house.own_error"), rule("house.own_error_apart")
    likely = [
        replace(state, own_error=float(size)).likelihood - 0.5 * (np.log(size / usual) / apart) ** 2
        for size in sizes
    ]
    best = int(np.clip(np.argmax(likely), 1, len(sizes) - 2))
    # The top of a parabola through the best and its neighbours, in logarithms.
    around = np.log(sizes[best - 1 : best + 2])
    square, rise, _ = np.polyfit(around, likely[best - 1 : best + 2], 2).tolist()
    top = -rise / (2 * square) if square < 0 else around[1]
    return replace(state, own_error=float(np.exp(np.clip(top, around[0], around[2]))))


def _kind(low: float, middle: float, high: float) -> Kind:
    """What loads say of a number at all: of neither side, of one alone, or of both."""
    wide, narrow = rule("house.unseen_part") * TENTH, rule("house.bounded_part") * TENTH
    under, over = middle - low, high - middle
    if under > wide and over > wide:
        return "unseen"
    if low > -narrow and high >= wide and over > under:
        return "at least"
    if high < narrow and low <= -wide and under > over:
        return "at most"
    return "known"
