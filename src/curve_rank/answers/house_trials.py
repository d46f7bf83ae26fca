"""Trials over people: nothing of the outcome before the day that was set, then the answer, whichever."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from typing import TYPE_CHECKING, Annotated

from curve_rank.answers.plain import SHAPES, to_digits
from curve_rank.errors import BadInputError
from curve_rank.house.coin import answer_of
from curve_rank.house.growth import GrowthLine
from curve_rank.house.release import of_trial
from curve_rank.practice.profile import day_in_words
from curve_rank.practice.rules import rule
from curve_rank.store import measures
from curve_rank.store.house import house_trials
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
