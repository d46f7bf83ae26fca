"""A person's training as they and their coach both see it: one line of strength, days, what comes next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Literal

from markupsafe import Markup

from curve_rank.answers.drawn import strip_of
from curve_rank.answers.means import Means
from curve_rank.answers.people import Trainee
from curve_rank.answers.requests import RequestForm, Whole
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS
from curve_rank.figures.shapes import Picture
from curve_rank.figures.trend import DESK, PHONE, TrendBand, TrendPoint, trend
from curve_rank.rating.words import lower_first
from curve_rank.store import logs
from curve_rank.training.learning import LogFindings, loads_of
from curve_rank.training.log import LoggedSet, bouts
from curve_rank.training.noticing import notices
from curve_rank.training.pain import PainFlag
from curve_rank.training.same_effort import (
    REFERENCE,
    EffortPoint,
    Trend,
    load_at,
    points_of,
    records_of,
    said_of,
    trend_of,
)
from curve_rank.training.slopes import lately, slope_of
from curve_rank.training.today import targets_by_guide

LEAST_MOVED = 0.03
"""A load that learning moves by less is not said of [1]."""
MOST_DAYS = 150
RECENT, RECORDS, NOTICED, MOVED = 12, 3, 8, 8
"""So many days, records, things noticed and moved loads stand on the page."""


class RecordRequest(RequestForm):
    """What of a record is shown."""

    group: Literal["flexors", "extensors"] = "flexors"
    days: Whole = 90


@dataclass(frozen=True)
class UnsettledSet:
    """A set that two devices wrote differently, as it stands and as it might, in words."""

    key: str
    version: int
    name: str
    kept: str
    other: str


@dataclass(frozen=True)
class PointRow:
    """A best set on the line of strength."""

    day: date
    name: str
    best: str
    worth: float
    """On the exercise that loads are read on, in the person's unit."""


@dataclass(frozen=True)
class ComingRow:
    """What comes next of an exercise, by its own guide."""

    name: str
    strip: Markup
    aim: str
    reason: str


@dataclass(frozen=True)
class MovedLoad:
    """What learning changed of one load, in words."""

    name: str
    before: str
    after: str
    low: str
    high: str


@dataclass(frozen=True)
class DoneExercise:
    """Sets of one exercise on a day; each with its load in words, and what it stood instead of."""

    name: str
    strip: Markup
    sets: tuple[tuple[LoggedSet, str, str], ...]


@dataclass(frozen=True)
class RecordAnswer:
    """A person's training over some days."""

    person: int
    unit: str
    asked: RecordRequest
    learning: bool
    learned: LogFindings | None
    flags: tuple[tuple[str, PainFlag], ...]
    """Pain that is watched, with the exercises it is of."""
    picture: Picture | None
    on_phone: Picture | None
    points: tuple[PointRow, ...]
    trend: Trend | None
    growth: str
    """How all that was done lately grows together, in a sentence."""
    records: tuple[PointRow, ...]
    """Those better than all before, newest first."""
    reference: str
    """On which exercise loads are read."""
    noticed: tuple[tuple[str, str, str], ...]
    """Exercise, what was seen, and what to try."""
    coming: tuple[ComingRow, ...]
    moved: tuple[MovedLoad, ...]
    recent: tuple[tuple[date, tuple[DoneExercise, ...]], ...]
    """The last days on which anything was done, newest first."""


def record(who: Trainee, means: Means, asked: RecordRequest) -> RecordAnswer:
    """Somebody's training over some days.

    Parameters
    ----------
    who : Trainee
        Whose it is.
    means : Means
        With what strips are drawn.
    asked : RecordRequest
        Whose line is drawn, and how far back it reaches.
    """
    days = min(max(asked.days, 7), MOST_DAYS)
    log = tuple(one for one in who.log if one.day >= who.today - timedelta(days=days))
    by_variant, facts = bouts(log), who.context.facts
    points = points_of(by_variant, facts, asked.group)
    noise, reference = who.noise, _reference(who, asked.group)
    found = trend_of(slope_of(said_of(by_variant, facts, asked.group), noise))
    growth = slope_of(lately(said_of(by_variant, facts)), noise)
    rows = {id(point): _point(who, reference, point) for point in points}
    desk, phone = _pictures(who, reference, points, found) if points else (None, None)
    return RecordAnswer(
        person=who.person,
        unit=who.profile.mass_unit,
        asked=asked.model_copy(update={"days": days}),
        learning=who.learning,
        learned=who.learned,
        flags=tuple((", ".join(map(who.name, flag.variants)), flag) for flag in who.pain.flags),
        picture=desk,
        on_phone=phone,
        points=tuple(rows.values()),
        trend=found,
        growth=growth.says if growth else "",
        records=tuple(rows[id(point)] for point in records_of(points)[::-1][:RECORDS]),
        reference=who.name(reference),
        noticed=tuple(
            (who.name(one.variant), one.says, one.tries)
            for one in notices(by_variant, facts, {}, who.profile.mass_unit, noise)[:NOTICED]
        ),
        coming=tuple(
            ComingRow(who.name(key), _strip(who, means, key), who.targets(target.straight), target.reason)
            for key, target in targets_by_guide(by_variant, who.context, who.pain, who.today).items()
        ),
        moved=_moved(who),
        recent=_recent(who, means, log),
    )


