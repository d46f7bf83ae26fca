"""Sets and templates as documents: kept under a name, with versions, and shared."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from curve_rank.practice.block import Block
from curve_rank.validation import validated


class PickList(BaseModel):
    """A set of variants under a name, with the question that it answered."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    schema_version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=80)]
    question: Annotated[str, Field(max_length=1200)] = ""
    picks: Annotated[tuple[str, ...], Field(min_length=1, max_length=12)]


class Template(BaseModel):
    """A block without anybody who does it."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    schema_version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=80)]
    block: Block


def validate_set(data: Any, *, name: str = "set") -> PickList:
    """A set from plain data.

    Raises
    ------
    BadInputError
    """
    return validated(PickList, data, name)


def validate_template(data: Any, *, name: str = "template") -> Template:
    """A template from plain data.

    Raises
    ------
    BadInputError
    """
    return validated(Template, data, name)
