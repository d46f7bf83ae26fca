"""Models variants under many draws of the arm: the work that is shared out to processes or a cluster."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.draws import (
    APART,
    FIXED,
    FIXED_DRAWS,
    ArmDraw,
    arm_draw,
    as_strong,
    deviates,
    draws_of,
    load_draws,
    person_deviate,
    read_draws,
    some_off,
    with_body,
)
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.readings import Readings, one_after_another, side_by_side
from curve_rank.arm.rep import model_reps
from curve_rank.arm.rep_setup import RepStack, stack_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError
from curve_rank.rating.modelling import Modeller, content_keys, trunk_held
from curve_rank.rating.rep_of_variant import rep_setup

Draw = Callable[[tuple[Variant, ...]], tuple[Readings, ...]]
"""Makes, or finds, the fixed draws of variants for one body and effort."""

FEWEST_DRAWS, MOST_DRAWS = 20, 5000
DRAW_SAMPLES, FIXED_SAMPLES = 31, 21
"""Postures in a drawn rep, and in one of the fixed draws, for which someone may be waiting."""
TOGETHER = 600
"""Draws times variants whose load sharing is solved at once."""
LOT = 75
"""Variants modelled together: their arrays then fit the processor's cache."""


@dataclass(frozen=True)
class Lot:
    """Some reps modelled together, their working loads without any draw, and whose trunk is held."""

    reps: RepStack
    near: Array
    trunk_held: tuple[bool, ...]


@dataclass(frozen=True)
class DrawTask:
    """A part of the work: some draws of some variants for one body.

    Attributes
    ----------
    variants : tuple of Variant
        All of which can be modelled.
    body : Body
    effort : float
    seed : int
    start, stop : int
        Draws from `start` up to, not including, `stop`.
    lots : tuple of Lot
        The variants' reps, where they have been made already.
    """

    variants: tuple[Variant, ...]
    body: Body
    effort: float
    seed: int
    start: int
    stop: int
    lots: tuple[Lot, ...] = ()

    def prepared(self) -> DrawTask:
        """The same with its reps made: every part of it can then begin at once."""
        if self.lots:
            return self
        samples = FIXED_SAMPLES if self.seed in (FIXED, APART) else DRAW_SAMPLES
        return replace(self, lots=_lots(self.variants, self.body, self.effort, samples))

    def part(self, start: int, stop: int) -> DrawTask:
        """The same for other draws."""
        return replace(self, start=start, stop=stop)


def check_draws(draws: int, seed: int) -> None:
    """Refuse numbers of draws and seeds that make no sense.

    Raises
    ------
    BadInputError
    """
    if not FEWEST_DRAWS <= draws <= MOST_DRAWS:
        raise BadInputError("draws", draws, f"{FEWEST_DRAWS} to {MOST_DRAWS} draws")
    if not 0 <= seed < 2**32:
        raise BadInputError("seed", seed, "a whole number from 0 to 4294967295")


