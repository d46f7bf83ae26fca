"""Rows of an answer as a data frame, a table of Arrow's, or a table in a notebook."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import fields
from html import escape
from typing import TYPE_CHECKING, Any

from curve_rank.errors import UnavailableError
from curve_rank.rating.words import printed

if TYPE_CHECKING:
    import pandas
    import pyarrow

Columns = Mapping[str, Sequence[Any]]


def columns_of(kind: type, rows: Sequence[Any]) -> Columns:
    """Rows of a data class as columns; all of them, too, where there is no row."""
    return {one.name: [getattr(row, one.name) for row in rows] for one in fields(kind)}


class Tabular:
    """What can be had as a table; needs the extra `frames`."""

    @property
    def _columns(self) -> Columns:
        raise NotImplementedError

    def to_arrow(self) -> pyarrow.Table:
        """Its rows, as a table of Arrow's: a sample of a rep, a set-up of a ranking, a reading compared."""
        return arrow(self._columns)

    def to_pandas(self) -> pandas.DataFrame:
        """The same rows as a data frame."""
        return frame(self._columns)


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
