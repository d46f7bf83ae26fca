"""A number doubted: what a list and the claims stand on, and what becomes of them were it something else."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field, model_serializer

from curve_rank.answers.board import AddressedQuestion, BoardRequest, ranked
from curve_rank.answers.means import Means
from curve_rank.answers.plain import SHAPES, plain, to_digits
from curve_rank.answers.requests import Names, Number, number_of
from curve_rank.arm.body import Body
from curve_rank.arm.draws import uncertain
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.errors import BadInputError, CurveRankError, UnknownNameError
from curve_rank.figures.crossing import crossing
from curve_rank.figures.shapes import Picture
from curve_rank.rating.ranking import Ranking
from curve_rank.study.claim_words import off_words, parameter_words
from curve_rank.study.claims import Claim
from curve_rank.study.doubt import (
    MOST_SPREADS,
    STOPS,
    Doubted,
    DoubtedClaim,
    doubted,
    doubted_claims,
    stands_on,
)
from curve_rank.study.verdicts import ClaimSetups, Outcome, Turn, able_of

SHOWN = 12
"""Rows that are shown, by either order."""
MOST_BESIDES = 8
"""Numbers that may be off beside the one that is doubted."""
MOST_NAMED = 10
"""Numbers that are named as those a list stands on."""
KINDS = {
    "helpers": "Shoulder, wrist and grip",
    "body": "The body",
    "muscle": "All heads",
    "sharing": "Load sharing",
    "readings": "What counts as long",
    "press": "Lines of force",
    "band": "Lines of force",
    "setup": "How it is set up",
}


class DoubtRequest(BoardRequest):
    """A question, a number of the model, and by how many of its spreads it is off."""

    number: str = ""
    spreads: Number = 1.0
    also: Annotated[Names, Field(max_length=MOST_BESIDES)] = ()
    more: str = ""
    """One more that is off besides, as a form has it: `by` so many spreads."""
    by: Number = 1.0

    def doubts(self) -> Doubts:
        """What is off, and by how much; where no number is named, the first that is off besides is it.

        Raises
        ------
        UnknownNameError, BadInputError
            For a number that is none, or farther off than is modelled.
        """
        besides = dict(map(_besides, self.also))
        if self.more:
            besides[_number(self.more).key] = STOPS[_stop(self.by)]
        number, spreads = self.number, self.spreads
        if not number and besides:
            number = next(iter(besides))
            spreads = besides[number]
        besides.pop(number, None)
        return Doubts(_number(number) if number else None, _stop(spreads), besides)


@dataclass(frozen=True)
class Doubts:
    """A number that is doubted, the stop at which it is looked at, and what is off besides [spreads]."""

    number: DoubtedNumber | None
    stop: int
    besides: Mapping[str, float]


@dataclass(frozen=True)
class DoubtedNumber:
    """A number that may be doubted, in words."""

    key: str
    name: str
    kind: str
    says: str
    """How far a spread is, and where the number is from."""

    @staticmethod
    def of(key: str) -> DoubtedNumber:
        """By its key, which is one of `uncertain()`."""
        first, second, *_ = key.split(".")
        heads = {head.key: head.name for head in parameter_set().heads}
        found, spread = parameter_set().get(key), off_words(Turn(key, 1.0)).lstrip("+")
        titles = dict(parameter_set().sources)
        says = [f"one spread is {spread}"] if spread else []
        says += [titles[source] for source in found.sources] if found else []
        return DoubtedNumber(
            key, parameter_words(key), heads.get(second, "") or KINDS.get(first, "Others"), "; ".join(says)
        )


@dataclass(frozen=True)
class DoubtedRow:
    """A row as it stands, and as it would."""

    variant: str
    name: str
    rank: int
    rank_then: int
    score: Annotated[float, to_digits(2)]
    score_then: Annotated[float, to_digits(2)]
    load_kg: Annotated[float, to_digits(2)]
    load_then_kg: Annotated[float, to_digits(2)]


@dataclass(frozen=True)
class Standing:
    """A number that a list stands on, and who would be first with it a spread off."""

    number: str
    words: str
    part: Annotated[float, to_digits(4)]
    other_first: tuple[str, ...]


@dataclass(frozen=True)
class DoubtAnswer:
    """What a list stands on, or what it would be were one number something else."""

    __pydantic_config__ = SHAPES

    asked: AddressedQuestion
    number: DoubtedNumber | None
    stop: int
    besides: tuple[tuple[DoubtedNumber, float], ...]
    rows: tuple[DoubtedRow, ...]
    stands_on: tuple[Standing, ...]
    picture: Picture | None

    @property
    def spreads(self) -> float:
        """By how many spreads the number is off."""
        return STOPS[self.stop]

    @property
    def also(self) -> list[str]:
        """What is off besides, as an address says it."""
        return [f"{one.key}:{spreads:g}" for one, spreads in self.besides]

    @property
    def off(self) -> str:
        """The same as an amount or a part."""
        return off_words(Turn(self.number.key, self.spreads)) if self.number else ""

    @property
    def says(self) -> str:
        """What becomes of the list, in a sentence."""
        if self.number is None or not self.rows:
            return ""
        first = next(row for row in self.rows if row.rank_then == 1)
        moved = sum(row.rank_then != row.rank for row in self.rows if row.rank <= SHOWN)
        if first.rank != 1:
            return f"{first.name} would be first, in place of {self.rows[0].name}."
        if not moved:
            return f"No row among the first {SHOWN} would move."
        return f"{first.name} stays first; {moved} of the first {SHOWN} would move."

    @model_serializer
    def as_data(self) -> dict[str, Any]:
        """As it is handed out."""
        question = self.asked.question
        return {
            "target": question.target.key,
            "lens": question.lens.key,
            "number": self.number.key if self.number else None,
            "spreads": self.spreads if self.number else None,
            "off": self.off,
            "besides": {one.key: spreads for one, spreads in self.besides},
            "says": self.says,
            "rows": [plain(row) for row in self.rows],
            "stands_on": [plain(one) for one in self.stands_on],
        }


@dataclass(frozen=True)
class TurnedClaim:
    """A claim that would read otherwise."""

    key: str
    question: str
    now: Outcome
    then: Outcome


@dataclass(frozen=True)
class DoubtedClaims:
    """Which claims would read otherwise, of how many."""

    of: int
    turned: tuple[TurnedClaim, ...]


def numbers() -> tuple[DoubtedNumber, ...]:
    """All that may be doubted."""
    return tuple(map(DoubtedNumber.of, uncertain()))


def doubt(means: Means, asked: AddressedQuestion, doubts: Doubts) -> DoubtAnswer:
    """What a list stands on; with a number named instead, what it would be.

    Raises
    ------
    StillDrawingError
        Where draws are under way, and whoever asks is told so.
    """
    about, stop = doubts.number, doubts.stop
    besides = tuple((_number(key), spreads) for key, spreads in doubts.besides.items())
    ranking = ranked(means, asked.question)
    if not ranking.rows:
        return DoubtAnswer(asked, about, stop, besides, (), (), None)
    if about is None:
        return DoubtAnswer(asked, None, stop, besides, (), _standing(means, ranking), None)
    found: Doubted = means.modeller.once(
        ("doubted", about.key, *doubts.besides.items(), *_key(ranking)),
        lambda: doubted(ranking, about.key, doubts.besides),
    )
    lines = [(row.variant.name, found.scores[n].tolist()) for n, row in enumerate(ranking.rows)]
    picture = crossing(lines, STOPS, stop, about.name)
    return DoubtAnswer(asked, about, stop, besides, _rows(found, stop), (), picture)


def claims_doubted(means: Means, doubts: Doubts) -> DoubtedClaims:
    """Which of all claims would read otherwise were a number something else.

    Raises
    ------
    UnknownNameError
        Where no number is named.
    StillDrawingError
        As `doubt`.
    """
    body, effort, claims = Body(), usual_effort(), means.library.claims
    about = doubts.number or _number("")
    asked = {key: one for key, claim in claims.items() if (one := _asked(claim, means))}
    tests = tuple(
        (key, repr(one.test), one.lens, *(v.digest for v in one.setups)) for key, one in asked.items()
    )
    found: tuple[DoubtedClaim, ...] = means.modeller.once(
        ("claims doubted", about.key, *doubts.besides.items(), parameter_set().fingerprint, tests),
        lambda: doubted_claims(
            asked, about.key, lambda some: means.draw(some, body, effort), body, effort, doubts.besides
        ),
    )
    turned = tuple(
        TurnedClaim(one.key, claims[one.key].question, one.now, one.outcomes[doubts.stop])
        for one in found
        if one.outcomes[doubts.stop] != one.now
    )
    return DoubtedClaims(len(found), turned)


def _asked(claim: Claim, means: Means) -> ClaimSetups | None:
    """What a claim asks; None where the model has no say, or cannot model it."""
    try:
        return able_of(
            claim, means.library.setup_in, means.library.lenses, means.modeller, Body(), usual_effort()
        )
    except CurveRankError:
        return None


def _number(key: str) -> DoubtedNumber:
    if key not in uncertain():
        raise UnknownNameError("number", key, "one that is drawn, as heads.brachialis.peak_force")
    return DoubtedNumber.of(key)


def _besides(text: str) -> tuple[str, float]:
    """What stands in an address: a number's key and by how many spreads it is off, a colon between."""
    key, _, spreads = text.rpartition(":")
    try:
        off = float(number_of(spreads))
    except ValueError as error:
        right = "a number and its spreads, as heads.brachialis.peak_force:-1.5"
        raise BadInputError("also", text, right) from error
    _stop(off)
    return _number(key).key, off


