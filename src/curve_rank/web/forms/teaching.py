"""What the teaching pages read: claims, sketches, published pages and bundles."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from curve_rank.answers.requests import Names, Number, RequestForm, Whole, number_of
from curve_rank.errors import BadInputError
from curve_rank.practice.units import amount_in
from curve_rank.rating.readings import all_readings
from curve_rank.study.claims import SCORE


class ClaimForm(RequestForm):
    """A claim as it is written down; what is modelled is left empty where the model has no say."""

    name: str = ""
    question: str = ""
    says: str = ""
    other: str = ""
    more: Names = ()
    less: Names = ()
    reading: str = "long_tension"
    head: str = "biceps_long"
    against: str = ""
    lens: str = ""
    way: str = "up"
    by: str = "0"
    missing: str = ""
    notes: str = ""
    sources: str = ""
    start: str = Field(default="", alias="from")
    typed_in: str = "kg"

    def as_document(self) -> dict[str, Any]:
        """The claim's document, as plain data.

        Raises
        ------
        BadInputError
        """
        plain = {name: getattr(self, name) for name in ("more", "less", "reading", "head", "against", "way")}
        test = plain | {"lens": self.lens if self.reading == SCORE else "", "by": self._by}
        return {
            "name": self.name,
            "question": self.question or self.name,
            "sides": (self.says, self.other),
            "test": test if self.more else None,
            "missing": self.missing,
            "notes": self.notes,
            "sources": tuple(line.strip() for line in self.sources.splitlines() if line.strip()),
        }

    def by_shown(self, unit: str) -> str:
        """By how much, for somebody who reads masses in a unit, in whichever it was typed."""
        if self._factor(self.typed_in) == self._factor(unit):
            return self.by
        try:
            return f"{self._by * self._factor(unit):.3g}"
        except BadInputError:  # it stays as it was typed
            return self.by

    def _factor(self, unit: str) -> float:
        reading = all_readings().get(self.reading)
        return amount_in(unit, 1.0, reading.unit) if reading else 1.0

    @property
    def _by(self) -> float:
        try:
            return float(number_of(self.by.strip() or "0")) / self._factor(self.typed_in)
        except ValueError as error:
            raise BadInputError("by more than", self.by, "a number") from error


class SketchQuery(RequestForm):
    """What is asked: a set-up by its id, or a quick question by its place in a deck."""

    item: str = ""
    deck: Whole = 0
    card: Whole = 0


class SketchForm(RequestForm):
    """A sketch, from the stretched end to the short, or the answer to a quick question."""

    item: str = ""
    at: tuple[Number, ...] = ()
    deck: Whole = 0
    card: Whole = 0
    answer: Whole = 0


class TitleForm(RequestForm):
    """A published page's title."""

    title: str = ""


class BundleForm(RequestForm):
    """A bundle's text, and the items of it that are to be taken in."""

    text: str = ""
    take: Names = ()
