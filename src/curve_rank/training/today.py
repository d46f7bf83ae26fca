"""A session as it is done today: next targets from plan and log, and what may stand instead."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from itertools import pairwise

from curve_rank.practice.block import Block, Exercise, Session
from curve_rank.practice.facts import Facts
from curve_rank.practice.plan_warnings import PlanContext
from curve_rank.practice.profile import load_shown
from curve_rank.practice.rooms import plates_for
from curve_rank.practice.rules import rule
from curve_rank.practice.session import (
    SetTarget,
    finding_sets,
    freshness,
    set_targets,
    warm_up_sets,
    why_beyond,
)
from curve_rank.training.log import Bout, LoggedSet, SessionNote, bouts
from curve_rank.training.pain import PainFlag, PainState, pain_state
from curve_rank.training.planning import reserve_in
from curve_rank.training.progression import NextTarget, Range, guide_range, next_target
from curve_rank.training.same_effort import point_of
from curve_rank.training.soreness import Soreness, with_soreness

NOT_SORE = Soreness()
SWAPS, OF_ANOTHER_KIND = 3, 2
"""The nearest that are offered, and those of another family besides."""
TOP_ROOM = 2
"""Repetitions over its own that the heaviest set of a ramp reaches before it gets heavier."""
Ahead = tuple[tuple[int, int, date | None], ...]
"""Sessions to do, each its week, its place in it, and its day where the block has one."""
FINDING = (
    "Nobody has logged it lately: these sets find the weight, from the low end of what is likely up to its "
    "middle. Say after each what was left, and take no more once two or fewer are."
)
PAST = 7
"""Days after which a session that was not done is not asked for again."""
LOOKED_BACK = timedelta(days=150)
"""How far back a log is read for targets."""


@dataclass(frozen=True)
class ExerciseToday:
    """One exercise of a session, as it is done now.

    Attributes
    ----------
    place : int
        In the session.
    planned : Exercise
    fact : Facts
    target : NextTarget
    warm_up, sets : tuple of SetTarget
    last : Bout or None
        When it was done last.
    flag : PainFlag or None
    take : str
        What to take from the rack for the working weight.
    finds : bool
        Whether its sets find a weight that nobody knows yet.
    """

    place: int
    planned: Exercise
    fact: Facts
    target: NextTarget
    warm_up: tuple[SetTarget, ...]
    sets: tuple[SetTarget, ...]
    last: Bout | None
    flag: PainFlag | None
    take: str
    finds: bool = False


@dataclass(frozen=True)
class ExerciseSwap:
    """What may stand in an exercise's place now, with its load and sets, and the reason of them."""

    variant: str
    name: str
    load: float
    reason: str
    sets: tuple[SetTarget, ...]
    finds: bool


def exercises_today(
    block: Block,
    week: int,
    session: Session,
    context: PlanContext,
    log: Sequence[LoggedSet],
    today: date,
    loads: Mapping[str, float],
    sore: Soreness = NOT_SORE,
) -> tuple[ExerciseToday, ...]:
    """Every exercise that can be done, with its next target and the reason of it.

    Parameters
    ----------
    block : Block
        The weeks.
    week : int
        Its place in the block, counted from 0.
    session : Session
        The session.
    context : PlanContext
        What it is planned in: facts of the exercises, room and profile.
    log : sequence of LoggedSet
        The person's, of the last months; sets of today are what is being done and count for nothing yet.
    today : date
        The day it is where the person is.
    loads : mapping
        Loads that a coach set by hand [kg].
    sore : Soreness
        What they say is sore before they begin.
    """
    before = [one for one in log if one.day < today]
    by_variant, pain = bouts(before), pain_state(log, today, context.profile.mass_unit)
    able = [one.variant for one in session.exercises if one.variant in context.facts]
    known = len(able) == len(session.exercises)
    pain = with_soreness(pain, sore, context.facts, able, today)
    fresh = freshness(session, context.facts) if known else [1.0] * len(session.exercises)
    found = []
    for place, (one, part) in enumerate(zip(session.exercises, fresh, strict=True)):
        if one.variant in context.facts:
            rows = by_variant.get(one.variant, ())
            made = _exercise(place, one, block, week, context, rows, pain, today, loads, part)
            light = sore.lightens(made.fact) and made.sets
            found.append(_light(made, context, sore, part) if light else made)
    return tuple(found)


def _light(one: ExerciseToday, context: PlanContext, sore: Soreness, fresh: float) -> ExerciseToday:
    """The same exercise, lightly: what it works is sore."""
    reserve = int(rule("session.easier_reserve"))
    load = sore.light(one.fact, context.room, one.target.load)
    reps = (one.planned.reps_from,) * len(one.sets)
    first = f", the {sore.side} side first" if sore.side and one.fact.variant.equipment.arms == 1 else ""
    reason = f"Light today{first}: {sore.says} sore. Stop where it hurts; nothing is gained by pushing on."
    target = replace(one.target, action="stay", load=load, reps=reps, reserve=reserve, reason=reason)
    sets = _sets(one.planned, one.fact, context, target, fresh, reserve)
    light = _as_today(one.place, one.planned, one.fact, context, target, sets, (), one.flag)
    return replace(light, last=one.last)


