"""Trials over people: nothing of the outcome before the day that was set, then the answer, whichever."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import TYPE_CHECKING, Annotated

from curve_rank.answers.plain import SHAPES, to_digits
from curve_rank.errors import BadInputError
from curve_rank.house.coin import answer_of, answer_of_all
from curve_rank.house.growth import GrowthLine, Together, with_others
from curve_rank.house.release import difference_told, of_trial, release_from
from curve_rank.practice.profile import day_in_words
from curve_rank.practice.rules import rule
from curve_rank.store import measures
from curve_rank.store.house import house_trials, other_houses
from curve_rank.store.house.house_trials import HouseTrial
from curve_rank.training.circumference import compare

if TYPE_CHECKING:
    from curve_rank.store.database import DbSession
    from curve_rank.store.viewers import Viewer


@dataclass(frozen=True)
class HouseTrialAnswer:
    """A trial, and from its day on what it found."""

    __pydantic_config__ = SHAPES

    id: int
    name: str
    ways: tuple[str, str]
    difference_cm: Annotated[float, to_digits(2)]
    size: int
    begins: str
    looks_on: str
    people: tuple[int, int]
    open: bool
    measured: int
    slope_cm: Annotated[float | None, to_digits(2)]
    low_cm: Annotated[float | None, to_digits(2)]
    high_cm: Annotated[float | None, to_digits(2)]
    says: str


def house_trial_answer(
    db: DbSession, viewer: Viewer, number: int, today: date | None = None
) -> tuple[HouseTrial, HouseTrialAnswer]:
    """One of the viewer's own trials.

    Raises
    ------
    UnknownNameError
    """
    trial = house_trials.house_trial(db, viewer, number)
    is_open = (today or datetime.now(UTC).date()) >= trial.looks_on
    changes = _changes(db, viewer, trial) if is_open else []
    line = answer_of(changes) if is_open else None
    return trial, HouseTrialAnswer(
        id=trial.id,
        name=trial.name,
        ways=trial.ways,
        difference_cm=trial.difference_cm,
        size=trial.size,
        begins=trial.begins.isoformat(),
        looks_on=trial.looks_on.isoformat(),
        people=(sum(one[2] == 0 for one in trial.people), sum(one[2] == 1 for one in trial.people)),
        open=is_open,
        measured=len(changes),
        slope_cm=line.slope if line else None,
        low_cm=line.low if line else None,
        high_cm=line.high if line else None,
        says=_says(trial, line, is_open=is_open),
    )


@dataclass(frozen=True)
class TrialsSeen:
    """What trials by coin say of a claim about growth, here and elsewhere.

    Attributes
    ----------
    looked_at, waiting : int
        Trials of it here: of those that wait for their day nothing is said.
    measured : int
        People measured at both ends.
    slope_cm, low_cm, high_cm : float or None
        The first way over the second, with the 95 % interval, all that were looked at in one line.
    says : str
    others : int
        Other houses that told of it.
    together : Together or None
        Both, weighed; None where no other house told of it.
    """

    looked_at: int
    waiting: int
    measured: int
    slope_cm: Annotated[float | None, to_digits(2)]
    low_cm: Annotated[float | None, to_digits(2)]
    high_cm: Annotated[float | None, to_digits(2)]
    says: str
    others: int
    together: Together | None


def trials_seen(db: DbSession, viewer: Viewer, claim: str, today: date) -> TrialsSeen:
    """What trials of a claim say together."""
    there = [one for one in house_trials.house_trials(db, viewer) if one.claim == claim]
    done = [one for one in there if today >= one.looks_on]
    changes = [_changes(db, viewer, trial) for trial in done]
    line = answer_of_all(changes)
    others = [
        difference_told(release_from(json.loads(one.content)))
        for one in other_houses.other_houses(db, viewer)
        if one.claim == claim
    ]
    if line is None:
        says = "too few people were measured at both ends" if done else "no trial here has been looked at"
    else:
        says = line.says
    return TrialsSeen(
        looked_at=len(done),
        waiting=len(there) - len(done),
        measured=sum(map(len, changes)),
        slope_cm=line.slope if line else None,
        low_cm=line.low if line else None,
        high_cm=line.high if line else None,
        says=says,
        others=len(others),
        together=with_others(line, others) if others else None,
    )


def told_of_trial(db: DbSession, viewer: Viewer, number: int, today: date) -> list[dict[str, float]]:
    """What each person of one of the viewer's trials says of its difference, from its day on.

    Raises
    ------
    UnknownNameError, BadInputError
        Before that day.
    """
    trial = house_trials.house_trial(db, viewer, number)
    if today < trial.looks_on:
        raise BadInputError("trial", trial.name, f"one that has been looked at: {trial.looks_on.isoformat()}")
    return of_trial(_changes(db, viewer, trial))


def _says(trial: HouseTrial, line: GrowthLine | None, *, is_open: bool) -> str:
    if not is_open:
        day = f"{day_in_words(trial.looks_on)} {trial.looks_on.year}"
        return f"nothing of the outcome is shown before {day}"
    if line is None:
        return "too few people were measured at both ends"
    if not line.differs:
        short = (
            f"; {trial.size} would have shown {trial.difference_cm:g} cm" if line.people < trial.size else ""
        )
        return f"no difference that {line.people} people could show{short}"
    return f"“{trial.ways[0 if line.slope > 0 else 1]}” made arms grow more"


def _changes(db: DbSession, viewer: Viewer, trial: HouseTrial) -> list[tuple[int, int, float, float]]:
    """Person, way, change of the flexed arm and its error [cm], of everyone measured at both ends."""
    window = timedelta(days=rule("circumference.window_days"))
    found = []
    for person, _, way in trial.people:
        rows = [one.measure for one in measures.sittings(db, viewer, person)]
        first = [one for one in rows if abs(one.day - trial.begins) <= window]
        last = [one for one in rows if abs(one.day - trial.looks_on) <= window]
        if first and last:
            flexed = next(one for one in compare(first[0], last[-1], rows) if one.state == "flexed")
            if not {"side", "site"} & set(flexed.alike):
                found.append((person, way, flexed.change, flexed.error))
    return found
