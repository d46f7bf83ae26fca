"""Today: the next session, or another one, with every target, its reason, and what may stand instead."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from functools import cached_property
from typing import Annotated, Any

from pydantic import Field, model_serializer

from curve_rank.answers.exercise_now import ExerciseNow, exercise_now
from curve_rank.answers.means import Means
from curve_rank.answers.people import Trainee, trainee
from curve_rank.answers.plain import SHAPES
from curve_rank.answers.record import UnsettledSet, unsettled
from curve_rank.answers.requests import Names, RequestForm, Whole
from curve_rank.answers.spoken import speaking_for
from curve_rank.answers.stretches import heads_trained
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import UnknownNameError
from curve_rank.house.forecasts import foretell
from curve_rank.practice.block import Block, Exercise, Session, Week
from curve_rank.practice.profile import DAY_BEGINS
from curve_rank.practice.rules import rule
from curve_rank.practice.session import SetTarget
from curve_rank.rating.joints import joints
from curve_rank.store import logs, measures, plans
from curve_rank.store.database import DbSession
from curve_rank.store.house import pooling
from curve_rank.store.house.forecasts import Foretold
from curve_rank.store.logs import SetAtVersion
from curve_rank.store.plans import KeptPlan
from curve_rank.store.viewers import Viewer
from curve_rank.training.circumference import due
from curve_rank.training.noticing import notices
from curve_rank.training.pain import PainFlag
from curve_rank.training.progression import NextTarget
from curve_rank.training.soreness import Soreness, soreness_of
from curve_rank.training.today import PAST, Ahead, ExerciseToday, exercises_today, targets_by_guide

Coming = tuple[NextTarget, tuple[SetTarget, ...]]
"""What comes next of an exercise, and its sets."""
AHEAD, MOST_AHEAD = timedelta(days=21), 12
"""How far ahead sessions are kept on a device, and how many at the most."""
FREE = Block(name="On its own", targets=("biceps_long",), weeks=(Week(sessions=(Session(day=0),)),))
"""What stands for a block where there is none."""


class TodayRequest(RequestForm):
    """Which session, counted from 1; without one the next. `also` adds exercises that nobody planned.

    `sore` names joints and muscle groups that are sore before it, `side` on which side.
    """

    block: Whole | None = None
    week: Whole | None = None
    session: Whole | None = None
    also: Annotated[Names, Field(max_length=6)] = ()
    sore: Annotated[Names, Field(max_length=12)] = ()
    side: str = ""


@dataclass(frozen=True)
class Moment:
    """Which session of which block: week and session counted from 0; without a plan, on its own."""

    plan: int | None
    block: Block
    week: int
    session: int

    @property
    def planned(self) -> Session:
        """The session as it is planned."""
        return self.block.weeks[self.week].sessions[self.session]


@dataclass(frozen=True)
class TodayAnswer:
    """A session as it is done today.

    Attributes
    ----------
    person : int
    unit : str
        In which they read loads.
    per_kg : float
        Of that unit.
    day : date
        The day it is where they are.
    moment : Moment
    planned : Session
        With what was added to it today.
    extra : tuple of str
        Exercises that were added today.
    exercises : tuple of ExerciseNow
    kept : tuple of SetAtVersion
        What has been logged today.
    stopped : tuple of PainFlag
        Pain that says stop.
    measuring : str
        Whether the arm is to be measured now: "start", "end" or nothing.
    could_add : tuple
        Ids and names of what can be done besides.
    unsettled : tuple of UnsettledSet
        Sets that two devices wrote differently.
    zone : str
        Of their clock, by which a device says what day it is.
    ahead : tuple of (int, int, date or None)
        Week, session and day of what is to be done of the block next, for days without a connection.
    stretch : tuple of str
        Heads that it trains, to be stretched after it.
    sore : Soreness
        What they say is sore, by which the session is bent.
    another_day : date, optional
        The next on which they could come, where something is sore and the session is one of a block.
    foretold : tuple of Foretold
        Of its first sets, where their log takes part in the house.
    """

    __pydantic_config__ = SHAPES

    person: int
    unit: str
    per_kg: float
    day: date
    moment: Moment
    planned: Session
    extra: tuple[str, ...]
    exercises: tuple[ExerciseNow, ...]
    kept: tuple[SetAtVersion, ...]
    stopped: tuple[PainFlag, ...]
    measuring: str
    could_add: tuple[tuple[str, str], ...]
    unsettled: tuple[UnsettledSet, ...]
    zone: str = "UTC"
    ahead: Ahead = ()
    stretch: tuple[str, ...] = ()
    sore: Soreness = field(default_factory=Soreness)
    another_day: date | None = None
    foretold: tuple[Foretold, ...] = ()

    @cached_property
    def order(self) -> list[tuple[int, int]]:
        """Places and sets in the order they are done: pairs and triples in turn."""
        at = {one.place: one for one in self.exercises}
        found = []
        for places in self.planned.rounds:
            rounds = max((len(at[place].sets) for place in places if place in at), default=0)
            for n in range(rounds):
                found += [(place, n + 1) for place in places if place in at and n < len(at[place].sets)]
        return found

    def as_script(self) -> dict[str, Any]:
        """For the script, and to be read without a connection."""
        moment = self.moment
        return {
            "person": self.person,
            "plan": moment.plan,
            "week": moment.week if moment.plan is not None else None,
            "session": moment.session if moment.plan is not None else None,
            "day": self.day.isoformat(),
            "zone": self.zone,
            "dayBegins": DAY_BEGINS.total_seconds() * 1000,
            "past": PAST,
            "stopAt": rule("pain.stop_at"),
            "ahead": [
                {"week": week, "session": session, "day": day.isoformat() if day else None}
                for week, session, day in self.ahead
            ],
            "unit": self.unit,
            "perKg": self.per_kg,
            "joints": {key: joint.name.lower() for key, joint in joints().items()},
            "exercises": [one.as_script() for one in self.exercises],
            "order": self.order,
            "kept": [one.set.model_dump(mode="json") | {"version": one.version} for one in self.kept],
        }

    @model_serializer
    def as_data(self) -> dict[str, Any]:
        """As it is handed out: what the script has, and why each target is what it is."""
        targets = {
            one.setup.id: {
                "action": one.target.action,
                "load": one.target.load,
                "reps": [each.reps for each in one.sets],
                "reason": one.target.reason,
            }
            for one in self.exercises
        }
        return self.as_script() | {"targets": targets}


def today(db: DbSession, viewer: Viewer, means: Means, asked: TodayRequest) -> TodayAnswer | None:
    """What a viewer does today; None for somebody whose size nobody knows.

    Raises
    ------
    UnknownNameError
        For a block that was not handed over to them, and a session that it does not have.
    StillDrawingError
        Where the draws are under way, and whoever asks is told so.
    """
    handed = plans.handed_to(db, viewer)
    if asked.block is not None:
        handed = tuple(plan for plan in handed if plan.id == asked.block)
        if not handed:
            raise UnknownNameError("block", asked.block, "one that was handed over to you")
    sore = soreness_of(asked.sore, asked.side)
    try:
        who = replace(trainee(db, viewer, viewer.person, means, handed[0] if handed else None), sore=sore)
    except UnknownNameError:
        return None
    for plan in handed:
        ahead = who.to_do_in(plan)
        at = _place(plan, asked, ahead)
        if at is not None:
            again = plan is not handed[0]
            own = replace(trainee(db, viewer, viewer.person, means, plan), sore=sore) if again else who
            return session_today(own, means, Moment(plan.id, plan.block, *at), asked.also, ahead)
    return session_today(who, means, Moment(None, FREE, 0, 0), asked.also)


def session_today(
    who: Trainee,
    means: Means,
    moment: Moment,
    also: tuple[str, ...] = (),
    ahead: Ahead = (),
) -> TodayAnswer:
    """A session as somebody does it today, with what was added to it, and what is to be done next."""
    facts, profile = who.context.facts, who.profile
    extra = tuple(key for key in also if key in facts)
    more = tuple(_extra(facts[key].variant) for key in extra)
    planned = moment.planned.model_copy(update={"exercises": moment.planned.exercises + more})
    done = exercises_today(
        moment.block, moment.week, planned, who.context, who.log, who.today, who.planner.loads, who.sore
    )
    rests = {one.planned.variant: float(one.planned.rest_s) for one in done}
    seen = notices(who.by_variant, facts, rests, profile.mass_unit, who.noise)
    noticed = {one.variant: one for one in reversed(seen)}
    taken = {one.planned.variant for one in done}
    measured = measures.sittings(who.db, who.viewer, who.person) if moment.plan is not None else ()
    return TodayAnswer(
        person=who.person,
        unit=profile.mass_unit,
        per_kg=1 / profile.kg_per_unit,
        day=who.today,
        moment=moment,
        planned=planned,
        extra=extra,
        exercises=tuple(exercise_now(one, who, means, taken, noticed) for one in done),
        kept=logs.kept_sets(who.db, who.viewer, who.person, since=who.today),
        stopped=who.pain.stopped,
        measuring=due(moment.block, who.today, [one.measure for one in measured])
        if moment.plan is not None
        else "",
        could_add=tuple(
            (key, fact.variant.name)
            for key, fact in facts.items()
            if key not in extra and who.context.there(fact)
        ),
        unsettled=unsettled(who),
        zone=profile.zone,
        ahead=tuple(one for one in ahead if one[2] is None or one[2] - who.today <= AHEAD)[:MOST_AHEAD],
        stretch=heads_trained(one.fact for one in done if one.sets),
        sore=who.sore,
        another_day=_another_day(who) if who.sore and moment.plan is not None else None,
        foretold=_foretold(who, done) if pooling.takes_part(who.db, who.person) else (),
    )


def _foretold(who: Trainee, done: Sequence[ExerciseToday]) -> tuple[Foretold, ...]:
    """What is foretold of a session's first sets."""
    room, (edition, _) = who.planner.room.name, speaking_for(who.db, who.person, who.today)
    found = []
    for one in done:
        if one.sets:
            load, rows = one.sets[0].load, who.by_variant.get(one.fact.variant.id, ())
            told = foretell(one.fact, rows, load, who.noise)
            if told is not None:
                expected, spread = (round(value, 3) for value in told)
                found.append(Foretold(one.fact.variant.id, load, room, edition, expected, spread))
    return tuple(found)


