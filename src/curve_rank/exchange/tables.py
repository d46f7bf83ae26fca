"""Tables of what pages show, as CSV and as Markdown."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from curve_rank.arm.parameters import parameter_set
from curve_rank.figures.overlay import LETTERS
from curve_rank.practice.units import amount_in, masses_in, unit_in
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.readings import Reading
from curve_rank.rating.spreads import Spread
from curve_rank.study.compare import ComparedReading

PARTS = ("median", "low", "high")


@dataclass(frozen=True)
class Table:
    """Column titles with units, and rows of numbers and names."""

    titles: tuple[str, ...]
    rows: tuple[tuple[float | str, ...], ...]


def table_in(table: Table, unit: str) -> Table:
    """A table as somebody reads masses: columns and rows in kilograms in their unit, texts as well."""
    if unit == "kg":
        return table
    said = table.titles.index("Unit") if "Unit" in table.titles else None

    def cells(row: tuple[float | str, ...]) -> Iterable[float | str]:
        of_row = str(row[said]) if said is not None else ""
        for n, (title, cell) in enumerate(zip(table.titles, row, strict=True)):
            of = "kg" if "[kg]" in title else of_row
            if n == said:
                yield unit_in(unit, of_row)
            elif isinstance(cell, str):
                yield masses_in(cell, unit)
            else:
                yield round(amount_in(unit, cell, of), 3) if unit_in(unit, of) != of else cell

    titles = tuple(title.replace("[kg]", f"[{unit}]") for title in table.titles)
    return Table(titles, tuple(tuple(cells(row)) for row in table.rows))


def rep_table(modelled: VariantModel) -> Table:
    """Everything the bench draws, one row per sample of the rep."""
    columns: list[tuple[str, list[float]]] = [
        ("Elbow [°]", modelled.angle("elbow").tolist()),
        ("Shoulder [°]", modelled.angle("shoulder").tolist()),
        ("Demand [N·m]", modelled.along("demand").tolist()),
        ("Strength [N·m]", modelled.along("strength").tolist()),
        ("Effort [%]", (100 * modelled.along("effort")).tolist()),
        ("Lever [cm]", (100 * modelled.along("lever")).tolist()),
    ]
    for head in parameter_set().heads:
        if head.counted and head.group == modelled.variant.group:
            columns.append((f"{head.name}: drive [%]", (100 * modelled.drive_along(head.key)).tolist()))
            columns.append((f"{head.name}: length [% of range]", modelled.length_along(head.key).tolist()))
    rows = zip(*(values for _, values in columns), strict=True)
    return Table(tuple(title for title, _ in columns), tuple(tuple(round(v, 3) for v in row) for row in rows))


def comparison_table(
    names: Sequence[str], readings: Sequence[ComparedReading], *, as_printed: bool = False
) -> Table:
    """Readings of every column, and how much more each reads than the first, one row per reading.

    With as many digits as pages print, or with more.
    """
    lettered = [f"{letter} {name}" for letter, name in zip(LETTERS.upper(), names, strict=False)]
    columns = list(enumerate(names if len(set(names)) == len(names) else lettered))
    titles = ["Reading", "Unit"]
    titles += [f"{name}: {part}" for _, name in columns for part in PARTS]
    more = (*PARTS, "chance")
    titles += [f"{name} less the first: {part}" for _, name in columns[1:] for part in more]
    rows = []
    for one in readings:
        row: list[float | str] = [one.reading.name, one.reading.unit]
        digits = one.reading.digits if as_printed else 4
        for spread in one.columns:
            row += [round(v, digits) for v in (spread.median, spread.low, spread.high)]
        for n, _ in columns[1:]:
            found = one.differences[0, n]
            row += [round(v, digits) for v in (found.spread.median, found.spread.low, found.spread.high)]
            row.append(round(found.chance, 2 if as_printed else 4))
        rows.append(tuple(row))
    return Table(tuple(titles), tuple(rows))


def series_table(
    field: str,
    reading: Reading,
    steps: Iterable[tuple[float | str, Spread | None, str]],
    digits: int = 4,
) -> Table:
    """A reading step by step: the field's value, what is read, or why it cannot be."""
    titles = (field, *(f"{reading.name} [{reading.unit}]: {p}" for p in PARTS))
    rows = [
        (value, *((round(getattr(spread, p), digits) if spread else problem) for p in PARTS))
        for value, spread, problem in steps
    ]
    return Table(titles, tuple(rows))


FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for the start of a formula."""


def to_csv(table: Table) -> str:
    """The table as comma-separated text with a title row; what looks like a formula is marked as text."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(map(_cell, table.titles))
    writer.writerows(map(_cell, row) for row in table.rows)
    return out.getvalue()


def to_markdown(table: Table) -> str:
    """The table in Markdown."""
    lines = [table.titles, tuple("---" for _ in table.titles), *table.rows]
    return "".join(f"| {' | '.join(map(_plain, line))} |\n" for line in lines)


def _cell(value: float | str) -> float | str:
    return f"'{value}" if isinstance(value, str) and value.startswith(FORMULA) else value


def _plain(value: float | str) -> str:
    text = value if isinstance(value, str) else f"{value:g}"
    return " ".join(text.split()).replace("\\", "\\\\").replace("|", "\\|")
