"""The price of faults, alone or together: what each takes from the score on the fixed draws, how surely."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.schema import Fault, Variant
from curve_rank.catalogue.setups import changes_of
from curve_rank.catalogue.words import unit_after
from curve_rank.errors import CurveRankError
from curve_rank.rating.draws import Draw, fixed_draws
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.targets import Target
from curve_rank.rating.words import in_a_row, lower_first, printed
from curve_rank.study.compare import ComparedReading, Comparison, Difference, compare

BOTH = (0, 1)
"""The columns of a comparison of right and wrong."""
MOST_TOLD = 4


@dataclass(frozen=True)
class FaultPrice:
    """A variant with faults beside the same done right.

    Attributes
    ----------
    variant : Variant
        Done right.
    faults : tuple of Fault
        All at once.
    comparison : Comparison or None
        Right, then wrong; None where it cannot be modelled.
    problem : str
        Why it cannot be.
    """

    variant: Variant
    faults: tuple[Fault, ...]
    comparison: Comparison | None
    problem: str = ""

    @property
    def price(self) -> Difference | None:
        """What the score changes by."""
        return self.comparison.readings[0].differences[BOTH] if self.comparison else None

    @property
    def told(self) -> tuple[ComparedReading, ...]:
        """The readings that change enough and surely enough to be told, the largest for their kind first."""
        if self.comparison is None:
            return ()
        found = [one for one in self.comparison.readings[1:] if one.is_told(BOTH)]
        return tuple(sorted(found, key=_times_told)[:MOST_TOLD])

    @property
    def says(self) -> str:
        """The medians of what changes, right → wrong; or why it cannot be."""
        if self.problem:
            return self.problem
        parts = [_right_to_wrong(one) for one in self.told]
        return "; ".join((parts[0], *map(lower_first, parts[1:]))) if parts else "Hardly any reading changes"


@dataclass(frozen=True)
class FaultGroup:
    """One fault wherever it is made, the dearest set-up first."""

    name: str
    prices: tuple[FaultPrice, ...]

    @property
    def cues(self) -> tuple[str, ...]:
        """What is said against it, each once."""
        return tuple(dict.fromkeys(fault.cue for price in self.prices for fault in price.faults))


def by_fault(prices: tuple[FaultPrice, ...]) -> tuple[FaultGroup, ...]:
    """Prices that are dearest first, gathered by the fault; the one that costs most somewhere first."""
    found: dict[str, list[FaultPrice]] = {}
    for price in prices:
        found.setdefault(in_a_row([fault.name for fault in price.faults]), []).append(price)
    return tuple(FaultGroup(name, tuple(those)) for name, those in found.items())


def _right_to_wrong(one: ComparedReading) -> str:
    right, wrong = (printed(column.median, one.reading.digits) for column in one.columns)
    return f"{one.reading.name} {right} → {wrong}{unit_after(one.reading.unit)}"


def _times_told(one: ComparedReading) -> float:
    return -abs(one.differences[BOTH].spread.median) / one.reading.told_from


def with_faults(variant: Variant, faults: tuple[Fault, ...]) -> Variant:
    """The variant with faults, one after another.

    Raises
    ------
    BadInputError
        Where the result is no set-up that can be.
    """
    return changed(variant, changes_of(faults))


def fault_prices(  # noqa: PLR0913 — what a price stands on
    variants: tuple[Variant, ...],
    target: Target,
    lens: Lens,
    *,
    body: Body,
    effort: float,
    modeller: Modeller,
    together: tuple[Fault, ...] = (),
    faults: Mapping[str, tuple[Fault, ...]] | None = None,
    draw: Draw | None = None,
) -> tuple[FaultPrice, ...]:
    """The price of every fault of some variants, dearest first.

    Parameters
    ----------
    variants : tuple of Variant
        Of the target's group.
    target, lens : Target, Lens
        What the score is by.
    body : Body
        The person: size, strength, joints.
    effort : float
        Of the repetitions: the part of their strength that the hardest moment takes, 0 to 1.
    modeller : Modeller
        Models set-ups, and keeps what it has modelled.
    together : tuple of Fault
        Faults that are priced all at once instead, for every variant.
    faults : mapping, optional
        By variant id, the faults that are priced instead of those written down.
    draw : callable, optional
        Makes the draws where they are not to be made in this thread.
    """
    listed = {v.id: v.faults if faults is None else faults[v.id] for v in variants}
    cases = [
        (variant, made)
        for variant in variants
        for made in ([together] if together else [(fault,) for fault in listed[variant.id]])
    ]
    found = [_made(variant, made) for variant, made in cases]
    right = _by_digest(variants, body, effort, modeller)
    wrong = _by_digest(tuple(v for v in found if isinstance(v, Variant)), body, effort, modeller)
    able = tuple(m.variant for m in (*right.values(), *wrong.values()) if isinstance(m, VariantModel))
    made_draws = draw(able) if draw else fixed_draws(able, body, effort, modeller)
    drawn = dict(zip((v.digest for v in able), made_draws, strict=True))
    prices = []
    for (variant, wrongs), made in zip(cases, found, strict=True):
        good = right[variant.digest]
        bad = wrong[made.digest] if isinstance(made, Variant) else made
        if isinstance(good, VariantModel) and isinstance(bad, VariantModel):
            both = (drawn[good.variant.digest], drawn[bad.variant.digest])
            make = partial(compare, (good, bad), both, target, lens)
            name = ("fault price", good.key, bad.key, target.key, lens)
            compared = modeller.once(name, make) if good.key and bad.key else make()
            prices.append(FaultPrice(variant, wrongs, compared))
        else:
            prices.append(
                FaultPrice(variant, wrongs, None, str(bad if isinstance(bad, CurveRankError) else good))
            )
    return tuple(sorted(prices, key=lambda p: p.price.spread.median if p.price else math.inf))


def _made(variant: Variant, faults: tuple[Fault, ...]) -> Variant | CurveRankError:
    try:
        return with_faults(variant, faults)
    except CurveRankError as error:
        return error


def _by_digest(
    variants: tuple[Variant, ...], body: Body, effort: float, modeller: Modeller
) -> dict[str, VariantModel | CurveRankError]:
    models = modeller.model(variants, body, effort=effort)
    return {variant.digest: model for variant, model in zip(variants, models, strict=True)}
