"""Cautions: rules that turn readings and set-up into plain words, each with the reason it applies."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from curve_rank.arm.lines import FreeWeight
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.modelling import REMEMBERED, Modelled
from curve_rank.rating.vocabulary import Caution, cautions, joints

STRAIN_OF = {
    "lower_biceps_tendon": ("elbow", "biceps_tendon", 0.25),
    "deep_elbow_bend": ("elbow", "elbow_compression", 0.35),
    "shoulder_room": ("shoulder", "shoulder_end", 0.05),
    "wrist": ("wrist", "wrist_forced", 0.05),
    "lower_back": ("lower_back", "lower_back", 0.45),
}
"""Per caution: the joint, its note, and the strain from which it applies."""
SWING = 10.0
"""Change of trunk pitch in a rep from which it counts as momentum [degrees]."""
OVER_FACE = (-0.08, 0.35)
"""Where along the trunk from the shoulder a load is over neck and face [m]."""


@dataclass(frozen=True)
class Care:
    """One caution that applies, and why."""

    caution: Caution
    reason: str


@lru_cache(maxsize=REMEMBERED)
def cautions_for(modelled: Modelled) -> tuple[Care, ...]:
    """The cautions that a modelled variant's readings and set-up call for, and those its author gave it."""
    found = {key: reason for key, reason in _by_rule(modelled).items() if reason}
    for tag in modelled.variant.cautions:
        found.setdefault(tag, "named by whoever wrote this set-up")
    return tuple(Care(caution, found[key]) for key, caution in cautions().items() if key in found)


def _by_rule(modelled: Modelled) -> dict[str, str]:
    reasons = {key: _strained(modelled, *rule) for key, rule in STRAIN_OF.items()}
    reasons["bar_over_face"] = _over_face(modelled)
    reasons["momentum"] = _swings(modelled.variant)
    return reasons


def _strained(modelled: Modelled, joint: str, note: str, above: float) -> str:
    scale = next(scale for scale in joints()[joint].notes if scale.note == note)
    value = float(getattr(modelled.readings.joints, note))
    return scale.says(value) if scale.strain(value) >= above else ""


def _over_face(modelled: Modelled) -> str:
    batch, i = modelled.batch, modelled.place
    if not any(isinstance(line, FreeWeight) for line in batch.setups[i].lines):
        return ""
    low, high = OVER_FACE
    along = batch.frame.grip[1, i]
    above = (batch.frame.down[0, i] < -0.6) & (batch.frame.grip[0, i] > 0.1) & (along > low) & (along < high)
    part = float(np.mean(above))
    return f"the load is over neck or face for {100 * part:.0f} % of the rep" if part > 0.05 else ""


def _swings(variant: Variant) -> str:
    pitches = [variant.posture.trunk_pitch if k.trunk_pitch is None else k.trunk_pitch for k in variant.path]
    if not pitches or variant.support.base != "standing" or max(pitches) - min(pitches) < SWING:
        return ""
    return f"the trunk swings through {max(pitches) - min(pitches):.0f}°"
