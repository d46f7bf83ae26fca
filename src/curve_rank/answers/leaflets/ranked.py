"""Leaflets of rankings, sets and faults."""

from __future__ import annotations

from typing import Any

from curve_rank.answers.board import AddressedQuestion, BoardAnswer, BoardRow
from curve_rank.answers.faults import FaultsAnswer
from curve_rank.answers.leaflets.parts import MEDIANS, cautions_of, for_whom, leaflet, not_told, rung
from curve_rank.answers.plain import plain
from curve_rank.answers.sets import ChosenSetAnswer
from curve_rank.catalogue import words
from curve_rank.exchange.leaflet import Leaflet
from curve_rank.exchange.tables import Table
from curve_rank.figures.ladder import Rung, ladder
from curve_rank.rating.cautions import cautions_for
from curve_rank.rating.joints import joints
from curve_rank.rating.targets import targets
from curve_rank.rating.words import in_a_row, lower_first, printed, the

WITH_STRIPS = 20
"""So many rows of a ranking are drawn with their strips; the others stand as lines."""


def ranking(asked: AddressedQuestion, answer: BoardAnswer) -> Leaflet:
    """A ranking with all of its rows."""
    question, count = asked.question, len(answer.rows)
    names = {one.id: one.name for row in answer.rows for one in (row.document,)}
    with_what = [words.equipment().get(item, names.get(item, item)) for item in question.equipment]
    spared = [joints()[key].name for key in question.spare]
    drawn = f", the first {WITH_STRIPS} with their strips" if count > WITH_STRIPS else ""
    return leaflet(
        "ranking",
        f"{question.target.name} by {question.lens.name.lower()}",
        plain(answer),
        asks=(
            f"Set-ups for {the(question.target)} by {question.lens.name.lower()}, with"
            f" {in_a_row(with_what, 'anything')}, sparing {in_a_row(spared, 'nothing')}, for"
            f" {for_whom(asked.client, question.reps)}"
        ),
        holds=f"{count} of {count} ranked set-ups{drawn}; {len(answer.left_out)} left out.",
        told=(
            question.lens.school,
            f"{MEDIANS} Rows marked = cannot be told apart from the row before.",
            *not_told(answer.cannot_tell),
            *answer.deciding,
            *answer.sparing,
            asked.client.of_strength,
        ),
        cautions=cautions_of((f"{row.rank}", row.cautions) for row in answer.rows),
        left_out=tuple(f"{one.name}: {one.reason}" for one in answer.left_out),
        table=_ranks(answer),
        pictures={"ladder": _ladder(answer)} | ({"strip": answer.rows[0].strip} if answer.rows else {}),
        answer=answer,
        most=WITH_STRIPS,
    )


def _ranks(answer: BoardAnswer) -> Table:
    head = answer.question.judged.heads[0]
    titles = (
        "Rank", "In one tie with the row before", "Set-up", "Id", "Score: median", "Score: low",
        "Score: high", "Rank: low", "Rank: high", "Load [kg]: median", "Load [kg]: low", "Load [kg]: high",
        "Load in words", f"{targets()[head].name}: length where it is hardest [% of range]",
        f"{targets()[head].name}: share of the work [%]", "Why", "Take care",
    )  # fmt: skip

    def cells(n: int, row: BoardRow) -> tuple[float | str, ...]:
        score, load, sure = row.score_drawn, row.load_drawn_kg, answer.certainty.rows[n]
        return (
            row.rank, "" if answer.certainty.starts_tie(n) else "yes", row.name, row.variant,
            round(row.score), round(score.low), round(score.high), *sure.rank_interval,
            *(round(v, 1) for v in (load.median, load.low, load.high)), row.load,
            row.length_of(head), row.share_of(head), row.why,
            ", ".join(one.caution.name for one in row.cautions),
        )  # fmt: skip

    return Table(titles, tuple(cells(n, row) for n, row in enumerate(answer.rows)))


def _ladder(answer: BoardAnswer) -> Any:
    rungs = [
        rung(row.name, row.score_drawn, 0, f"{'' if answer.certainty.starts_tie(n) else '='}{row.rank}")
        for n, row in enumerate(answer.rows)
    ]
    return ladder(rungs or [Rung("no set-up fits", 0, 0, 0, "")], "Score, 0 to 100", (0, 100))


def a_set(answer: ChosenSetAnswer) -> Leaflet:
    """A chosen set: what is in it, what it covers and what it does not."""
    asked = answer.asked
    heads_of = [targets()[key].name for key in asked.targets]
    rows = tuple(
        (one.letter, one.pick.variant.name, one.load, round(one.pick.minutes), one.pick.why)
        for one in answer.picks
    )
    spared, with_what = asked.spare, [words.equipment().get(one, one) for one in asked.equipment]
    return leaflet(
        "set",
        f"The fewest set-ups for {in_a_row([lower_first(one) for one in heads_of])}",
        plain(answer),
        asks=(
            f"The fewest set-ups that load {in_a_row([lower_first(one) for one in heads_of])} long and short,"
            f" with {in_a_row(with_what, 'anything')}, sparing"
            f" {in_a_row([joints()[key].name for key in spared], 'nothing')}, for {answer.client.name}, at"
            f" most {asked.at_most} exercises{f' in {asked.minutes:g} minutes' if asked.minutes else ''}."
        ),
        holds=f"{len(rows)} set-ups, about {answer.found.minutes:.0f} minutes.",
        told=(
            "Loads are medians of 64 arms. Covering most comes first, then as few as can be, then the score.",
            "" if answer.found.optimal else "The best found in the time there was.",
            answer.client.of_strength,
        ),
        cautions=cautions_of((one.letter, cautions_for(one.pick.row.modelled)) for one in answer.picks),
        left_out=tuple(f"{one.cell.name}: {one.why}" for one in answer.found.uncovered),
        table=Table(("Letter", "Set-up", "Load", "Minutes", "Why"), rows),
        pictures={"coverage": answer.picture},
        answer=answer,
    )


def priced_faults(answer: FaultsAnswer) -> Leaflet:
    """What faults cost, each beside the same done right."""
    asked, rows, rungs = answer.asked, [], []
    for one in answer.prices:
        names, found = in_a_row([f.name for f in one.faults]), one.price
        numbers = (
            [round(v, 1) for v in (found.spread.median, found.spread.low, found.spread.high)] if found else []
        )
        rows.append((one.variant.name, names, *(numbers or ("", "", "")), one.problem, one.faults[0].cue))
        if found:
            median, low, high = numbers
            rungs.append(Rung(f"{one.variant.name}: {lower_first(names)}", median, low, high,
                              f"{printed(median, 1, sign=True)}"))  # fmt: skip
    titles = ("Set-up, done right", "Done wrong", "Score: change", "Low", "High", "Cannot be", "What to say")
    return leaflet(
        "faults",
        f"What it costs to do it wrong: {lower_first(words.families()[asked.family])}",
        plain(answer),
        asks=(
            f"What each fault of the family “{words.families()[asked.family]}” takes from the score, for"
            f" {the(asked.target)} by {asked.lens.name.lower()}, {for_whom(asked.client, asked.reps)}"
        ),
        holds=f"{len(rows)} faults of {len(asked.variants)} set-ups, dearest first.",
        told=(
            "Points of the score, the same 64 arms done right and done wrong; eight in ten in the interval.",
        ),
        table=Table(titles, tuple(rows)),
        pictures={"ladder": ladder(rungs, "Points of the score")} if rungs else {},
        answer=answer,
    )
