"""What it costs to do it wrong: faults priced under a lens, dearest first, with how sure each price is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any
from urllib.parse import urlencode

from pydantic import Field, model_serializer

from curve_rank.answers.client import Client
from curve_rank.answers.means import Library, Means
from curve_rank.answers.plain import SHAPES
from curve_rank.answers.requests import RequestForm, Whole
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue import words
from curve_rank.catalogue.schema import Fault, Variant
from curve_rank.exchange.study_views import price_view
from curve_rank.rating.lenses import Lens
from curve_rank.rating.targets import Target, known, long_head, targets
from curve_rank.study.fault_prices import FaultGroup, FaultPrice, by_fault, fault_prices


@dataclass(frozen=True)
class FaultsQuestion:
    """Whose faults are priced, by what, and for whom; `together` is priced all at once instead of each."""

    variants: tuple[Variant, ...]
    target: Target
    lens: Lens
    client: Client
    family: str = ""
    reps: int = DEFAULT_EFFORT_REPS
    together: tuple[Fault, ...] = ()

    @property
    def address(self) -> str:
        """The question as a query string."""
        values = {
            "family": self.family,
            "target": self.target.key,
            "lens": self.lens.key,
            "for": self.client.person,
        }
        return urlencode({key: value for key, value in values.items() if value is not None})


class FaultsRequest(RequestForm):
    """Whose faults are priced, for which target and lens, for whom."""

    family: str = "standing"
    target: str = ""
    lens: str = "long_length"
    person: Whole | None = Field(default=None, alias="for")

    def of(self, client: Client, library: Library) -> FaultsQuestion:
        """What it asks for somebody, of what the viewer has.

        Raises
        ------
        UnknownNameError
            For a family, target or lens that is none.
        """
        known("family", self.family, words.families())
        family = tuple(v for v in library.variants if v.family == self.family)
        asked = known("target", self.target, targets()) if self.target else None
        group = asked.group if asked and any(v.group == asked.group for v in family) else family[0].group
        return FaultsQuestion(
            variants=tuple(v for v in family if v.group == group),
            target=asked if asked and asked.group == group else long_head(group),
            lens=library.lens(self.lens),
            client=client,
            family=self.family,
        )


@dataclass(frozen=True)
class FaultsAnswer:
    """What faults cost, dearest first."""

    __pydantic_config__ = SHAPES

    asked: FaultsQuestion
    prices: tuple[FaultPrice, ...]

    @property
    def by_fault(self) -> tuple[FaultGroup, ...]:
        """The prices, gathered by the fault."""
        return by_fault(self.prices)

    @property
    def ends(self) -> tuple[float, float]:
        """Where the scale of all intervals begins and ends; it holds zero."""
        spreads = [one.price.spread for one in self.prices if one.price]
        return min(0.0, *(s.low for s in spreads), -1.0), max(0.0, *(s.high for s in spreads), 0.0)

    @model_serializer
    def as_data(self) -> list[dict[str, Any]]:
        """As it is handed out."""
        return [price_view(price) for price in self.prices]


def faults_priced(means: Means, asked: FaultsQuestion) -> FaultsAnswer:
    """What faults cost.

    Raises
    ------
    StillDrawingError
        Where the draws are under way, and whoever asks is told so.
    """
    body, effort, library = asked.client.body, effort_for_reps(asked.reps), means.library
    prices = fault_prices(
        asked.variants, asked.target, asked.lens,
        body=body, effort=effort, modeller=means.modeller, together=asked.together,
        faults={v.id: library.faults_of(v) for v in asked.variants},
        draw=lambda drawn: means.draw(drawn, body, effort),
    )  # fmt: skip
    return FaultsAnswer(asked, prices)
