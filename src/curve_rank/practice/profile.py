"""A client's profile: what they want, when they can, what else they train, how far their joints go."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, datetime, timedelta
from functools import cache
from itertools import groupby
from typing import Annotated, Literal
from zoneinfo import ZoneInfo, available_timezones

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from curve_rank.practice.limits import Limits
from curve_rank.practice.units import CM_PER_IN, Unit, kg_per, mass_shown
from curve_rank.rating.joints import joints
from curve_rank.rating.targets import targets
from curve_rank.validation import seen

WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
DAY_BEGINS = timedelta(hours=3)
"""When a day of training begins, after midnight."""
Weekday = Annotated[int, Field(ge=0, le=6)]
Days = Annotated[tuple[Weekday, ...], Field(max_length=7)]


@cache
def time_zones() -> frozenset[str]:
    """The time zones of this machine: read once, for reading them walks through some hundred files."""
    return frozenset(available_timezones())


Hair = Literal["short", "tied", "no"]
"""Of the head in somebody's figures, which is nobody in particular."""


class ClientProfile(BaseModel):
    """What is known of a client beside their size.

    Attributes
    ----------
    mass_unit, length_unit : str
        In which loads and lengths are shown.
    targets : tuple of str
        Keys of what they train the arm for.
    spare : tuple of str
        Joints to spare.
    limits : Limits
    training_years : float
    days : tuple of int
        Weekdays on which they can come, 0 is Monday.
    minutes : int
        A session.
    pulling_days, pressing_days : tuple of int
        Weekdays on which they row or pull, and press.
    pulling_sets, pressing_sets : int
        Hard sets of those on each such day.
    weaker : str
        The weaker side, where there is one.
    room : int, optional
        The room they train in.
    zone : str
        Of their clock.
    at : str
        When a session begins.
    notes : str
    hair : str
        Of the head in their figures.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    mass_unit: Unit = "kg"
    length_unit: Literal["cm", "in"] = "cm"
    targets: Annotated[tuple[str, ...], Field(max_length=12)] = ("biceps_long", "triceps_long")
    spare: tuple[str, ...] = ()
    limits: Limits = Limits()
    training_years: Annotated[float, Field(ge=0, le=80)] = 1.0
    days: Days = (0, 1, 2, 3, 4, 5, 6)
    minutes: Annotated[int, Field(ge=10, le=180)] = 50
    pulling_days: Days = ()
    pressing_days: Days = ()
    pulling_sets: Annotated[int, Field(ge=0, le=30)] = 6
    pressing_sets: Annotated[int, Field(ge=0, le=30)] = 6
    weaker: Literal["", "left", "right"] = ""
    room: int | None = None
    zone: str = "Europe/London"
    at: Annotated[str, Field(pattern=r"^([01][0-9]|2[0-3]):[0-5][0-9]$")] = "18:00"
    notes: Annotated[str, Field(max_length=600)] = ""
    hair: Hair = "short"

    @property
    def aims(self) -> tuple[str, ...]:
        """Its targets; both groups where none are named."""
        return self.targets or ("flexors", "extensors")

    @field_validator("zone")
    @classmethod
    def _is_a_zone(cls, zone: str) -> str:
        if zone not in time_zones():
            raise ValueError("a time zone, as in Europe/London")
        return zone

    @field_validator("notes")
    @classmethod
    def _can_be_seen(cls, text: str) -> str:
        return seen(text)

    @model_validator(mode="after")
    def _known(self) -> ClientProfile:
        for field, named, there in (("targets", self.targets, targets()), ("spare", self.spare, joints())):
            unknown = [key for key in named if key not in there]
            if unknown:
                raise ValueError(f"{field}: {', '.join(unknown)}; one of: {', '.join(there)}")
        return self

    @property
    def kg_per_unit(self) -> float:
        """Kilograms in one of their unit of load."""
        return kg_per(self.mass_unit)

    @property
    def cm_per_unit(self) -> float:
        """Centimetres in one of their unit of length."""
        return CM_PER_IN if self.length_unit == "in" else 1.0

    @property
    def clock(self) -> ZoneInfo:
        """Their time zone."""
        return ZoneInfo(self.zone)

    def day_at(self, moment: datetime) -> date:
        """The day of training that a moment belongs to, where they live.

        It lasts until three at night: a session that goes past midnight stays on the day on which it began.
        """
        return (moment.astimezone(self.clock).replace(tzinfo=None) - DAY_BEGINS).date()


def usual_profile(unit: Unit, spare: tuple[str, ...] = ()) -> ClientProfile:
    """The profile of somebody of whom none is kept, where a unit is usual."""
    return ClientProfile(mass_unit=unit, length_unit="in" if unit == "lb" else "cm", spare=spare)


def load_shown(kilograms: float, unit: str) -> str:
    """A load in somebody's unit, help and none at all in words."""
    if not kilograms:
        return "no weight"
    return f"{mass_shown(-kilograms, unit)} of help" if kilograms < 0 else mass_shown(kilograms, unit)


def loads_in_words(sets: Iterable[tuple[float, str]], unit: str) -> str:
    """Sets, each a load [kg] and its repetitions, in a line: "20 kg × 12, 10; 18 kg × 9"."""
    alike = groupby(sets, key=lambda one: one[0])
    return "; ".join(f"{load_shown(kg, unit)} × {', '.join(reps for _, reps in some)}" for kg, some in alike)


def month_in_words(month: str) -> str:
    """A month with its year, from "2026-11": "November 2026"."""
    return f"{date.fromisoformat(f'{month}-01'):%B %Y}"


def day_in_words(day: date) -> str:
    """A day without its year: "3 March"."""
    return f"{day.day} {day:%B}"
