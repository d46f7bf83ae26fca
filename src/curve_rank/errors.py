"""The project's own errors: each names the field, the value it had and what would be right."""

from __future__ import annotations

from typing import Any


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


class WrongSecretError(BadInputError):
    """A password or a code that is not the right one: somebody may be guessing."""


class UnknownNameError(CurveRankError):
    """A variant, head, lens, joint or kind of equipment that does not exist."""


class PostureError(CurveRankError):
    """A posture outside what the arm tables cover, or a line of force from inside the body."""


class LoadError(CurveRankError):
    """A load that no drive of the muscles can hold."""


class NotAllowedError(CurveRankError):
    """Something that is there, but not for whoever asked."""


class BusyError(CurveRankError):
    """As much as may be done at once is under way already; later it can be asked again."""


class ChangedMeanwhileError(CurveRankError):
    """Somebody else has changed it since it was looked at."""


class UnavailableError(CurveRankError):
    """Something outside does not serve at the moment: disk, database, an address, all the workers."""


def _shown(value: Any) -> str:
    if value is None:
        return "missing"
    text = repr(value) if isinstance(value, str) else str(value)
    return text if len(text) <= 80 else text[:77] + "…"
