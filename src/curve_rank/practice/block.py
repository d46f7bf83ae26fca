"""A block of weeks: what is done on which day, as a document; loads are worked out for each client."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import astuple
from datetime import date, timedelta
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from curve_rank.arm.tempo import Tempo
from curve_rank.errors import BadInputError
from curve_rank.practice.profile import Weekday
from curve_rank.validation import seen, validated

MOST_EXERCISES = 12
KINDS = ("straight", "ramp", "pyramid")
LETTERS = "ABCDEF"


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Exercise(_Part):
    """One exercise of a session.

    Attributes
    ----------
    variant : str
    kind : str
        Straight sets at one load; a ramp to a heaviest set; a pyramid up and down.
    sets, warm_up : int
        Working sets, and light ones before.
    reps_from, reps_to : int
    rest_s : int
        After each set; inside a pair after each round [s].
    tempo : str
        Lower, pause, lift, squeeze, as in 3-1-1-0 [s]; empty for the variant's own.
    group : str
        A letter that pairs and triples share; empty where it stands alone.
    finisher : str
        Key of a rep scheme for the last set; empty for none.
    note : str
    """

    variant: Annotated[str, Field(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$", max_length=60)]
    kind: Literal["straight", "ramp", "pyramid"] = "straight"
    sets: Annotated[int, Field(ge=1, le=8)] = 3
    warm_up: Annotated[int, Field(ge=0, le=7)] = 0
    reps_from: Annotated[int, Field(ge=1, le=30)] = 8
    reps_to: Annotated[int, Field(ge=1, le=30)] = 12
    rest_s: Annotated[int, Field(ge=0, le=600)] = 90
    tempo: Annotated[str, Field(max_length=30)] = ""
    group: Annotated[str, Field(pattern=r"^[A-F]?$")] = ""
    finisher: Annotated[str, Field(max_length=40)] = ""
    note: Annotated[str, Field(max_length=200)] = ""

    @field_validator("note")
    @classmethod
    def _can_be_seen(cls, text: str) -> str:
        return seen(text)

    @field_validator("tempo")
    @classmethod
    def _is_a_tempo(cls, text: str) -> str:
        try:
            return text and "-".join(f"{part:g}" for part in astuple(Tempo.parse(text)))
        except BadInputError as error:
            raise ValueError(f"a tempo, as in 3-1-1-0 ({error.expected})") from error

    @property
    def mean_reps(self) -> float:
        """The middle of its repetitions."""
        return (self.reps_from + self.reps_to) / 2

    @model_validator(mode="after")
    def _range_rises(self) -> Exercise:
        if self.reps_to < self.reps_from:
            raise ValueError(f"reps_to must be at least reps_from ({self.reps_from})")
        return self


class Session(_Part):
    """One day's exercises, in order."""

    day: Weekday
    exercises: Annotated[tuple[Exercise, ...], Field(max_length=MOST_EXERCISES)] = ()

    @property
    def rounds(self) -> list[list[int]]:
        """Places of exercises that are done together: one alone, or the neighbours that share a letter."""
        found: list[list[int]] = []
        for n, one in enumerate(self.exercises):
            before = self.exercises[n - 1] if n else None
            if before is not None and one.group and one.group == before.group:
                found[-1].append(n)
            else:
                found.append([n])
        return found


class Week(_Part):
    """A week's sessions by day; an easier one has fewer sets, further from failure."""

    sessions: Annotated[tuple[Session, ...], Field(max_length=7)]
    easier: bool = False


class Block(_Part):
    """A plan of some weeks.

    Attributes
    ----------
    name : str
    targets : tuple of str
        What it is for.
    lens : str
        By which swaps are sought.
    weeks : tuple of Week
    minutes : int
        A session.
    low, high : float
        Hard sets a week that every head of the targets should have.
    stretches : bool
        About half a minute, a few rounds, after each session.
    override : str
        Why there need be no rest day between; empty where there is one.
    start : date, optional
        The Monday of its first week.
    """

    schema_version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=80)]
    targets: Annotated[tuple[str, ...], Field(min_length=1, max_length=8)]
    lens: str = "long_length"
    weeks: Annotated[tuple[Week, ...], Field(min_length=1, max_length=12)]
    minutes: Annotated[int, Field(ge=10, le=180)] = 50
    low: Annotated[float, Field(ge=0, le=40)] = 8.0
    high: Annotated[float, Field(ge=0, le=60)] = 16.0
    stretches: bool = False
    override: Annotated[str, Field(max_length=200)] = ""
    start: date | None = None

    @field_validator("name", "override")
    @classmethod
    def _can_be_seen(cls, text: str) -> str:
        return seen(text)

    @field_validator("start")
    @classmethod
    def _is_a_monday(cls, day: date | None) -> date | None:
        if day is not None and day.weekday() != 0:
            raise ValueError("a Monday")
        return day

    @property
    def text(self) -> str:
        """As it is kept: the same block is the same text, to the byte."""
        return self.model_dump_json()

    @property
    def variants(self) -> set[str]:
        """Every exercise that is in it."""
        return {one.variant for _, _, session in self.sessions for one in session.exercises}

    @property
    def sessions(self) -> Iterator[tuple[int, int, Session]]:
        """Every session with its week and its place in it."""
        for w, week in enumerate(self.weeks):
            for s, session in enumerate(week.sessions):
                yield w, s, session


def next_monday(today: date) -> date:
    """The Monday after a day: a block begins with a week."""
    return today + timedelta(days=7 - today.weekday())


def checked(data: object) -> Block:
    """A block from plain data.

    Raises
    ------
    BadInputError
    """
    return validated(Block, data, "block")


def with_values(block: Block, **values: object) -> Block:
    """A block with other values, each of them checked.

    Raises
    ------
    BadInputError
        Where a value is none, with the field's name.
    """
    return validated(Block, dict(block) | values, "")


def back_to_back(days: tuple[int, ...]) -> tuple[tuple[int, int], ...]:
    """Pairs of training days with no day between; Sunday and Monday are neighbours too."""
    there = sorted(set(days))
    return tuple((a, (a + 1) % 7) for a in there if (a + 1) % 7 in there)
