"""Cautions: rules that turn readings and set-up into plain words, each with the reason it applies."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np

from curve_rank.arm.lines import FreeWeight
from curve_rank.arm.parameters import parameter_set
from curve_rank.catalogue.schema import Variant
from curve_rank.data_files import read_toml
from curve_rank.rating.joints import joints
from curve_rank.rating.modelling import VariantModel

STRAIN_OF = {
    "lower_biceps_tendon": ("elbow", "biceps_tendon"),
    "deep_elbow_bend": ("elbow", "elbow_compression"),
    "shoulder_room": ("shoulder", "shoulder_end"),
    "wrist": ("wrist", "wrist_forced"),
    "lower_back": ("lower_back", "lower_back"),
}
"""Per caution: the joint and the note whose strain calls for it."""


@dataclass(frozen=True)
class Caution:
    """A caution in plain words."""

    key: str
    name: str
    says: str


@dataclass(frozen=True)
class CautionReason:
    """One caution that applies, and why."""

    caution: Caution
    reason: str


@cache
def cautions() -> dict[str, Caution]:
    """Caution texts by tag."""
    table = read_toml("curve_rank.rating", "cautions.toml")
    return {key: Caution(key=key, **entry) for key, entry in table.items()}


def cautions_for(modelled: VariantModel) -> tuple[CautionReason, ...]:
    """The cautions that a modelled variant's readings and set-up call for, and those its author gave it."""
    found = {key: reason for key, reason in _by_rule(modelled).items() if reason}
    for tag in modelled.variant.cautions:
        found.setdefault(tag, "named by whoever wrote this set-up")
    return tuple(CautionReason(caution, found[key]) for key, caution in cautions().items() if key in found)


def _from(caution: str) -> float:
    return parameter_set().number(f"cautions.{caution}")


def _by_rule(modelled: VariantModel) -> dict[str, str]:
    reasons = {key: _strained(modelled, *rule, _from(key)) for key, rule in STRAIN_OF.items()}
    reasons["bar_over_face"] = _over_face(modelled)
    reasons["momentum"] = _swings(modelled.variant)
    return reasons


def _strained(modelled: VariantModel, joint: str, note: str, above: float) -> str:
    scale = next(scale for scale in joints()[joint].notes if scale.note == note)
    value = float(getattr(modelled.readings, note))
    return scale.says(value) if float(scale.strain(modelled.readings, modelled.body)) >= above else ""


def _over_face(modelled: VariantModel) -> str:
    if not any(isinstance(line, FreeWeight) for line in modelled.setup.lines):
        return ""
    low, high = parameter_set().row_of("cautions.over_face")
    frame = modelled.rep.frame
    forward, along = frame.grip[0, 0], frame.grip[1, 0]
    lying, in_front = frame.down[0, 0] < -_from("over_face_supine"), forward > _from("over_face_front")
    part = float(np.mean(lying & in_front & (along > low) & (along < high)))
    if part <= _from("over_face_part"):
        return ""
    return f"the load is over neck or face for {100 * part:.0f} % of the rep"


def _swings(variant: Variant) -> str:
    pitches = [variant.posture.trunk_pitch if k.trunk_pitch is None else k.trunk_pitch for k in variant.path]
    if not pitches or variant.support.base != "standing":
        return ""
    swing = max(pitches) - min(pitches)
    return f"the trunk swings through {swing:.0f}°" if swing >= _from("momentum") else ""
