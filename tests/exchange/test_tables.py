"""Tables as text: nothing in them is taken for a formula or breaks a line."""

from __future__ import annotations

import csv
import io

from curve_rank.exchange.tables import Table, to_csv, to_markdown

TABLE = Table(("Name", "=SUM(A1)"), (("@evil", -3.5), ("plain | piped\nand broken", 2.0)))


def test_csv_marks_what_looks_like_a_formula_and_leaves_numbers_alone() -> None:
    rows = list(csv.reader(io.StringIO(to_csv(TABLE))))
    assert rows == [["Name", "'=SUM(A1)"], ["'@evil", "-3.5"], ["plain | piped\nand broken", "2.0"]]


def test_markdown_is_one_line_a_row() -> None:
    assert to_markdown(TABLE).splitlines() == [
        "| Name | =SUM(A1) |", "| --- | --- |", "| @evil | -3.5 |", "| plain \\| piped and broken | 2 |",
    ]  # fmt: skip
