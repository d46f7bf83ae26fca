"""Rankings: a question, and the answer to it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue import words
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import CurveRankError
from curve_rank.rating.joints import Strain, joints, spare_above, strains
from curve_rank.rating.lenses import Lens, lenses
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.scoring import CriterionScore, basis_of, score_variant
from curve_rank.rating.targets import Target, known, targets
from curve_rank.rating.words import why


@dataclass(frozen=True)
class Question:
    """What is asked: rank set-ups for a target through a lens, within constraints.

    Attributes
    ----------
    target : Target
    lens : Lens
    equipment : tuple of str
        Keys of `words.equipment()`. Loads named are the only loads used; benches count only once one is
        named ("no_bench" for none). Empty: anything.
    spare : tuple of str
        Joints whose strain must stay low.
    body : Body
    reps : int
        Repetitions to failure at the working load.

    Raises
    ------
    UnknownNameError, BadInputError
    """

    target: Target
    lens: Lens
    equipment: tuple[str, ...] = ()
    spare: tuple[str, ...] = ()
    body: Body = field(default_factory=Body)
    reps: int = DEFAULT_EFFORT_REPS

    def __post_init__(self) -> None:
        for item in self.equipment:
            known("equipment", item, words.equipment())
        for joint in self.spare:
            known("joint to spare", joint, joints())
        effort_for_reps(self.reps)

    @property
    def effort(self) -> float:
        """Effort of the repetitions."""
        return effort_for_reps(self.reps)


def question(
    target: str = "biceps_long",
    lens: str = "long_length",
    *,
    equipment: tuple[str, ...] = (),
    spare: tuple[str, ...] = (),
    body: Body | None = None,
    reps: int = DEFAULT_EFFORT_REPS,
    among: Mapping[str, Lens] | None = None,
) -> Question:
    """A question by the keys of its target and lens; `among` are the lenses there are, the built-in ones.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    return Question(
        known("target", target, targets()),
        known("lens", lens, lenses() if among is None else among),
        equipment,
        spare,
        body or Body(),
        reps,
    )


@dataclass(frozen=True)
class Row:
    """One ranked variant."""

    rank: int
    modelled: VariantModel
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
    group = tuple(v for v in variants if v.group == question.target.group)
    modelled = modeller.model(group, question.body, effort=question.effort)
    left_out, rows = [], []
    for variant, result in zip(group, modelled, strict=True):
        if isinstance(result, CurveRankError):
            left_out.append(LeftOut(variant, _lacking(variant, question) or str(result)))
            continue
        strained = _strained(result, modeller)
        reason = _kept_out(result, strained, question)
        if reason:
            left_out.append(LeftOut(variant, reason))
        else:
            score, parts = _score(result, question, modeller)
            rows.append((score, parts, strained, result))
    rows.sort(key=lambda row: (-row[0], row[3].variant.name))
    return Ranking(
        question,
        tuple(
            Row(place, result, score, parts, strained, _why(result, question.target, modeller))
            for place, (score, parts, strained, result) in enumerate(rows, start=1)
        ),
        tuple(left_out),
    )


def _strained(modelled: VariantModel, modeller: Modeller) -> tuple[Strain, ...]:
    return modeller.derived(modelled, "strains", lambda: strains(modelled.readings))


def _score(
    modelled: VariantModel, question: Question, modeller: Modeller
) -> tuple[float, tuple[CriterionScore, ...]]:
    target, lens = question.target, question.lens
    return modeller.derived(
        modelled, ("score", target.key, lens), lambda: score_variant(modelled, target, lens)
    )


def _why(modelled: VariantModel, target: Target, modeller: Modeller) -> str:
    return modeller.derived(modelled, ("why", target.key), lambda: why(modelled, target))


def _kept_out(result: VariantModel, strained: tuple[Strain, ...], question: Question) -> str:
    """Why a modelled variant is left out, or nothing."""
    return (
        _lacking(result.variant, question)
        or _not_spared(strained, question)
        or _outside_limits(result, question)
    )


def _lacking(variant: Variant, question: Question) -> str:
    """What a variant needs that is not to hand, or nothing."""
    loads = [item for item in question.equipment if item in words.loads()]
    benches = [item for item in question.equipment if item in words.benches()]
    lacking: list[str] = [load for load in variant.equipment.loads if loads and load not in loads]
    if benches and variant.equipment.bench and variant.equipment.bench not in benches:
        lacking.append(variant.equipment.bench)
    named = words.equipment()
    return "needs " + " and ".join(named[item] for item in lacking) if lacking else ""


def _not_spared(strained: tuple[Strain, ...], question: Question) -> str:
    """Which of the joints to spare a variant strains first, or nothing."""
    for strain in strained:
        if strain.joint.key in question.spare and strain.strain > spare_above():
            return f"does not spare the {strain.joint.name} ({strain.says})"
    return ""


def _outside_limits(result: VariantModel, question: Question) -> str:
    """Which of the lens's limits a variant breaks, or nothing."""
    basis = basis_of(result, question.target)
    for limit in question.lens.limits:
        criterion = question.lens.criterion(limit.criterion)
        value = float(criterion.value(basis))
        if limit.broken_by(value):
            return f"outside the lens’s limits ({criterion.name.lower()}: {value:.3g} {criterion.unit})"
    return ""
