"""A block's end: what was planned and done, where tension went, what it brought, and what to keep."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from math import ceil
from typing import Any

from curve_rank.practice.block import Block
from curve_rank.practice.facts import Facts
from curve_rank.practice.rules import rule
from curve_rank.training.circumference import ArmChange, ends_of
from curve_rank.training.log import Bout, LoggedSet, bouts
from curve_rank.training.pain import PainState, stops
from curve_rank.training.same_effort import EffortPoint, Trend, points_of, said_of, trend_of
from curve_rank.training.slopes import (
    Noise,
    Slope,
    by_holm,
    lagging,
    percent,
    slope_of,
    slopes_by_exercise,
    usual_noise,
)

GROUPS = ("flexors", "extensors")


@dataclass(frozen=True)
class Adherence:
    """What was done of what was planned."""

    sessions: int
    planned: int
    sets: int
    planned_sets: int
    skipped: int = 0
    moved: int = 0

    @property
    def part(self) -> float:
        """Sessions done over those planned [1]."""
        return self.sessions / self.planned if self.planned else 0.0


@dataclass(frozen=True)
class HeadDone:
    """One head over a block: hard sets a week, planned and done, and the tension placed long and short."""

    head: str
    sets: float
    planned: float
    long: float
    short: float


@dataclass(frozen=True)
class LoadTrend:
    """One exercise: its first and newest best set, and its trend."""

    variant: str
    first: LoggedSet
    last: LoggedSet
    trend: Trend | None


@dataclass(frozen=True)
class Advice:
    """Keep or rotate one exercise, and why."""

    variant: str
    keep: bool
    why: str


@dataclass(frozen=True)
class Review:
    """A block's end, for one of those who did it.

    Attributes
    ----------
    name : str
    start, end : date
    adherence : Adherence
    heads : tuple of HeadDone
    slope : Slope, optional
        How all that was done grew together.
    trends : dict
        Per group the trend of its same-effort line.
    points : tuple of EffortPoint
    loads : tuple of LoadTrend
    pain, swaps : tuple of str
        Told set by set.
    changes : tuple of ArmChange
        Of the arm, empty where it was not measured at both ends.
    advice : tuple of Advice
    """

    name: str
    start: date
    end: date
    adherence: Adherence
    heads: tuple[HeadDone, ...]
    slope: Slope | None
    trends: Mapping[str, Trend | None]
    points: tuple[EffortPoint, ...]
    loads: tuple[LoadTrend, ...]
    pain: tuple[LoggedSet, ...]
    swaps: tuple[LoggedSet, ...]
    changes: tuple[ArmChange, ...]
    advice: tuple[Advice, ...]


def in_block(log: Iterable[LoggedSet], block: Block, number: int | None) -> tuple[LoggedSet, ...]:
    """Sets of a block: those that say so, and those of no block between its days."""
    ends = ends_of(block)
    return tuple(
        one
        for one in log
        if (one.plan is not None and one.plan == number)
        or (one.plan is None and ends is not None and ends[0] <= one.day <= ends[1])
    )


def review(  # noqa: PLR0913 — all that was said of a block
    block: Block,
    log: Sequence[LoggedSet],
    facts: Mapping[str, Facts],
    today: date,
    *,
    number: int | None = None,
    events: Sequence[Mapping[str, Any]] = (),
    changes: tuple[ArmChange, ...] = (),
    pain: PainState | None = None,
    noise: Noise | None = None,
) -> Review:
    """What a block brought.

    Parameters
    ----------
    block : Block
        The weeks.
    log : sequence of LoggedSet
        The person's; what is not of the block is passed over.
    facts : mapping
        Of the exercises, by variant id.
    today : date
        The day it is where the person is.
    number : int, optional
        The block's.
    events : sequence of mapping
        Sessions that were skipped or moved: `kind`, `week`, `session`.
    changes : tuple of ArmChange
        Of the tape.
    pain : PainState, optional
        As it stands at the end.
    noise : Noise, optional
        Of the house; else as it usually is.
    """
    mine = in_block(log, block, number)
    by_variant = bouts(mine)
    ends = ends_of(block) or _days(mine, today)
    points = tuple(p for group in GROUPS for p in points_of(by_variant, facts, group))
    lighter = {(number, w) for w, week in enumerate(block.weeks) if week.easier}
    said, noise = said_of(by_variant, facts, lighter=lighter), noise or usual_noise()
    slope, own = slope_of(said, noise), slopes_by_exercise(said, noise)
    by_group = {g: [one for one in said if facts[one.variant].group == g] for g in GROUPS}
    loads = tuple(
        _loads([p for p in points if p.variant == v], own.get(v))
        for v in by_variant
        if any(p.variant == v for p in points)
    )
    return Review(
        block.name,
        *ends,
        _adherence(block, mine, today, events),
        _heads(block, mine, facts, ends, today),
        slope,
        {group: trend_of(slope_of(rows, noise)) for group, rows in by_group.items()},
        points,
        loads,
        tuple(one for one in mine if one.hurts),
        tuple(one for one in mine if one.instead_of and one.set == 1),
        changes,
        _advice(block, by_variant, Growth.of(slope, own), pain or PainState(), facts),
    )


def _days(log: Sequence[LoggedSet], today: date) -> tuple[date, date]:
    days = [one.day for one in log] or [today]
    return min(days), max(days)


def due_sessions(block: Block, today: date) -> list[tuple[int, int]]:
    """Sessions whose day has come, by week and place; all of them where the block has no start."""
    return [
        (w, s)
        for w, s, session in block.sessions
        if block.start is None or block.start + timedelta(days=7 * w + session.day) <= today
    ]


def _adherence(
    block: Block, mine: Sequence[LoggedSet], today: date, events: Sequence[Mapping[str, Any]]
) -> Adherence:
    due = set(due_sessions(block, today))
    told = {(one.week, one.session) for one in mine if one.week is not None and one.works}
    loose = {one.day for one in mine if one.week is None and one.works}
    planned_sets = sum(
        one.sets for w, s, session in block.sessions if (w, s) in due for one in session.exercises
    )
    # Both sides of a one-arm set are one set; ones that were done over what was planned do not make up.
    sets = {(one.day, one.variant, one.set) for one in mine if one.works}
    kinds = [event["kind"] for event in events]
    return Adherence(
        min(len(told) + len(loose), len(due)) if due else len(told) + len(loose),
        len(due),
        len(sets),
        planned_sets,
        kinds.count("skip"),
        kinds.count("move"),
    )


def _heads(
    block: Block,
    mine: Sequence[LoggedSet],
    facts: Mapping[str, Facts],
    ends: tuple[date, date],
    today: date,
) -> tuple[HeadDone, ...]:
    """Per head, hard sets a week and tension; a one-arm set is half on each side."""
    weeks = max((min(today, ends[1]) - ends[0]).days / 7, 1.0)
    done: dict[str, list[float]] = {}
    for one in mine:
        fact = facts.get(one.variant)
        if fact is None or not one.works:
            continue
        part = 0.5 if one.side else 1.0
        for head, share in fact.counts.items():
            row = done.setdefault(head, [0.0, 0.0, 0.0])
            row[0] += part * share
            row[1] += part * one.reps * fact.long[head]
            row[2] += part * one.reps * fact.short[head]
    planned: dict[str, float] = {}
    for _, _, session in block.sessions:
        for exercise in session.exercises:
            for head, share in (facts[exercise.variant].counts if exercise.variant in facts else {}).items():
                planned[head] = planned.get(head, 0.0) + exercise.sets * share / len(block.weeks)
    heads = list(planned | done)
    empty = [0.0, 0.0, 0.0]
    return tuple(
        HeadDone(head, row[0] / weeks, planned.get(head, 0.0), row[1] / weeks, row[2] / weeks)
        for head in heads
        for row in [done.get(head, empty)]
    )


def _loads(points: Sequence[EffortPoint], own: tuple[Slope, Slope] | None) -> LoadTrend:
    return LoadTrend(points[0].variant, points[0].best, points[-1].best, trend_of(own[0]) if own else None)


@dataclass(frozen=True)
class Growth:
    """What may be said of somebody's exercises: together, and of each by itself.

    Attributes
    ----------
    whole : Slope, optional
        Of all together.
    own : mapping
        Of each exercise with enough bouts.
    climbing, lagging : frozenset of str
        Those that climb by themselves, whatever else does; and those that lag the rest, which climbs.
    least : frozenset of str
        The half that gained least, where all together gain hardly anything.
    """

    whole: Slope | None
    own: Mapping[str, Slope]
    climbing: frozenset[str]
    lagging: frozenset[str]
    least: frozenset[str]

    @staticmethod
    def of(whole: Slope | None, by_exercise: Mapping[str, tuple[Slope, Slope]]) -> Growth:
        """By slopes: several words are false as seldom as one."""
        own = {key: one for key, (one, _) in by_exercise.items()}
        rising = sorted(own, key=lambda key: own[key].weekly)
        return Growth(
            whole,
            own,
            by_holm({key: one.chance for key, one in own.items()}, rule("slope.chance")),
            lagging(whole, by_exercise),
            frozenset(rising[: ceil(len(rising) / 2)]) if whole is not None and whole.stalls else frozenset(),
        )

    def advice(self, variant: str) -> Advice:
        """Keep an exercise or rotate it, by what it and all together did."""
        if self.whole is None or variant not in self.own:
            return Advice(variant, keep=True, why="Too few sessions for a trend: keep it and see.")
        here = f"{percent(self.own[variant].weekly)} a week"
        if variant in self.lagging:
            why = f"It lags the rest ({here}, all together {percent(self.whole.weekly)}): another exercise "
            return Advice(variant, keep=False, why=why + "with a like curve, or another range.")
        if variant in self.climbing:
            return Advice(variant, keep=True, why=f"It climbs by itself: {here} at the same effort.")
        if self.whole.climbs:
            why = f"It moves with the others, which climb {percent(self.whole.weekly)} a week: keep it."
            return Advice(variant, keep=True, why=why)
        if variant in self.least:
            why = (
                f"{self.whole.says} This is of the half that gained least ({here}): another exercise with a "
            )
            return Advice(variant, keep=False, why=why + "like curve, or another range.")
        if self.whole.stalls:
            why = "All together gain little; the other half is rotated first, to see what helps: keep it."
            return Advice(variant, keep=True, why=why)
        return Advice(variant, keep=True, why=f"{self.whole.says} Keep it.")


def _advice(
    block: Block,
    by_variant: Mapping[str, Sequence[Bout]],
    growth: Growth,
    pain: PainState,
    facts: Mapping[str, Facts],
) -> tuple[Advice, ...]:
    """Keep what climbs and hurts nobody; rotate what hurt, what lags, and what was swapped away."""
    planned = list(dict.fromkeys(e.variant for _, _, session in block.sessions for e in session.exercises))
    swapped = {one.instead_of for rows in by_variant.values() for bout in rows for one in bout.sets}
    found = []
    for variant in planned:
        flag = pain.of(variant, facts.get(variant))
        bad = [one for bout in by_variant.get(variant, ()) for one in bout.sets + bout.others if stops(one)]
        if flag is not None and flag.level in ("pause", "stop"):
            found.append(Advice(variant, keep=False, why=flag.says))
        elif bad:
            told = f"{bad[-1].says} ({bad[-1].pain} of 10)"
            why = f"Sharp or strong pain in {told}: another one, that spares the joint."
            found.append(Advice(variant, keep=False, why=why))
        elif variant not in by_variant:
            why = "it was swapped away every time" if variant in swapped else "it was never done"
            why = f"Rotate: {why}, so it does not fit the days or the room."
            found.append(Advice(variant, keep=False, why=why))
        else:
            found.append(growth.advice(variant))
    return tuple(found)
