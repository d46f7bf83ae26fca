"""What people call things."""

from __future__ import annotations

from curve_rank.errors import BadInputError
from curve_rank.validation import seen

LONGEST_NAME = 80


def plain_name(text: str) -> str:
    """A name with single spaces.

    Raises
    ------
    BadInputError
        When it is empty, too long, or holds what cannot be seen.
    """
    name = " ".join(text.split())
    if not 1 <= len(name) <= LONGEST_NAME:
        raise BadInputError("name", name, f"1 to {LONGEST_NAME} characters")
    try:
        return seen(name)
    except ValueError as error:
        raise BadInputError("name", name, str(error)) from error
