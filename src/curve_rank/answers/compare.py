"""Two to four set-ups side by side on the same draws: readings, differences, curves and figures."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal
from urllib.parse import urlencode

from pydantic import Field, PlainSerializer

from curve_rank.answers.client import Client
from curve_rank.answers.means import Library, Means
from curve_rank.answers.plain import SHAPES, Shown, by_key
from curve_rank.answers.requests import Names, RequestForm, Whole
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import SetupAddress, parse_setup
from curve_rank.errors import BadInputError
from curve_rank.exchange.json_views import rounded, spread
from curve_rank.exchange.study_views import difference_view
from curve_rank.figures.figure import Figure, figure
from curve_rank.figures.gaps import gaps
from curve_rank.figures.overlay import LETTERS, Axis, Overlay, overlay
from curve_rank.figures.projection import best_view
from curve_rank.figures.shapes import Picture
from curve_rank.figures.strip import strips
from curve_rank.rating.cautions import CautionReason
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target, known, long_head, targets
from curve_rank.rating.words import load_words
from curve_rank.study.compare import FEWEST, MOST, ComparedReading, OnlyHere, compare

FIRST = ("reclined-60-dumbbell-curl", "pad-45-dumbbell-curl")
"""What stands side by side where nothing is named."""


class CompareRequest(RequestForm):
    """Which set-ups stand side by side, for which target and lens, over which axis, for whom."""

    setups: Names = Field(default=(), alias="with")
    target: str = ""
    lens: str = "long_length"
    axis: Literal["place", "angle", "length"] = "place"
    person: Whole | None = Field(default=None, alias="for")
    reps: Whole = DEFAULT_EFFORT_REPS

    def of(self, client: Client, library: Library) -> CompareQuestion:
        """What it asks for somebody, of what the viewer has.

        Raises
        ------
        CurveRankError
            For a set-up, target or lens that is none, or more set-ups than can stand side by side.
        """
        setups = tuple(parse_setup(text) for text in self.setups)
        if len(setups) == 1:
            setups += (parse_setup(FIRST[0] if setups[0].variant != FIRST[0] else FIRST[1]),)
        setups = setups or tuple(map(parse_setup, FIRST))
        if len(setups) > MOST:
            raise BadInputError(
                "with", f"{len(setups)} set-ups", f"{FEWEST} to {MOST} to compare; take one out"
            )
        variants = tuple(map(library.setup, setups))
        target = known("target", self.target, targets()) if self.target else None
        if target is None or target.group != variants[0].group:
            target = long_head(variants[0].group)
        lens = library.lens(self.lens)
        return CompareQuestion(setups, variants, target, lens, self.axis, client, self.reps)


@dataclass(frozen=True)
class CompareQuestion:
    """What stands side by side, and for what."""

    setups: tuple[SetupAddress, ...]
    variants: tuple[Variant, ...]
    target: Target
    lens: Lens
    axis: Axis
    client: Client
    reps: int

    def address(self, **replaced: object) -> str:
        """The question as a query string, with some of it replaced."""
        values: dict[str, object] = {
            "with": [setup.text for setup in self.setups],
            "target": self.target.key,
            "lens": self.lens.key,
            "axis": self.axis,
            "for": self.client.person,
            "reps": self.reps,
        }
        values |= replaced
        defaults = {"axis": "place", "reps": DEFAULT_EFFORT_REPS, "lens": "long_length"}
        kept = {k: v for k, v in values.items() if v is not None and v != defaults.get(k)}
        return urlencode(kept, doseq=True)

    def without(self, n: int) -> str:
        """The address without one of the columns."""
        return self.address(**{"with": [s.text for k, s in enumerate(self.setups) if k != n]})

    def first(self, n: int) -> str:
        """The address with one of the columns in front, from which differences are counted."""
        texts = [s.text for s in self.setups]
        return self.address(**{"with": [texts[n], *texts[:n], *texts[n + 1 :]]})


@dataclass(frozen=True)
class ComparedSetup:
    """One column."""

    __pydantic_config__ = SHAPES

    id: str
    name: str
    letter: Shown[str]
    load: Shown[str]
    """The median load in words."""
    hard: Shown[int]
    """The sample at which it is hardest."""
    along: Shown[dict[str, list[float]]]
    """What is read off at each place of the rep."""
    strip: Shown[Picture]
    figure: Shown[Figure]


@dataclass(frozen=True)
class PairDifferences:
    """How much more the second reads than the first, by reading."""

    first: str
    second: str
    readings: dict[str, dict[str, float]]


def _readings(readings: tuple[ComparedReading, ...]) -> dict[str, Any]:
    return {one.reading.key: _reading(one) for one in readings}


def _reading(one: ComparedReading) -> dict[str, Any]:
    columns = zip(one.columns, one.nominal, strict=True)
    return {
        "name": one.reading.name,
        "unit": one.reading.unit,
        "columns": [spread(one, 4) | {"nominal": rounded(nominal, 4)} for one, nominal in columns],
    }


def _only_here(columns: tuple[tuple[OnlyHere, ...], ...]) -> list[list[dict[str, Any]]]:
    return [
        [
            {
                "head": one.head,
                "length": one.length,
                "tension_pct": rounded(100 * one.tension, 2),
                "others_pct": rounded(100 * one.others, 2),
            }
            for one in column
        ]
        for column in columns
    ]


@dataclass(frozen=True)
class CompareAnswer:
    """Set-ups beside each other, with everything that is said of them anywhere."""

    __pydantic_config__ = SHAPES

    variants: tuple[ComparedSetup, ...]
    target: Annotated[Target, by_key]
    lens: Annotated[Lens, by_key]
    readings: Annotated[tuple[ComparedReading, ...], PlainSerializer(_readings)]
    differences: tuple[PairDifferences, ...]
    only_here: Annotated[tuple[tuple[OnlyHere, ...], ...], PlainSerializer(_only_here)]
    asked: Shown[CompareQuestion]
    overlay: Shown[Overlay]
    gaps: Shown[dict[str, Picture]]
    cautions: Shown[tuple[tuple[CautionReason, ...], ...]]
    """Of each set-up."""

    def as_script(self) -> dict[str, Any]:
        """What the page's script moves."""
        return {
            "figures": [one.figure.as_data() for one in self.variants],
            "overlay": self.overlay.as_data(),
            "along": [one.along for one in self.variants],
            "hard": [one.hard for one in self.variants],
        }


