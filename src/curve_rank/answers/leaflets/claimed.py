"""The leaflet of a claim with its verdict."""

from __future__ import annotations

from curve_rank.answers.claims import ClaimAnswer
from curve_rank.answers.leaflets.parts import MEDIANS, leaflet, rung
from curve_rank.answers.plain import plain
from curve_rank.errors import BadInputError
from curve_rank.exchange.leaflet import Leaflet
from curve_rank.exchange.tables import Table
from curve_rank.figures.balance import balance
from curve_rank.figures.ladder import ladder
from curve_rank.rating.words import lower_first
from curve_rank.study.claim_words import parameter_words, turn_words


def a_claim(answer: ClaimAnswer) -> Leaflet:
    """A claim with its verdict.

    Raises
    ------
    BadInputError
        While the verdict is being worked out.
    """
    entry, verdict = answer.entry, answer.entry.verdict
    if verdict is None:
        raise BadInputError("claim", entry.claim.name, "a verdict first; it is being worked out")
    digits = entry.reading.digits or 1 if entry.reading else 1
    name = f"{entry.reading.name} [{entry.reading.unit}]" if entry.reading else "Reading"
    rows = tuple(
        (
            one.name,
            one.changes,
            "against" if one.against else "for",
            *(round(v, digits) for v in (one.read.median, one.read.low, one.read.high)),
        )
        for one in answer.setups
    )
    sides = entry.claim.sides
    rungs = [rung(one.name, one.read, digits) for one in answer.setups]
    scale = balance(verdict.probability)
    says = " ".join(part for part in (entry.says, entry.probability and f"{entry.probability}.", entry.size))
    return leaflet(
        "claim",
        entry.claim.question,
        plain(entry),
        asks=f"{sides[0]} Or: {lower_first(sides[1])}" if sides[1] else sides[0],
        holds=f"{len(rows)} set-ups of the claim.",
        told=(
            f"The model says: {says}"
            if verdict.probability is not None
            else f"{entry.says}: {verdict.missing}",
            MEDIANS,
        ),
        cautions=(),
        table=Table(
            ("Set-up", "Changed", "Side", *(f"{name}: {p}" for p in ("median", "low", "high"))), rows
        ),
        pictures=({"readings": ladder(rungs, name)} if rungs else {}) | {"scale": scale},
        answer=answer,
        scale=scale,
        hangs_on=[f"{parameter_words(one.parameter)} ({100 * one.part:.0f} %)" for one in verdict.hangs_on],
        turns=[turn_words(turn) for turn in verdict.turns],
    )
