"""Learning a person in the background: started when a log has changed, kept with the state it is of."""

from __future__ import annotations

import hashlib
import json
from contextlib import suppress
from dataclasses import replace
from datetime import UTC, datetime
from functools import partial

from curve_rank.answers.desk import Desk
from curve_rank.answers.means import Means
from curve_rank.answers.people import planner_for
from curve_rank.answers.spoken import speaking_for
from curve_rank.background.learning import LearnRun, Lesson
from curve_rank.errors import BusyError, CurveRankError
from curve_rank.house.shift import as_a_house_strays
from curve_rank.rating.draws import fixed_draws
from curve_rank.store import logs, people
from curve_rank.store.database import DbSession
from curve_rank.store.tables import TrainingState
from curve_rank.store.viewers import Viewer
from curve_rank.training.learning import LogFindings, learned_data
from curve_rank.training.today import LOOKED_BACK

WAY = "conditioned, growth as seen"
"""How is learned: what was learned another way is learned anew."""


def learn_soon(desk: Desk, db: DbSession, viewer: Viewer, means: Means, person: int) -> LearnRun | None:
    """Learn a person anew where their log has changed since; None where it has not, or learning is off."""
    state = logs.states_of(db, [person]).get(person)
    if state is None or not state.learning:
        return None
    with suppress(CurveRankError):  # somebody without a body cannot be learned
        lesson = lesson_of(db, viewer, means, person, state)
        if lesson is None:
            return None

        def keep(done: Lesson, learned: LogFindings) -> None:
            with desk.store.writing() as writing:
                logs.keep_learned(writing, person, json.dumps(learned_data(learned)), done.key)

        with suppress(BusyError):
            return desk.learning.start(lesson, keep)
    return None


def lesson_of(
    db: DbSession, viewer: Viewer, means: Means, person: int, state: TrainingState
) -> Lesson | None:
    """What a person is learned from; None where that is what was learned from already.

    Raises
    ------
    CurveRankError
    """
    planner = planner_for(db, viewer, person, means, learned=False)
    planner = replace(planner, draw=lambda vs, body, effort: fixed_draws(vs, body, effort, means.modeller))
    today = planner.profile.day_at(datetime.now(UTC))
    edition, shift = speaking_for(db, person, today)
    mark = hashlib.sha256(f"{planner.body!r}{edition}".encode()).hexdigest()[:16]
    key = f"{WAY} {state.revision} {today.isocalendar().week} {mark}"
    if key == state.learned_key:
        return None
    log = logs.log_of(db, viewer, person, since=today - LOOKED_BACK)
    known = people.person(db, viewer, person).bodies[-1].known_variant or ""
    house = partial(as_a_house_strays, shift=shift) if shift else None
    return Lesson(person, key, planner, log, today, known, state.confirmed, house)
