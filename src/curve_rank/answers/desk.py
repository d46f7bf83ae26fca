"""With what an answer is worked out: the set-ups there are, the one modeller, and where draws come from."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.sets import Draw
from curve_rank.rating.modelling import Modeller, VariantModel


@dataclass(frozen=True)
class Means:
    """With what an answer is worked out for somebody.

    Attributes
    ----------
    variants : tuple of Variant
        All that the viewer has.
    modeller : Modeller
    draw : callable
        Finds fixed draws, or makes them; where they take long, it may raise that they are under way.
    """

    variants: tuple[Variant, ...]
    modeller: Modeller
    draw: Draw

    def able(self, group: str, body: Body, effort: float) -> tuple[VariantModel, ...]:
        """All of a group that can be modelled, modelled."""
        return self.modeller.able(tuple(v for v in self.variants if v.group == group), body, effort=effort)

    def drawn(self, models: tuple[VariantModel, ...], body: Body, effort: float) -> tuple[Readings, ...]:
        """The fixed draws of modelled set-ups, S = (draws,)."""
        return self.draw(tuple(m.variant for m in models), body, effort)
