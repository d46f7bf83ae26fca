"""A variant modelled with the arm that explains a person best: curves that follow what was learned."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.arm.draws import SETUP, arm_draw, uncertain
from curve_rank.arm.readings import read_reps
from curve_rank.arm.rep import model_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.modelling import Modeller, VariantModel, content_keys, trunk_held
from curve_rank.rating.rep_of_variant import rep_setup


def personal_model(
    variant: Variant, body: Body, middle: Sequence[float], effort: float, modeller: Modeller
) -> VariantModel:
    """One variant with a person's own arm.

    Parameters
    ----------
    variant : Variant
        The set-up.
    body : Body
        The person: size, strength, joints.
    middle : sequence of float
        Deviates of the arm, in the order of `uncertain()`; how a set-up strays is no part of an arm.
    effort : float
        Of the repetitions: the part of their strength that the hardest moment takes, 0 to 1.
    modeller : Modeller
        Keeps what is found.
    """
    (content,) = content_keys((variant,), body, effort)
    own = tuple(round(v, 3) for v in middle)
    key = f"own arm {content} {hash(own)}"

    def make() -> VariantModel:
        at_rest = [name in SETUP for name in uncertain()]
        arm = arm_draw(np.where(at_rest, 0.0, np.array(own)), body)
        batch = model_reps(
            (rep_setup(variant, body),),
            body=arm.body,
            effort=effort,
            anatomy=arm.anatomy,
            capacities=arm.capacities,
            exponent=arm.exponent,
        )
        readings = read_reps(batch, trunk_supported=(trunk_held(variant),), lengths=arm.lengths)
        return VariantModel(variant, readings.of(0), batch, key)

    return modeller.once(key, make)
