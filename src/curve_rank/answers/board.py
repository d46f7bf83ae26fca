"""The board: a question, and the ranked rows that answer it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from typing import Annotated, Any
from urllib.parse import urlencode

from pydantic import Field, PlainSerializer

from curve_rank.answers.beside import SparedColumn, decided, differs, pairs, spared_columns, sparing
from curve_rank.answers.client import Client
from curve_rank.answers.means import Library, Means
from curve_rank.answers.plain import SHAPES, Shown, to_digits
from curve_rank.answers.requests import Names, RequestForm, Whole
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS
from curve_rank.catalogue.schema import Variant
from curve_rank.exchange.json_views import rounded
from curve_rank.figures.bars import score_bar, shares
from curve_rank.figures.shapes import Picture
from curve_rank.figures.silhouette import silhouette
from curve_rank.figures.strip import strip
from curve_rank.rating.cannot_tell import CannotTell, about_target
from curve_rank.rating.cautions import CautionReason, cautions_for
from curve_rank.rating.certainty import Certainty, Sensitivity, fixed_certainty
from curve_rank.rating.joints import Strain
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.ranking import Question, Ranking, Row, question, rank
from curve_rank.rating.scoring import CriterionScore, score_variant
from curve_rank.rating.spreads import Spread
from curve_rank.rating.words import gives_out, load_words, reported_words
from curve_rank.study.claim_words import parameter_words
from curve_rank.study.why_here import WhyHere, why_here

NOTHING_DRAWN = Picture("", 0, 0)


class BoardRequest(RequestForm):
    """A question: what for, by which lens, with what, for whom, sparing what, at how many repetitions."""

    target: str = "biceps_long"
    lens: str = "long_length"
    equipment: Names = Field(default=(), alias="with")
    person: Whole | None = Field(default=None, alias="for")
    spare: Names = ()
    reps: Whole = DEFAULT_EFFORT_REPS

    def of(self, client: Client, library: Library) -> AddressedQuestion:
        """What it asks for somebody, by one of the lenses that the viewer has.

        Raises
        ------
        UnknownNameError, BadInputError
            For a target, lens, equipment or joint that is none, and repetitions that nobody can do.
        """
        asked = question(
            self.target,
            self.lens,
            equipment=self.equipment,
            spare=self.spare,
            body=client.body,
            reps=self.reps,
            among=library.lenses_for(self.lens),
        )
        return AddressedQuestion(asked, client)


@dataclass(frozen=True)
class AddressedQuestion:
    """A question as it stands in the address, and whom it is for."""

    question: Question
    client: Client

    @property
    def address(self) -> str:
        """The question as a query string."""
        return urlencode(self.fields)

    @property
    def fields(self) -> list[tuple[str, str]]:
        """The question field by field, in one fixed order."""
        asked, who = self.question, self.client.person
        parts = [("target", asked.target.key), ("lens", asked.lens.key)]
        parts += [("with", one) for one in asked.equipment] + [("for", str(who))] * (who is not None)
        parts += [("spare", joint) for joint in asked.spare]
        return parts + [("reps", str(asked.reps))] * (asked.reps != DEFAULT_EFFORT_REPS)


def _asked(asked: Question) -> dict[str, Any]:
    return {
        "target": asked.target.key,
        "lens": asked.lens.key,
        "with": list(asked.equipment),
        "spare": list(asked.spare),
        "body": {"height_m": asked.body.height, "mass_kg": asked.body.mass},
        "reps": asked.reps,
    }


def _parts(criteria: tuple[CriterionScore, ...]) -> dict[str, Any]:
    return {
        one.criterion.key: {
            "value": rounded(one.value, 4),
            "score": rounded(one.score, 2),
            "weight": one.weight,
        }
        for one in criteria
    }


def _reasons(cautions: tuple[CautionReason, ...]) -> list[dict[str, str]]:
    return [{"key": one.caution.key, "reason": one.reason} for one in cautions]


def _not_told(some: tuple[CannotTell, ...]) -> list[dict[str, str]]:
    return [{"question": one.question, "why": one.why} for one in some]


@dataclass(frozen=True)
class NominalNumbers:
    """What the middle arm gives, where the printed number is a median."""

    score: Annotated[float, to_digits(2)]
    load_kg: Annotated[float, to_digits(2)]


@dataclass(frozen=True)
class BoardRow:
    """One ranked set-up, with everything that is said of it anywhere.

    `work_share` and `length_at_hard_spot_pct` are those of the middle arm, under the names they have always
    had; `medians`, by reading and head, are what pages print.
    """

    __pydantic_config__ = SHAPES

    rank: int
    variant: str
    name: str
    score: Annotated[float, to_digits(4)]
    criteria: Annotated[tuple[CriterionScore, ...], PlainSerializer(_parts)]
    why: str
    score_drawn: Annotated[Spread, to_digits(4)]
    load_kg: Annotated[float, to_digits(4)]
    load_drawn_kg: Annotated[Spread, to_digits(4)]
    nominal: NominalNumbers
    load: str
    limited_by: str
    work_share: Annotated[dict[str, float], to_digits(4)]
    length_at_hard_spot_pct: Annotated[dict[str, float], to_digits(2)]
    medians: Annotated[dict[str, dict[str, Spread]], to_digits(4)]
    strain: Annotated[dict[str, float], to_digits(3)]
    strain_says: dict[str, str]
    twin_of: str
    """The first row of its like above it; empty for that one itself."""
    cautions: Annotated[tuple[CautionReason, ...], PlainSerializer(_reasons)]
    setup: tuple[str, ...]
    cues: tuple[str, ...]
    key: Shown[str]
    """Changes with whatever its model is made of."""
    document: Shown[Variant]
    arms: Shown[int]
    """So many arms its medians are of."""
    strains: Shown[tuple[Strain, ...]]
    strained: Shown[tuple[str, ...]]
    """Joints that it does not spare, by name."""
    gives_out: Shown[str]
    reported: str
    """What lifters say of the load where this physics says otherwise."""
    differs: Shown[str]
    """What is not as it is in the row above; of the first, all that is said."""
    strip: Shown[Picture]
    glance: Shown[Picture]
    """Its silhouette."""
    shares: Shown[Picture]
    score_bar: Shown[Picture]
    why_here: WhyHere | None
    """Beside the middle of the list; none where the list is too short."""

    def share_of(self, head: str) -> int:
        """A head's share of the work, as it is printed [%]."""
        return round(100 * self.medians["work_share"][head].median)

    def length_of(self, head: str) -> int:
        """A head's length where the rep is hardest, as it is printed [% of range]."""
        return round(self.medians["length_at_hard_spot"][head].median)


