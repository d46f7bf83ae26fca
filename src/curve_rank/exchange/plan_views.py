"""A block as JSON and as a table, for somebody who does it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from curve_rank.exchange.tables import Table
from curve_rank.practice.block import Block, Exercise, Session
from curve_rank.practice.plan_warnings import PlanContext, PlanWarning
from curve_rank.practice.profile import WEEKDAYS
from curve_rank.practice.session import SetTarget, seconds_of
from curve_rank.practice.weekly_sets import heads_of_week
from curve_rank.training.planning import ExercisePlan, session_plan

TITLES = (
    "week", "day", "order", "group", "variant", "name", "set", "load [kg]", "repetitions", "left in reserve",
    "rest [s]", "warm-up",
)  # fmt: skip


def plan_view(
    block: Block, context: PlanContext, loads: Mapping[str, float], found: tuple[PlanWarning, ...]
) -> dict[str, Any]:
    """A block with one person's sets, what is wrong with it, and its weekly sets."""
    return {
        "name": block.name,
        "targets": list(block.targets),
        "start": block.start.isoformat() if block.start else None,
        "override": block.override,
        "weeks": [
            {
                "week": w + 1,
                "easier": week.easier,
                "sessions": [
                    {
                        "day": WEEKDAYS[session.day].lower(),
                        "minutes": _minutes(block, session, context),
                        "exercises": [
                            _exercise(one, done, context)
                            for one, done in zip(
                                session.exercises,
                                session_plan(block, w, session, context, loads),
                                strict=True,
                            )
                        ],
                    }
                    for session in week.sessions
                ],
            }
            for w, week in enumerate(block.weeks)
        ],
        "warnings": [warning_view(one) for one in found],
        "weekly_sets": [
            {
                head: {"here": round(h.here, 2), "elsewhere": round(h.elsewhere, 2)}
                for head, h in heads_of_week(context.known(week), context.facts, context.profile).items()
            }
            for week in block.weeks
        ],
    }


def warning_view(one: PlanWarning) -> dict[str, Any]:
    """One warning with the edit that mends it."""
    return {
        "kind": one.kind,
        "week": one.week + 1,
        "session": one.session + 1 if one.session >= 0 else None,
        "says": one.says,
        "mend": one.mend.model_dump(mode="json") if one.mend else None,
        "mend_says": one.mend_says,
    }


def plan_table(block: Block, context: PlanContext, loads: Mapping[str, float]) -> Table:
    """Every set of a block, a row each, light ones too."""
    rows: list[tuple[float | str, ...]] = []
    for w, _, session in block.sessions:
        plans = session_plan(block, w, session, context, loads)
        for n, (one, done) in enumerate(zip(session.exercises, plans, strict=True), 1):
            if done is None:
                continue
            name = context.facts[one.variant].variant.name
            start = (w + 1, WEEKDAYS[session.day], n, one.group, one.variant, name)
            for light, sets in (("yes", done.warm_up), ("", done.sets)):
                for k, target in enumerate(sets, 1):
                    kept = "" if light else target.reserve
                    rows.append((*start, k, round(target.load, 3), target.reps, kept, one.rest_s, light))
    return Table(TITLES, tuple(rows))


def _exercise(one: Exercise, done: ExercisePlan | None, context: PlanContext) -> dict[str, Any]:
    fact = context.facts.get(one.variant)
    return {
        "variant": one.variant,
        "name": fact.variant.name if fact else one.variant,
        "kind": one.kind,
        "group": one.group,
        "rest_s": one.rest_s,
        "tempo": one.tempo,
        "finisher": one.finisher,
        "note": one.note,
        "warm_up": [_target(t) for t in done.warm_up] if done else [],
        "sets": [_target(t) | {"reserve": t.reserve} for t in done.sets] if done else [],
    }


def _target(one: SetTarget) -> dict[str, Any]:
    return {"load": round(one.load, 3), "reps": one.reps}


def _minutes(block: Block, session: Session, context: PlanContext) -> float | None:
    if any(one.variant not in context.facts for one in session.exercises):
        return None
    return round(seconds_of(session, context.facts, stretches=block.stretches) / 60, 1)
