"""Training as JSON: next targets, what was learned, a review, a comparison of two blocks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from curve_rank.practice.facts import Facts
from curve_rank.practice.session import SetTarget
from curve_rank.rating.spreads import Spread
from curve_rank.training.learning import LogFindings
from curve_rank.training.log import LoggedSet
from curve_rank.training.progression import NextTarget
from curve_rank.training.review import Review
from curve_rank.training.same_effort import Trend
from curve_rank.training.slopes import Slope
from curve_rank.training.trial import TrialMeasure, verdict


def target_view(target: NextTarget, sets: Sequence[SetTarget]) -> dict[str, Any]:
    """A next target; `reps` are of the first set, `sets` of each, and `loads` too."""
    return {
        "load": round(target.load, 3),
        "reps": sets[0].reps if sets else 0,
        "sets": [one.reps for one in sets],
        "loads": [round(one.load, 3) for one in sets],
        "reserve": target.reserve,
        "action": target.action,
        "reason": target.reason,
        "rests_on": list(target.rests_on),
    }


def personal_view(
    learned: LogFindings, loads: Mapping[str, Spread], reps: int, facts: Mapping[str, Facts]
) -> dict[str, Any]:
    """What was learned, and the loads that follow."""
    return {
        "reps": reps,
        "effective_draws": 0.0 if learned.why_not else float(learned.draws),
        "draws": learned.draws,
        "sets": learned.sets,
        "variants": learned.variants,
        "learned": not learned.why_not,
        "why_not": learned.why_not,
        "strength": round(learned.strength, 3),
        "asks": learned.asks,
        "loads": {
            key: {
                "name": facts[key].variant.name,
                "median": round(spread.median, 2),
                "low": round(spread.low, 2),
                "high": round(spread.high, 2),
            }
            for key, spread in loads.items()
        },
    }


def review_view(found: Review) -> dict[str, Any]:
    """A block's end."""
    return {
        "block": found.name,
        "start": found.start.isoformat(),
        "end": found.end.isoformat(),
        "adherence": vars(found.adherence) | {"part": round(found.adherence.part, 3)},
        "heads": {
            one.head: {
                "sets_a_week": round(one.sets, 2),
                "planned": round(one.planned, 2),
                "long": round(one.long, 2),
                "short": round(one.short, 2),
            }
            for one in found.heads
        },
        "growth": _growth(found.slope),
        "strength": {group: _trend(trend) for group, trend in found.trends.items()},
        "exercises": {
            one.variant: {"first": one.first.says, "last": one.last.says, "trend": _trend(one.trend)}
            for one in found.loads
        },
        "pain": [_told(one) for one in found.pain],
        "swaps": [_told(one) | {"instead_of": one.instead_of} for one in found.swaps],
        "arm": [
            {
                "state": one.state,
                "before_cm": round(one.before, 2),
                "after_cm": round(one.after, 2),
                "change_cm": round(one.change, 2),
                "error_cm": round(one.error, 2),
                "needed_cm": round(one.needed, 2),
                "claimed": one.claimed,
                "says": one.says,
            }
            for one in found.changes
        ],
        "advice": [vars(one) for one in found.advice],
    }


def trial_view(found: tuple[TrialMeasure, ...]) -> dict[str, Any]:
    """Two blocks compared."""
    return {
        "verdict": verdict(found),
        "measures": [
            {
                "measure": one.measure,
                "unit": one.unit,
                "first": round(one.first.mean, 4),
                "second": round(one.second.mean, 4),
                "difference": round(one.difference, 4),
                "error": round(one.error, 4),
                "chance_second_more": round(one.chance, 3),
                "verdict": one.verdict,
            }
            for one in found
        ],
    }


def _growth(slope: Slope | None) -> dict[str, Any] | None:
    if slope is None:
        return None
    return {"per_week": round(slope.weekly, 5), "error": round(slope.error, 5), "says": slope.says}


def _trend(trend: Trend | None) -> dict[str, Any] | None:
    if trend is None:
        return None
    return {name: round(getattr(trend, name), 4) for name in ("gain", "low", "high", "per_week")} | {
        "points": trend.points
    }


def _told(one: LoggedSet) -> dict[str, Any]:
    return {
        "day": one.day.isoformat(),
        "variant": one.variant,
        "set": one.set,
        "pain_joint": one.pain_joint,
        "pain": one.pain,
        "sharp": one.sharp,
        "note": one.note,
    }
