"""Plain data of studies: comparisons, series, searches, faults and maps, for the shell and JSON twins."""

from __future__ import annotations

from typing import Any

from curve_rank.arm.arrays import Array
from curve_rank.arm.atlas import Atlas
from curve_rank.exchange.json_views import rounded, row, spread
from curve_rank.practice.coverage import Cell
from curve_rank.practice.sets import SetAnswer
from curve_rank.study.claim_words import parameter_words, turn_words
from curve_rank.study.claims import Claim
from curve_rank.study.compare import ComparedReading
from curve_rank.study.fault_prices import BOTH, FaultPrice
from curve_rank.study.improve import Aim, Improvement, Search
from curve_rank.study.verdicts import Verdict


def set_view(answer: SetAnswer) -> dict[str, Any]:
    """A chosen set: picks with reasons and swaps, what is covered by which, and what is not and why."""
    covered, cells = answer.coverage.covered, answer.coverage.cells
    return {
        "targets": [target.key for target in answer.question.targets],
        "lens": answer.question.lens.key,
        "optimal": answer.optimal,
        "minutes": rounded(answer.minutes, 1),
        "picks": [
            {
                "variant": pick.variant.id,
                "name": pick.variant.name,
                "target": pick.target.key,
                "score": spread(pick.row.spread, 2),
                "load_kg": spread(pick.row.load, 2),
                "minutes": rounded(pick.minutes, 1),
                "why": pick.why,
                "covers": [_cell(cell) for cell in pick.covers],
                "swaps": [
                    {"variant": one.variant.id, "cells": one.cells, "score": rounded(one.score, 2)}
                    for one in pick.swaps
                ],
            }
            for pick in answer.picks
        ],
        "coverage": [
            _cell(cell)
            | {
                "placed": rounded(float(answer.coverage.placed[:, n].max(initial=0.0)), 4),
                "by": [p.variant.id for p, has in zip(answer.picks, covered[:, n], strict=True) if has],
            }
            for n, cell in enumerate(cells)
        ],
        "uncovered": [_cell(one.cell) | {"why": one.why} for one in answer.uncovered],
    }


def _cell(cell: Cell) -> dict[str, str]:
    return {"head": cell.head, "length": cell.length}


def difference_view(one: ComparedReading, pair: tuple[int, int]) -> dict[str, float]:
    """How much more the second of a pair of columns reads."""
    found = one.differences[pair]
    return spread(found.spread, 4) | {
        "nominal": rounded(one.nominal[pair[1]] - one.nominal[pair[0]], 4),
        "chance": rounded(found.chance, 4),
        "chance_higher": rounded(found.chance_higher, 4),
    }


def claim_view(key: str, claim: Claim, verdict: Verdict | None) -> dict[str, Any]:
    """A claim and what the model says of it; without a verdict it has not been worked out yet."""
    view: dict[str, Any] = {"id": key} | claim.model_dump(mode="json")
    if verdict is None:
        return view | {"verdict": None}
    return view | {
        "verdict": verdict.outcome,
        "probability": None if verdict.probability is None else rounded(verdict.probability, 4),
        "size": spread(verdict.size, 4) if verdict.size else None,
        "pairs": [spread(pair, 4) for pair in verdict.pairs],
        "hangs_on": [
            {
                "parameter": one.parameter,
                "words": parameter_words(one.parameter),
                "part": rounded(one.part, 3),
            }
            for one in verdict.hangs_on
        ],
        "turns": [
            {
                "parameter": one.parameter,
                "words": turn_words(one),
                "spreads": rounded(one.spreads, 2),
            }
            for one in verdict.turns
        ],
        "missing": verdict.missing,
    }


def price_view(price: FaultPrice) -> dict[str, Any]:
    """What a fault, or several together, take from the score, and the readings that tell of it."""
    view: dict[str, Any] = {
        "variant": price.variant.id,
        "faults": [{"key": fault.key, "name": fault.name, "cue": fault.cue} for fault in price.faults],
    }
    if price.comparison is None or price.price is None:
        return view | {"problem": price.problem}
    return view | {
        "score": difference_view(price.comparison.readings[0], BOTH),
        "readings": {one.reading.key: difference_view(one, BOTH) for one in price.told},
    }


def search_view(search: Search) -> dict[str, Any]:
    """What a search found: single changes, and the best of several together."""
    found = [_improvement(one, search.aim) for one in search.singles]
    return {
        "aim": f"{search.aim.reading.key} {search.aim.way}",
        "head": search.aim.head,
        "keep": [kept.key for kept in search.aim.keep],
        "tried": search.tried,
        "changes": [change for one in found for change in one],
        "together": _improvement(search.together, search.aim) if search.together else [],
    }


def _improvement(one: Improvement, aim: Aim) -> list[dict[str, Any]]:
    """Every change of an improvement, each with what all of them gain and cost."""
    gain = spread(one.gain.spread, 4)
    whole = {
        "gain": gain["median"],
        "low": gain["low"],
        "high": gain["high"],
        "chance": rounded(one.gain.chance, 4),
        "reading": aim.reading.key,
        "costs": {
            cost.reading.key: spread(cost.difference.spread, 4)
            | {"chance": rounded(cost.difference.chance, 4)}
            for cost in one.costs
        },
    }
    return [
        {
            "field": change.control.field,
            "from": change.control.field_value(change.control.shown),
            "to": change.setting.set,
        }
        | whole
        for change in one.changes
    ]


def atlas_view(atlas: Atlas) -> dict[str, Any]:
    """A head's map as grids: a row for each angle of the second joint, a column for each elbow angle."""
    return {
        "head": atlas.head,
        "elbow_deg": row(atlas.elbow, 3),
        f"{atlas.across}_deg": row(atlas.other, 3),
        "held_deg": atlas.held,
        "moment_arm_mm": _grid(1000 * atlas.moment_arms["elbow"]),
        "shoulder_moment_arm_mm": _grid(1000 * atlas.moment_arms["shoulder"]),
        "forearm_moment_arm_mm": _grid(1000 * atlas.moment_arms["forearm"]),
        "moment_nm": _grid(atlas.strength),
        "length_pct": _grid(atlas.percent),
        "length_norm": _grid(atlas.length, 5),
    }


def _grid(values: Array, digits: int = 4) -> list[list[float]]:
    return [row(line, digits) for line in values]
