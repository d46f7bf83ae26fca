"""The one door to a numbered row: the viewer's own, or none."""

from __future__ import annotations

from typing import TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import UnknownNameError
from curve_rank.store.tables import (
    AccessToken,
    CaptureRow,
    Invitation,
    PictureRow,
    PictureSet,
    ProgressPicture,
    Publication,
    SignIn,
    SketchRow,
)
from curve_rank.store.viewers import Viewer

Row = TypeVar(
    "Row",
    AccessToken,
    CaptureRow,
    Invitation,
    PictureRow,
    PictureSet,
    ProgressPicture,
    Publication,
    SignIn,
    SketchRow,
)  # fmt: skip
"""Tables of rows with a number and an owner."""


def own_row(
    session: DbSession,
    viewer: Viewer,
    table: type[Row],
    number: int,
    kind: str,
    right: str = "one of your own",
) -> Row:
    """A row of the viewer's.

    Raises
    ------
    UnknownNameError
        Naming the kind, where there is none or it is another's: both say the same.
    """
    found = session.scalar(select(table).where(table.owner_id == viewer.person, table.id == number))
    if found is None:
        raise UnknownNameError(kind, number, right)
    return found
