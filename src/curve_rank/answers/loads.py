"""Loads: what a known set is worth on other variants."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated

from curve_rank.answers.means import Means
from curve_rank.answers.plain import SHAPES, Shown, to_digits
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import effort_for_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.criteria import carried
from curve_rank.rating.words import load_words
from curve_rank.study.personal import Factor
from curve_rank.study.transfer import KnownSet, Transfer, body_from_set, transfer
from curve_rank.training.learning import personal_transfer

Kilograms = Annotated[float, to_digits(4)]


@dataclass(frozen=True)
class LoadElsewhere:
    """What a known set is worth on one variant."""

    __pydantic_config__ = SHAPES

    variant: str
    load_kg: Kilograms
    median: Kilograms
    low: Kilograms
    high: Kilograms
    nominal_kg: Kilograms
    interval_kg: tuple[Kilograms, Kilograms]
    rounded_kg: Annotated[float, to_digits(3)]
    limited_by: str
    document: Shown[Variant]
    words: Shown[str]
    """The rounded load, as a lifter would say it."""
    over: Shown[float | None]
    """Over the known load [1]; None where one of the two takes weight off."""


@dataclass(frozen=True)
class LoadsAnswer(LoadElsewhere):
    """A known set's worth on the variant asked for, and on its whole group."""

    strength: Annotated[float, to_digits(4)]
    by_log: bool
    """Whether the person's log corrects it."""
    others: tuple[LoadElsewhere, ...]


def load_elsewhere(
    means: Means,
    body: Body,
    known: KnownSet,
    to: Variant,
    reps: int,
    factors: Mapping[str, Factor] | None = None,
) -> LoadElsewhere:
    """What a known set is worth on one variant.

    Parameters
    ----------
    means : Means
        With what it is worked out.
    body : Body
        Whose size it is; the known set tells their strength.
    known : KnownSet
        What somebody did.
    to : Variant
        Where its worth is wanted.
    reps : int
        Repetitions to failure wanted there.
    factors : mapping, optional
        What a person's log says of their loads, by variant id.

    Raises
    ------
    CurveRankError
        Where no strength explains the set, or the variant cannot be modelled.
    """
    means.draw((known.variant, to), body, effort_for_reps(known.reps))
    (found,) = _elsewhere(means, body, known, (to,), reps, factors or {})
    return found


def loads_elsewhere(
    means: Means,
    body: Body,
    known: KnownSet,
    to: Variant,
    reps: int,
    factors: Mapping[str, Factor] | None = None,
) -> LoadsAnswer:
    """As `load_elsewhere`, and on all of the variant's group as well."""
    effort = effort_for_reps(known.reps)
    able = tuple(m.variant for m in means.able(to.group, body, effort))
    means.draw((known.variant, to, *able), body, effort)  # all at once
    wanted = load_elsewhere(means, body, known, to, reps, factors)
    return LoadsAnswer(
        **vars(wanted),
        strength=body_from_set(body, known, means.modeller).strength,
        by_log=wanted.variant in (factors or {}),
        others=_elsewhere(means, body, known, able, reps, factors or {}),
    )


def _elsewhere(
    means: Means,
    body: Body,
    known: KnownSet,
    variants: tuple[Variant, ...],
    reps: int,
    factors: Mapping[str, Factor],
) -> tuple[LoadElsewhere, ...]:
    return tuple(
        _handed_out(
            personal_transfer(one, known.variant.id, factors, carried(one.variant) * body.mass), known
        )
        for one in transfer(body, known, variants, means.modeller, reps=reps)
    )


def _handed_out(one: Transfer, known: KnownSet) -> LoadElsewhere:
    return LoadElsewhere(
        variant=one.variant.id,
        load_kg=one.load,
        median=one.load,
        low=one.low,
        high=one.high,
        nominal_kg=one.nominal,
        interval_kg=(one.low, one.high),
        rounded_kg=one.rounded,
        limited_by=one.limited_by,
        document=one.variant,
        words=load_words(one, one.rounded),
        over=one.load / known.load if known.load > 0 and one.load > 0 else None,
    )
