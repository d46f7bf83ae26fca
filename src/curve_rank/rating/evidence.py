"""Lenses beside published training comparisons: agreements and disagreements alike."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from curve_rank.arm.body import Body
from curve_rank.arm.setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.rating.modelling import Modelled, Modeller
from curve_rank.rating.scoring import score_variant
from curve_rank.rating.vocabulary import Aim, Lens, aims

EVEN = 2.0
"""Scores closer than this say nothing either way."""


@dataclass(frozen=True)
class Way:
    """One of the two ways of training compared."""

    name: str
    variant: Variant


@dataclass(frozen=True)
class Comparison:
    """A published training comparison: which way gave more growth, for which muscles."""

    key: str
    title: str
    source: str
    found: str
    more: Way
    less: Way
    targets: tuple[Aim, ...]


@dataclass(frozen=True)
class Verdict:
    """What a lens says of a comparison for one target: "agrees", "disagrees" or "says neither"."""

    lens: Lens
    target: Aim
    more: float
    less: float

    @property
    def says(self) -> str:
        """In a word or two."""
        if abs(self.more - self.less) < EVEN:
            return "says neither"
        return "agrees" if self.more > self.less else "disagrees"


@cache
def comparisons() -> tuple[Comparison, ...]:
    """All comparisons."""
    table = tomllib.loads(files("curve_rank.rating").joinpath("evidence.toml").read_text(encoding="utf-8"))
    return tuple(
        Comparison(
            key=key,
            title=entry["title"],
            source=entry["source"],
            found=entry["found"],
            more=_way(entry["more"]),
            less=_way(entry["less"]),
            targets=tuple(aims()[target] for target in entry["targets"]),
        )
        for key, entry in table.items()
    )


def verdicts(comparison: Comparison, lenses: tuple[Lens, ...], modeller: Modeller) -> tuple[Verdict, ...]:
    """What every lens says, target by target."""
    effort = effort_for_reps(DEFAULT_EFFORT_REPS)
    ways = modeller.model((comparison.more.variant, comparison.less.variant), Body(), effort=effort)
    modelled = [way for way in ways if isinstance(way, Modelled)]
    if len(modelled) < 2:
        raise ValueError(f"{comparison.key}: a compared set-up cannot be modelled")
    return tuple(
        Verdict(lens, target, *(score_variant(way, target, lens)[0] for way in modelled))
        for lens in lenses
        for target in comparison.targets
    )


def _way(raw: dict[str, Any]) -> Way:
    variant = find_variant(raw["variant"], built_in())
    changes = tuple(Change(field=field, set=value) for field, value in raw.get("set", {}).items())
    return Way(raw["name"], changed(variant, changes))