def _stop(spreads: float) -> int:
    if not -MOST_SPREADS <= spreads <= MOST_SPREADS:
        raise BadInputError("spreads", f"{spreads:g}", f"{-MOST_SPREADS:g} to {MOST_SPREADS:g}")
    return min(range(len(STOPS)), key=lambda n: abs(STOPS[n] - spreads))


def _key(ranking: Ranking) -> tuple[object, ...]:
    asked = ranking.question
    return asked.judged.key, asked.weighing, tuple(row.modelled.key for row in ranking.rows)


def _standing(means: Means, ranking: Ranking) -> tuple[Standing, ...]:
    asked, variants = ranking.question, tuple(row.variant for row in ranking.rows)
    names = {variant.id: variant.name for variant in variants}
    apart = means.draw_apart(variants, asked.body, asked.effort)
    on = means.modeller.once(("stands on", *_key(ranking)), lambda: stands_on(ranking, apart))
    return tuple(
        Standing(
            one.parameter,
            parameter_words(one.parameter),
            one.part,
            tuple(names[v] for v in one.other_first),
        )
        for one in on[:MOST_NAMED]
    )


def _rows(found: Doubted, stop: int) -> tuple[DoubtedRow, ...]:
    """Those that stand among the first, or would."""
    rows, then = found.ranking.rows, {n: place for place, n in enumerate(found.order(stop), 1)}
    return tuple(
        DoubtedRow(
            variant=row.variant.id,
            name=row.variant.name,
            rank=row.rank,
            rank_then=then[n],
            score=row.score,
            score_then=float(found.scores[n, stop]),
            load_kg=row.load.median,
            load_then_kg=float(found.loads[n, stop]),
        )
        for n, row in enumerate(rows)
        if min(row.rank, then[n]) <= SHOWN
    )
