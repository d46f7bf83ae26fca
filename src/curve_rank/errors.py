"""The project's own errors: each names the field, the value it had and what would be right."""

from __future__ import annotations

from collections.abc import Collection
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from pydantic import ValidationError


class CurveRankError(Exception):
    """Something a person asked for cannot be done as asked.

    Parameters
    ----------
    field : str
        What the person filled in, as they know it ("pulley.up", "--lens").
    value : Any
        What stood there.
    expected : str
        What would be right.
    """

    def __init__(self, field: str, value: Any, expected: str) -> None:
        self.field = field
        self.value = value
        self.expected = expected
        super().__init__(f"{field}: {_shown(value)} — {expected}")


class BadInputError(CurveRankError):
    """A value is missing, of the wrong type, out of range or not a number."""


class UnknownNameError(CurveRankError):
    """A variant, head, lens, joint or kind of equipment that does not exist."""


class PostureError(CurveRankError):
    """A posture outside what the arm tables cover, or a line of force from inside the body."""


class LoadError(CurveRankError):
    """A load that no drive of the muscles can hold."""


class NotAllowedError(CurveRankError):
    """Something that is there, but not for whoever asked."""


def from_validation(error: ValidationError, name: str, *, passed_over: Collection[str] = ()) -> BadInputError:
    """The first complaint of a pydantic model, as an error of our own.

    Parameters
    ----------
    error : ValidationError
    name : str
        What was read ("variant", "lens"); empty to name the field alone.
    passed_over : collection of str
        Steps of the path that a person did not write, as the tags of a union.
    """
    first = error.errors()[0]
    place = ".".join(str(part) for part in first["loc"] if part not in passed_over)
    value = None if first["type"] == "missing" else first["input"]
    if not isinstance(value, str | int | float | bool | None):
        value = "as given"
    more = f" (and {error.error_count() - 1} more)" if error.error_count() > 1 else ""
    field = ": ".join(part for part in (name, place) if part)
    return BadInputError(field, value, first["msg"].removeprefix("Value error, ") + more)


def _shown(value: Any) -> str:
    if value is None:
        return "missing"
    text = repr(value) if isinstance(value, str) else str(value)
    return text if len(text) <= 80 else text[:77] + "…"
