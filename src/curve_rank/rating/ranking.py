"""Rankings: a question, and the answer to it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.readings import Readings
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.equipment import OWN, check_equipment, lacking
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import CurveRankError
from curve_rank.rating.criteria import Basis
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.joints import Strain, joints, spare_above, strains
from curve_rank.rating.lenses import Lens, lenses
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.scoring import CriterionScore, basis_of, drawn_parts, scores
from curve_rank.rating.similar import curves_apart
from curve_rank.rating.spreads import Spread, spread_of, spreads_of
from curve_rank.rating.targets import Target, known, targets
from curve_rank.rating.words import WhereHard, where_hard


@dataclass(frozen=True)
class Question:
    """What is asked: rank set-ups for a target through a lens, within constraints.

    Attributes
    ----------
    target : Target
    lens : Lens
    equipment : tuple of str
        All there is, as `catalogue.equipment.lacking` reads it. Empty: anything.
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
        check_equipment(self.equipment)
        for joint in self.spare:
            known("joint to spare", joint, joints())
        effort_for_reps(self.reps)

    @property
    def judged(self) -> Target:
        """The target whose readings answer the question."""
        return self.target.judged

    @property
    def weighing(self) -> Lens:
        """The lens with a weight for every joint to spare: kindness to it is asked for too."""
        return self.lens.sparing(self.spare)

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


OF_ROW = ("work_share", "length_at_hard_spot")
"""Readings of every head that stand in a row."""