@dataclass(frozen=True)
class LeftOutRow:
    """A set-up that the question keeps out, or that cannot be modelled."""

    variant: str
    reason: str
    name: Shown[str]


@dataclass(frozen=True)
class OrderInfluence:
    """A number of the model that the order hangs on."""

    parameter: str
    words: str
    part: Annotated[float, to_digits(3)]


@dataclass(frozen=True)
class RowSureness:
    """How sure one row's place is."""

    variant: str
    rank_interval: tuple[int, int]
    score_interval: Annotated[tuple[float, float], to_digits(2)]
    beats_next: Annotated[float, to_digits(3)]
    tie: Annotated[int, Field(serialization_alias="band")]


@dataclass(frozen=True)
class Sureness:
    """How sure a ranking is, from so many draws of one seed."""

    draws: int
    seed: int
    rows: tuple[RowSureness, ...]
    hangs_on: tuple[OrderInfluence, ...]

    def starts_tie(self, n: int) -> bool:
        """Whether a row, counted from 0, begins a tie of its own."""
        return n == 0 or self.rows[n].tie != self.rows[n - 1].tie

    def is_tied(self, n: int) -> bool:
        """Whether others stand in a row's tie."""
        return sum(row.tie == self.rows[n].tie for row in self.rows) > 1


@dataclass(frozen=True)
class BoardAnswer:
    """The answer to a question."""

    __pydantic_config__ = SHAPES

    question: Annotated[Question, PlainSerializer(_asked)]
    cannot_tell: Annotated[tuple[CannotTell, ...], PlainSerializer(_not_told)]
    rows: tuple[BoardRow, ...]
    left_out: tuple[LeftOutRow, ...]
    certainty: Sureness
    deciding: tuple[str, ...]
    """What decides between the first rows, a sentence a pair."""
    spared: Shown[tuple[SparedColumn, ...]]
    """What the rows ask of each joint that is spared."""
    sparing: tuple[str, ...]
    """What sparing joints cost and brought, a sentence a joint."""

    def like(self, row: BoardRow) -> tuple[BoardRow, ...]:
        """Rows that stand with one, as good as it."""
        return tuple(one for one in self.rows if one.twin_of == row.variant)

    @property
    def told_apart(self) -> int:
        """How many rows are left when those as good as another stand with it."""
        return sum(not row.twin_of for row in self.rows)

    def below(self, row: BoardRow) -> BoardRow | None:
        """The row after one."""
        return self.rows[row.rank] if row.rank < len(self.rows) else None


