"""What a variant begins with."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from curve_rank.answers.requests import RequestForm, Whole


class ScratchForm(RequestForm):
    """For which muscles, where the body is, what is lifted, how it is held, by how many arms; its name."""

    group: Literal["flexors", "extensors"] = Field(default="flexors", alias="muscles")
    base: str = "seated"
    load: str = "cable"
    grip: str = "up"
    arms: Whole = 2
    name: str = ""
