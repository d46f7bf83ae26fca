"""How sure a ranking is: draws started, watched and cancelled from the board."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, jsonify, request
from flask.typing import ResponseReturnValue

from curve_rank.answers.board import sureness
from curve_rank.answers.plain import plain
from curve_rank.background.draws import DrawQuestion, DrawRun
from curve_rank.figures.svg import svg
from curve_rank.figures.whisker import whisker
from curve_rank.rating.certainty import Certainty, certainty
from curve_rank.rating.draws import check_draws
from curve_rank.rating.ranking import Ranking, rank
from curve_rank.rating.targets import known
from curve_rank.web import arms, current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import DrawsQuery
from curve_rank.web.question import read_question

blueprint = Blueprint("certainty", __name__)

FEWEST = 8


@dataclass(frozen=True)
class CertaintyQuestion:
    """What is to be known: how sure a ranking is, from some draws."""

    ranking: Ranking
    query: DrawsQuery

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
        able = arms.means().able(asked.target.group, asked.body, effort=asked.effort)
        return self.draws_of(tuple(m.variant for m in able))

    @property
    def found(self) -> Certainty | None:
        """How sure the ranking is, if the draws are there already."""
        kept = current.draws().found(self.of_rows)
        return None if kept is None else certainty(self.ranking, kept, seed=self.query.seed)

    def so_far(self, run: DrawRun) -> Certainty | None:
        """How sure it is from what a run has drawn so far; None before there is enough."""
        kept, drawn = current.draws().kept_among(self.of_rows), run.so_far()
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


@blueprint.get("/certainty.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """How sure: from kept draws, or from those of the viewer's run for this question."""
    asked = _read()
    sure = asked.found
    if sure is not None:
        return jsonify(_view(asked, "finished", asked.query.draws, sure))
    run = _run(asked)
    if run is None:
        return jsonify(_view(asked, "none", 0, None))
    return jsonify(
        _view(asked, run.state, run.done, asked.so_far(run), run.problem) | {"waiting": run.waiting}
    )


@blueprint.post("/certainty/start")
@allowed(*TEACHING)
def start() -> ResponseReturnValue:
    """Start the draws, or join the viewer's run that does the same; answers with the run's name."""
    asked = _read()
    run = current.draws().start(current.viewer().person, asked.of_group)
    return jsonify(run=run.name, total=run.total)


@blueprint.post("/certainty/cancel")
@allowed(*TEACHING)
def cancel() -> ResponseReturnValue:
    """Cancel the viewer's run for this question; what is done so far stays."""
    run = _run(_read())
    if run is not None:
        run.cancel()
    return jsonify(cancelled=run is not None)


def _read() -> CertaintyQuestion:
    query = DrawsQuery.read(request.values)
    check_draws(query.draws, query.seed)
    asked = read_question(request.values).question
    return CertaintyQuestion(rank(asked, current.library().variants, current.modeller()), query)


def _run(asked: CertaintyQuestion) -> DrawRun | None:
    if not asked.query.run:
        return None
    return current.draws().run(current.viewer().person, asked.of_group, asked.query.run)


def _view(
    asked: CertaintyQuestion, state: str, done: int, sure: Certainty | None, problem: str = ""
) -> dict[str, Any]:
    rows = asked.ranking.rows
    view: dict[str, Any] = {"state": state, "done": done, "total": asked.query.draws, "problem": problem}
    if sure is not None:
        view["certainty"] = plain(sureness(sure))
        view["chance"] = asked.chance(sure)
        view["whiskers"] = {
            row.variant: svg(whisker(row.rank_low, row.rank_high, place, len(rows)))
            for place, row in enumerate(sure.rows, 1)
        }
    return view