def _exercise(  # noqa: PLR0913 — what a target follows from
    place: int,
    one: Exercise,
    block: Block,
    week: int,
    context: PlanContext,
    rows: Sequence[Bout],
    pain: PainState,
    today: date,
    loads: Mapping[str, float],
    fresh: float,
) -> ExerciseToday:
    fact, room, reserve = context.facts[one.variant], context.room, reserve_in(block, week)
    plan = set_targets(one, fact, room, fresh=fresh, reserve=reserve)
    flag, by_hand = pain.of(one.variant, fact), loads.get(one.variant)
    straight = one.kind == "straight"
    wanted = _range(one, plan, reserve)
    target = next_target(
        rows if straight else _heaviest(rows),
        fact.variant,
        wanted,
        room,
        today,
        start=max(s.load for s in plan) if by_hand is None else by_hand,
        hands=fact.on_hands,
        flag=flag,
        over=pain.over.get(one.variant),
        unit=context.profile.mass_unit,
    )
    if by_hand is not None and target.action not in ("pause", "stop", "hold"):
        target = replace(target, action="stay", load=by_hand, reason="Your coach set this weight.")
    elif target.action == "begin":
        target = replace(target, reps=tuple(s.reps for s in plan))
    elif straight and target.action == "stay" and len(rows) == 1 and _rises(rows[0]):
        target, sets = _found(one, fact, context, rows[0], fresh, reserve)
        return _as_today(place, one, fact, context, target, sets, rows, flag)
    if block.weeks[week].easier and target.reps:
        load = min([target.load, *(s.load_kg for bout in rows[-1:] for s in bout.sets)])
        easy = f"An easier week, on purpose: fewer sets, and {reserve} left in each."
        target = replace(target, action="stay", load=load, reps=(one.reps_from,) * one.sets, reason=easy)
    finds = straight and target.action == "begin" and by_hand is None
    sets = (
        finding_sets(one, fact, room, fresh=fresh, reserve=reserve)
        if finds
        else _sets(one, fact, context, target, fresh, reserve)
    )
    if finds:
        rises = sets[0].load < sets[-1].load
        far = why_beyond(one, sets, fact, room, context.profile.mass_unit)
        reason = FINDING if rises else f"{target.reason} {far}".strip()
        target = replace(target, load=sets[-1].load, reps=tuple(s.reps for s in sets), reason=reason)
    return replace(_as_today(place, one, fact, context, target, sets, rows, flag), finds=finds)


def _as_today(
    place: int,
    one: Exercise,
    fact: Facts,
    context: PlanContext,
    target: NextTarget,
    sets: tuple[SetTarget, ...],
    rows: Sequence[Bout],
    flag: PainFlag | None,
) -> ExerciseToday:
    """With its light sets, and what to take for them."""
    light = warm_up_sets(one.warm_up, fact, context.room, target.load) if one.warm_up and sets else ()
    take = plates_for(context.room, fact.variant, target.load)
    return ExerciseToday(place, one, fact, target, light, sets, rows[-1] if rows else None, flag, take)


def _rises(bout: Bout) -> bool:
    """Whether a bout found its weight: heavier set by set."""
    loads = [min(one.load_kg for one in sets) for sets in bout.numbers]
    return len(loads) > 1 and all(after > before for before, after in pairwise(loads))


def _found(
    one: Exercise, fact: Facts, context: PlanContext, bout: Bout, fresh: float, reserve: int
) -> tuple[NextTarget, tuple[SetTarget, ...]]:
    """What the sets that found a weight say of the next."""
    point, unit = point_of(bout, fact), context.profile.mass_unit
    own = replace(fact, slope=fact.slope * point.strength) if point else fact
    sets = set_targets(one, own, context.room, fresh=fresh, reserve=reserve)
    load, before = sets[0].load, max(s.load_kg for s in bout.sets)
    action = "stay" if load == before else "add" if load > before else "less"
    best = point.best if point else bout.sets[-1]
    said = "" if best.reserve is None or best.as_planned else f" with {best.reserve} left"
    reason = f"Found by {best.told(unit)}{said}: {load_shown(load, unit)} is the step nearest to that."
    keys = tuple(s.key for s in bout.sets)
    return NextTarget(action, load, tuple(s.reps for s in sets), reserve, reason, keys), sets


def _range(one: Exercise, plan: Sequence[SetTarget], reserve: int) -> Range:
    if one.kind == "straight":
        return Range(one.sets, one.reps_from, one.reps_to, reserve)
    low = min(s.reps for s in plan)
    return Range(1, low, min(low + TOP_ROOM, 30), reserve)


def _heaviest(rows: Sequence[Bout]) -> list[Bout]:
    """Of a ramp or a pyramid only the heaviest set counts."""
    found = []
    for bout in rows:
        top = max((one.load_kg for one in bout.sets), default=0.0)
        first = {one.side: one for one in reversed(bout.sets) if one.load_kg == top}
        sets = tuple(one.model_copy(update={"set": 1}) for one in first.values())
        found.append(replace(bout, sets=sets))
    return found


