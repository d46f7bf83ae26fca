"""Loads: what a known set is worth on other variants."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Annotated

from markupsafe import Markup

from curve_rank.answers.drawn import strip_of
from curve_rank.answers.means import Means
from curve_rank.answers.plain import SHAPES, Shown, to_digits
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import effort_for_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.units import step_in
from curve_rank.rating.criteria import carried
from curve_rank.rating.spreads import Spread
from curve_rank.rating.targets import long_head
from curve_rank.rating.words import load_words, where_hard
from curve_rank.study.personal import Factor
from curve_rank.study.strictness import as_done, between, widened
from curve_rank.study.transfer import KnownSet, Transfer, body_from_set, on_steps, transfer
from curve_rank.training.learning import personal_transfer

Kilograms = Annotated[float, to_digits(4)]


@dataclass(frozen=True)
class Manners:
    """How strictly the known set was done, and how the wanted one will be."""

    known: str = "strictly"
    wanted: str = "strictly"


STRICTLY = Manners()


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
    step_kg: Shown[float]
    """On whose steps it is rounded."""
    document: Shown[Variant]
    words: Shown[str]
    """The rounded load, as a lifter would say it."""
    over: Shown[float | None]
    """Over the known load [1]; None where one of the two takes weight off."""


@dataclass(frozen=True)
class RepAtGlance:
    """One of the two set-ups: its strip, and where it is hard."""

    document: Variant
    strip: Markup
    says: str


@dataclass(frozen=True)
class LoadsAnswer(LoadElsewhere):
    """A known set's worth on the variant asked for, and on its whole group."""

    strength: Annotated[float, to_digits(4)]
    by_log: bool
    """Whether the person's log corrects it."""
    others: tuple[LoadElsewhere, ...]
    both: Shown[tuple[RepAtGlance, ...]]
    """The set-up of the known set, and the one asked for."""


def load_elsewhere(
    means: Means,
    body: Body,
    known: KnownSet,
    to: Variant,
    reps: int,
    factors: Mapping[str, Factor] | None = None,
    done: Manners = STRICTLY,
    unit: str = "kg",
) -> LoadElsewhere:
    """What a known set is worth on one variant, each done as strictly as is said.

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
    done : Manners
        How strictly; what is not strict is told with a wider interval.
    unit : str
        "lb" where loads stand on the steps of a gym in pounds.

    Raises
    ------
    CurveRankError
        Where no strength explains the set, or the variant cannot be modelled.
    """
    here, there = effort_for_reps(known.reps), effort_for_reps(reps)
    of_known, of_wanted = (body, here, means.modeller), (body, there, means.modeller)
    one, other = as_done(known.variant, done.known, *of_known), as_done(to, done.wanted, *of_wanted)
    pairs = [(one, other)]
    pairs += [(end, other) for end in between(known.variant, done.known, *of_known)]
    pairs += [(one, end) for end in between(to, done.wanted, *of_wanted)]
    means.draw(tuple(dict.fromkeys(v for pair in pairs for v in pair)), body, here)
    told, *ends = (
        _elsewhere(means, body, replace(known, variant=start), (end,), reps, factors or {}, unit)[0]
        for start, end in pairs
    )
    span = widened(
        Spread(told.median, told.low, told.high), tuple(Spread(e.median, e.low, e.high) for e in ends)
    )
    return replace(told, low=span.low, high=span.high, interval_kg=(span.low, span.high))


def loads_elsewhere(
    means: Means,
    body: Body,
    known: KnownSet,
    to: Variant,
    reps: int,
    factors: Mapping[str, Factor] | None = None,
    done: Manners = STRICTLY,
    unit: str = "kg",
) -> LoadsAnswer:
    """As `load_elsewhere`, and on all of the variant's group, done strictly, as well."""
    effort = effort_for_reps(known.reps)
    able = tuple(m.variant for m in means.able(to.group, body, effort))
    as_it_was = replace(known, variant=as_done(known.variant, done.known, body, effort, means.modeller))
    means.draw((known.variant, as_it_was.variant, to, *able), body, effort)  # all at once
    wanted = load_elsewhere(means, body, known, to, reps, factors, done, unit)
    return LoadsAnswer(
        **vars(wanted),
        strength=body_from_set(body, as_it_was, means.modeller).strength,
        by_log=wanted.variant in (factors or {}),
        others=_elsewhere(means, body, as_it_was, able, reps, factors or {}, unit),
        both=tuple(_at_a_glance(means, body, one, effort) for one in (known.variant, to)),
    )


def _at_a_glance(means: Means, body: Body, variant: Variant, effort: float) -> RepAtGlance:
    modelled, target = means.modeller.one(variant, body, effort=effort), long_head(variant.group)
    (drawn,) = means.draw((variant,), body, effort)
    return RepAtGlance(
        variant,
        strip_of(means.modeller, modelled, target, "large"),
        where_hard(modelled, target, drawn).says,
    )


def _elsewhere(
    means: Means,
    body: Body,
    known: KnownSet,
    variants: tuple[Variant, ...],
    reps: int,
    factors: Mapping[str, Factor],
    unit: str,
) -> tuple[LoadElsewhere, ...]:
    return tuple(
        _handed_out(
            personal_transfer(one, known.variant.id, factors, carried(one.variant) * body.mass), known, unit
        )
        for one in transfer(body, known, variants, means.modeller, reps=reps)
    )


def _handed_out(one: Transfer, known: KnownSet, unit: str) -> LoadElsewhere:
    step = step_in(unit, one.variant.equipment.smallest_step_kg)
    rounded = on_steps(one.load, one.variant, step)
    return LoadElsewhere(
        variant=one.variant.id,
        load_kg=one.load,
        median=one.load,
        low=one.low,
        high=one.high,
        nominal_kg=one.nominal,
        interval_kg=(one.low, one.high),
        rounded_kg=rounded,
        step_kg=step,
        limited_by=one.limited_by,
        document=one.variant,
        words=load_words(one, rounded),
        over=one.load / known.load if known.load > 0 and one.load > 0 else None,
    )
