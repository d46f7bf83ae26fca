"""Models variants under many draws of the arm: the work that is shared out to processes or a cluster."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.draws import ArmDraw, arm_draw, deviates
from curve_rank.arm.readings import Readings, one_after_another, read_reps, stacked
from curve_rank.arm.rep import model_reps
from curve_rank.arm.rep_setup import RepStack, stack_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError
from curve_rank.rating.modelling import trunk_held
from curve_rank.rating.rep_of_variant import rep_setup

FEWEST_DRAWS, MOST_DRAWS = 20, 5000
DRAW_SAMPLES = 31
"""Postures in a drawn rep."""
LOT = 75
"""Variants modelled together: their arrays then fit the processor's cache."""


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
    """

    variants: tuple[Variant, ...]
    body: Body
    effort: float
    seed: int
    start: int
    stop: int


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
    lots = _prepared(task.variants, task.body, task.effort)
    draws = []
    for draw in range(task.start, task.stop):
        arm = arm_draw(deviates(task.seed, draw), task.body)
        draws.append(one_after_another([_of_lot(lot, arm, task.effort) for lot in lots]))
    return stacked(draws)


@dataclass(frozen=True)
class _Lot:
    """Some reps modelled together, their working loads without any draw, and whose trunk is held."""

    reps: RepStack
    near: Array
    trunk_held: tuple[bool, ...]


def _of_lot(lot: _Lot, arm: ArmDraw, effort: float) -> Readings:
    batch = model_reps(
        lot.reps,
        body=arm.body,
        effort=effort,
        anatomy=arm.anatomy,
        capacities=arm.capacities,
        shift=arm.shift,
        near_loads=lot.near,
    )
    return read_reps(batch, trunk_supported=lot.trunk_held)


@lru_cache(maxsize=4)
def _prepared(variants: tuple[Variant, ...], body: Body, effort: float) -> tuple[_Lot, ...]:
    """The reps in lots, with the working loads from which the search for loads starts.

    Kept for the tasks of one run, which a worker process takes one after another.
    """
    lots = []
    for first in range(0, len(variants), LOT):
        some = variants[first : first + LOT]
        reps = stack_reps(tuple(rep_setup(variant, body, samples=DRAW_SAMPLES) for variant in some))
        near = model_reps(reps, body=body, effort=effort).load
        lots.append(_Lot(reps, near, tuple(trunk_held(variant) for variant in some)))
    return tuple(lots)
