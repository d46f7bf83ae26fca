"""Somebody who stands, one arm at given angles: for pictures of joints and heads rather than of a set-up."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.arm.posture import Posture, arm_frame
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.figures.projection import Stance
from curve_rank.rating.rep_of_variant import hip_height

ONE_ARMED = {"flexors": "low-cable-one-hand-curl", "extensors": "one-arm-press-down-thumb-up"}
"""Set-ups in which somebody stands and one arm works."""


def standing(view: str, group: str = "flexors", *, at: Mapping[str, float]) -> Stance:
    """One frame of the default body `at` angles of `Posture`; those that are not given are 0 [°]."""
    angles = dict.fromkeys((one.name for one in fields(Posture)), 0.0) | dict(at)
    posture = Posture(**{name: np.array([value]) for name, value in angles.items()})
    variant, body = find_variant(ONE_ARMED[group], built_in()), Body()
    return Stance(variant, body, view, hip_height(variant, body), posture, arm_frame(posture, body))
