"""Coverage: which heads a set-up loads long, in the middle of their length, and short.

A cell is a head at a length. A set-up covers it when it places at least a part of what the best set-up of the
whole catalogue places there, so that covering does not depend on what happens to be in a room.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array, BoolArray
from curve_rank.arm.readings import LENGTHS, Readings
from curve_rank.practice.rules import rule
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import targets

ASKED = ("long", "short")
"""Lengths that a set is asked to load; the middle is shown."""


@dataclass(frozen=True)
class Cell:
    """A head at a length."""

    head: str
    length: str

    @property
    def name(self) -> str:
        """In words."""
        return f"{targets()[self.head].name.lower()} {self.length}"


@dataclass(frozen=True)
class Coverage:
    """What set-ups place where.

    Attributes
    ----------
    cells : tuple of Cell
        Every head of the targets at every length.
    placed : array, shape (set-ups, cells)
        Tension over the best of the catalogue [1].
    """

    cells: tuple[Cell, ...]
    placed: Array

    @property
    def covered(self) -> BoolArray:
        """Whether each set-up covers each cell, (set-ups, cells)."""
        return np.asarray(self.placed >= rule("coverage.least") - 1e-9)

    @property
    def asked(self) -> BoolArray:
        """Whether each cell is asked for, (cells,)."""
        return np.array([cell.length in ASKED for cell in self.cells])


def cells_of(heads: Sequence[str]) -> tuple[Cell, ...]:
    """Every cell of some heads, head by head."""
    return tuple(Cell(head, length) for head in heads for length in LENGTHS)


def heads_of(keys: Sequence[str]) -> tuple[str, ...]:
    """The heads of some targets, each once; what the model cannot tell apart stands for one."""
    heads = (head for key in keys for head in targets()[key].heads)
    return tuple(dict.fromkeys(targets()[head].judged.key for head in heads))


def coverage(
    heads: Sequence[str],
    models: Sequence[VariantModel],
    drawn: Sequence[Readings],
    best: Mapping[Cell, float],
) -> Coverage:
    """What set-ups place on heads, over the best of the catalogue.

    Parameters
    ----------
    heads : sequence of str
    models : sequence of VariantModel
    drawn : sequence of Readings
        The fixed draws of each, S = (draws,).
    best : mapping of float
        Per cell the most that anything places [of peak force].
    """
    cells = cells_of(heads)
    rows = [
        [tension / max(best[cell], 1e-9) for cell, tension in zip(cells, placed(heads, m, d), strict=True)]
        for m, d in zip(models, drawn, strict=True)
    ]
    return Coverage(cells, np.array(rows).reshape(len(rows), len(cells)))


def best_placed(
    heads: Sequence[str], models: Sequence[VariantModel], drawn: Sequence[Readings]
) -> dict[Cell, float]:
    """Per cell the most that any of some set-ups places [of peak force]."""
    rows = np.array([placed(heads, m, d) for m, d in zip(models, drawn, strict=True)])
    most = rows.max(axis=0, initial=0.0) if rows.size else np.zeros(len(heads) * len(LENGTHS))
    return dict(zip(cells_of(heads), most.tolist(), strict=True))


def placed(heads: Sequence[str], modelled: VariantModel, drawn: Readings) -> list[float]:
    """Medians of each head's tension while long, middling and short, head by head [of peak force].

    Nothing for heads of the other group, and for long and short of a head that hardly changes length.
    """
    found: list[float] = []
    for head in heads:
        if targets()[head].group != modelled.variant.group:
            found += [0.0] * len(LENGTHS)
            continue
        n = modelled.anatomy.index(head)
        parts = drawn.long_tension[n], drawn.short_tension[n]
        middle = np.maximum(0.0, drawn.mean_tension[n] - parts[0] - parts[1])
        found += [float(np.median(part)) for part in (parts[0], middle, parts[1])]
    return found
