"""Lenses beside published training comparisons: agreements and disagreements alike."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.data_files import read_toml
from curve_rank.rating.criteria import Basis
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.scoring import scores
from curve_rank.rating.spreads import tails
from curve_rank.rating.targets import Target, targets

ROUNDING = 1e-9


@dataclass(frozen=True)
class Way:
    """One of the two ways of training compared."""

    name: str
    variant: Variant


@dataclass(frozen=True)
class TrainingStudy:
    """A published training comparison: which way gave more growth, for which muscles; or that none did.

    `sure` is the chance that a longer, larger study would find the same.
    """

    key: str
    title: str
    source: str
    found: str
    differs: bool
    sure: float
    more: Way
    less: Way
    targets: tuple[Target, ...]

    def chance(self, apart: Array) -> float:
        """Chance that a lens and the truth agree, from the ways' scores apart in every draw (draws,) [1].

        Where more growth was found a lens must score that way higher, where none was the two alike; and what
        a study found is itself only as sure as it is.
        """
        number = parameter_set().number
        if self.differs:
            foretold = apart > number("certainty.even_scores")
        else:
            foretold = np.abs(apart) < number("certainty.alike_scores")
        part = float(foretold.mean())
        return self.sure * part + (1 - self.sure) * (1 - part)


@dataclass(frozen=True)
class LensVerdict:
    """What a lens says of a comparison for one target: medians of its scores, the chance that it agrees."""

    lens: Lens
    target: Target
    more: float
    less: float
    chance: float

    @property
    def says(self) -> str:
        """In a word or two."""
        resolved = parameter_set().number("certainty.resolved")
        if self.chance >= resolved:
            return "agrees"
        return "disagrees" if self.chance <= 1 - resolved + ROUNDING else "says neither"


@dataclass(frozen=True)
class Tally:
    """In how many of the comparisons a lens agrees, of each the first target: expected, with its interval."""

    lens: Lens
    expected: float
    low: int
    high: int
    studies: int

    @property
    def says(self) -> str:
        """In words."""
        span = f"{self.low} to {self.high}" if self.low < self.high else f"{self.low}"
        return f"{self.expected:.1f} of {self.studies} ({span})"


Found = tuple[TrainingStudy, tuple[LensVerdict, ...]]


def every_comparison(lenses: tuple[Lens, ...], modeller: Modeller) -> tuple[Found, ...]:
    """All comparisons, and what every lens says of each."""
    return tuple((one, verdicts(one, lenses, modeller)) for one in comparisons())


def tally(found: Sequence[Found], lens: Lens) -> Tally:
    """How often a lens agrees, from the chances of each study; studies count as independent of each other."""
    chances = [next(v.chance for v in said if v.lens is lens) for _, said in found]
    counts = np.ones(1)
    for chance in chances:
        counts = np.convolve(counts, (1 - chance, chance))
    below = np.cumsum(counts)
    low, high = (int(np.searchsorted(below, part)) for part in tails())
    return Tally(lens, float(sum(chances)), low, high, len(chances))


def unforetold(found: Sequence[Found]) -> tuple[TrainingStudy, ...]:
    """Studies with whose first target no lens agrees more likely than not."""
    return tuple(
        study for study, said in found if all(v.chance < 0.5 for v in said if v.target is study.targets[0])
    )


@cache
def comparisons() -> tuple[TrainingStudy, ...]:
    """All comparisons."""
    table = read_toml("curve_rank.study", "evidence.toml")
    return tuple(
        TrainingStudy(
            key=key,
            title=entry["title"],
            source=entry["source"],
            found=entry["found"],
            differs=entry.get("differs", True),
            sure=entry["sure"],
            more=_way(entry["more"]),
            less=_way(entry["less"]),
            targets=tuple(targets()[target] for target in entry["targets"]),
        )
        for key, entry in table.items()
    )


def compared() -> tuple[Variant, ...]:
    """Every set-up that is compared."""
    return tuple(way.variant for one in comparisons() for way in (one.more, one.less))


def verdicts(
    comparison: TrainingStudy, lenses: tuple[Lens, ...], modeller: Modeller
) -> tuple[LensVerdict, ...]:
    """What every lens says, target by target: medians of the fixed draws."""
    body = Body()
    drawn = fixed_draws(compared(), body, usual_effort(), modeller)
    readings = dict(zip(compared(), drawn, strict=True))

    def scored(way: Way, target: Target, lens: Lens) -> Array:
        return scores(Basis(readings[way.variant], way.variant, body, target.judged), lens)

    def said(lens: Lens, target: Target) -> LensVerdict:
        more, less = (scored(way, target, lens) for way in (comparison.more, comparison.less))
        chance = comparison.chance(more - less)
        return LensVerdict(lens, target, float(np.median(more)), float(np.median(less)), chance)

    return tuple(said(lens, target) for lens in lenses for target in comparison.targets)


def _way(raw: dict[str, Any]) -> Way:
    variant = find_variant(raw["variant"], built_in())
    changes = tuple(Change(field=field, set=value) for field, value in raw.get("set", {}).items())
    return Way(raw["name"], changed(variant, changes))
