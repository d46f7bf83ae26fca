"""One variant: everything about it, for a purpose."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from typing import Any

from pydantic import Field, model_serializer

from curve_rank.answers.client import Client
from curve_rank.answers.faults import FaultsAnswer, FaultsQuestion, faults_priced
from curve_rank.answers.handout import Handout, Subject, handout, subject
from curve_rank.answers.means import Means
from curve_rank.answers.plain import SHAPES
from curve_rank.answers.requests import RequestForm, Whole
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.arm.stroke import Strokes
from curve_rank.arm.tempo import TimedReps, time_rep
from curve_rank.exchange import json_views
from curve_rank.rating.cannot_tell import CannotTell, about_variant
from curve_rank.rating.criteria import carried
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.similar import Complement, Neighbour, complements, neighbours
from curve_rank.study.fault_prices import FaultPrice
from curve_rank.study.schemes import SchemeReading, read_pair, read_schemes, schemes, tempo_of
from curve_rank.study.strokes import stroke_words, strokes_of
from curve_rank.study.transfer import reps_at


class VariantRequest(RequestForm):
    """What a variant's page is read for."""

    target: str = ""
    lens: str = "long_length"
    person: Whole | None = Field(default=None, alias="for")
    reps: Whole = DEFAULT_EFFORT_REPS

    def of(self, key: str, client: Client, means: Means) -> Subject:
        """The variant as it is asked for, modelled.

        Raises
        ------
        CurveRankError
            For what is not there, or cannot be modelled.
        """
        library = means.library
        asked = {"target": self.target, "lens": self.lens}
        lenses = library.lenses_for(self.lens)
        return subject(means, library.variant(key), client, lenses, reps=self.reps, **asked)


@dataclass(frozen=True)
class ShownVariant(Handout):
    """What stands on a variant's page; where schemes place tension is fetched when it is opened."""

    timed: TimedReps
    strokes: Strokes | None
    at_body_weight: float | None
    """Repetitions with nothing added or taken off, where the body is the weight."""
    neighbours: tuple[Neighbour, ...]
    complements: tuple[Complement, ...]
    cannot_tell: tuple[CannotTell, ...]

    @property
    def how_quickly(self) -> str:
        """How quickly the load can be lifted beside the guide's tempo."""
        return stroke_words(self.strokes, self.timed)


@dataclass(frozen=True)
class VariantAnswer(ShownVariant):
    """Everything about a variant."""

    __pydantic_config__ = SHAPES

    schemes: tuple[SchemeReading, ...]
    faults: tuple[FaultPrice, ...]

    @model_serializer
    def as_data(self) -> dict[str, Any]:
        """As it is handed out."""
        modelled = self.modelled
        return json_views.model_view(modelled) | {
            "target": self.target.key,
            "lens": self.lens.key,
            "reps": self.reps,
            "why": self.why,
            "document": self.variant.model_dump(mode="json"),
            "intervals": [vars(one) for one in self.intervals],
            "faults": [json_views.fault_view(price) for price in self.faults],
            "cautions": [{"key": c.caution.key, "reason": c.reason} for c in self.cautions],
            "neighbours": [json_views.neighbour_view(n) for n in self.neighbours],
            "complements": [json_views.complement_view(c) for c in self.complements],
            "time": json_views.time_under_tension_view(self.timed, self.strokes),
            "schemes": [json_views.scheme_view(modelled, reading) for reading in self.schemes],
            "repetitions_at_body_weight": self.at_body_weight,
        }


def about_a_variant(means: Means, asked: Subject) -> VariantAnswer:
    """Everything about a variant.

    Raises
    ------
    CurveRankError
        For what cannot be modelled.
    """
    shown = shown_variant(means, asked)
    return VariantAnswer(
        **vars(shown),
        schemes=_schemes(means, shown.modelled, shown.complements),
        faults=faults_of(means, asked).prices,
    )


def shown_variant(means: Means, asked: Subject) -> ShownVariant:
    """What stands on a variant's page.

    Raises
    ------
    CurveRankError
        For what cannot be modelled.
    """
    modelled, body = asked.modelled, asked.client.body
    variant = modelled.variant
    keep = partial(means.modeller.derived, modelled)
    others = _others(means, asked)
    printed = handout(means, asked, others)
    return ShownVariant(
        **vars(printed),
        timed=keep("timed", lambda: time_rep(modelled.setup, body, modelled.load, tempo_of(variant))),
        strokes=keep("strokes", lambda: strokes_of(modelled)),
        at_body_weight=keep("at body weight", lambda: reps_at(variant, body, 0.0))
        if carried(variant)
        else None,
        neighbours=neighbours(modelled, others, means.modeller),
        complements=complements(modelled, others, means.modeller),
        cannot_tell=about_variant(variant),
    )


def faults_of(means: Means, asked: Subject) -> FaultsAnswer:
    """What each fault of a variant costs, as everywhere.

    Raises
    ------
    StillDrawingError
        Where the draws are under way, and whoever asks is told so.
    """
    of_this = FaultsQuestion(
        (asked.modelled.variant,), asked.target, asked.lens, asked.client, reps=asked.reps
    )
    return faults_priced(means, of_this)


def schemes_of(means: Means, asked: Subject) -> tuple[SchemeReading, ...]:
    """Every scheme on a variant, and the pair with what completes it best."""
    others = _others(means, asked)
    return _schemes(means, asked.modelled, complements(asked.modelled, others, means.modeller))


def _others(means: Means, asked: Subject) -> tuple[VariantModel, ...]:
    """Every variant that can be modelled for the person."""
    return means.modeller.able(means.variants, asked.client.body, effort=effort_for_reps(asked.reps))


def _schemes(
    means: Means, modelled: VariantModel, completing: tuple[Complement, ...]
) -> tuple[SchemeReading, ...]:
    keep = partial(means.modeller.derived, modelled)
    every = keep("schemes", lambda: read_schemes(modelled, tuple(schemes().values())))
    first = [one.modelled for one in completing[:1]]
    return (*every, *(keep(("pair", m.key), partial(read_pair, modelled, m)) for m in first))
