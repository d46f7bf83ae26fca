"""What the coaching pages read."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import Field
from werkzeug.datastructures import MultiDict

from curve_rank.answers.requests import Day, Mass, Names, Number, RequestForm, Whole, Wholes
from curve_rank.errors import BadInputError
from curve_rank.practice.units import Unit, kg_per
from curve_rank.validation import read_json

BOTH = ("biceps_long", "triceps_long")
"""Targets where none are named."""
MOST_STEPS = 60
SHORT_WHOLE = re.compile(r"-?[0-9]{1,5}")


class NewClientForm(RequestForm):
    """A new client's name."""

    name: str = ""


class WordForm(RequestForm):
    """A word to several clients."""

    text: str = ""
    to: Wholes = ()


class SizeForm(RequestForm):
    """A client's size in their units, and a known set."""

    height: Number
    mass: Number
    upper_arm: Number | None = None
    forearm: Number | None = None
    variant: str = "standing-dumbbell-curl"
    load: Number | None = None
    reps: Whole = 10
    level: str = "trained"


class ProfileForm(RequestForm):
    """A client's profile as it is typed; `version` is that of the state that was looked at."""

    version: Whole = 0
    mass_unit: str = "kg"
    length_unit: str = "cm"
    targets: Names = Field(default=(), alias="target")
    spare: Names = ()
    training_years: Number = 1.0
    days: Names = Field(default=(), alias="day")
    minutes: Whole = 50
    pulling_days: Names = Field(default=(), alias="pulling")
    pressing_days: Names = Field(default=(), alias="pressing")
    pulling_sets: Whole = 6
    pressing_sets: Whole = 6
    weaker: str = ""
    room: Whole | None = None
    zone: str = "Europe/London"
    at: str = "18:00"
    notes: str = ""
    hair: str = "short"

    @property
    def fields(self) -> dict[str, object]:
        """For the profile."""
        return self.model_dump(exclude={"version"})


class LimitsForm(RequestForm):
    """How far the joints go without pain, as the guided check takes it down."""

    version: Whole = 0
    elbow_straight: Number | None = None
    shoulder_back: Number | None = None
    shoulder_overhead: Number | None = None
    shoulder_out: Number | None = None
    palm_up: Number | None = None
    palm_down: Number | None = None

    @property
    def fields(self) -> dict[str, float]:
        """Those that were typed."""
        return {
            name: value for name, value in self.model_dump(exclude={"version"}).items() if value is not None
        }


class NewRoomForm(RequestForm):
    """In which unit a new room begins; empty for the reader's own."""

    unit: Unit | Literal[""] = ""


class RoomForm(RequestForm):
    """A room as it is typed: lists with spaces or commas between."""

    name: str = ""
    unit: Unit = "kg"
    equipment: Names = Field(default=(), alias="with")
    dumbbells_kg: str = ""
    bar_kg: Number = 20.0
    angled_bar_kg: Number = 8.0
    neutral_bar_kg: Number = 10.0
    plates_kg: str = ""
    stack_from_kg: Number = 2.5
    stack_to_kg: Number = 100.0
    stack_step_kg: Number = 2.5
    bands_kg: str = ""
    pulley_m: str = ""
    bench_deg: str = ""
    stations: Whole = 1

    @property
    def fields(self) -> dict[str, object]:
        """For the room.

        Raises
        ------
        BadInputError
        """
        found = self.model_dump()
        for name in ("dumbbells_kg", "plates_kg", "bands_kg", "pulley_m", "bench_deg"):
            found[name] = _numbers(name, found[name])
        part = kg_per(self.unit)
        for name, value in found.items():
            if name.endswith("_kg"):
                found[name] = tuple(part * one for one in value) if isinstance(value, tuple) else part * value
        return found


def _numbers(name: str, text: str) -> tuple[float, ...]:
    """Numbers with spaces or commas between; "2-20 by 2" stands for every step."""
    found: list[float] = []
    for part in (
        re.sub(r"\s*by\s*", "by", re.sub(r"\s*-\s*", "-", text.replace(";", " "))).replace(",", " ").split()
    ):
        match = re.fullmatch(r"([0-9.]+)-([0-9.]+)by([0-9.]+)", part)
        try:
            if match:
                low, high, step = (float(number) for number in match.groups())
                if step <= 0 or (high - low) / step > MOST_STEPS:
                    raise ValueError
                found += [round(low + n * step, 3) for n in range(int((high - low) / step + 1e-6) + 1)]
            else:
                found.append(float(part))
        except ValueError as error:
            right = "numbers with spaces between, or “2-20 by 2” for every step"
            raise BadInputError(name, part, right) from error
    return tuple(dict.fromkeys(found))


class BlockForm(RequestForm):
    """What a new block should be, and for whom."""

    name: str = ""
    clients: Wholes = Field(default=(), alias="client")
    person: Whole | None = Field(default=None, alias="for")
    picks: Names = Field(default=(), alias="pick")
    template: str = ""
    lens: str = "long_length"
    weeks: Whole = 4
    per_week: Whole = 3
    first: str = "triceps"
    kind: Literal["straight", "ramp", "pyramid"] = "straight"
    rotate: Literal["", "yes"] = ""
    same: Literal["", "yes"] = ""
    stretches: Literal["", "yes"] = ""
    last: str = "same"
    low: Number = 8.0
    high: Number = 20.0
    override: str = ""
    start: Day | None = None


class BlockQuery(RequestForm):
    """Whose loads are shown, and which week."""

    person: Whole | None = Field(default=None, alias="for")
    week: Whole = 1
    paper: Literal["a4", "letter"] = "a4"


class SeenForm(RequestForm):
    """The state of a block that was looked at, and what is shown of it."""

    seen: Whole = 0
    person: Whole | None = Field(default=None, alias="for")
    week: Whole = Field(default=1, alias="at")
    edit: Annotated[str, Field(max_length=2000)] = ""


class MemberForm(RequestForm):
    """Somebody who does a block, and a load set by hand."""

    person: Whole = Field(alias="client")
    variant: str = ""
    load: Mass | None = None
    on: Literal["", "yes"] = ""


class BendForm(RequestForm):
    """What somebody who shares a block does otherwise: another exercise in a place, another day."""

    person: Whole = Field(alias="client")
    week: Whole = Field(default=1, alias="at")
    variant: str = ""
    own: str = ""
    of_day: Annotated[Whole, Field(ge=0, le=6)] = 0
    day: Annotated[Whole, Field(ge=0, le=6)] = 0


def read_edit_form(values: MultiDict[str, str]) -> dict[str, object]:
    """The edit in a form: as JSON text in `edit`, or field by field.

    Raises
    ------
    BadInputError
    """
    text = values.get("edit", "")
    if text:
        found = read_json(text, "edit", "an edit as JSON")
        if not isinstance(found, dict):
            raise BadInputError("edit", text[:80], "an edit as JSON")
        return found
    edit: dict[str, object] = {}
    inner: dict[str, object] = {}
    for name, raw in values.items():
        if name in ("csrf_token", "seen", "for", "at", "client", "of_day"):
            continue
        value: object = int(raw) if SHORT_WHOLE.fullmatch(raw) and name != "name" else raw
        if name.startswith("values."):
            inner[name.removeprefix("values.")] = (
                raw if name in ("values.note", "values.finisher", "values.tempo") else value
            )
        elif name in ("everywhere", "together", "stretches"):
            edit[name] = raw == "yes"
        elif raw != "" or name in ("override",):
            edit[name] = value
    return edit | ({"values": inner} if inner else {})
