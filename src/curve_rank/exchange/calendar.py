"""A block as an iCalendar file, on somebody's own clock."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime, time, timedelta

from icalendar import Calendar, Event

from curve_rank.errors import BadInputError
from curve_rank.practice.block import Block
from curve_rank.practice.plan_warnings import PlanContext
from curve_rank.practice.session import seconds_of, targets_in_words
from curve_rank.training.planning import session_plan

PRODUCT = "-//Curve Rank//block//EN"


def calendar(
    block: Block,
    context: PlanContext,
    loads: Mapping[str, float],
    *,
    key: str,
    said_at: datetime | None = None,
) -> bytes:
    """Every session as an event at the person's own hour, across changes to summer time.

    Parameters
    ----------
    block : Block
        With the day it begins.
    context : PlanContext
        What it is planned in: facts of the exercises, room and profile.
    loads : mapping
        Set by hand, by variant id [kg].
    key : str
        By which the same session is known again in a later file.
    said_at : datetime, optional
        When the file is made; now.

    Raises
    ------
    BadInputError
        Where nobody has said when the block begins.
    """
    if block.start is None:
        raise BadInputError("start", None, "the Monday on which the block begins, set on its page")
    made = Calendar()
    made.add("prodid", PRODUCT)
    made.add("version", "2.0")
    made.add("x-wr-calname", block.name)
    zone = context.profile.clock
    hour = time.fromisoformat(context.profile.at)
    for w, s, session in block.sessions:
        day = block.start + timedelta(days=7 * w + session.day)
        begins = datetime.combine(day, hour, tzinfo=zone)
        known = [one for one in session.exercises if one.variant in context.facts]
        shown = session.model_copy(update={"exercises": tuple(known)})
        lasts = timedelta(minutes=round(seconds_of(shown, context.facts, stretches=block.stretches) / 60))
        event = Event()
        event.add("uid", f"{key}-{w + 1}-{s + 1}@curve-rank")
        event.add("dtstamp", said_at or datetime.now(UTC))
        event.add("dtstart", begins)
        event.add("dtend", (begins.astimezone(UTC) + lasts).astimezone(zone))
        event.add("summary", f"{block.name}: session {s + 1}, week {w + 1}")
        lines = []
        for done in session_plan(block, w, shown, context, loads):
            if done is not None:
                sets = targets_in_words(done.sets, context.profile.mass_unit)
                lines.append(f"{context.facts[done.variant].variant.name}: {sets}")
        event.add("description", "\n".join(lines))
        made.add_component(event)
    year = timedelta(days=366)
    ends = block.start + timedelta(weeks=len(block.weeks))
    made.add_missing_timezones(first_date=block.start - year, last_date=ends + year)
    return bytes(made.to_ical())
