"""The catalogue in another order: by any reading, and only what is hard here, uses this, or is called so."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.catalogue.schema import Variant
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target


@dataclass(frozen=True)
class ListedReading:
    """A reading that a list can be ordered by.

    Attributes
    ----------
    key : str
        Its name in `Readings`.
    name, unit : str
    scale : float
        From the reading to what is told.
    of_head : bool
        Whether it is one head's.
    """

    key: str
    name: str
    unit: str
    scale: float = 1.0
    of_head: bool = False

    def of(self, modelled: VariantModel, target: Target) -> float:
        """Its value for a variant, of the target's first head where it is one head's."""
        if self.of_head:
            return self.scale * modelled.of_head(self.key, target.heads[0])
        return self.scale * float(getattr(modelled.readings, self.key))


LISTED = (
    ListedReading("load", "load", "kg"),
    ListedReading("hard_at", "where it is hardest", "% of the rep", 100),
    ListedReading("hard_spot", "angle at the hard spot", "°"),
    ListedReading("effort_peak_at", "where effort peaks", "% of the rep", 100),
    ListedReading("slack_share", "slack", "% of the rep", 100),
    ListedReading("evenness", "evenness", "% of peak", 100),
    ListedReading("peak_demand", "peak moment", "N·m"),
    ListedReading("multi_joint", "the shoulder’s part", "% of the work", 100),
    ListedReading("work_share", "share of the work", "%", 100, of_head=True),
    ListedReading("length_at_hard_spot", "length at the hard spot", "% of range", of_head=True),
    ListedReading("excursion", "excursion", "% of range", of_head=True),
    ListedReading("mean_tension", "mean tension", "% of peak force", 100, of_head=True),
    ListedReading("long_tension", "long-length tension", "% of peak force", 100, of_head=True),
    ListedReading("short_tension", "short-length tension", "% of peak force", 100, of_head=True),
)


def listed() -> dict[str, ListedReading]:
    """By key."""
    return {one.key: one for one in LISTED}


def is_called(variant: Variant, words: str) -> bool:
    """Whether every word stands somewhere in a variant's names, summary, set-up or cues."""
    text = " ".join(
        (variant.id, variant.name, *variant.also_called, variant.summary, *variant.setup, *variant.cues)
    ).casefold()
    return all(word in text for word in words.casefold().split())
