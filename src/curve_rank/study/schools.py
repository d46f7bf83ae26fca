"""Schools side by side: how the first ten move between lenses."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from curve_rank.catalogue.schema import Variant
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.ranking import Question, rank
from curve_rank.rating.targets import Target

TOP = 10


@dataclass(frozen=True)
class Mover:
    """A variant that is among the first ten of some school, and its rank in each (None: left out)."""

    modelled: VariantModel
    ranks: dict[str, int | None]


def movers(
    target: Target, lenses: Mapping[str, Lens], variants: tuple[Variant, ...], modeller: Modeller
) -> tuple[Mover, ...]:
    """Every variant among the first ten of a school, best placed first.

    Parameters
    ----------
    target : Target
        Whom the schools rank for.
    lenses : mapping of Lens
        By key.
    variants : tuple of Variant
        All there are.
    modeller : Modeller
        Models set-ups, and keeps what it has modelled.
    """
    places: dict[str, dict[str, int]] = {}
    modelled: dict[str, VariantModel] = {}
    for key, lens in lenses.items():
        for row in rank(Question(target, lens), variants, modeller).rows:
            places.setdefault(row.variant.id, {})[key] = row.rank
            modelled[row.variant.id] = row.modelled
    found = [
        Mover(modelled[variant], {key: ranks.get(key) for key in lenses})
        for variant, ranks in places.items()
        if min(ranks.values()) <= TOP
    ]
    return tuple(sorted(found, key=lambda m: sorted(r for r in m.ranks.values() if r is not None)))
