"""Scores: readings to criteria, criteria through a lens to a score, and strain of joints.

The same arithmetic serves one modelled variant and many draws of it: every reading is an array whose
leading shape S is empty for the one and (draws,) for the many.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.muscle import default_anatomy
from curve_rank.arm.readings import ReadingTable
from curve_rank.catalogue.schema import BodyWeightLine, Variant
from curve_rank.rating.modelling import REMEMBERED, Modelled
from curve_rank.rating.vocabulary import Aim, Criterion, Joint, Lens, joints

Array = NDArray[np.float64]

HEAD_INGREDIENTS = ("share", "length_at_hard_spot", "mean_tension", "long_tension", "short_tension")
WHOLE_INGREDIENTS = ("slack_share", "evenness", "multi_joint")


@dataclass(frozen=True)
class Ingredients:
    """What criteria are made of.

    Attributes
    ----------
    heads : dict of array, shape (*S, heads)
        By the names of `HEAD_INGREDIENTS`, over all heads of the anatomy.
    whole : dict of array, shape S
        By the names of `WHOLE_INGREDIENTS`, and `load` [kg].
    joints : dict of array, shape S
        Joint notes by name.
    """

    heads: dict[str, Array]
    whole: dict[str, Array]
    joints: dict[str, Array]

    def first(self, draws: int) -> Ingredients:
        """The first draws alone, where S is (draws, …)."""
        return Ingredients(
            *({name: values[:draws] for name, values in part.items()} for part in vars(self).values())
        )


@dataclass(frozen=True)
class CriterionScore:
    """One criterion of one variant: the reading, its 0–100 score and its weight in the lens."""

    criterion: Criterion
    value: float
    score: float
    weight: float


@dataclass(frozen=True)
class Strain:
    """How much a set-up strains a joint, and the note that says so."""

    joint: Joint
    strain: float
    says: str


def ingredients(table: ReadingTable) -> Ingredients:
    """The ingredients of all reps of a batch; S is (reps,)."""
    return Ingredients(
        heads={name: table.heads[name].T for name in HEAD_INGREDIENTS},
        whole={name: table.whole[name] for name in WHOLE_INGREDIENTS} | {"load": table.batch.load},
        joints=table.joints,
    )


@lru_cache(maxsize=REMEMBERED)
def ingredients_of(modelled: Modelled) -> Ingredients:
    """The ingredients of one modelled variant; S is ()."""
    readings = modelled.readings
    return Ingredients(
        heads={name: np.array([getattr(head, name) for head in readings.heads]) for name in HEAD_INGREDIENTS},
        whole={name: np.array(getattr(readings, name)) for name in (*WHOLE_INGREDIENTS, "load")},
        joints={name: np.array(value) for name, value in vars(readings.joints).items()},
    )


def score_variant(modelled: Modelled, aim: Aim, lens: Lens) -> tuple[float, tuple[CriterionScore, ...]]:
    """Score of a variant for an aim through a lens, 0–100, and its parts.

    Depends on this variant alone: what else is listed changes nothing.
    """
    values = _values_of(modelled, aim)
    parts = tuple(
        CriterionScore(
            lens.criterion(key), float(values[key]), float(lens.criterion(key).score(values[key])), weight
        )
        for key, weight in lens.weights
    )
    return sum(part.score * part.weight for part in parts), parts


@lru_cache(maxsize=REMEMBERED)
def _values_of(modelled: Modelled, aim: Aim) -> dict[str, Array]:
    return criterion_values(ingredients_of(modelled), modelled.variant, modelled.batch.body.mass, aim)


def scores(parts: Ingredients, variant: Variant, mass: float, aim: Aim, lens: Lens) -> Array:
    """Scores of shape S."""
    values = criterion_values(parts, variant, mass, aim)
    return np.asarray(sum(weight * lens.criterion(key).score(values[key]) for key, weight in lens.weights))


def criterion_values(parts: Ingredients, variant: Variant, mass: float, aim: Aim) -> dict[str, Array]:
    """The reading behind every criterion, arrays of shape S.

    Parameters
    ----------
    parts : Ingredients
    variant : Variant
    mass : float
        Body mass [kg].
    aim : Aim
    """
    whole = parts.whole
    moved = whole["load"] + mass * carried(variant)
    held = float(variant.support.trunk) + float(variant.support.upper_arm)
    return {
        "long_tension": _over_heads(parts, aim, "long_tension"),
        "short_tension": _over_heads(parts, aim, "short_tension"),
        "tension": _over_heads(parts, aim, "mean_tension"),
        "length_at_hard_spot": _over_heads(parts, aim, "length_at_hard_spot"),
        "share": parts.heads["share"][..., _places(aim)].sum(axis=-1),
        "evenness": whole["evenness"],
        "no_slack": whole["slack_share"],
        "load": 2 / variant.equipment.hands * moved / mass,
        "multi_joint": whole["multi_joint"],
        "steps": variant.equipment.smallest_step_kg / np.maximum(moved, 1e-6),
        "strictness": np.full(np.shape(moved), held),
        "joints": np.max([strain_of(joint, parts.joints) for joint in joints().values()], axis=0),
    }


def carried(variant: Variant) -> float:
    """Part of body mass that the hands carry, both together [1]."""
    return sum(line.carried for line in variant.lines if isinstance(line, BodyWeightLine))


def strain_of(joint: Joint, notes: dict[str, Array]) -> Array:
    """Strain of one joint, 0–1, shape S: the worst of its notes."""
    return np.asarray(np.max([scale.strain(notes[scale.note]) for scale in joint.notes], axis=0))


@lru_cache(maxsize=REMEMBERED)
def strains(modelled: Modelled) -> tuple[Strain, ...]:
    """Strain of every joint that can be spared, the worst of its notes each."""
    notes, result = modelled.readings.joints, []
    for joint in joints().values():
        scale = max(joint.notes, key=lambda s: float(s.strain(getattr(notes, s.note))))
        value = getattr(notes, scale.note)
        result.append(Strain(joint, float(scale.strain(value)), scale.says(value)))
    return tuple(result)


def _places(aim: Aim) -> list[int]:
    return [default_anatomy().index(head) for head in aim.heads]


def _over_heads(parts: Ingredients, aim: Aim, reading: str) -> Array:
    """Mean of a head reading over the aim's heads, weighted by peak force."""
    places = _places(aim)
    weights = default_anatomy().peak_force[places]
    return np.asarray(parts.heads[reading][..., places] @ weights / weights.sum())
