"""With what an answer is worked out: what the viewer has, the one modeller, and where draws come from."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.answers.library import Library
from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.sets import Draw
from curve_rank.rating.cautions import CautionReason, cautions_for
from curve_rank.rating.modelling import Modeller, VariantModel


@dataclass(frozen=True)
class Means:
    """With what an answer is worked out for somebody.

    Attributes
    ----------
    library : Library
        All that the viewer has.
    modeller : Modeller
    draw : callable
        Finds fixed draws, or makes them; where they take long, it may raise that they are under way.
    """

    library: Library
    modeller: Modeller
    draw: Draw

    @property
    def variants(self) -> tuple[Variant, ...]:
        """All variants that the viewer has."""
        return self.library.variants

    def able(self, group: str, body: Body, effort: float) -> tuple[VariantModel, ...]:
        """All of a group that can be modelled, modelled."""
        return self.modeller.able(self.library.of_group(group), body, effort=effort)

    def drawn(self, models: tuple[VariantModel, ...], body: Body, effort: float) -> tuple[Readings, ...]:
        """The fixed draws of modelled set-ups, S = (draws,)."""
        return self.draw(tuple(m.variant for m in models), body, effort)

    def cautions(self, modelled: VariantModel) -> tuple[CautionReason, ...]:
        """The cautions of a set-up, kept beside its model."""
        return self.modeller.derived(modelled, "cautions", lambda: cautions_for(modelled))
