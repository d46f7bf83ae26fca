"""The whole catalogue: by family, or in the order of a reading; filtered by place, equipment and words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from curve_rank.answers.client import Client
from curve_rank.answers.means import Means
from curve_rank.answers.requests import Names, RequestForm, Whole
from curve_rank.arm.readings import Readings
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue import words
from curve_rank.catalogue.equipment import check_equipment, is_done_with
from curve_rank.catalogue.library import is_called
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.readings import Reading, all_readings
from curve_rank.rating.spreads import spread_of
from curve_rank.rating.targets import Target, known, long_head, targets


class CatalogueRequest(RequestForm):
    """What of the catalogue is listed, in which order, for whom."""

    order: str = ""
    head: str = ""
    hard: Literal["", "first", "middle", "last"] = ""
    equipment: Names = Field(default=(), alias="with")
    words: Annotated[str, Field(max_length=80)] = ""
    person: Whole | None = Field(default=None, alias="for")
    reps: Whole = DEFAULT_EFFORT_REPS


@dataclass(frozen=True)
class CatalogueAnswer:
    """The variants that fit, by group and family or by a reading."""

    asked: CatalogueRequest
    fitting: tuple[VariantModel, ...]
    drawn: dict[str, Readings]
    order: Reading | None
    heads: dict[str, Target]
    all: int

    @property
    def groups(self) -> dict[tuple[str, str], list[VariantModel]]:
        """By group and family; the family is empty where a reading gives the order."""
        found: dict[tuple[str, str], list[VariantModel]] = {}
        for m in self.fitting:
            found.setdefault((m.variant.group, "" if self.order else m.variant.family), []).append(m)
        if self.order:
            for (group, _), some in found.items():
                head, order = self.heads[group], self.order
                some.sort(key=lambda m: self.read(m, order, head), reverse=True)
        return found

    def read(self, m: VariantModel, reading: Reading, head: Target) -> float:
        """A reading's median over the fixed draws, as it is printed everywhere."""
        return spread_of(reading.values(self.drawn[m.variant.id], head.heads[0])).median


def catalogue(means: Means, asked: CatalogueRequest, client: Client) -> CatalogueAnswer:
    """What of the catalogue fits, for somebody.

    Raises
    ------
    UnknownNameError
        For a head, equipment or reading that is none.
    StillDrawingError
        Where the draws are under way, and whoever asks is told so.
    """
    effort = effort_for_reps(asked.reps)
    able = means.modeller.able(means.variants, client.body, effort=effort)
    drawn = means.drawn(able, client.body, effort)
    head = known("head", asked.head, targets()) if asked.head else None
    check_equipment(asked.equipment)
    heads = {group: head if head and head.group == group else long_head(group) for group in words.groups()}
    return CatalogueAnswer(
        asked=asked,
        fitting=tuple(m for m in able if _fits(m, asked)),
        drawn={m.variant.id: one for m, one in zip(able, drawn, strict=True)},
        order=known("order", asked.order, all_readings()) if asked.order else None,
        heads=heads,
        all=len(able),
    )


def _fits(modelled: VariantModel, asked: CatalogueRequest) -> bool:
    return (
        (not asked.hard or modelled.hard_third == asked.hard)
        and is_done_with(modelled.variant, asked.equipment)
        and is_called(modelled.variant, asked.words)
    )
