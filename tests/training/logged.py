"""Logs for tests: sets in a line, facts of made-up exercises."""

from __future__ import annotations

from datetime import date, timedelta
from functools import cache
from itertools import count
from typing import Any

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import effort_for_reps
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.practice.facts import Facts
from curve_rank.rating.criteria import carried
from curve_rank.rating.modelling import Modeller
from curve_rank.training.log import LoggedSet

MONDAY = date(2026, 3, 2)
CURL, DOWN, CHIN = "standing-dumbbell-curl", "rope-press-down", "chin-up"
_MODELLER, _KEYS = Modeller(), count(1)


def did(day: int, *reps: int, load: float = 10.0, variant: str = CURL, **told: Any) -> list[LoggedSet]:
    """Sets of one exercise on a day, counted from a Monday."""
    return [
        LoggedSet(
            key=f"test-{next(_KEYS):08d}",
            day=MONDAY + timedelta(days=day),
            variant=variant,
            set=n,
            load_kg=load,
            reps=one,
            **({"reserve": 1} | told),
        )
        for n, one in enumerate(reps, 1)
    ]


@cache
def fact_of(variant: str) -> Facts:
    """Facts for the default body, without any draw."""
    document = find_variant(variant, built_in())
    usual, few = (effort_for_reps(reps) for reps in (10, 4))
    one, other = (_MODELLER.one(document, Body(), effort=effort) for effort in (usual, few))
    slope = (other.load - one.load) / (few - usual)
    heads = [h for h in ("biceps_long", "triceps_long") if (h[0] == "b") == (document.group == "flexors")]
    return Facts(
        document,
        carried(document) * one.body.mass,
        dict.fromkeys(heads, 1.0),
        dict.fromkeys(heads, 0.1),
        dict.fromkeys(heads, 0.2),
        {"elbow": 0.5, "shoulder": 0.1, "wrist": 0.1, "lower_back": 0.0},
        slope,
        one.load - slope * usual,
        0.8,
        frozenset(),
        np.zeros(1),
    )
