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
from curve_rank.rating.criteria import carried
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.modelling import Modeller, VariantModel, content_keys, model_variants
from curve_rank.rating.spreads import spread_of


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
        There, the median of the fixed draws [kg].
    low, high : float
        80 % interval around it [kg].
    nominal : float
        Without any draw [kg].
    rounded : float
        The load on the equipment's steps [kg].
    limited_by : str
        The link that gives out first there.
    """

    variant: Variant
    load: float
    low: float
    high: float
    nominal: float
    rounded: float
    limited_by: str


def body_from_set(body: Body, known: KnownSet, modeller: Modeller) -> Body:
    """The body with the strength that makes the known set end in failure.

    Parameters
    ----------
    body : Body
        Size; its strength is replaced.
    known : KnownSet
        A load and repetitions to failure.
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
) -> tuple[Transfer, ...]:
    """What a known set is worth on other variants.

    Parameters
    ----------
    body : Body
        The person: size, strength, joints.
    known : KnownSet
        What somebody did.
    targets : tuple of Variant
        Where its worth is wanted.
    modeller : Modeller
        Keeps what is found.
    reps : int
        Repetitions wanted there.

    Returns
    -------
    tuple of Transfer
        Of those targets that can be modelled; where none can, an error says why.

    Raises
    ------
    BadInputError, PostureError, LoadError
    """
    strong, effort = body_from_set(body, known, modeller), effort_for_reps(reps)
    known_effort = effort_for_reps(known.reps)
    key = (
        *content_keys((known.variant,), strong, known_effort),
        *content_keys(targets, strong, effort),
        *content_keys(targets, body, known_effort),
    )

    def make() -> tuple[Transfer, ...]:
        # Of a strength that nobody asks for again: the models are not kept.
        drawable = {m.variant for m in modeller.able(targets, body, effort=known_effort)}
        able = [m for m in Modeller().able(targets, strong, effort=effort) if m.variant in drawable]
        if not able:  # say why
            for of, at in ((body, known_effort), (strong, effort)):
                model_variants(targets, of, effort=at)
        relative = _relative(body, known, tuple(m.variant for m in able), modeller)
        return tuple(_transfer(m, relative[:, i]) for i, m in enumerate(able))

    return modeller.once(("worth", *key), make)


def _transfer(modelled: VariantModel, relative: NDArray[np.float64]) -> Transfer:
    on_hands = carried(modelled.variant) * modelled.body.mass
    worth = spread_of((modelled.load + on_hands) * relative - on_hands)
    return Transfer(
        variant=modelled.variant,
        load=worth.median,
        low=worth.low,
        high=worth.high,
        nominal=modelled.load,
        rounded=on_steps(worth.median, modelled.variant),
        limited_by=modelled.limited_by,
    )


def reps_at(variant: Variant, body: Body, load: float) -> float:
    """Repetitions to failure with a load: 0 where not one is possible, 30 where more than are trusted.

    Parameters
    ----------
    variant : Variant
        The set-up.
    body : Body
        The person: size, strength, joints.
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


def on_steps(load: float, variant: Variant, step: float | None = None) -> float:
    """The nearest load on the equipment's steps, or on steps of another size [kg]."""
    step = step or variant.equipment.smallest_step_kg
    return round(load / step) * step if math.isfinite(load) else load


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
    return replace(body, strength=float(strength), strength_spread=0.0)


def _load_at(body: Body, known: KnownSet, strength: float) -> float:
    effort = effort_for_reps(known.reps)
    batch = model_variants((known.variant,), replace(body, strength=strength), effort=effort, check=False)
    return batch[0].load


def _relative(
    body: Body, known: KnownSet, targets: tuple[Variant, ...], modeller: Modeller
) -> NDArray[np.float64]:
    """What targets' hands hold over the known variant's in the fixed draws, relative to no deviation.

    Drawn for the body as it is: how the draws stray hardly depends on its strength. Shape (draws, targets).
    """
    variants = (known.variant, *targets)
    effort = effort_for_reps(known.reps)
    drawn = np.stack([one.load for one in fixed_draws(variants, body, effort, modeller)], axis=1)
    hands = np.array([carried(v) * body.mass for v in variants])
    plain = np.array([modeller.one(v, body, effort=effort).load for v in variants]) + hands
    held = drawn + hands
    relative = (held[:, 1:] / held[:, :1]) / (plain[1:] / plain[0])
    same = np.array([v == known.variant for v in targets])
    return np.where(same, 1.0, relative)