def _sets(
    one: Exercise,
    fact: Facts,
    context: PlanContext,
    target: NextTarget,
    fresh: float,
    reserve: int,
) -> tuple[SetTarget, ...]:
    if one.kind == "straight" or not target.reps:
        return replace(target, reserve=reserve).straight
    return set_targets(one, fact, context.room, fresh=fresh, reserve=reserve, load=target.load)


def swaps(
    exercise: ExerciseToday,
    context: PlanContext,
    taken: set[str],
    by_variant: Mapping[str, Sequence[Bout]],
    pain: PainState,
) -> tuple[ExerciseSwap, ...]:
    """The next best in an exercise's place: it loads the same heads alike, and spares what hurts.

    Parameters
    ----------
    exercise : ExerciseToday
        What is to be replaced.
    context : PlanContext
        What it is planned in: facts of the exercises, room and profile.
    taken : set of str
        What the session has already.
    by_variant : mapping
        Bouts by variant, oldest first.
    pain : PainState
        What the log's pain asks for.
    """
    fact = exercise.fact
    options = [
        (len(fact.covers & other.covers), -_apart(fact, other), other)
        for key, other in context.facts.items()
        if key not in taken and other.group == fact.group and context.may(other) and pain.sore(other) is None
        and pain.of(key, other) is None
    ]  # fmt: skip
    if exercise.flag is not None:
        # What the model calls easy on a joint may hurt it all the same: something of another kind.
        hurt = {context.facts[v].variant.family for f in pain.flags for v in f.variants if v in context.facts}
        options = [one for one in options if one[2].variant.family not in hurt] or options
    nearest = sorted(options, key=lambda option: option[:2], reverse=True)
    others = [one for one in nearest[SWAPS:] if one[2].variant.family != fact.variant.family]
    best = nearest[:SWAPS] + others[:OF_ANOTHER_KIND]
    reserve = exercise.sets[-1].reserve if exercise.sets else exercise.target.reserve
    return tuple(_swap(exercise, other, context, by_variant, reserve) for _, _, other in best)


def _swap(
    exercise: ExerciseToday,
    other: Facts,
    context: PlanContext,
    by_variant: Mapping[str, Sequence[Bout]],
    reserve: int,
) -> ExerciseSwap:
    """Sets at the same effort: from the last time it was done, else carried over from the planned one."""
    own = point_of(by_variant[other.variant.id][-1], other) if other.variant.id in by_variant else None
    point = own or (point_of(exercise.last, exercise.fact) if exercise.last is not None else None)
    if point is None:
        at, reason = other, "from the known set"
    else:
        at = replace(other, slope=other.slope * point.strength)
        whence = "done before here" if own else "carried over at the same effort"
        reason = f"{whence}: {point.best.told(context.profile.mass_unit)}"
    planned = exercise.planned.model_copy(update={"variant": other.variant.id})
    finds = own is None and planned.kind == "straight"
    sets = (finding_sets if finds else set_targets)(planned, at, context.room, reserve=reserve)
    load, why = max(one.load for one in sets), f"{reason}; rising, to find the weight" if finds else reason
    return ExerciseSwap(other.variant.id, other.variant.name, load, why, sets, finds)


def _apart(one: Facts, other: Facts) -> float:
    """How far two curves lie apart [1]."""
    return float(((one.curve - other.curve) ** 2).mean()) if one.curve.shape == other.curve.shape else 1.0


def targets_by_guide(
    by_variant: Mapping[str, Sequence[Bout]], context: PlanContext, pain: PainState, today: date
) -> dict[str, NextTarget]:
    """What comes next of whatever was done, by each exercise's own range and the room's steps."""
    return {
        key: next_target(
            rows,
            context.facts[key].variant,
            guide_range(context.facts[key].variant, rows),
            context.room,
            today,
            hands=context.facts[key].on_hands,
            flag=pain.of(key, context.facts[key]),
            over=pain.over.get(key),
            unit=context.profile.mass_unit,
        )
        for key, rows in by_variant.items()
        if key in context.facts
    }


def sessions_to_do(
    block: Block, log: Sequence[LoggedSet], notes: Sequence[SessionNote], today: date
) -> Ahead:
    """The sessions of a block that are to be done, in their order: week, place and day of each.

    One that was begun before today, ended or skipped is over; what lies more than a week back is past, and is
    not asked for again.

    Parameters
    ----------
    block : Block
        The weeks.
    log : sequence of LoggedSet
        Sets of the block.
    notes : sequence of SessionNote
        What was said of its sessions.
    today : date
        The day it is where the person is.
    """
    done = {(one.week, one.session) for one in log if one.week is not None and one.works and one.day < today}
    over = {(note.week, note.session) for note in notes if note.kind in ("skip", "done")}
    moved = {(note.week, note.session): note.to_day for note in notes if note.kind == "move"}
    found = []
    for w, s, session in block.sessions:
        planned = block.start + timedelta(days=7 * w + session.day) if block.start else None
        day = moved.get((w, s)) or planned
        if (w, s) not in over | done and (day is None or (today - day).days < PAST):
            found.append((w, s, day))
    return tuple(found)
