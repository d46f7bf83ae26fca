"""Everything of a person's in one file: each table as JSON and as CSV, files beside them."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterable
from typing import Any

from curve_rank.exchange.tables import Table, to_csv

WHAT_IT_IS = """\
Everything that this installation keeps of you. Each table is there twice, with the same rows:
as JSON (UTF-8, one list of objects) and as CSV (UTF-8, comma, one header line).
Passwords and what opens links are left out: nobody can read them.
"""


def everything_of(parts: Iterable[tuple[str, list[dict[str, Any]], list[tuple[str, bytes]]]]) -> bytes:
    """A zip file of tables.

    Parameters
    ----------
    parts : iterable
        Per table its name, its rows, and its files with their names.
    """
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as out:
        out.writestr("READ ME.txt", WHAT_IT_IS)
        for name, rows, files in parts:
            out.writestr(f"{name}.json", json.dumps(rows, ensure_ascii=False, indent=1))
            columns = list(rows[0])
            table = [tuple(_cell(row[column]) for column in columns) for row in rows]
            out.writestr(f"{name}.csv", to_csv(Table(tuple(columns), tuple(table))))
            for file, content in files:
                out.writestr(f"{file}.bin" if "jpeg" not in file else f"{file}.jpg", content)
    return packed.getvalue()


def _cell(value: Any) -> Any:
    return json.dumps(value, ensure_ascii=False) if isinstance(value, list | dict) else value
