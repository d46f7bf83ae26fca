"""Answers as plain data: one serializer, led by what each field says of itself.

A field of an answer says to how many digits it is handed out (`to_digits`), under which public key, or that
it is only shown (`Shown`): figures, and what a page needs beside the numbers. A page's twin, `--json` and a
published copy take what `plain` makes, so that they cannot differ.
"""

from __future__ import annotations

from functools import cache
from typing import Annotated, Any, TypeVar

from pydantic import ConfigDict, Field, PlainSerializer, TypeAdapter

from curve_rank.exchange.json_views import rounded, spread
from curve_rank.rating.spreads import Spread

Anything = TypeVar("Anything")
Shown = Annotated[Anything, Field(exclude=True)]
"""A field that stands on pages alone."""
SHAPES = ConfigDict(arbitrary_types_allowed=True)
"""What an answer with figures in it says to pydantic."""


def to_digits(digits: int) -> PlainSerializer:
    """A number, a spread, or a table of them, to some digits."""

    def hand_out(value: Any) -> Any:
        if isinstance(value, Spread):
            return spread(value, digits)
        if isinstance(value, dict):
            return {key: hand_out(one) for key, one in value.items()}
        if isinstance(value, tuple | list):
            return [hand_out(one) for one in value]
        return None if value is None else rounded(value, digits)

    return PlainSerializer(hand_out)


by_key = PlainSerializer(lambda one: one.key)
"""A target or a lens is handed out by its key."""


@cache
def _adapter(kind: Any) -> TypeAdapter[Any]:
    return TypeAdapter(kind)


def plain(answer: object) -> Any:
    """An answer as plain data: dictionaries, lists, text and numbers, under its public keys.

    Parameters
    ----------
    answer : object
        A frozen dataclass whose fields say how they are handed out.
    """
    kind: Any = type(answer)
    return _adapter(kind).dump_python(answer, by_alias=True)