def side_by_side(means: Means, asked: CompareQuestion) -> CompareAnswer:
    """Put set-ups beside each other.

    Raises
    ------
    CurveRankError
        Where one of them cannot be modelled, or they are of two groups.
    """
    body, effort = asked.client.body, effort_for_reps(asked.reps)
    models = tuple(means.modeller.one(v, body, effort=effort) for v in asked.variants)
    drawn = means.draw(asked.variants, body, effort)
    found = compare(models, drawn, asked.target, asked.lens)
    view, head = best_view(asked.variants[0]), asked.target.heads[0]
    columns = zip(LETTERS, models, drawn, strips(models, asked.target, "large"), strict=False)
    return CompareAnswer(
        variants=tuple(
            ComparedSetup(
                id=m.variant.id,
                name=m.variant.name,
                letter=letter.upper(),
                load=load_words(m, readings.load_median),
                hard=m.hard,
                along=_along(m, head),
                strip=strip,
                figure=figure(m, view, hair=asked.client.hair),
            )
            for letter, m, readings, strip in columns
        ),
        target=asked.target,
        lens=asked.lens,
        readings=found.readings,
        differences=tuple(
            PairDifferences(
                models[i].variant.id,
                models[j].variant.id,
                {one.reading.key: difference_view(one, (i, j)) for one in found.readings},
            )
            for i, j in found.readings[0].differences
        ),
        only_here=found.only_here,
        asked=asked,
        overlay=overlay(models, asked.target, asked.axis),
        gaps={one.reading.key: gaps(one) for one in found.readings},
        cautions=tuple(map(means.cautions, models)),
    )


def _along(m: VariantModel, head: str) -> dict[str, list[float]]:
    return {
        "angle": [round(v) + 0.0 for v in m.along("angle").tolist()],
        "demand": [round(v, 1) + 0.0 for v in m.along("demand").tolist()],
        "effort": [round(100 * v) + 0.0 for v in m.along("effort").tolist()],
        "length": [round(v) + 0.0 for v in m.length_along(head).tolist()],
    }
