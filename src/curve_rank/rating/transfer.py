"""Strength from one known set, and what the same effort needs on another variant."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import brentq

from curve_rank.arm.body import STRENGTH_RANGE, Body
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep_setup import effort_for_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError
from curve_rank.rating.certainty import tails
from curve_rank.rating.criteria import carried
from curve_rank.rating.draws import quick_draws
from curve_rank.rating.modelling import Modeller, VariantModel, content_keys, model_variants


@dataclass(frozen=True)
class KnownSet:
    """A set someone did: a variant, a load [kg] and repetitions to failure."""

    variant: Variant
    load: float
    reps: int


@dataclass(frozen=True)
class Transfer:
    """A load carried over to another variant.

    Attributes
    ----------
    variant : Variant
        The other variant.
    load : float
        There [kg].
    low, high : float
        80 % interval over draws of the arm [kg]; the load itself where none were asked for.
    rounded : float
        The load on the equipment's steps [kg].
    limited_by : str
        The link that gives out first there.
    """

    variant: Variant
    load: float
    low: float
    high: float
    rounded: float
    limited_by: str


def body_from_set(body: Body, known: KnownSet, modeller: Modeller) -> Body:
    """The body with the strength that makes the known set end in failure.

    Parameters
    ----------
    body : Body
        Size; its strength is replaced.
    known : KnownSet
    modeller : Modeller
        Keeps what is found.

    Raises
    ------
    BadInputError
        When no strength from 0.2 to 3 times the default explains the set.
    """
    if not math.isfinite(known.load):
        raise BadInputError("load", known.load, "a number of kilograms")
    (key,) = content_keys((known.variant,), body, effort_for_reps(known.reps))
    return modeller.once(("strength", key, known.load), lambda: _body_from_set(body, known))


def transfer(
    body: Body,
    known: KnownSet,
    targets: tuple[Variant, ...],
    modeller: Modeller,
    *,
    reps: int,
    draws: bool = True,
) -> tuple[Transfer, ...]:
    """What a known set is worth on other variants.

    Parameters
    ----------
    body : Body
    known : KnownSet
    targets : tuple of Variant
    modeller : Modeller
        Keeps what is found.
    reps : int
        Repetitions wanted there.
    draws : bool
        Whether an interval is wanted; without one, variants that cannot be modelled are left out.

    Raises
    ------
    BadInputError, PostureError, LoadError
    """
    strong, effort = body_from_set(body, known, modeller), effort_for_reps(reps)
    key = (
        *content_keys((known.variant,), strong, effort_for_reps(known.reps)),
        *content_keys(targets, strong, effort),
    )

    def make() -> tuple[Transfer, ...]:
        if not draws:  # of a strength that nobody asks for again: the models are not kept
            able = Modeller().able(targets, strong, effort=effort)
            return _transfers(able, np.ones((2, len(able))))
        modelled = model_variants(targets, strong, effort=effort)
        return _transfers(modelled, _spread(strong, known, targets, modeller))

    return modeller.once(("worth", *key, draws), make)


def _transfers(modelled: tuple[VariantModel, ...], spread: NDArray[np.float64]) -> tuple[Transfer, ...]:
    result = []
    for m, (low, high) in zip(modelled, spread.T, strict=True):
        on_hands = carried(m.variant) * m.body.mass
        load = m.load
        bounds = [(load + on_hands) * part - on_hands for part in (low, high)]
        rounded = on_steps(load, m.variant)
        result.append(
            Transfer(m.variant, load, min(bounds[0], load), max(bounds[1], load), rounded, m.limited_by)
        )
    return tuple(result)


def reps_at(variant: Variant, body: Body, load: float) -> float:
    """Repetitions to failure with a load: 0 where not one is possible, 30 where more than are trusted.

    Parameters
    ----------
    variant : Variant
    body : Body
    load : float
        [kg]
    """

    def spare(effort: float) -> float:
        (modelled,) = model_variants((variant,), body, effort=effort, check=False)
        return modelled.load - load

    numbers = parameter_set().number
    constant, least = numbers("readings.reps_constant"), numbers("certainty.least_effort")
    if spare(1.0) < 0:
        return 0.0
    if spare(least) > 0:
        return constant * (1 / least - 1)
    return float(constant * (1 / brentq(spare, least, 1.0) - 1))


def on_steps(load: float, variant: Variant) -> float:
    """The nearest load on the equipment's steps [kg]."""
    steps = load / variant.equipment.smallest_step_kg
    return round(steps) * variant.equipment.smallest_step_kg if math.isfinite(steps) else load


def _body_from_set(body: Body, known: KnownSet) -> Body:
    low, high = STRENGTH_RANGE
    least, most = _load_at(body, known, low), _load_at(body, known, high)
    if not least <= known.load <= most:
        raise BadInputError(
            "load",
            f"{known.load:g} kg for {known.reps}",
            f"a set that strength between {low:g} and {high:g} times the usual explains: "
            f"{least:.1f} to {most:.1f} kg on {known.variant.name}",
        )
    strength = brentq(lambda s: _load_at(body, known, s) - known.load, low, high, xtol=1e-9)
    return replace(body, strength=float(strength))


def _load_at(body: Body, known: KnownSet, strength: float) -> float:
    effort = effort_for_reps(known.reps)
    batch = model_variants((known.variant,), replace(body, strength=strength), effort=effort, check=False)
    return batch[0].load


def _spread(
    body: Body, known: KnownSet, targets: tuple[Variant, ...], modeller: Modeller
) -> NDArray[np.float64]:
    """80 % interval of target's load over known variant's, relative to no deviation, (2, targets)."""
    variants = (known.variant, *targets)
    effort = effort_for_reps(known.reps)
    drawn = np.stack([one.load for one in quick_draws(variants, body, effort, modeller)], axis=1)
    hands = np.array([carried(v) * body.mass for v in variants])
    plain = np.array([m.load for m in model_variants(variants, body, effort=effort)]) + hands
    relative = ((drawn + hands)[:, 1:] / (drawn + hands)[:, :1]) / (plain[1:] / plain[0])
    same = np.array([v == known.variant for v in targets])
    return np.where(same, 1.0, np.quantile(relative, tails(), axis=0))