def model_draws(task: DrawTask) -> Readings:
    """The readings of every draw; S is (draws, variants).

    The same task gives the same numbers in any process on any machine.
    """
    lots = task.prepared().lots
    drawn = tuple(_arm(task.seed, n, task.body) for n in range(task.start, task.stop))
    size = max(1, TOGETHER // len(task.variants))
    rows: list[Readings] = []
    for first in range(0, len(drawn), size):
        some = drawn[first : first + size]
        rows.append(side_by_side([_of_lot(lot, some, task.effort) for lot in lots]))
    return one_after_another(rows)


def draw_loads(
    variants: tuple[Variant, ...], body: Body, effort: float, seed: int, numbers: Sequence[int]
) -> Array:
    """Working loads alone of some draws, named by their numbers, shape (numbers, variants) [kg]."""
    return _loads(variants, body, effort, [_arm(seed, n, body) for n in numbers])


def _loads(variants: tuple[Variant, ...], body: Body, effort: float, arms: Sequence[ArmDraw]) -> Array:
    size = max(1, TOGETHER // len(variants))
    rows = []
    lots = _lots(variants, body, effort, FIXED_SAMPLES)
    for first in range(0, len(arms), size):
        some = arms[first : first + size]
        loads = [load_draws(lot.reps, some, effort=effort, near_loads=lot.near) for lot in lots]
        rows.append(np.concatenate(loads, axis=1))
    return np.concatenate(rows)


def fixed_draws(
    variants: tuple[Variant, ...], body: Body, effort: float, modeller: Modeller, seed: int = FIXED
) -> tuple[Readings, ...]:
    """The fixed set of draws of each variant, S is (draws,): kept, or made together in this thread.

    With the seed `APART` those in which one number alone is off.
    """

    def make(missing: dict[str, Variant]) -> dict[str, Readings]:
        task = DrawTask(tuple(missing.values()), body, effort, seed, 0, draws_of(seed))
        drawn = model_draws(task)
        return {key: drawn.of(i).in_single() for i, key in enumerate(missing)}

    keys = fixed_keys(variants, body, effort, seed)
    found = modeller.drawn(dict(zip(keys, variants, strict=True)), make)
    return tuple(found[key] for key in keys)


def fixed_keys(variants: tuple[Variant, ...], body: Body, effort: float, seed: int = FIXED) -> list[str]:
    """For each variant the key that its fixed draws are kept under."""
    kind = "fixed" if seed == FIXED else "apart"
    return [f"{kind} draws {key}" for key in content_keys(variants, body, effort)]


def loads_of_arms(variants: tuple[Variant, ...], body: Body, effort: float, arms: Array) -> Array:
    """Working loads alone with arms that deviates stand for, shape (arms, variants) [kg].

    Parameters
    ----------
    variants : tuple of Variant
        All of which can be modelled.
    body : Body
        Whose.
    effort : float
        Of the repetitions, 0 to 1.
    arms : array, shape (arms, len(uncertain()))
        In standard deviations, in the order of `uncertain()`.
    """
    drawn = [arm_draw(values, body) for values in arms]
    return _loads(variants, body, effort, drawn)


def one_off_draws(
    variants: tuple[Variant, ...], body: Body, effort: float, offs: Sequence[tuple[int, float]]
) -> tuple[Readings, ...]:
    """Readings of variants with one number alone off, S = (offs,) each.

    `offs` names the numbers by their places in `uncertain()`, with by how many spreads each is off.
    """
    return off_draws(variants, body, effort, [{place: spreads} for place, spreads in offs])


def off_draws(
    variants: tuple[Variant, ...], body: Body, effort: float, offs: Sequence[Mapping[int, float]]
) -> tuple[Readings, ...]:
    """Readings of variants with several numbers off at once, S = (offs,) each; none of them as published."""
    arms = [arm_draw(some_off(some), body) for some in offs]
    lots = _lots(variants, body, effort, FIXED_SAMPLES)
    whole = side_by_side([_of_lot(lot, arms, effort) for lot in lots])
    return tuple(whole.of(i) for i in range(len(variants)))


def undrawn(
    variants: tuple[Variant, ...], body: Body, effort: float, modeller: Modeller, seed: int = FIXED
) -> tuple[Variant, ...]:
    """Those of the variants whose fixed draws are not kept."""
    keys = fixed_keys(variants, body, effort, seed)
    kept = modeller.kept_draws(keys)
    return tuple(v for key, v in zip(keys, variants, strict=True) if key not in kept)


def _arm(seed: int, draw: int, body: Body) -> ArmDraw:
    """One draw of the arm; heads of the fixed ones are drawn once a process, whoever's body they are in."""
    values = deviates(seed, draw)
    arm = (
        with_body(_fixed_arm(parameter_set().fingerprint, draw), values, body)
        if seed == FIXED
        else arm_draw(values, body)
    )
    return as_strong(arm, person_deviate(seed, draw)) if body.strength_spread else arm


@lru_cache(maxsize=FIXED_DRAWS)
def _fixed_arm(_fingerprint: str, draw: int) -> ArmDraw:
    """A fixed draw in the default body; all together hold some 20 MB."""
    return arm_draw(deviates(FIXED, draw), Body())


def _of_lot(lot: Lot, arms: Sequence[ArmDraw], effort: float) -> Readings:
    return read_draws(lot.reps, arms, effort=effort, near_loads=lot.near, trunk_supported=lot.trunk_held)


def _lots(variants: tuple[Variant, ...], body: Body, effort: float, samples: int) -> tuple[Lot, ...]:
    """The reps in lots, with the working loads from which the search for loads starts."""
    lots = []
    for first in range(0, len(variants), LOT):
        some = variants[first : first + LOT]
        reps = stack_reps(tuple(rep_setup(variant, body, samples=samples) for variant in some))
        near = model_reps(reps, body=body, effort=effort).load
        lots.append(Lot(reps, near, tuple(trunk_held(variant) for variant in some)))
    return tuple(lots)