def _another_day(who: Trainee) -> date | None:
    """The next day, but for tomorrow, on which they can come: two days mend more than one."""
    later = (who.today + timedelta(days=n) for n in range(2, 8))
    return next((day for day in later if day.weekday() in who.profile.days), None)


def coming(who: Trainee) -> dict[str, Coming]:
    """What comes next of each exercise, and its sets: of the next session of a block that somebody does.

    Without one it is of whatever they did, on their room's steps.
    """
    for plan in plans.done_by(who.db, who.viewer, who.person):
        at = who.next_in(plan)
        if at is not None:
            planned, loads = plan.block.weeks[at[0]].sessions[at[1]], plan.member(who.person).loads
            done = exercises_today(plan.block, at[0], planned, who.context, who.log, who.today, loads)
            return {one.planned.variant: (one.target, one.sets) for one in done}
    by_guide = targets_by_guide(who.by_variant, who.context, who.pain, who.today)
    return {key: (target, target.straight) for key, target in by_guide.items()}


def _place(plan: KeptPlan, asked: TodayRequest, ahead: Ahead) -> tuple[int, int] | None:
    """Which session of a block: the one that is named, else the first ahead; None where it is over."""
    if asked.week is None or asked.session is None:
        return next((one[:2] for one in ahead), None)
    week, session, weeks = asked.week - 1, asked.session - 1, plan.block.weeks
    if not (0 <= week < len(weeks) and 0 <= session < len(weeks[week].sessions)):
        raise UnknownNameError("session", f"week {asked.week}, {asked.session}", "one of the block's")
    return week, session


def _extra(variant: Variant) -> Exercise:
    """An exercise that nobody planned, by its own guide."""
    low, high = (min(reps, 30) for reps in (variant.guide.reps_from, variant.guide.reps_to))
    return Exercise(variant=variant.id, sets=3, reps_from=low, reps_to=high)
