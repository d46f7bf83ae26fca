"""What the pages of training read."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from curve_rank.answers.requests import Number, RequestForm, Whole
from curve_rank.practice.units import Unit


class CorrectForm(RequestForm):
    """A logged set as it should have been; `seen` is the version that was looked at."""

    seen: Whole = 0
    load: Number = 0.0
    reps: Whole = 0
    reserve: Whole | None = None
    kind: str = "working"
    done: str = "strictly"
    gave_out: str = ""
    soreness: Whole = 0
    pain_joint: str = ""
    pain: Whole = 0
    sharp: Literal["", "yes"] = ""
    note: str = ""
    remove: Literal["", "yes"] = ""


class SettleForm(RequestForm):
    """Which of two is kept."""

    version: Whole = 0
    take: Literal["", "yes"] = ""


class CommentForm(RequestForm):
    """What is written to somebody."""

    text: str = ""


class OnForm(RequestForm):
    """Something that is on or off."""

    on: Literal["", "yes"] = ""


class LoadsForm(RequestForm):
    """A strength over the body's that loads take, and that is right."""

    strength: Number


class TapeForm(RequestForm):
    """Three readings relaxed and three flexed, in the person's unit."""

    when: Literal["start", "end"] = "start"
    side: Literal["left", "right"] = "right"
    site: Number = 10.0
    hour: Whole = 12
    relaxed_1: Number
    relaxed_2: Number
    relaxed_3: Number
    flexed_1: Number
    flexed_2: Number
    flexed_3: Number


class ReviewQuery(RequestForm):
    """For whom."""

    person: Whole | None = Field(default=None, alias="for")


class TrialForm(RequestForm):
    """A trial of two ways: for whom, two templates or kept blocks, and its name."""

    name: str = ""
    person: Whole = Field(alias="for")
    first: str = "heavy"
    second: str = "high"
    design: Literal["crossed", "in_turn"] = "in_turn"
    weeks: Whole = 8


class LogFileForm(RequestForm):
    """How a file of logged sets is read."""

    text: str = ""
    load_unit: Unit = "kg"
    order: Literal["ymd", "dmy", "mdy"] = "ymd"
    reserve_as: Literal["left", "of_ten"] = "left"
    step: Literal["look", "keep"] = "look"
    sure: Unit | Literal[""] = ""


class RunQuery(RequestForm):
    """Which run of one's own is meant."""

    key: str = ""
    run: str = ""
