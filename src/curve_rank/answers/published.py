"""Publishing: an answer frozen as HTML, JSON and PDF behind a link that nobody can guess."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import segno
from markupsafe import Markup

from curve_rank.answers.board import AddressedQuestion, BoardAnswer, BoardRequest, board
from curve_rank.answers.claims import ClaimAnswer, claim_answer, weighed
from curve_rank.answers.compare import CompareAnswer, CompareRequest, side_by_side
from curve_rank.answers.heads import HeadAnswer, HeadRequest, head_map_of
from curve_rank.answers.means import Means
from curve_rank.answers.people import Client, client_for
from curve_rank.answers.plain import plain
from curve_rank.answers.requests import Address
from curve_rank.answers.series import SeriesAnswer, SeriesRequest, stepped
from curve_rank.answers.variants import VariantAnswer, VariantRequest, about_a_variant
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.exchange.paper import on_paper
from curve_rank.exchange.pdf import pdf
from curve_rank.figures.balance import balance
from curve_rank.figures.curves import curves
from curve_rank.figures.overlay import LETTERS
from curve_rank.figures.plate import VIEWS, plate
from curve_rank.figures.strip import strip
from curve_rank.rating.targets import known
from curve_rank.store.database import DbSession
from curve_rank.store.house.tokens import new_token
from curve_rank.store.publications import LONGEST_TITLE, FrozenPage, publish
from curve_rank.store.verdicts import Stamp
from curve_rank.store.viewers import Viewer
from curve_rank.study.claim_words import parameter_words, turn_words
from curve_rank.study.compare import resolved
from curve_rank.study.heads import heads

ROWS = 20
"""So many rows of a ranking are published."""
CAN_BE = "a page with “Publish this”, as in /board?target=biceps_long or /variants/chin-up"


@dataclass(frozen=True)
class PublishedAnswer:
    """What is published: of which kind, under which title, as data, and what its page is made of."""

    kind: str
    title: str
    data: Any
    shown: dict[str, Any] = field(default_factory=dict)


def ranking(asked: AddressedQuestion, answer: BoardAnswer) -> PublishedAnswer:
    """The first rows of a ranking, with what was asked."""
    question = asked.question
    return PublishedAnswer(
        "ranking",
        f"{question.target.name} by {question.lens.name.lower()}",
        plain(answer),
        {
            "sentence": f"{question.lens.school} {len(answer.rows)} set-ups ranked, for {asked.client.name}, "
            f"{question.reps} repetitions to failure.",
            "answer": answer,
            "most": ROWS,
        },
    )


def comparison(answer: CompareAnswer) -> PublishedAnswer:
    """A comparison as it stands."""
    title = " against ".join(one.name for one in answer.variants)
    return PublishedAnswer("comparison", title, plain(answer), {"answer": answer, "resolved": resolved()})


def steps(answer: SeriesAnswer) -> PublishedAnswer:
    """A series as it stands."""
    asked = answer.asked
    title = f"{asked.variant.name}: {asked.name.lower()} in steps"
    return PublishedAnswer("series", title, plain(answer), {"answer": answer})


def a_plate(answer: HeadAnswer) -> PublishedAnswer:
    """A head's plate and its map as it stands."""
    names = {key: one.name for key, one in heads().items()}
    return PublishedAnswer(
        "plate",
        answer.head.name,
        plain(answer),
        {
            "answer": answer,
            "plates": [plate(side, names, answer.head.key, lambda _: "") for side in VIEWS],
            "letters": LETTERS.upper(),
        },
    )


def a_claim(answer: ClaimAnswer) -> PublishedAnswer:
    """A claim with its verdict.

    Raises
    ------
    BadInputError
        While the verdict is being worked out.
    """
    entry, verdict = answer.entry, answer.entry.verdict
    if verdict is None:
        raise BadInputError("claim", entry.claim.name, "a verdict first; it is being worked out")
    return PublishedAnswer(
        "claim",
        entry.claim.question,
        plain(entry),
        {
            "answer": answer,
            "scale": balance(verdict.probability),
            "hangs_on": [
                f"{parameter_words(one.parameter)} ({100 * one.part:.0f} %)" for one in verdict.hangs_on
            ],
            "turns": [turn_words(turn) for turn in verdict.turns],
        },
    )


def a_variant(answer: VariantAnswer) -> PublishedAnswer:
    """A variant as it stands."""
    return PublishedAnswer(
        "variant",
        answer.variant.name,
        plain(answer),
        {
            "view": answer,
            "strip": strip(answer.modelled, answer.target, "large"),
            "figures": answer.figures(whole=False),
            "curves": curves(answer.modelled).picture,
        },
    )


def keep(db: DbSession, viewer: Viewer, made: PublishedAnswer, link_of: Callable[[str], str]) -> str:
    """Freeze what is published, and keep it under a new token.

    Parameters
    ----------
    db : DbSession
        The open database, to be written.
    viewer : Viewer
        Who publishes it.
    made : PublishedAnswer
        What is published.
    link_of : callable
        The link of a token.

    Raises
    ------
    BadInputError
        For one more than can be kept.
    """
    token, title = new_token(), made.title[:LONGEST_TITLE].strip()
    body = on_paper(f"publish/{made.kind}", title=title, **made.shown)
    printed = on_paper(
        "print/published",
        title=title,
        body=Markup(body),
        link=link_of(token),
        code=Markup(segno.make(link_of(token), error="m").svg_inline(scale=2, border=0)),
        stamp=Stamp.of(""),
    )
    publish(db, viewer, token, FrozenPage(made.kind, title, body, made.data, pdf(printed)))
    return token


def published_from(db: DbSession, viewer: Viewer, means: Means, page: str) -> PublishedAnswer:
    """What a page's own “Publish this” would publish, by the page's address.

    Raises
    ------
    BadInputError
        For a page that cannot be published, and what stands in its way.
    """
    path, _, query = page.partition("?")
    try:
        return _from(db, viewer, means, tuple(path.strip("/").split("/")), Address(query))
    except CurveRankError as error:
        raise BadInputError("PAGE", page, f"{CAN_BE} ({error})") from error


def _from(
    db: DbSession, viewer: Viewer, means: Means, path: tuple[str, ...], values: Address
) -> PublishedAnswer:
    def client(person: int | None) -> Client:
        return client_for(db, viewer, person)

    match path:
        case ("board",):
            asked = BoardRequest.read(values)
            question = asked.of(client(asked.person), means.library)
            return ranking(question, board(means, question.question))
        case ("compare",):
            sides = CompareRequest.read(values)
            return comparison(side_by_side(means, sides.of(client(sides.person), means.library)))
        case ("compare", "one-thing", variant):
            along = SeriesRequest.read(values)
            series = along.of(means.library.variant(variant), client(along.person))
            return steps(stepped(means, series.question))
        case ("heads", head):
            return a_plate(head_map_of(means, HeadRequest.read(values).of(head, means.library)))
        case ("claims", key):
            (entry,) = weighed(
                means.library, {key: known("claim", key, means.library.claims)}, means.modeller
            )
            return a_claim(claim_answer(means, entry))
        case ("variants", variant):
            read = VariantRequest.read(values)
            return a_variant(about_a_variant(means, read.of(variant, client(read.person), means)))
    raise BadInputError("path", "/" + "/".join(path), "one of those")
