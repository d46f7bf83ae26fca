"""What the pages of the house read."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from curve_rank.answers.requests import RequestForm, Whole

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
