"""Scores one modelled variant: readings to criteria, criteria through a lens to a score, and strain."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.arm.muscle import default_anatomy
from curve_rank.catalogue.schema import BodyWeightLine
from curve_rank.rating.modelling import Modelled
from curve_rank.rating.vocabulary import Aim, Criterion, Joint, Lens, criteria, joints


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


def score_variant(modelled: Modelled, aim: Aim, lens: Lens) -> tuple[float, tuple[CriterionScore, ...]]:
    """Score of a variant for an aim through a lens, 0–100, and its parts.

    Depends on this variant alone: what else is listed changes nothing.
    """
    values = criterion_values(modelled, aim)
    parts = tuple(
        CriterionScore(criteria()[key], values[key], criteria()[key].score(values[key]), weight)
        for key, weight in lens.weights
    )
    return sum(part.score * part.weight for part in parts), parts


def criterion_values(modelled: Modelled, aim: Aim) -> dict[str, float]:
    """The reading behind every criterion."""
    readings, variant = modelled.readings, modelled.variant
    moved = moved_load(modelled)
    return {
        "long_tension": _over_heads(modelled, aim, "long_tension"),
        "short_tension": _over_heads(modelled, aim, "short_tension"),
        "tension": _over_heads(modelled, aim, "mean_tension"),
        "length_at_hard_spot": _over_heads(modelled, aim, "length_at_hard_spot"),
        "share": sum(modelled.head(head).share for head in aim.heads),
        "evenness": readings.evenness,
        "no_slack": readings.slack_share,
        "load": 2 / variant.equipment.hands * moved / modelled.batch.body.mass,
        "multi_joint": readings.multi_joint,
        "steps": variant.equipment.smallest_step_kg / max(moved, 1e-6),
        "strictness": float(variant.support.trunk) + float(variant.support.upper_arm),
        "joints": max(strain.strain for strain in strains(modelled)),
    }


def strains(modelled: Modelled) -> tuple[Strain, ...]:
    """Strain of every joint, the worst of its notes."""
    notes = modelled.readings.joints
    result = []
    for joint in joints().values():
        scale = max(joint.notes, key=lambda s: s.strain(getattr(notes, s.note)))
        value = getattr(notes, scale.note)
        result.append(
            Strain(
                joint,
                scale.strain(value),
                f"{scale.name}: {value:.0f}{'' if scale.unit == '°' else ' '}{scale.unit}",
            )
        )
    return tuple(result)


def moved_load(modelled: Modelled) -> float:
    """What the hands move [kg]: the load, and the part of the body they carry."""
    lines = modelled.variant.lines
    carried = sum(line.carried for line in lines if isinstance(line, BodyWeightLine))
    return modelled.readings.load + carried * modelled.batch.body.mass


def _over_heads(modelled: Modelled, aim: Aim, reading: str) -> float:
    """Mean of a head reading over the aim's heads, weighted by peak force."""
    anatomy = default_anatomy()
    weights = [float(anatomy.peak_force[anatomy.index(head)]) for head in aim.heads]
    values = [float(getattr(modelled.head(head), reading)) for head in aim.heads]
    return sum(w * v for w, v in zip(weights, values, strict=True)) / sum(weights)
