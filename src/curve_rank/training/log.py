"""What was done: one logged set as a document, and a log put together by exercise and day."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from curve_rank.practice.profile import day_in_words, load_shown, loads_in_words
from curve_rank.rating.joints import joints
from curve_rank.validation import seen, validated

KINDS = ("working", "warm_up", "assisted", "lowering", "partial", "drop", "rest_pause")
GAVE_OUT = ("", "target", "other_muscle", "grip", "wrist", "breath")
SIDES = ("", "left", "right")
MOST_TRUSTED_REPS = 25
"""Repetitions to failure beyond which a set says little about strength."""
Side = Literal["", "left", "right"]
Key = Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{8,64}$")]
Place = Annotated[int, Field(ge=0, le=400)]


class LoggedSet(BaseModel):
    """One set that somebody did.

    Attributes
    ----------
    key : str
        Made where it was written down, so that it is kept once however often it is sent.
    day : date
        Where they were.
    variant : str
    side : str
        Of one-arm work.
    set : int
        Counted from 1, in an exercise.
    load_kg : float
        As the variant counts it; below zero is help.
    reps : int
    reserve : int, optional
        Repetitions that were left; None where nobody said.
    kind : str
        "assisted" is with a partner's help, "lowering" lowering alone, "partial" not the whole range; "drop"
        and "rest_pause" go on from the set before them, lighter or after a few breaths.
    done : str
        How strictly: "little_help" is with a little from trunk and elbows.
    gave_out : str
        What gave out first.
    soreness : int
        Of the muscle, 0 to 3; not pain.
    pain_joint, pain : str, int
        Where it hurt, and how much of 10.
    sharp : bool
        Sharp or sudden.
    guessed : bool
        Written down afterwards, from memory.
    as_planned : bool
        What was left is what was planned, and nobody said so: no evidence of strength.
    note : str
    plan, week, session, place : int, optional
        The block's number, and where in it, from 0.
    instead_of : str
        The planned variant, where it was swapped.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    key: Key
    day: date
    variant: Annotated[str, Field(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$", max_length=60)]
    side: Side = ""
    set: Annotated[int, Field(ge=1, le=60)] = 1
    load_kg: Annotated[float, Field(ge=-300, le=500, allow_inf_nan=False)]
    reps: Annotated[int, Field(ge=0, le=200)]
    reserve: Annotated[int, Field(ge=0, le=20)] | None = None
    kind: Literal["working", "warm_up", "assisted", "lowering", "partial", "drop", "rest_pause"] = "working"
    done: Literal["strictly", "little_help", "loosely"] = "strictly"
    gave_out: Literal["", "target", "other_muscle", "grip", "wrist", "breath"] = ""
    soreness: Annotated[int, Field(ge=0, le=3)] = 0
    pain_joint: str = ""
    pain: Annotated[int, Field(ge=0, le=10)] = 0
    sharp: bool = False
    guessed: bool = False
    as_planned: bool = False
    note: Annotated[str, Field(max_length=300)] = ""
    plan: int | None = None
    week: Place | None = None
    session: Place | None = None
    place: Place | None = None
    instead_of: Annotated[str, Field(pattern=r"^[a-z0-9-]*$", max_length=60)] = ""

    @field_validator("note")
    @classmethod
    def _can_be_seen(cls, text: str) -> str:
        return seen(text)

    @model_validator(mode="after")
    def _pain_has_a_joint(self) -> LoggedSet:
        if self.pain_joint and self.pain_joint not in joints():
            raise ValueError(f"pain_joint must be one of {', '.join(joints())}, or empty")
        if self.pain and not self.pain_joint:
            raise ValueError("pain_joint must say where it hurts")
        return self

    @property
    def works(self) -> bool:
        """Whether it is a whole, unaided working set."""
        return self.kind == "working" and self.reps > 0

    @property
    def is_strict(self) -> bool:
        """Whether trunk and elbows did not help."""
        return self.done == "strictly"

    @property
    def hurts(self) -> bool:
        """Whether pain was told."""
        return self.pain > 0 or self.sharp

    @property
    def to_failure(self) -> int:
        """Repetitions that would have gone: those done and those left."""
        return self.reps + (self.reserve or 0)

    @property
    def teaches(self) -> bool:
        """Whether it says how strong somebody is: not with pain, in part, guessed or only planned."""
        told = self.works and self.reserve is not None and not self.as_planned
        told = told and not self.guessed and not self.hurts
        return told and self.to_failure <= MOST_TRUSTED_REPS

    @property
    def says(self) -> str:
        """In a few words: "set 2 on 3 March: 14 kg × 10"."""
        return self.told("kg")

    def told(self, unit: str) -> str:
        """The same in somebody's unit."""
        side = f" {self.side}" if self.side else ""
        load = load_shown(self.load_kg, unit)
        return f"set {self.set}{side} on {day_in_words(self.day)}: {load} × {self.reps}"


def checked_set(data: Any, *, name: str = "set") -> LoggedSet:
    """A set from plain data.

    Raises
    ------
    BadInputError
    """
    return validated(LoggedSet, data, name)


@dataclass(frozen=True)
class Bout:
    """One exercise on one day: its working sets in order, and everything else that was logged of it."""

    variant: str
    day: date
    sets: tuple[LoggedSet, ...]
    others: tuple[LoggedSet, ...] = ()

    @property
    def hurts(self) -> bool:
        """Whether pain was told in any of them."""
        return any(one.hurts for one in self.sets + self.others)

    @property
    def numbers(self) -> tuple[tuple[LoggedSet, ...], ...]:
        """Sets by their number, both sides together."""
        found: dict[int, list[LoggedSet]] = {}
        for one in self.sets:
            found.setdefault(one.set, []).append(one)
        return tuple(tuple(found[n]) for n in sorted(found))


def bouts(log: Iterable[LoggedSet]) -> dict[str, tuple[Bout, ...]]:
    """Bouts by variant, oldest first."""
    by: dict[tuple[str, date], list[LoggedSet]] = {}
    for one in log:
        by.setdefault((one.variant, one.day), []).append(one)
    found: dict[str, list[Bout]] = {}
    for (variant, day), sets in sorted(by.items(), key=lambda item: item[0][1]):
        rows = sorted(sets, key=lambda one: (one.set, SIDES.index(one.side)))
        works = tuple(one for one in rows if one.works)
        found.setdefault(variant, []).append(Bout(variant, day, works, tuple(o for o in rows if not o.works)))
    return {variant: tuple(rows) for variant, rows in found.items()}


def sets_in_words(sets: Iterable[LoggedSet], unit: str) -> str:
    """Sets in a line, with their sides: "14 kg × left 10, right 12"."""
    return loads_in_words(((one.load_kg, f"{one.side} {one.reps}".strip()) for one in sets), unit)


class SessionNote(BaseModel):
    """Something said of a whole session.

    Attributes
    ----------
    key : str
    kind : str
        "skip", "move", "done" or "note".
    day : date
        On which it was said.
    to_day : date, optional
        Where it was moved to.
    plan, week, session : int, optional
        Which session.
    text : str
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    key: Key
    kind: Literal["skip", "move", "done", "note"]
    day: date
    to_day: date | None = None
    plan: int | None = None
    week: Place | None = None
    session: Place | None = None
    text: Annotated[str, Field(max_length=600)] = ""

    @field_validator("text")
    @classmethod
    def _can_be_seen(cls, text: str) -> str:
        return seen(text)

    @model_validator(mode="after")
    def _moves_somewhere(self) -> SessionNote:
        if self.kind == "move" and self.to_day is None:
            raise ValueError("to_day must say to which day")
        return self


class Message(BaseModel):
    """What a device sends: one set or one note, which state of it was seen there, and when it was written.

    Attributes
    ----------
    device : str
        A name that the device made for itself.
    written : int
        Its clock [ms]; rises with each change made there.
    seen : int
        The version that was corrected; 0 for a new one.
    removed : bool
        Taken back.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    device: Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{1,40}$")]
    written: Annotated[int, Field(ge=0, le=2**53)]
    seen: Annotated[int, Field(ge=0, le=100_000)] = 0
    removed: bool = False
    set: LoggedSet | None = None
    note: SessionNote | None = None

    @model_validator(mode="after")
    def _holds_one(self) -> Message:
        if (self.set is None) == (self.note is None):
            raise ValueError("either a set or a note")
        return self

    @property
    def key(self) -> str:
        """Of what it holds."""
        held = self.set or self.note
        return held.key if held else ""
