"""Change one thing: a set-up modelled along the steps of one field, and a reading along them."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.changes import changed, value_at
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.rating.draws import Draw, fixed_draws
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.readings import Reading
from curve_rank.rating.spreads import Spread, spread_of

MOST_STEPS = 24


@dataclass(frozen=True)
class Step:
    """One step: the field's value there, and the set-up with it, or why it cannot be.

    `spread` is of the reading, `load` the median working load [kg].
    """

    value: float | str
    variant: Variant | None
    modelled: VariantModel | None = None
    spread: Spread | None = None
    load: float | None = None
    problem: str = ""


@dataclass(frozen=True)
class Series:
    """A reading along the steps of one field.

    Attributes
    ----------
    reading : Reading
    steps : tuple of Step
    best : int or None
        The step where the reading is best, where it has a better way.
    turns : tuple of int
        Steps at which the medians turn from rising to falling or back by more than is worth a word.
    """

    field: str
    reading: Reading
    steps: tuple[Step, ...]
    best: int | None
    turns: tuple[int, ...]


def parse_steps(text: str) -> tuple[float | str, ...]:
    """Steps from "from:to:step", ends included, or from a list with commas.

    Raises
    ------
    BadInputError
    """
    wanted = f"from:to:step, as in 0:-75:-15, or a list with commas, {MOST_STEPS} steps at most"
    if ":" not in text:
        listed = tuple(_value(part.strip()) for part in text.split(",") if part.strip())
        if not 1 <= len(listed) <= MOST_STEPS:
            raise BadInputError("steps", text, wanted)
        return listed
    try:
        start, end, step = (float(part) for part in text.split(":"))
    except ValueError as error:
        raise BadInputError("steps", text, wanted) from error
    if not all(map(math.isfinite, (start, end, step))) or step == 0 or (end - start) / step < 0:
        raise BadInputError("steps", text, "finite numbers, and a step towards the end")
    count = (end - start) / step
    if count > MOST_STEPS - 1 + 1e-9:
        raise BadInputError("steps", text, wanted)
    return tuple(round(start + n * step, 6) for n in range(math.floor(count + 1e-9) + 1))


def series(  # noqa: PLR0913 — what a series stands on
    variant: Variant,
    field: str,
    values: tuple[float | str, ...],
    reading: Reading,
    head: str,
    *,
    body: Body,
    effort: float,
    modeller: Modeller,
    draw: Draw | None = None,
) -> Series:
    """A reading along the steps of one field, medians of the fixed draws.

    Parameters
    ----------
    variant : Variant
        The set-up.
    field : str
        Dotted path of the document ("posture.trunk_pitch").
    values : tuple
        What it is set to, step by step.
    reading : Reading
        What is read at each step.
    head : str
        Whose reading it is, where each head has its own.
    body : Body
        The person: size, strength, joints.
    effort : float
        Of the repetitions: the part of their strength that the hardest moment takes, 0 to 1.
    modeller : Modeller
        Models set-ups, and keeps what it has modelled.
    draw : callable, optional
        Makes the draws where they are not to be made in this thread.

    Raises
    ------
    BadInputError
        When the field does not exist, or no step can be modelled.
    """
    value_at(variant, field)
    steps = [_step(variant, field, value) for value in values]
    models = iter(modeller.model(tuple(s.variant for s in steps if s.variant), body, effort=effort))
    modelled = [_modelled(step, models) for step in steps]
    able = tuple(step.variant for step in modelled if step.modelled and step.variant)
    if not able:
        raise BadInputError(field, ", ".join(map(str, values)), modelled[0].problem)
    drawn = iter(draw(able) if draw else fixed_draws(able, body, effort, modeller))
    told = tuple(_told(step, reading, head, next(drawn)) if step.modelled else step for step in modelled)
    return Series(field, reading, told, _best(told, reading), _turns(told, reading))


def _value(text: str) -> float | str:
    try:
        return float(text)
    except ValueError:
        return text


def _step(variant: Variant, field: str, value: float | str) -> Step:
    try:
        return Step(value, changed(variant, (Change(field=field, set=value),)))
    except CurveRankError as error:
        return Step(value, None, problem=str(error))


def _modelled(step: Step, models: Iterator[VariantModel | CurveRankError]) -> Step:
    if step.variant is None:
        return step
    found = next(models)
    return (
        replace(step, modelled=found)
        if isinstance(found, VariantModel)
        else replace(step, problem=str(found))
    )


def _told(step: Step, reading: Reading, head: str, drawn: Readings) -> Step:
    return replace(step, spread=spread_of(reading.values(drawn, head)), load=drawn.load_median)


def _best(steps: tuple[Step, ...], reading: Reading) -> int | None:
    told = [(step.spread.median, n) for n, step in enumerate(steps) if step.spread]
    if not reading.better or len(told) < 2:
        return None
    return (max if reading.better == "up" else min)(told)[1]


def _turns(steps: tuple[Step, ...], reading: Reading) -> tuple[int, ...]:
    """Steps at which the medians turn round by more than is worth a word on either side."""
    medians = [(n, step.spread.median) for n, step in enumerate(steps) if step.spread]
    turns: list[int] = []
    way, (at, extreme) = 0, medians[0]
    for n, value in medians[1:]:
        moved = value - extreme
        if way * moved > 0:
            at, extreme = n, value
        elif abs(moved) >= reading.told_from:
            if way:
                turns.append(at)
            way, at, extreme = (1 if moved > 0 else -1), n, value
    return tuple(turns)
