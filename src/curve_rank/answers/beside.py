"""What is said of rows beside each other: what decides, what differs, what sparing costs and brings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from curve_rank.answers.means import Means
from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.joints import Joint, JointNoteScale, joints
from curve_rank.rating.ranking import Question, Ranking, Row, rank
from curve_rank.rating.spreads import middle
from curve_rank.rating.words import gives_out, load_words, printed, upper_first
from curve_rank.study.deciding import deciding, deciding_words


@dataclass(frozen=True)
class SparedColumn:
    """What the rows ask of a spared joint, by the note that strains it most among them.

    Attributes
    ----------
    name, unit : str
        Of the note.
    values : dict
        The median's text by the variant's id.
    """

    name: str
    unit: str
    values: dict[str, str]


def pairs(shown: Sequence[Row], ties: Sequence[int]) -> list[tuple[Row, Row]]:
    """The first row beside the next, and beside the one after where all three stand in one tie.

    Parameters
    ----------
    shown : sequence of Row
        Without those that stand with another.
    ties : sequence of int
        Of all rows, the tie that each stands in.
    """
    first = [ties[row.rank - 1] for row in shown[:3]]
    most = 2 if len(set(first)) == 1 else 1
    return [(shown[0], other) for other in shown[1 : 1 + most]]


def decided(means: Means, asked: Question, one: tuple[int, Variant], other: tuple[int, Variant]) -> str:
    """What decides between two rows, each a rank and a variant, in a sentence."""
    variants = (one[1], other[1])
    first, second = (means.modeller.one(v, asked.body, effort=asked.effort) for v in variants)
    drawn = means.draw(variants, asked.body, asked.effort)
    found = deciding((first, second), drawn, asked.judged, asked.weighing)
    return deciding_words(found, (str(one[0]), str(other[0])))


def differs(row: Row, above: Row | None) -> str:
    """What a row says beside the one above it, and what is lifted."""
    load = load_words(row.modelled, row.load.median)
    if above is None:
        return f"{row.why} {upper_first(load)}."
    ends = gives_out(row.modelled)
    also = (ends,) if ends != gives_out(above.modelled) else ()
    return f"{upper_first('; '.join((*row.hard.beside(above.hard), *also, load)))}."


def sparing(ranking: Ranking, means: Means) -> tuple[str, ...]:
    """The kind first choice beside what would be first if nothing were spared."""
    asked = ranking.question
    plain = rank(replace(asked, spare=()), means.variants, means.modeller)
    alone = {row.variant.id: row for row in plain.rows}
    if not ranking.rows:
        return ()
    kind, hard = alone[ranking.rows[0].variant.id], plain.rows[0]
    if kind is hard:
        return (f"Sparing costs nothing: {hard.variant.name} is first anyway.",)
    points = round(hard.score) - round(kind.score)
    cost = f"Sparing costs {points} {'point' if points == 1 else 'points'} by the lens alone"
    says = f"{cost}: {kind.variant.name} in place of {hard.variant.name}."
    drawn = means.draw((kind.variant, hard.variant), asked.body, asked.effort)
    return (says, *(_eased(joints()[key], drawn, asked.body) for key in asked.spare))


def _eased(joint: Joint, drawn: tuple[Readings, ...], body: Body) -> str:
    """By the note that strains a joint most: what it is, and what it would be; medians of both."""
    kind, hard = drawn
    note = max(joint.notes, key=lambda one: middle(one.strain(hard, body)))
    now, then = (middle(getattr(one, note.note)) for one in (kind, hard))
    name = f"{note.name[0].upper()}{note.name[1:]}"
    return f"{name}: {now:.0f} {note.unit}, against {then:.0f}."


def spared_columns(ranking: Ranking, means: Means) -> tuple[SparedColumn, ...]:
    """What the rows ask of each joint that is spared."""
    asked, rows = ranking.question, ranking.rows
    drawn = means.draw(tuple(row.variant for row in rows), asked.body, asked.effort) if rows else ()

    def column(note: JointNoteScale) -> SparedColumn:
        values = [middle(getattr(one, note.note)) for one in drawn]
        told = (printed(value) for value in values)
        return SparedColumn(
            note.name, note.unit, {row.variant.id: text for row, text in zip(rows, told, strict=True)}
        )

    def worst(joint: Joint) -> JointNoteScale:
        return max(
            joint.notes, key=lambda note: max(float(note.strain(one, asked.body).max()) for one in drawn)
        )

    return tuple(column(worst(joints()[key])) for key in asked.spare if rows)
