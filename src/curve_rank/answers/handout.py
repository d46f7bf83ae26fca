"""One variant for a purpose, as it is printed: its readings, its page, a booklet of several."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any

from markupsafe import Markup

from curve_rank.answers.client import Client
from curve_rank.answers.edition import made_now
from curve_rank.answers.means import Means
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError
from curve_rank.exchange.paper import code_for, on_paper
from curve_rank.figures.curves import curves
from curve_rank.figures.figure import figure
from curve_rank.figures.shapes import Picture
from curve_rank.figures.strip import strip
from curve_rank.figures.svg import ByColour, svg
from curve_rank.rating.cautions import CautionReason
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.reading_intervals import ReadingInterval, reading_intervals
from curve_rank.rating.targets import Target, known, long_head, targets
from curve_rank.rating.words import gives_out, reported_words, why

MOST = 40
"""Variants in one booklet."""
PAPERS = {"a4": "A4", "letter": "letter"}
YEAR = re.compile(r"^(\w+) [A-Z]+(,| et al)?.*? ?\((\d{4})\)", re.MULTILINE)
"""First name, whether there are more, and year of a publication."""


@dataclass(frozen=True)
class Subject:
    """One variant, modelled, for a target, a lens and a person."""

    modelled: VariantModel
    target: Target
    lens: Lens
    client: Client
    reps: int

    @property
    def head(self) -> int:
        """The head that tension is told of, as a place in the anatomy."""
        return self.modelled.anatomy.index(self.target.heads[0])

    @property
    def variant(self) -> Variant:
        """Its document."""
        return self.modelled.variant

    @property
    def limit(self) -> str:
        """What gives out first."""
        return gives_out(self.modelled)

    @property
    def reported(self) -> str:
        """What lifters say of the load where this physics says otherwise."""
        return reported_words(self.variant)

    def figures(self, *, whole: bool = True) -> dict[str, Picture]:
        """The figure at the stretched end, the hard spot and the short end."""
        person, last = figure(self.modelled), self.modelled.along("demand").size - 1
        moments = {"stretched end": 0, "hard spot": self.modelled.hard, "short end": last}
        return {name: person.at(at, whole=whole) for name, at in moments.items()}


@dataclass(frozen=True)
class Handout(Subject):
    """What stands on its printed page."""

    intervals: tuple[ReadingInterval, ...]
    why: str
    cautions: tuple[CautionReason, ...]

    @property
    def load(self) -> ReadingInterval:
        """The load, as it is printed [kg]."""
        return next(one for one in self.intervals if one.key == "load")


def subject(
    means: Means,
    variant: Variant,
    client: Client,
    lenses: Mapping[str, Lens],
    *,
    target: str = "",
    lens: str = "long_length",
    reps: int = DEFAULT_EFFORT_REPS,
) -> Subject:
    """A variant for a purpose; a target of the other group is its own group's long head.

    Raises
    ------
    CurveRankError
        For a target or lens that is none, and a variant that cannot be modelled.
    """
    asked = known("target", target, targets()) if target else None
    return Subject(
        modelled=means.modeller.one(variant, client.body, effort=effort_for_reps(reps)),
        target=asked if asked is not None and asked.group == variant.group else long_head(variant.group),
        lens=known("lens", lens, lenses),
        client=client,
        reps=reps,
    )


def handout(means: Means, asked: Subject, others: tuple[VariantModel, ...] = ()) -> Handout:
    """What is printed of a variant; of the others its family is drawn along, which costs little more."""
    keep = partial(means.modeller.derived, asked.modelled)
    name = ("intervals", asked.target.key, asked.lens)
    intervals, says = keep(name, lambda: _intervals(means, asked, others))
    return Handout(
        **vars(asked),
        intervals=intervals,
        why=says,
        cautions=means.cautions(asked.modelled),
    )


def _intervals(
    means: Means, asked: Subject, others: tuple[VariantModel, ...]
) -> tuple[tuple[ReadingInterval, ...], str]:
    modelled = asked.modelled
    family = [m.variant for m in others if m.variant.family == modelled.variant.family]
    drawn_for = (modelled.variant, *(v for v in family if v.id != modelled.variant.id))
    drawn, *_ = means.draw(drawn_for, asked.client.body, effort_for_reps(asked.reps))
    intervals = reading_intervals(modelled, drawn, asked.target, asked.lens)
    return intervals, why(modelled, asked.target, drawn)


def page(made: Handout, paper: str, link: str, unit: str = "kg", template: str = "variant") -> str:
    """A variant's page as HTML, with the address where more stands, its masses in a unit."""
    paint = ByColour("light")
    return on_paper(
        f"print/{template}",
        view=made,
        paper=paper,
        mass_unit=unit,
        in_booklet=template != "variant",
        strip=svg(strip(made.modelled, made.target, "large"), paint),
        figures={name: svg(shown, paint) for name, shown in made.figures(whole=False).items()},
        curves=svg(curves(made.modelled).picture, paint),
        link=link,
        code=code_for(link),
        **_made(),
    )


@dataclass(frozen=True)
class Sheet:
    """How several variants are handed out.

    Attributes
    ----------
    title, words : str
        One's own, above them; a title that says how many, where it is empty.
    two : bool
        Two on a page, for a class, without a page of contents.
    unit : str
        Of masses, "kg" or "lb".
    """

    title: str = ""
    words: str = ""
    two: bool = False
    unit: str = "kg"


def booklet(
    several: Sequence[Handout], paper: str, link_of: Callable[[str], str], sheet: Sheet = Sheet()
) -> str:
    """Several variants in their order as HTML: a page each behind a page of contents, or two a page."""
    template = "half" if sheet.two else "handout"
    parts = [
        (one, Markup(page(one, paper, link_of(one.variant.id), sheet.unit, template))) for one in several
    ]
    title = sheet.title or f"{len(several)} set-ups"
    whole = "print/class" if sheet.two else "print/booklet"
    return on_paper(whole, parts=parts, paper=paper, title=title, words=sheet.words, **_made())


def check_number(number: int) -> None:
    """Refuse more variants than a booklet holds, and none."""
    if not 1 <= number <= MOST:
        raise BadInputError("variants", number, f"1 to {MOST} in one booklet")


def _made() -> dict[str, Any]:
    """When it is printed, by which model, and after whom."""
    found = YEAR.findall("\n".join(dict(parameter_set().sources).values()))
    return {
        "made": made_now(),
        "citations": [f"{first}{' and others' if more else ''} {year}" for first, more, year in found],
    }
