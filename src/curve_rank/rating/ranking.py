"""Asks a question of variants and answers with ranked rows, and with what was left out and why."""

from __future__ import annotations

from dataclasses import dataclass, field

from curve_rank.arm.body import Body
from curve_rank.arm.setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import CurveRankError
from curve_rank.rating.modelling import Modelled, Modeller
from curve_rank.rating.scoring import (
    CriterionScore,
    Strain,
    criterion_values,
    ingredients_of,
    score_variant,
    strains,
)
from curve_rank.rating.vocabulary import (
    BENCHES,
    EQUIPMENT,
    LOADS,
    Aim,
    Lens,
    aims,
    joints,
    known,
    lenses,
    spare_above,
)
from curve_rank.rating.why import why


@dataclass(frozen=True)
class Question:
    """What is asked: rank set-ups for a target through a lens, within constraints.

    Attributes
    ----------
    target, lens : str
        Keys of `vocabulary.aims()` and `vocabulary.lenses()`.
    equipment : tuple of str
        Keys of `vocabulary.EQUIPMENT`. Loads named are the only loads used; benches count only once one
        is named ("no_bench" for none). Empty: anything.
    spare : tuple of str
        Joints whose strain must stay low.
    body : Body
    reps : int
        Repetitions to failure at the working load.
    own_lens : Lens, optional
        A lens that is not built in; `lens` is its key then.

    Raises
    ------
    UnknownNameError, BadInputError
    """

    target: str = "biceps_long"
    lens: str = "long_length"
    equipment: tuple[str, ...] = ()
    spare: tuple[str, ...] = ()
    body: Body = field(default_factory=Body)
    reps: int = DEFAULT_EFFORT_REPS
    own_lens: Lens | None = None

    def __post_init__(self) -> None:
        known("target", self.target, aims())
        if self.own_lens is None or self.own_lens.key != self.lens:
            known("lens", self.lens, lenses())
        for item in self.equipment:
            known("equipment", item, EQUIPMENT)
        for joint in self.spare:
            known("joint to spare", joint, joints())
        effort_for_reps(self.reps)

    @property
    def effort(self) -> float:
        """Effort of the repetitions."""
        return effort_for_reps(self.reps)

    @property
    def aim(self) -> Aim:
        """The target's heads and group."""
        return aims()[self.target]

    @property
    def lens_used(self) -> Lens:
        """The lens."""
        return self.own_lens or lenses()[self.lens]


@dataclass(frozen=True)
class Row:
    """One ranked variant."""

    rank: int
    modelled: Modelled
    score: float
    criteria: tuple[CriterionScore, ...]
    strains: tuple[Strain, ...]
    why: str

    @property
    def variant(self) -> Variant:
        """The variant's document."""
        return self.modelled.variant


@dataclass(frozen=True)
class LeftOut:
    """A variant of the right group that the question's constraints, or the physics, keep out."""

    variant: Variant
    reason: str


@dataclass(frozen=True)
class Ranking:
    """The answer to a question."""

    question: Question
    rows: tuple[Row, ...]
    left_out: tuple[LeftOut, ...]


def rank(question: Question, variants: tuple[Variant, ...], modeller: Modeller) -> Ranking:
    """Rank variants for a question.

    Parameters
    ----------
    question : Question
    variants : tuple of Variant
        Those of the other muscle group are passed over silently.
    modeller : Modeller

    Returns
    -------
    Ranking
        Best first; equal scores by name. A variant that cannot be modelled is left out with the reason.
    """
    group = tuple(v for v in variants if v.target == question.aim.group)
    modelled = modeller.model(group, question.body, effort=question.effort)
    left_out, rows = [], []
    for variant, result in zip(group, modelled, strict=True):
        reason = _kept_out(variant, result, question)
        if reason:
            left_out.append(LeftOut(variant, reason))
        elif isinstance(result, Modelled):
            score, parts = score_variant(result, question.aim, question.lens_used)
            outside = _outside_limits(result, question)
            if outside:
                left_out.append(LeftOut(variant, outside))
            else:
                rows.append((score, parts, result))
    rows.sort(key=lambda row: (-row[0], row[2].variant.name))
    return Ranking(
        question,
        tuple(
            Row(place, result, score, parts, strains(result), why(result, question.aim))
            for place, (score, parts, result) in enumerate(rows, start=1)
        ),
        tuple(left_out),
    )


def _outside_limits(result: Modelled, question: Question) -> str:
    """Which of the lens's limits a variant breaks, or nothing."""
    if not question.lens_used.limits:
        return ""
    values = criterion_values(ingredients_of(result), result.variant, question.body.mass, question.aim)
    for limit in question.lens_used.limits:
        value = float(values[limit.criterion])
        if limit.broken_by(value):
            criterion = question.lens_used.criterion(limit.criterion)
            return f"outside the lens’s limits ({criterion.name.lower()}: {value:.3g} {criterion.unit})"
    return ""


def _kept_out(variant: Variant, result: Modelled | CurveRankError, question: Question) -> str:
    """Why a variant is left out, or nothing."""
    loads = [item for item in question.equipment if item in LOADS]
    benches = [item for item in question.equipment if item in BENCHES]
    lacking: list[str] = [load for load in variant.equipment.loads if loads and load not in loads]
    if benches and variant.equipment.bench and variant.equipment.bench not in benches:
        lacking.append(variant.equipment.bench)
    if lacking:
        return "needs " + " and ".join(EQUIPMENT[item] for item in lacking)
    if isinstance(result, CurveRankError):
        return str(result)
    strained = [
        strain
        for strain in strains(result)
        if strain.joint.key in question.spare and strain.strain > spare_above()
    ]
    return f"does not spare the {strained[0].joint.name} ({strained[0].says})" if strained else ""
