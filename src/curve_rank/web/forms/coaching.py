"""What the coaching pages read."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from curve_rank.web.forms.reading import Names, Number, RequestForm, Whole

BOTH = ("biceps_long", "triceps_long")
"""Targets where none are named."""


class SetQuery(RequestForm):
    """What a set is for: targets, lens, equipment, person, joints to spare, and the wishes."""

    targets: Annotated[Names, AfterValidator(lambda named: named or BOTH)] = Field(BOTH, alias="target")
    lens: str = "long_length"
    equipment: Names = Field(default=(), alias="with")
    spare: Names = ()
    person: Whole | None = Field(default=None, alias="for")
    at_most: Whole = Field(default=5, alias="most")
    minutes: Number | None = None
    heavy: Literal["", "yes"] = ""
    brachialis: Literal["", "yes"] = ""
    pinned: Names = Field(default=(), alias="pin")
    banned: Names = Field(default=(), alias="ban")