def unsettled(who: Trainee) -> tuple[UnsettledSet, ...]:
    """Sets that two devices wrote differently."""
    unit = who.profile.mass_unit
    return tuple(
        UnsettledSet(
            key=kept.set.key,
            version=other.number,
            name=who.name(kept.set.variant),
            kept=kept.set.told(unit),
            other="taking it back" if other.removed else other.set.told(unit),
        )
        for kept, other in logs.unsettled(who.db, who.viewer, who.person)
    )


def _strip(who: Trainee, means: Means, key: str) -> Markup:
    """An exercise's strip; nothing of one that cannot be done any more."""
    if key not in who.context.facts:
        return Markup()
    return strip_of(means.modeller, who.modelled(key), who.target(key))


def _reference(who: Trainee, group: str) -> str:
    """On which exercise loads of a group are read."""
    facts, usual = who.context.facts, REFERENCE[group]
    return usual if usual in facts else next(key for key, fact in facts.items() if fact.group == group)


def _worth(who: Trainee, reference: str, strength: float) -> float:
    """A strength as a load on the exercise that loads are read on, in the person's unit."""
    return load_at(strength, who.context.facts[reference]) / who.profile.kg_per_unit


def _point(who: Trainee, reference: str, point: EffortPoint) -> PointRow:
    worth = _worth(who, reference, point.strength)
    return PointRow(point.day, who.name(point.variant), who.sets([point.best]), worth)


def _pictures(
    who: Trainee, reference: str, points: Sequence[EffortPoint], found: Trend | None
) -> tuple[Picture, Picture]:
    """The line, drawn for a desk and for a phone."""
    unit, best = who.profile.mass_unit, {id(point) for point in records_of(points)}
    told = [
        TrendPoint(
            point.day,
            _worth(who, reference, point.strength),
            f"{who.name(point.variant)}: {point.best.told(unit)}",
            id(point) in best,
        )
        for point in points
    ]
    band = None
    if found is not None:
        middle = sum(point.strength for point in points) / len(points)
        ends = [middle * (1 + part) for part in (0.0, found.gain, found.low, found.high)]
        half = middle * found.gain / 2
        band = TrendBand(*(_worth(who, reference, end - half) for end in ends))
    on = lower_first(who.name(reference))
    return trend(told, band, unit, on, DESK), trend(told, band, unit, on, PHONE)


def _recent(
    who: Trainee, means: Means, log: Sequence[LoggedSet]
) -> tuple[tuple[date, tuple[DoneExercise, ...]], ...]:
    by: dict[date, dict[str, list[LoggedSet]]] = {}
    for one in log:
        by.setdefault(one.day, {}).setdefault(one.variant, []).append(one)
    return tuple(
        (
            day,
            tuple(
                DoneExercise(
                    who.name(key),
                    _strip(who, means, key),
                    tuple(
                        (one, who.load(one.load_kg), who.name(one.instead_of) if one.instead_of else "")
                        for one in sets
                    ),
                )
                for key, sets in by[day].items()
            ),
        )
        for day in sorted(by, reverse=True)[:RECENT]
    )


def _moved(who: Trainee) -> tuple[MovedLoad, ...]:
    """What learning changes of loads, most first: of what is done, and of what could be."""
    learned = who.learned
    if learned is None or not learned.factors:
        return ()
    plain = replace(who.planner, learned=None).context().facts
    told = {key: plain[key] for key in learned.factors if key in plain}
    loads = loads_of(told, learned, DEFAULT_EFFORT_REPS)
    before = {key: fact.load_for(DEFAULT_EFFORT_REPS, low=False) for key, fact in told.items()}
    moved = [key for key in told if abs(learned.factors[key].median - 1) >= LEAST_MOVED]
    moved.sort(key=lambda key: -abs(loads[key].median / max(abs(before[key]), 1) - 1))
    return tuple(
        MovedLoad(
            told[key].variant.name,
            *(
                who.load(round(kilograms, 1))
                for kilograms in (before[key], loads[key].median, loads[key].low, loads[key].high)
            ),
        )
        for key in moved[:MOVED]
    )