def ranked(means: Means, asked: Question) -> Ranking:
    """Set-ups that can be modelled, drawn, and ranked: the one way to a ranking.

    Raises
    ------
    StillDrawingError
        Where the draws are under way, and whoever asks is told so.
    """
    means.drawn(means.able(asked.target.group, asked.body, asked.effort), asked.body, asked.effort)
    return rank(asked, means.variants, means.modeller)


def board(
    means: Means, asked: Question, ranking: Ranking | None = None, *, pictures: bool = True
) -> BoardAnswer:
    """Answer a question.

    Parameters
    ----------
    means : Means
        With what it is worked out.
    asked : Question
        What is asked.
    ranking : Ranking, optional
        Where it has been ranked already.
    pictures : bool
        Whether anybody looks at the rows' strips and silhouettes; a shell does not.
    """
    ranking = ranking or ranked(means, asked)
    shown = [row for row in ranking.rows if not row.twin_of]
    here = why_here(ranking.rows)
    row_of = partial(_row, asked=asked, modeller=means.modeller, pictures=pictures)
    above = dict(zip((row.variant.id for row in shown[1:]), shown, strict=False))
    sure = sureness(fixed_certainty(ranking, means.modeller))
    return BoardAnswer(
        question=asked,
        cannot_tell=about_target(asked.target),
        rows=tuple(
            row_of(row, differs=differs(row, above.get(row.variant.id)), here=here.get(row.variant.id))
            for row in ranking.rows
        ),
        left_out=tuple(LeftOutRow(one.variant.id, one.reason, one.variant.name) for one in ranking.left_out),
        certainty=sure,
        deciding=tuple(
            decided(means, asked, (one.rank, one.variant), (other.rank, other.variant))
            for one, other in pairs(shown, [row.tie for row in sure.rows])
        ),
        spared=spared_columns(ranking, means),
        sparing=sparing(ranking, means) if asked.spare else (),
    )


def sureness(sure: Certainty) -> Sureness:
    """How sure a ranking is, as it is said."""
    rows = tuple(
        RowSureness(
            row.variant,
            (row.rank_low, row.rank_high),
            (row.score_low, row.score_high),
            row.beats_next,
            row.tie,
        )
        for row in sure.rows
    )
    return Sureness(sure.draws, sure.seed, rows, tuple(map(_hangs_on, sure.hangs_on)))


def _hangs_on(one: Sensitivity) -> OrderInfluence:
    return OrderInfluence(one.parameter, parameter_words(one.parameter), one.part)


def _row(
    row: Row, asked: Question, modeller: Modeller, differs: str, here: WhyHere | None, *, pictures: bool
) -> BoardRow:
    m, judged = row.modelled, asked.judged
    heads = tuple(row.medians["work_share"])

    def of_model() -> dict[str, Any]:
        return {
            "cautions": cautions_for(m),
            "gives_out": gives_out(m),
            "reported": reported_words(m.variant),
            "shares": shares(m.variant.group, {k: s.median for k, s in row.medians["work_share"].items()}),
        }

    def of_question() -> dict[str, Any]:
        nominal, _ = score_variant(m, judged, asked.weighing)
        return {
            "nominal": NominalNumbers(nominal, m.load),
            "load": load_words(m, row.load.median),
            "score_bar": score_bar(row.criteria),
        }

    return BoardRow(
        rank=row.rank,
        variant=m.variant.id,
        name=m.variant.name,
        score=row.score,
        criteria=row.criteria,
        why=row.why,
        differs=differs,
        score_drawn=row.spread,
        load_kg=row.load.median,
        load_drawn_kg=row.load,
        limited_by=m.limited_by,
        work_share=_nominal(m, "work_share", heads),
        length_at_hard_spot_pct=_nominal(m, "length_at_hard_spot", heads),
        medians=row.medians,
        strain={one.joint.key: one.strain for one in row.strains},
        strain_says={one.joint.key: one.says for one in row.strains},
        twin_of=row.twin_of,
        setup=tuple(m.variant.setup),
        cues=tuple(m.variant.cues),
        key=m.key,
        document=m.variant,
        arms=len(row.scores),
        strains=row.strains,
        strained=row.strained,
        strip=modeller.derived(m, ("strip", judged.key), lambda: strip(m, judged, "row", says=row.why))
        if pictures
        else NOTHING_DRAWN,
        why_here=here,
        glance=modeller.derived(m, "silhouette", lambda: silhouette(m)) if pictures else NOTHING_DRAWN,
        **modeller.derived(m, "said of the model", of_model),
        **modeller.derived(m, ("said of the row", judged.key, asked.weighing), of_question),
    )


def _nominal(modelled: VariantModel, name: str, heads: tuple[str, ...]) -> dict[str, float]:
    return {key: modelled.of_head(name, key) for key in heads}
