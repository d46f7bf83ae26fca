"""How sure a ranking is, from as many draws as somebody asks for: what is there, and what is on its way."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from curve_rank.answers.board import sureness
from curve_rank.answers.means import Means
from curve_rank.answers.plain import plain
from curve_rank.answers.requests import RequestForm, Whole
from curve_rank.background.draws import ONESELF, DrawQuestion, DrawRun, Draws
from curve_rank.errors import BadInputError
from curve_rank.figures.svg import svg
from curve_rank.figures.whisker import whisker
from curve_rank.rating.certainty import Certainty, certainty
from curve_rank.rating.draws import check_draws
from curve_rank.rating.ranking import Question, Ranking, rank
from curve_rank.rating.targets import known

FEWEST = 8
"""Draws from which something is said while more are made."""


def waited_for(
    desk: Draws, ranking: Ranking, draws: int, seed: int, wait: Callable[[DrawRun], None]
) -> Certainty:
    """How sure a ranking is, for somebody alone who waits until the draws are made.

    Raises
    ------
    BadInputError
        For draws, seeds or cluster addresses that make no sense, and for a run that failed.
    """
    asked, variants = ranking.question, tuple(row.variant for row in ranking.rows)
    run = desk.start(ONESELF, DrawQuestion(variants, asked.body, asked.effort, seed, draws))
    wait(run)
    if run.state != "finished":
        raise BadInputError("draws", draws, run.problem or "a run that ends")
    return certainty(ranking, run.so_far(), seed=seed)


class DrawsRequest(RequestForm):
    """How many draws of which seed, which run is watched, and which two rows are compared."""

    draws: Whole = 500
    seed: Whole = 1
    run: str = ""
    first: str = ""
    second: str = ""


@dataclass(frozen=True)
class CertaintyQuestion:
    """What is to be known: how sure a ranking is, from some draws."""

    ranking: Ranking
    query: DrawsRequest
    means: Means
    draws: Draws

    def draws_of(self, variants: tuple[Any, ...]) -> DrawQuestion:
        """The draws of some variants that it stands on."""
        asked = self.ranking.question
        return DrawQuestion(variants, asked.body, asked.effort, self.query.seed, self.query.draws)

    @property
    def of_rows(self) -> DrawQuestion:
        """The draws of the ranked variants."""
        return self.draws_of(tuple(row.variant for row in self.ranking.rows))

    @property
    def of_group(self) -> DrawQuestion:
        """The draws of all of the group: other questions of it then find theirs."""
        asked = self.ranking.question
        able = self.means.able(asked.target.group, asked.body, asked.effort)
        return self.draws_of(tuple(m.variant for m in able))

    def view(self, state: str, done: int, sure: Certainty | None, problem: str = "") -> dict[str, Any]:
        """How far it is, and what is known so far."""
        view: dict[str, Any] = {"state": state, "done": done, "total": self.query.draws, "problem": problem}
        if sure is not None:
            view["certainty"] = plain(sureness(sure))
            view["chance"] = self.chance(sure)
            view["whiskers"] = {
                row.variant: svg(whisker(row.rank_low, row.rank_high, place, len(self.ranking.rows)))
                for place, row in enumerate(sure.rows, 1)
            }
        return view

    @property
    def found(self) -> Certainty | None:
        """How sure the ranking is, if the draws are there already."""
        kept = self.draws.found(self.of_rows)
        return None if kept is None else certainty(self.ranking, kept, seed=self.query.seed)

    def so_far(self, run: DrawRun) -> Certainty | None:
        """How sure it is from what a run has drawn so far; None before there is enough."""
        kept, drawn = self.draws.kept_among(self.of_rows), run.so_far()
        if not drawn:
            return None
        number = min(part.load.shape[0] for part in drawn.values())
        parts = {name: part.first(number) for name, part in (kept | drawn).items()}
        if number < FEWEST or any(row.variant.id not in parts for row in self.ranking.rows):
            return None
        return certainty(self.ranking, parts, seed=self.query.seed)

    def chance(self, sure: Certainty) -> dict[str, Any] | None:
        """Chance that the address's `first` scores above its `second`, where both are named and ranked."""
        names = {"first": self.query.first, "second": self.query.second}
        if not all(names.values()):
            return None
        places = {row.variant.id: i for i, row in enumerate(self.ranking.rows)}
        first, second = (known(field, name, places) for field, name in names.items())
        return names | {"chance": round(float(sure.beats[first, second]), 4)}


def certainty_question(means: Means, draws: Draws, asked: Question, query: DrawsRequest) -> CertaintyQuestion:
    """What is to be known of a question's ranking.

    Raises
    ------
    BadInputError
        For fewer or more draws than can be made.
    """
    check_draws(query.draws, query.seed)
    return CertaintyQuestion(rank(asked, means.variants, means.modeller), query, means, draws)
