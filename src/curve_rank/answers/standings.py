"""What a coach sees of all clients: those who need them first, each with what for."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from curve_rank.answers.means import Library
from curve_rank.answers.noise import noise_here
from curve_rank.errors import UnavailableError
from curve_rank.practice.profile import ClientProfile
from curve_rank.store import comments, logs, outlines, profiles
from curve_rank.store.database import DbSession, Store
from curve_rank.store.outlines import BlockOutline
from curve_rank.store.tables import Person, TrainingState
from curve_rank.training.attention import (
    MISSED_DAYS,
    Alert,
    Summary,
    alerts,
    gravity,
    summary_data,
    summary_from,
    summary_of,
)
from curve_rank.training.slopes import Noise

WAY = "slope and scatter"
"""How a log is summed up: what was made another way is made anew."""
LOOKED_AT = timedelta(days=70)
"""How far back a log is read for what a coach is told first."""


@dataclass(frozen=True)
class Standing:
    """One client, as they stand."""

    person: Person
    profile: ClientProfile
    alerts: tuple[Alert, ...]
    last: date | None
    block: BlockOutline | None


def standings(
    store: Store, db: DbSession, library: Library, people: Sequence[Person], now: datetime
) -> tuple[Standing, ...]:
    """Every client with what needs looking at, the gravest first.

    Parameters
    ----------
    store : Store
        Where summaries that had to be made anew are kept.
    db : DbSession
        The open database.
    library : Library
        What the coach has.
    people : sequence of Person
        The clients, whom the coach may see.
    now : datetime
        Each of them is looked at on the day it is where they are.
    """
    numbers = [person.id for person in people]
    known = profiles.profiles_of(db, people)
    days = {person.id: known[person.id].day_at(now) for person in people}
    first = min(days.values(), default=now.date())
    units = {number: profile.mass_unit for number, profile in known.items()}
    summaries = _summaries(store, db, library, people, units, first)
    asked = comments.unanswered(db, numbers)
    planned = outlines.outlines(db, numbers)
    done = outlines.done_since(db, numbers, first - timedelta(days=MISSED_DAYS))
    found = []
    for person in people:
        today = days[person.id]
        outline = planned.get(person.id)
        under_way = outline is not None and outline.under_way(today)
        summary = summaries[person.id]
        told = alerts(
            summary,
            today,
            missed=outline.missed(done.get(person.id, set()), today, MISSED_DAYS) if outline else 0,
            unanswered=asked.get(person.id),
            planned=under_way,
        )
        found.append(Standing(person, known[person.id], told, summary.last, outline if under_way else None))
    return tuple(sorted(found, key=lambda one: (gravity(one.alerts), one.person.name)))


def _summaries(
    store: Store,
    db: DbSession,
    library: Library,
    people: Sequence[Person],
    units: Mapping[int, str],
    today: date,
) -> dict[int, Summary]:
    """Kept ones, and those of logs that have changed since made anew."""
    states, noise = logs.states_of(db, [person.id for person in people]), noise_here(db)
    found = {person.id: Summary() for person in people}
    stale = []
    for person in people:
        state = states.get(person.id)
        if state is None:
            continue
        if state.summary and state.summary_key == _key(state, units[person.id], noise):
            found[person.id] = summary_from(json.loads(state.summary))
        else:
            stale.append(person)
    if stale:
        made = logs.logs_since(db, [person.id for person in stale], today - LOOKED_AT)
        hung = frozenset(v.id for v in library.variants if "body_weight" in v.equipment.loads)
        for person in stale:
            mass = person.bodies[-1].mass_kg if person.bodies else 0.0
            found[person.id] = summary_of(made[person.id], mass, hung, units[person.id], noise)
        kept = {
            person.id: (
                json.dumps(summary_data(found[person.id])),
                _key(states[person.id], units[person.id], noise),
            )
            for person in stale
        }
        with suppress(UnavailableError), store.writing() as writing:  # it can be made again
            for number, (content, key) in kept.items():
                logs.keep_summary(writing, number, content, key)
    return found


def _key(state: TrainingState, unit: str, noise: Noise) -> str:
    """Of which state of a log, in whose words, in which noise, and made how a summary is."""
    return f"{WAY} {state.revision} {unit} {noise.own:g} {noise.day:g} {noise.week:g}"
