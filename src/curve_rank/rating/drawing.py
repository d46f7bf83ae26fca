"""Models variants under many draws of the arm: the work that is shared out to processes or a cluster."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.body import Body
from curve_rank.arm.draws import Drawn, deviates, drawn
from curve_rank.arm.readings import read_reps
from curve_rank.arm.rep import model_reps
from curve_rank.arm.setup import RepStack, stack_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.modelling import trunk_held
from curve_rank.rating.scoring import HEAD_INGREDIENTS, WHOLE_INGREDIENTS, Ingredients, ingredients
from curve_rank.rating.setting import rep_setup

Array = NDArray[np.float64]

DRAW_SAMPLES = 31
"""Postures in a drawn rep."""
LOT = 75
"""Variants modelled together: their arrays then fit the processor's cache."""


@dataclass(frozen=True)
class Task:
    """A share of the work: some draws of some variants for one body.

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


def model_draws(task: Task) -> Ingredients:
    """The ingredients of every draw; S is (draws, variants).

    The same task gives the same numbers in any process on any machine.
    """
    lots = _prepared(task.variants, task.body, task.effort)
    draws = []
    for draw in range(task.start, task.stop):
        arm = drawn(deviates(task.seed, draw), task.body)
        draws.append(one_after_another([_of_lot(lot, arm, task.effort) for lot in lots]))
    return stacked(draws)


@dataclass(frozen=True)
class _Lot:
    """Some reps modelled together, their working loads without any draw, and whose trunk is held."""

    reps: RepStack
    near: Array
    trunk_held: tuple[bool, ...]


def _of_lot(lot: _Lot, arm: Drawn, effort: float) -> Ingredients:
    batch = model_reps(
        lot.reps,
        body=arm.body,
        effort=effort,
        anatomy=arm.anatomy,
        helpers=arm.helpers,
        shift=arm.shift,
        near_loads=lot.near,
    )
    return ingredients(read_reps(batch, trunk_supported=lot.trunk_held))


def stacked(parts: list[Ingredients]) -> Ingredients:
    """Several ingredients of shape S as one of shape (parts, *S)."""
    return _joined(parts, np.stack)


def one_after_another(parts: list[Ingredients]) -> Ingredients:
    """Several ingredients, joined along their first axis."""
    return _joined(parts, np.concatenate)


def of_variant(parts: Ingredients, place: int) -> Ingredients:
    """One variant's draws out of (draws, variants)."""
    return Ingredients(
        heads={name: values[:, place].astype(np.float32) for name, values in parts.heads.items()},
        whole={name: values[:, place].astype(np.float32) for name, values in parts.whole.items()},
        joints={name: values[:, place].astype(np.float32) for name, values in parts.joints.items()},
    )


def _joined(parts: list[Ingredients], how) -> Ingredients:  # type: ignore[no-untyped-def]
    first = parts[0]
    return Ingredients(
        heads={name: how([p.heads[name] for p in parts]) for name in HEAD_INGREDIENTS},
        whole={name: how([p.whole[name] for p in parts]) for name in (*WHOLE_INGREDIENTS, "load")},
        joints={name: how([p.joints[name] for p in parts]) for name in first.joints},
    )


@lru_cache(maxsize=4)
def _prepared(variants: tuple[Variant, ...], body: Body, effort: float) -> tuple[_Lot, ...]:
    """The reps in lots, with the working loads from which the search for loads starts."""
    lots = []
    for first in range(0, len(variants), LOT):
        some = variants[first : first + LOT]
        reps = stack_reps(tuple(rep_setup(variant, body, samples=DRAW_SAMPLES) for variant in some))
        near = model_reps(reps, body=body, effort=effort).load
        lots.append(_Lot(reps, near, tuple(trunk_held(variant) for variant in some)))
    return tuple(lots)
