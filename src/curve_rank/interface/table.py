"""Rows of an answer as a data frame, a table of Arrow's, or a table in a notebook."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from html import escape
from typing import TYPE_CHECKING, Any

from curve_rank.errors import UnavailableError
from curve_rank.rating.words import printed

if TYPE_CHECKING:
    import pandas
    import pyarrow

Columns = Mapping[str, Sequence[Any]]


def arrow(columns: Columns) -> pyarrow.Table:
    """Columns as a table of Arrow's.

    Raises
    ------
    UnavailableError
        Where pyarrow is not installed.
    """
    try:
        import pyarrow
    except ImportError as error:
        raise _missing("pyarrow") from error
    return pyarrow.table({name: list(values) for name, values in columns.items()})


def frame(columns: Columns) -> pandas.DataFrame:
    """Columns as a data frame.

    Raises
    ------
    UnavailableError
        Where pandas is not installed.
    """
    try:
        import pandas
    except ImportError as error:
        raise _missing("pandas") from error
    return pandas.DataFrame({name: list(values) for name, values in columns.items()})


def html(columns: Columns, digits: int = 2, most: int = 20) -> str:
    """The first rows as a table, for a notebook."""
    rows = list(zip(*columns.values(), strict=True))
    head = "".join(f"<th>{escape(name)}</th>" for name in columns)
    body = "".join(
        "<tr>" + "".join(f"<td>{escape(_cell(value, digits))}</td>" for value in row) + "</tr>"
        for row in rows[:most]
    )
    more = f"<caption>the first {most} of {len(rows)}</caption>" if len(rows) > most else ""
    return f"<table>{more}<thead><tr>{head}</tr></thead><tbody>{body}</tbody></table>"


def _cell(value: Any, digits: int) -> str:
    return printed(value, digits) if isinstance(value, float) else str(value)


def _missing(name: str) -> UnavailableError:
    return UnavailableError(name, "not installed", 'it, as `pip install "curve-rank[frames]"` does')