@dataclass(frozen=True)
class Row:
    """One ranked variant.

    Attributes
    ----------
    rank : int
    modelled : VariantModel
        With nominal numbers.
    scores : array, shape (draws,)
        In every one of the fixed draws.
    spread : Spread
        Of the score.
    load : Spread
        [kg]
    criteria : tuple of CriterionScore
        Medians of the score's parts.
    strains : tuple of Strain
    medians : dict of dict of Spread
        By reading (share of the work [1], length at the hard spot [% of range]) and head of the group.
    hard : WhereHard
    twin_of : str
        The id of the first row of its like, if there is one above it.
    """

    rank: int
    modelled: VariantModel
    scores: Array
    spread: Spread
    load: Spread
    criteria: tuple[CriterionScore, ...]
    strains: tuple[Strain, ...]
    medians: dict[str, dict[str, Spread]]
    hard: WhereHard
    twin_of: str = ""

    @property
    def score(self) -> float:
        """The printed score: the median of the fixed draws."""
        return self.spread.median

    @property
    def variant(self) -> Variant:
        """The variant's document."""
        return self.modelled.variant

    @property
    def why(self) -> str:
        """Where it is hard, in a sentence."""
        return self.hard.says

    @property
    def strained(self) -> tuple[str, ...]:
        """Joints it does not spare, by name."""
        return tuple(one.joint.name for one in self.strains if one.strain > spare_above())


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
        What is asked.
    variants : tuple of Variant
        Those of the other muscle group are passed over silently.
    modeller : Modeller
        Models set-ups, and keeps what it has modelled.

    Returns
    -------
    Ranking
        Best first; equal scores by name. A variant that cannot be modelled is left out with the reason.
    """
    group = tuple(v for v in variants if v.group == question.target.group)
    modelled = modeller.model(group, question.body, effort=question.effort)
    left_out, able = [], []
    for variant, result in zip(group, modelled, strict=True):
        if isinstance(result, CurveRankError):
            left_out.append(LeftOut(variant, lacking(variant, question.equipment) or str(result)))
            continue
        strained = _strained(result, modeller)
        reason = _kept_out(result, strained, question)
        if reason:
            left_out.append(LeftOut(variant, reason))
        else:
            able.append((result, strained))
    drawn = fixed_draws(tuple(m.variant for m, _ in able), question.body, question.effort, modeller)
    rows = [
        _row(result, strained, readings, question, modeller)
        for (result, strained), readings in zip(able, drawn, strict=True)
    ]
    rows.sort(key=lambda row: (-row.score, row.variant.name))
    name = ("twins", question.judged.key, question.weighing, tuple(row.modelled.key for row in rows))
    like = modeller.once(name, lambda: twins(rows, modeller)) if all(name[-1]) else twins(rows, modeller)
    ranked = tuple(
        replace(row, rank=place, twin_of=like.get(row.variant.id, ""))
        for place, row in enumerate(rows, start=1)
    )
    return Ranking(question, ranked, tuple(left_out))


def twins(rows: Sequence[Row], modeller: Modeller) -> dict[str, str]:
    """Rows that are as good as another above them: by id, the first of their like.

    Their scores say nothing either way, and effort and lengths of all heads run alike along the rep. What is
    somebody's own always stands as a row.
    """
    number = parameter_set().number
    points, apart = number("certainty.even_scores"), number("certainty.twin_curves")
    firsts: list[Row] = []
    found: dict[str, str] = {}
    for row in rows:
        like = (
            first.variant.id
            for first in reversed(firsts)
            if first.score - row.score <= points
            and curves_apart(first.modelled, row.modelled, modeller) < apart
        )
        first_of_it = "" if row.variant.id.startswith(OWN) else next(like, "")
        if first_of_it:
            found[row.variant.id] = first_of_it
        else:
            firsts.append(row)
    return found


def _strained(modelled: VariantModel, modeller: Modeller) -> tuple[Strain, ...]:
    return modeller.derived(modelled, "strains", lambda: strains(modelled.readings, modelled.body))


def _row(
    modelled: VariantModel,
    strained: tuple[Strain, ...],
    drawn: Readings,
    question: Question,
    modeller: Modeller,
) -> Row:
    target, lens = question.judged, question.weighing

    def make() -> dict[str, Any]:
        basis = Basis(drawn, modelled.variant, modelled.body, target)
        several = scores(basis, lens)
        return {
            "scores": several,
            "spread": spread_of(several),
            "load": spread_of(drawn.load),
            "criteria": drawn_parts(basis, lens),
        }

    kept = modeller.derived(modelled, ("row", target.key, lens), make)
    medians = modeller.derived(modelled, "medians", lambda: _medians(drawn, modelled))
    hard = modeller.derived(modelled, ("where hard", target.key), lambda: where_hard(modelled, target, drawn))
    return Row(rank=0, modelled=modelled, strains=strained, medians=medians, hard=hard, **kept)


def _medians(drawn: Readings, modelled: VariantModel) -> dict[str, dict[str, Spread]]:
    heads = targets()[modelled.variant.group].heads
    places = [modelled.anatomy.index(head) for head in heads]
    return {name: dict(zip(heads, spreads_of(getattr(drawn, name)[places]), strict=True)) for name in OF_ROW}


def _kept_out(result: VariantModel, strained: tuple[Strain, ...], question: Question) -> str:
    """Why a modelled variant is left out, or nothing."""
    return (
        lacking(result.variant, question.equipment)
        or _not_spared(strained, question)
        or _outside_limits(result, question)
    )


def _not_spared(strained: tuple[Strain, ...], question: Question) -> str:
    """Which of the joints to spare a variant strains first, or nothing."""
    for strain in strained:
        if strain.joint.key in question.spare and strain.strain > spare_above():
            return f"does not spare the {strain.joint.name} ({strain.says})"
    return ""


def _outside_limits(result: VariantModel, question: Question) -> str:
    """Which of the lens's limits a variant breaks, or nothing."""
    basis = basis_of(result, question.judged)
    for limit in question.lens.limits:
        criterion = question.lens.criterion(limit.criterion)
        value = float(criterion.value(basis))
        if limit.broken_by(value):
            return f"outside the lens’s limits ({criterion.name.lower()}: {criterion.printed(value)})"
    return ""
