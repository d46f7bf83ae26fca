"""A planner whose draws are one middle arm, so that a plan is made in milliseconds."""

from __future__ import annotations

from functools import cache

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.training.planning import Planner

MODELLER = Modeller()
HOME = Room(name="Home", equipment=("dumbbell", "no_bench"), dumbbells_kg=(2, 4, 6, 8, 10, 12, 14, 16))
GYM = Room(name="Gym", bench_deg=(0, 30, 45, 60, 75, 90), stations=2)


def one_arm(variants: tuple[Variant, ...], body: Body, effort: float) -> tuple[Readings, ...]:
    """Two draws, both the middle arm."""
    models = MODELLER.able(variants, body, effort=effort)
    return tuple(
        Readings(**{k: np.repeat(np.asarray(v)[..., None], 2, axis=-1) for k, v in vars(m.readings).items()})
        for m in models
    )


def planner(profile: ClientProfile, room: Room = GYM) -> Planner:
    return Planner(profile, Body(), room, built_in(), MODELLER, one_arm)


@cache
def picks_for(targets: tuple[str, ...], spare: tuple[str, ...], limits: str, room: str) -> tuple[str, ...]:
    """What a set would have, once for all plans that ask the same."""
    profile = ClientProfile(
        targets=targets, spare=spare, limits=ClientProfile.model_validate_json(limits).limits
    )
    answer = planner(profile, {"Home": HOME, "Gym": GYM}[room]).choose(lenses()["long_length"])
    return tuple(pick.variant.id for pick in answer.picks)
