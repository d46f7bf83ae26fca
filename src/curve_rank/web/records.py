"""A person's training as they and their coach both see it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cached_property

from markupsafe import Markup

from curve_rank.answers.people import Trainee
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS
from curve_rank.figures.svg import svg
from curve_rank.figures.trend import TrendBand, TrendPoint, trend
from curve_rank.training.learning import loads_of
from curve_rank.training.log import Bout, LoggedSet, bouts
from curve_rank.training.noticing import Notice, notices
from curve_rank.training.progression import NextTarget
from curve_rank.training.same_effort import (
    REFERENCE,
    EffortPoint,
    Trend,
    load_at,
    points_of,
    records_of,
    trend_of,
)
from curve_rank.training.today import targets_by_guide

LEAST_MOVED = 0.03
"""A load that learning moves by less is not told of [1]."""


@dataclass(frozen=True)
class Moved:
    """What learning changed of one load [kg]."""

    name: str
    before: float
    after: float
    low: float
    high: float


@dataclass(frozen=True)
class DayDone:
    """One day of training: its exercises, each with its sets."""

    day: date
    exercises: tuple[tuple[str, tuple[LoggedSet, ...]], ...]


@dataclass(frozen=True)
class TrainingView:
    """A person's training over some days.

    Attributes
    ----------
    who : Trainee
    group : str
        Whose line is drawn.
    days : int
        How far back it reaches.
    """

    who: Trainee
    group: str
    days: int

    @cached_property
    def log(self) -> tuple[LoggedSet, ...]:
        """Sets of those days."""
        since = self.who.today - timedelta(days=self.days)
        return tuple(one for one in self.who.log if one.day >= since)

    @cached_property
    def by_variant(self) -> dict[str, tuple[Bout, ...]]:
        """The same by exercise."""
        return bouts(self.log)

    @cached_property
    def points(self) -> tuple[EffortPoint, ...]:
        """The group's line."""
        return points_of(self.by_variant, self.who.context.facts, self.group)

    @property
    def records(self) -> tuple[EffortPoint, ...]:
        """Those better than all before, newest first."""
        return records_of(self.points)[::-1]

    @cached_property
    def trend(self) -> Trend | None:
        """Their trend."""
        return trend_of(self.points)

    @cached_property
    def noticed(self) -> tuple[Notice, ...]:
        """What a coach would see."""
        return notices(self.by_variant, self.who.context.facts, {}, self.who.profile.mass_unit)

    @property
    def reference(self) -> str:
        """On which exercise loads are read."""
        facts = self.who.context.facts
        usual = REFERENCE[self.group]
        return usual if usual in facts else next(k for k, f in facts.items() if f.group == self.group)

    def reference_load(self, strength: float) -> float:
        """A strength as a load on that exercise, in the person's unit."""
        kilograms = load_at(strength, self.who.context.facts[self.reference])
        return kilograms / self.who.profile.kg_per_unit

    def picture(self) -> Markup:
        """The line, drawn."""
        facts, unit = self.who.context.facts, self.who.profile.mass_unit
        best = {id(point) for point in records_of(self.points)}
        told = [
            TrendPoint(
                point.day,
                self.reference_load(point.strength),
                f"{facts[point.variant].variant.name}: {point.best.told(unit)}",
                id(point) in best,
            )
            for point in self.points
        ]
        band = None
        if self.trend is not None:
            middle = sum(point.strength for point in self.points) / len(self.points)
            ends = [middle * (1 + part) for part in (0.0, self.trend.gain, self.trend.low, self.trend.high)]
            half = middle * self.trend.gain / 2
            band = TrendBand(*(self.reference_load(end - half) for end in ends))
        name = facts[self.reference].variant.name.lower()
        return Markup(svg(trend(told, band, unit, name)))  # the writer escapes whatever stands in it

    @cached_property
    def recent(self) -> tuple[DayDone, ...]:
        """The last days on which anything was done, newest first."""
        by: dict[date, dict[str, list[LoggedSet]]] = {}
        for one in self.log:
            by.setdefault(one.day, {}).setdefault(one.variant, []).append(one)
        days = sorted(by, reverse=True)[:12]
        return tuple(DayDone(day, tuple((v, tuple(sets)) for v, sets in by[day].items())) for day in days)

    @cached_property
    def targets(self) -> dict[str, NextTarget]:
        """What comes next of each exercise that was done, by its own guide."""
        return targets_by_guide(self.by_variant, self.who.context, self.who.pain, self.who.today)

    @cached_property
    def moved(self) -> tuple[Moved, ...]:
        """What learning changes of loads, most first: of what is done, and of what could be."""
        learned = self.who.learned
        if learned is None or not learned.factors:
            return ()
        plain = replace(self.who.planner, learned=None).context().facts
        told = {key: plain[key] for key in learned.factors if key in plain}
        found = [
            Moved(
                fact.variant.name,
                fact.load_for(DEFAULT_EFFORT_REPS, low=False),
                load.median,
                load.low,
                load.high,
            )
            for (key, load), fact in zip(
                loads_of(told, learned, DEFAULT_EFFORT_REPS).items(), told.values(), strict=True
            )
            if abs(learned.factors[key].median - 1) >= LEAST_MOVED
        ]
        return tuple(sorted(found, key=lambda one: -abs(one.after / max(abs(one.before), 1) - 1)))
