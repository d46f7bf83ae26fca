"""What the pages of the house read."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from curve_rank.answers.requests import Number, RequestForm, Whole

Month = Annotated[str, Field(max_length=7)]


class HouseQuery(RequestForm):
    """Which month is looked at: the newest, unless it is named."""

    month: Month = ""


class EditionForm(RequestForm):
    """An edition: its name, why it was made, of which month."""

    name: Annotated[str, Field(max_length=80)] = ""
    note: Annotated[str, Field(max_length=500)] = ""
    month: Month = ""


class SpeakForm(RequestForm):
    """Which edition speaks; none: the model as it is published."""

    edition: Whole | None = None


class TakingPartForm(RequestForm):
    """Whether one's log takes part."""

    agreed: Literal["yes", "no"] = "no"


class ReleaseForm(RequestForm):
    """Of which trial something is told to other houses; none: of the newest month."""

    trial: Whole | None = None


class HouseTrialForm(RequestForm):
    """A trial: its question, both ways, what it is to find [cm], its first day and the day of looking."""

    name: Annotated[str, Field(max_length=80)] = ""
    first: Annotated[str, Field(max_length=200)] = ""
    second: Annotated[str, Field(max_length=200)] = ""
    difference: Number = 0.5
    claim: Annotated[str, Field(max_length=120)] = ""
    begins: date
    looks_on: date


class NewTrialQuery(RequestForm):
    """Of which claim a new trial is."""

    claim: Annotated[str, Field(max_length=120)] = ""


class ForgetForm(RequestForm):
    """What another house told, by its number here."""

    number: Whole


class JoinForm(RequestForm):
    """Who takes part."""

    person: Whole


class OtherHouseForm(RequestForm):
    """What another house told, as it was handed out."""

    text: Annotated[str, Field(max_length=4000)] = ""
    claim: Annotated[str, Field(max_length=120)] = ""
