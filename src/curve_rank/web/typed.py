"""Numbers as they stand in addresses and forms."""

from __future__ import annotations

from werkzeug.datastructures import MultiDict

from curve_rank.errors import BadInputError


def whole(values: MultiDict[str, str], name: str, *, digits: int = 9) -> int | None:
    """A whole number of at most so many digits, or None where nothing stands.

    Raises
    ------
    BadInputError
    """
    return needed_whole(values, name, digits=digits) if values.get(name, "").strip() else None


def needed_whole(values: MultiDict[str, str], name: str, *, digits: int = 9) -> int:
    """A whole number that must stand there.

    Raises
    ------
    BadInputError
    """
    text = values.get(name, "").strip()
    if not (text.isascii() and text.isdigit() and len(text) <= digits):
        raise BadInputError(name, text, "a whole number")
    return int(text)


def whole_or(values: MultiDict[str, str], name: str, otherwise: int, *, digits: int = 9) -> int:
    """A whole number, or another where nothing stands.

    Raises
    ------
    BadInputError
    """
    found = whole(values, name, digits=digits)
    return otherwise if found is None else found
