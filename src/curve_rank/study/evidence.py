"""Lenses beside published training comparisons: agreements and disagreements alike."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np

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
from curve_rank.rating.targets import Target, targets


@dataclass(frozen=True)
class Way:
    """One of the two ways of training compared."""

    name: str
    variant: Variant


@dataclass(frozen=True)
class TrainingStudy:
    """A published training comparison: which way gave more growth, for which muscles."""

    key: str
    title: str
    source: str
    found: str
    more: Way
    less: Way
    targets: tuple[Target, ...]


@dataclass(frozen=True)
class LensVerdict:
    """What a lens says of a comparison for one target: "agrees", "disagrees" or "says neither"."""

    lens: Lens
    target: Target
    more: float
    less: float

    @property
    def says(self) -> str:
        """In a word or two."""
        if abs(self.more - self.less) < parameter_set().number("certainty.even_scores"):
            return "says neither"
        return "agrees" if self.more > self.less else "disagrees"


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

    def score(way: Way, target: Target, lens: Lens) -> float:
        basis = Basis(readings[way.variant], way.variant, body, target.judged)
        return float(np.median(scores(basis, lens)))

    return tuple(
        LensVerdict(lens, target, score(comparison.more, target, lens), score(comparison.less, target, lens))
        for lens in lenses
        for target in comparison.targets
    )


def _way(raw: dict[str, Any]) -> Way:
    variant = find_variant(raw["variant"], built_in())
    changes = tuple(Change(field=field, set=value) for field, value in raw.get("set", {}).items())
    return Way(raw["name"], changed(variant, changes))
