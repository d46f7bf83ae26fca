"""How sure a ranking is: draws started, watched and cancelled from the board."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from flask import Blueprint, jsonify, request
from flask.typing import ResponseReturnValue

from curve_rank.exchange.views import certainty_view
from curve_rank.rating.certainty import Certainty, certainty
from curve_rank.rating.ranking import Ranking, rank
from curve_rank.rating.running import DrawRun, check_draws
from curve_rank.rating.vocabulary import known
from curve_rank.web.board import Asked, asked
from curve_rank.web.library import able, all_variants, draws, modeller
from curve_rank.web.typed import whole_or
from curve_rank.web.whisker import whisker_svg

blueprint = Blueprint("certainty", __name__)

DRAWS, SEED, DIGITS = 500, 1, 11
FEWEST = 8


@dataclass(frozen=True)
class Asking:
    """What is to be known: a ranking, and from how many draws."""

    asked: Asked
    ranking: Ranking
    draws: int
    seed: int

    @property
    def found(self) -> Certainty | None:
        """How sure the ranking is, if the draws are there already."""
        question = self.ranking.question
        variants = tuple(row.variant for row in self.ranking.rows)
        kept = draws().found(variants, question.body, question.effort, seed=self.seed, draws=self.draws)
        return None if kept is None else certainty(self.ranking, kept, seed=self.seed)


@blueprint.get("/certainty.json")
def data() -> ResponseReturnValue:
    """How sure: from kept draws, or from those of the run under way."""
    asking = _asking()
    sure = asking.found
    if sure is not None:
        return jsonify(_told(asking, "finished", asking.draws, sure))
    run = draws().run_named(request.args.get("run", ""))
    if run is None:
        return jsonify(_told(asking, "none", 0, None))
    return jsonify(_told(asking, run.state, run.done, _so_far(asking, run), run.problem))


@blueprint.post("/certainty/start")
def start() -> ResponseReturnValue:
    """Start the draws, or join a run that does the same; answers with the run's name."""
    asking = _asking()
    question = asking.ranking.question
    # All of the group that can be modelled: other questions of it then find their draws.
    group = tuple(v for v in all_variants() if v.target == question.aim.group)
    variants = tuple(m.variant for m in able(group, question.body, effort=question.effort))
    run = draws().start(variants, question.body, question.effort, seed=asking.seed, draws=asking.draws)
    return jsonify(run=run.name, total=run.total)


@blueprint.post("/certainty/cancel")
def cancel() -> ResponseReturnValue:
    """Cancel a run; what is done so far stays."""
    run = draws().run_named(request.form.get("run", ""))
    if run is not None:
        run.cancel()
    return jsonify(cancelled=run is not None)


def _chance(asking: Asking, sure: Certainty) -> dict[str, Any] | None:
    """Chance that the address's `first` scores above its `second`, where both are named and ranked."""
    names = [request.values.get(name, "") for name in ("first", "second")]
    if not all(names):
        return None
    places = {row.variant.id: i for i, row in enumerate(asking.ranking.rows)}
    for field, name in zip(("first", "second"), names, strict=True):
        known(field, name, places)
    first, second = (places[name] for name in names)
    return {"first": names[0], "second": names[1], "chance": round(float(sure.beats[first, second]), 4)}


def _asking() -> Asking:
    number = whole_or(request.values, "draws", DRAWS, digits=DIGITS)
    seed = whole_or(request.values, "seed", SEED, digits=DIGITS)
    check_draws(number, seed)
    question = asked(request.values)
    return Asking(question, rank(question.question, all_variants(), modeller()), number, seed)


def _so_far(asking: Asking, run: DrawRun) -> Certainty | None:
    question = asking.ranking.question
    kept = draws().kept_among(
        tuple(row.variant for row in asking.ranking.rows),
        question.body,
        question.effort,
        seed=asking.seed,
        draws=asking.draws,
    )
    drawn = run.so_far()
    if not drawn:
        return None
    number = min(next(iter(part.whole.values())).shape[0] for part in drawn.values())
    parts = {name: part.first(number) for name, part in (kept | drawn).items()}
    if number < FEWEST or any(row.variant.id not in parts for row in asking.ranking.rows):
        return None
    return certainty(asking.ranking, parts, seed=asking.seed)


def _told(asking: Asking, state: str, done: int, sure: Certainty | None, problem: str = "") -> dict[str, Any]:
    rows = asking.ranking.rows
    view: dict[str, Any] = {"state": state, "done": done, "total": asking.draws, "problem": problem}
    if sure is not None:
        view["certainty"] = certainty_view(sure)
        view["chance"] = _chance(asking, sure)
        view["whiskers"] = {
            row.variant: str(whisker_svg(row, place, len(rows))) for place, row in enumerate(sure.rows, 1)
        }
    return view
