"""The curves of a rep as a table, and as CSV."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

from curve_rank.arm.parameters import parameter_set
from curve_rank.rating.modelling import VariantModel


@dataclass(frozen=True)
class Table:
    """Column titles with units, and rows of numbers."""

    titles: tuple[str, ...]
    rows: tuple[tuple[float, ...], ...]


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
            columns.append(
                (f"{head.name}: drive [%]", (100 * modelled.head_along("drive", head.key)).tolist())
            )
            columns.append((f"{head.name}: length [% of range]", modelled.length_along(head.key).tolist()))
    rows = zip(*(values for _, values in columns), strict=True)
    return Table(tuple(title for title, _ in columns), tuple(tuple(round(v, 3) for v in row) for row in rows))


def to_csv(table: Table) -> str:
    """The table as comma-separated text with a title row."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(table.titles)
    writer.writerows(table.rows)
    return out.getvalue()
