"""What is told once after something was done, and how to undo it: one mechanism for every page."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from typing import Any, cast

from flask import flash, get_flashed_messages

CATEGORY = "notice"


@dataclass(frozen=True)
class Banner:
    """A sentence, and the form that undoes what it tells of.

    Attributes
    ----------
    text : str
    undo : str
        Address the form is sent to; empty where there is nothing to undo.
    values : dict
        What the form sends.
    """

    text: str
    undo: str = ""
    values: dict[str, str] = field(default_factory=dict)


def tell(text: str, *, undo: str = "", **values: str) -> None:
    """Tell something on the next page."""
    flash(asdict(Banner(text, undo, values)), CATEGORY)  # type: ignore[arg-type]


def told() -> list[Banner]:
    """What is to be told on this page."""
    return [
        Banner(**cast(dict[str, Any], entry)) for entry in get_flashed_messages(category_filter=[CATEGORY])
    ]
