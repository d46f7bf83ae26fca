"""A shared block as one of those who do it bends it: own exercises in places, own days; all else is shared.

A bend names what it bends by what stands in the shared line, an exercise by its variant and a session by its
day, so that it goes on holding when the line is edited. What the line has no more, it leaves alone.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from curve_rank.errors import BadInputError
from curve_rank.practice.block import Block, Exercise, Session, Week, back_to_back
from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import WEEKDAYS, Weekday
from curve_rank.validation import validated

VariantId = Annotated[str, Field(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$", max_length=60)]
Reps = Annotated[int, Field(ge=1, le=30)]


class OwnExercise(BaseModel):
    """What somebody does in an exercise's place, in its own repetitions."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    variant: VariantId
    reps_from: Reps
    reps_to: Reps


class Bends(BaseModel):
    """How somebody's block differs from the shared line.

    Attributes
    ----------
    exercises : mapping
        By the line's variant, what is done in its place.
    days : mapping
        By the line's weekday, the day on which that session is done.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    exercises: Annotated[dict[VariantId, OwnExercise], Field(max_length=40)] = {}
    days: Annotated[dict[Weekday, Weekday], Field(max_length=7)] = {}

    def of(self, block: Block) -> Block:
        """The block as it is bent: session for session and place for place as the shared one."""
        weeks = tuple(self._week(week) for week in block.weeks)
        return block if weeks == block.weeks else block.model_copy(update={"weeks": weeks})

    def _week(self, week: Week) -> Week:
        days = self.days_in(tuple(session.day for session in week.sessions))
        sessions = tuple(
            session.model_copy(update={"day": day, "exercises": tuple(map(self.exercise, session.exercises))})
            for session, day in zip(week.sessions, days, strict=True)
        )
        return week.model_copy(update={"sessions": sessions})

    def days_in(self, shared: tuple[int, ...]) -> tuple[int, ...]:
        """On which day each session of a week is done; as shared where own days would change their order."""
        own = tuple(self.days.get(day, day) for day in shared)
        return own if list(own) == sorted(set(own)) else shared

    def exercise(self, one: Exercise) -> Exercise:
        """What is done in an exercise's place."""
        return (
            one.model_copy(update=dict(self.exercises[one.variant])) if one.variant in self.exercises else one
        )


def read_bends(data: object) -> Bends:
    """Bends from plain data, as they are kept.

    Raises
    ------
    BadInputError
    """
    return validated(Bends, data or {}, "bends")


def with_exercise(bends: Bends, block: Block, key: str, own: str, facts: Mapping[str, Facts]) -> Bends:
    """With an own exercise in a variant's place, or as shared again where none is named.

    Parameters
    ----------
    bends : Bends
        As they were.
    block : Block
        The shared line.
    key, own : str
        The line's variant, and what stands in its place; the same or empty for as shared.
    facts : mapping
        Of all that they can do.

    Raises
    ------
    BadInputError
        Where the line has no such exercise, they cannot do the other, or a session of theirs has it already.
    """
    sessions = [bent for _, _, session in block.sessions if (bent := _without(session, key)) is not None]
    if not sessions:
        raise BadInputError("exercise", key, "one that the block has")
    rest = {name: one for name, one in bends.exercises.items() if name != key}
    if own in ("", key):
        return bends.model_copy(update={"exercises": rest})
    if own not in facts:
        raise BadInputError("own", own, "one that this body can do, in this room, with these joints")
    others = Bends(exercises=rest)
    if any(own in {one.variant for one in map(others.exercise, left)} for left in sessions):
        name = facts[own].variant.name
        raise BadInputError("own", name, "one that is not in that session already")
    guide = facts[own].variant.guide
    made = OwnExercise(variant=own, reps_from=guide.reps_from, reps_to=guide.reps_to)
    return bends.model_copy(update={"exercises": rest | {key: made}})


def _without(session: Session, key: str) -> list[Exercise] | None:
    """The other exercises of a session that has a variant; None where it has not."""
    left = [one for one in session.exercises if one.variant != key]
    return left if len(left) < len(session.exercises) else None


def with_day(bends: Bends, block: Block, day: int, own: int) -> Bends:
    """With an own day for the sessions of a weekday, or as shared again where it is the same.

    Raises
    ------
    BadInputError
        Where the block has none on that day, the order of the sessions would change, or two would touch.
    """
    weeks = [week for week in block.weeks if any(session.day == day for session in week.sessions)]
    if not weeks:
        raise BadInputError("day", WEEKDAYS[day], "a day on which the block has a session")
    days = {key: value for key, value in bends.days.items() if key != day} | (
        {day: own} if own != day else {}
    )
    made = bends.model_copy(update={"days": days})
    for week in weeks:
        shared = tuple(session.day for session in week.sessions)
        then = tuple(days.get(one, one) for one in shared)
        if made.days_in(shared) != then:
            right = "a day that no other session of theirs has, and that leaves the sessions in their order"
            raise BadInputError("own day", WEEKDAYS[own], right)
        if not block.override and any(own in pair for pair in back_to_back(then)):
            right = "a day with a rest day before and after; or give the block a reason why none is needed"
            raise BadInputError("own day", WEEKDAYS[own], right)
    return made
